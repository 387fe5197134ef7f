"""Rows read and kept by written-out statements: the same as the mapper would."""

from __future__ import annotations

from decimal import Decimal

from sandscale.store import models, shadow
from sandscale.store.database import database
from sandscale.store.models import Item, OwnMakeUp, QuantityLine, Resource, Section
from tests import scene


class Written(scene.DatabaseCase):
    def test_every_table_is_read_as_the_mapper_reads_it(self) -> None:
        scene.demonstration()
        read = 0
        for model in models.ALL_TABLES:
            key = model._meta.primary_key
            mapped = [row.__data__ for row in model.select().order_by(key)]
            ours = model.those(key, [row[key.name] for row in mapped], key)
            self.assertEqual([row.__data__ for row in ours], mapped, model)
            read += len(ours)
        self.assertGreater(read, 300)

    def test_columns_are_kept_in_the_rows_named_and_in_no_others(self) -> None:
        actor = scene.project()
        scene.priced(actor)
        with database.atomic() as transaction:
            line, other = QuantityLine.select().order_by(QuantityLine.id).limit(2)
            fields = (QuantityLine.label, QuantityLine.net, QuantityLine.always)
            QuantityLine.keep(fields, [(line.id, "%s'\"; --", 0.1 + 0.2, True)])
            kept = QuantityLine.get_by_id(line.id)
            self.assertEqual((kept.label, kept.net, kept.always), ("%s'\"; --", 0.1 + 0.2, True))
            self.assertEqual(QuantityLine.get_by_id(other.id), other)
            item = Item.select().first()
            for rate in (Decimal("12.3456"), None):
                Item.keep([Item.rate, Item.quantity], [(item.id, rate, Decimal("99999999.9999"))])
                self.assertEqual(Item.get_by_id(item.id).rate, rate)
            transaction.rollback()

    def test_many_that_lie_close_are_those_asked_for_and_no_others(self) -> None:
        project = scene.project().project_id
        stones = (Resource(project=project, kind="material", unit="t", name=f"Stone {n}") for n in range(400))
        ids = Resource.add([stone.__data__ for stone in stones])
        for wanted in (ids, ids[50:350], [each for n, each in enumerate(ids) if n % 7], ids[:60] + ids[340:]):
            asked = [*reversed(wanted), 2**40]
            found = Resource.some((Resource.id, Resource.name), Resource.id, asked, Resource.id)
            self.assertEqual([row.id for row in found], wanted)
            self.assertEqual([row.id for row in Resource.those(Resource.id, asked, Resource.id)], wanted)
            self.assertEqual(Resource.column(Resource.id, Resource.id, asked), set(wanted))
            there = shadow.tried(lambda some=wanted: Resource.column(Resource.project, Resource.id, some))
            self.assertEqual(there, {project})

    def test_nothing_asked_for_is_nothing_found_and_what_else_is_given_holds(self) -> None:
        actor, other = scene.project(), scene.project()
        scene.priced(actor)
        self.assertEqual((Item.those(Item.id, []), Item.column(Item.id, Item.section, ())), ([], set()))
        Item.keep([Item.rate], [])
        wanted = [row.id for row in Section.select().where(Section.project == actor.project_id)]
        self.assertTrue(Section.those(Section.id, wanted, project=actor.project_id))
        self.assertEqual(Section.those(Section.id, wanted, project=other.project_id), [])
        for nobody in (0, 2**31, 2**63, -(2**63) - 1, 10**60):
            self.assertIsNone(Item.one(nobody))
        with self.assertRaises(OwnMakeUp.DoesNotExist):
            OwnMakeUp.get_by_id(0)
