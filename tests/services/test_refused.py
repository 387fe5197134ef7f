"""What can't be done is refused with what is wrong and what to do, and leaves everything as it was."""

from __future__ import annotations

import json
import unittest
from collections.abc import Callable
from decimal import Decimal

from sandscale.core.refusals import Refusal
from sandscale.services.bill import actions as bill
from sandscale.services.measure.actions import dimension_lines, elements
from sandscale.services.people import accounts as people
from sandscale.services.prices import actions as prices
from sandscale.services.projects import actions as projects
from sandscale.services.rates import actions as rates
from sandscale.services.rates import lines as rate_lines
from sandscale.store.models import BuildUpLine, Change, Element, Item, Project, Quote, Resource
from tests import scene


class Refused(scene.DatabaseCase):
    def test_each_with_its_sentence_and_no_trace(self) -> None:
        actor = scene.project()
        made = scene.priced(actor)
        other = scene.resource(actor, "Gravel", "material", "m³", "20.00")
        outer = scene.build_up(actor, "Footing complete", "m³", [{"nested": made["rate"]}])
        item, line, element = (
            Item.get_by_id(made["item"]),
            BuildUpLine.get(BuildUpLine.build_up == made["rate"]),
            Element.get_by_id(made["element"]),
        )
        resource, project, foreign = (
            Resource.get_by_id(made["resource"]),
            Project.get_by_id(actor.project_id),
            Quote.get(Quote.resource == other),
        )
        spare = scene.id_of(bill.add_item(actor, item.section_id, {"description": "Spare", "unit": "m²"}))
        owner = scene.email_of(actor.person_id)
        cases: list[tuple[str, Callable[[], object]]] = [
            ("Ready concrete is used in “Concrete in footings”, in m³. Make a second", lambda: prices.change_resource(actor, resource.id, 1, {"unit": "t"})),
            ("That quote is for another resource", lambda: prices.change_resource(actor, resource.id, 1, {"basis": "chosen", "chosen": foreign.id})),
            ("There is a resource “gravel” already", lambda: prices.change_resource(actor, resource.id, 1, {"name": "gravel"})),
            ("A resource needs a name", lambda: prices.add_resource(actor, {"name": " ", "kind": "material", "unit": "m³"})),
            ("“tool” is no kind of resource. Use one of labour", lambda: prices.add_resource(actor, {"name": "Hammer", "kind": "tool", "unit": "nr"})),
            ("“best” is no price basis", lambda: prices.change_resource(actor, resource.id, 1, {"basis": "best"})),
            ("is used in “Concrete in footings”. Take it out of there first", lambda: prices.delete_resource(actor, resource.id)),
            ("-1 can't be the price of a quote. Type a number above zero", lambda: prices.change_quote(actor, foreign.id, 1, {"price": Decimal(-1)})),
            ("A quote needs its supplier", lambda: prices.change_quote(actor, foreign.id, 1, {"supplier": " "})),
            ("“Concrete in footings” is used per m³. Make a second", lambda: rates.change_build_up(actor, made["rate"], 1, {"unit": "m²"})),
            ("prices 1 item of the bill. Give them another rate", lambda: rates.delete_build_up(actor, made["rate"])),
            ("There is a rate “concrete in footings” already", lambda: rates.change_build_up(actor, outer, 1, {"name": "concrete in footings"})),
            ("Output must be above zero", lambda: rates.change_build_up(actor, outer, 1, {"output": "0"})),
            ("An allowance of 1001 % is out of range. Type a percentage between −100 and 1000", lambda: rate_lines.change_build_up_line(actor, line.id, 1, {"allowance": Decimal(1001)})),
            ("A line is of one of the groups", lambda: rate_lines.change_build_up_line(actor, line.id, 1, {"group": "food"})),
            ("An item needs a description", lambda: bill.change_item(actor, item.id, item.version, {"description": " "})),
            ("“gift” is no kind of item", lambda: bill.change_item(actor, item.id, item.version, {"kind": "gift"})),
            ("Only a sum has its amount typed. Make it a lump", lambda: bill.change_item(actor, item.id, item.version, {"typed_amount": "500"})),
            ("“Concrete in footings” is a rate per m³; this item is in m²", lambda: bill.change_item(actor, spare, 1, {"build_up": made["rate"]})),
            ("Its rate is per m³. Take the rate off first", lambda: bill.change_item(actor, item.id, item.version, {"unit": "t"})),
            ("holds 1 element. Move or delete them first", lambda: elements.delete_location(actor, element.location_id)),
            ("Lines have no field “colour”", lambda: dimension_lines.replace(actor, None, "colour", "a", "b")),
            ("Type what to find", lambda: dimension_lines.replace(actor, None, "note", " ", "b")),
            ("A project needs a name", lambda: projects.change_project(actor, project.version, {"name": ""})),
            ("A currency is three letters", lambda: projects.change_project(actor, project.version, {"currency": "euro"})),
            ("Rounding of “m³” to 7 decimals can't be kept. Use a unit", lambda: projects.change_project(actor, project.version, {"rounding": {"m³": 7}})),
            ("“boss” is not a role. Use one of", lambda: projects.share(actor, "b@c.example", "boss")),
            ("The owner keeps their own role", lambda: projects.share(actor, owner, "viewer")),
            ("The owner can't leave their own project. Make someone else", lambda: projects.unshare(actor, owner)),
            ("no.one@c.example doesn't belong to this project", lambda: projects.unshare(actor, "no.one@c.example")),
            ("“nowhere” is not an e-mail address", lambda: people.add_person("N", "nowhere", scene.PASSWORD)),
            ("is already known. Sign in", lambda: people.add_person("N", owner.upper(), scene.PASSWORD)),
            ("A person needs a name", lambda: people.add_person(" ", "n@c.example", scene.PASSWORD)),
            ("A password has 8 to 200 characters", lambda: people.add_person("N", "n@c.example", "short")),
        ]  # fmt: skip
        before, changes = (
            json.loads(scene.file_of(actor)),
            Change.select().where(Change.project == actor.project_id).count(),
        )
        for sentence, action in cases:
            with self.subTest(sentence):
                with self.assertRaises(Refusal) as refused:
                    action()
                self.assertIn(sentence, str(refused.exception))
                self.assertTrue(refused.exception.sentence.endswith("."), refused.exception.sentence)
        self.assertEqual(json.loads(scene.file_of(actor)), before)
        self.assertEqual(Change.select().where(Change.project == actor.project_id).count(), changes)


if __name__ == "__main__":
    unittest.main()
