"""Other values tried: what they would do, without writing; trials under a name, compared, kept, refused, dropped."""

from __future__ import annotations

import json
import threading
from decimal import Decimal as D

from sandscale.core.numbers.ways import held
from sandscale.core.refusals import BadEntry, Refusal
from sandscale.services.answers import effects
from sandscale.services.bill import actions as bill
from sandscale.services.keeping import history
from sandscale.services.keeping.acting import Actor, Forbidden, Missing, Stale
from sandscale.services.keeping.trying import tries
from sandscale.services.measure.actions import dimension_lines
from sandscale.services.projects import actions as projects
from sandscale.services.trials import actions, reading
from sandscale.services.trials.reading import Value
from sandscale.store.database import database
from sandscale.store.models import Change, DimensionLine, Item, Project, Trial, TrialChange
from sandscale.store.shadow import tried
from tests import scene


class Trials(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.ids = scene.priced(self.actor)
        self.line = f"line:{self.ids['line']}"

    def changed(self) -> int:
        return Change.select().where(Change.project == self.actor.project_id).count()

    def longer(self, value: str) -> None:
        line = DimensionLine.get_by_id(self.ids["line"])
        dimension_lines.change_line(self.actor, line.id, line.version, {"length": value})

    def test_what_a_value_would_do_is_what_it_does_once_it_is_written(self) -> None:
        was, before = scene.total(self.actor), (scene.file_of(self.actor), self.changed())
        item = f"item:{self.ids['item']}"
        quote = reading.triable(self.actor, f"resource:{self.ids['resource']}")[0]
        self.assertEqual(
            (quote.called, quote.name, quote.value), ("Ready concrete, Test supplier", "price", "100")
        )
        rate_line = reading.triable(self.actor, f"build-up:{self.ids['rate']}")
        self.assertEqual([f.field for f in rate_line], ["output", "hours", "added"])
        values = [
            Value(self.line, "length", "2.4"), Value(quote.ref, "price", "90"), Value(item, "quantity", "11"),
            Value(f"element:{self.ids['element']}", "waste_concrete", "4 %"),
        ]  # fmt: skip
        known = {f.field for f in reading.triable(self.actor, f"quantity:{self.ids['element']}:concrete")}
        if "waste_concrete" not in known:
            values.pop()
        alone = [reading.effect_of_values(self.actor, [each]) for each in values]
        self.assertEqual([each.says for each in alone], [[]] * len(values))
        self.assertTrue(all(each.bill_before == was != each.bill_after for each in alone[:3]))
        # Nothing was written, and everything is as it was.
        self.assertEqual((scene.file_of(self.actor), self.changed()), before)
        together = reading.effect_of_values(self.actor, values)
        actions.keep_values(self.actor, values)
        self.assertEqual(scene.total(self.actor), together.bill_after)
        moved = next(row for row in together.items if row.id == self.ids["item"])
        self.assertEqual((moved.quantity_after, moved.after), (D(11), D("990.00")))
        self.assertEqual(self.changed(), before[1] + 1)
        history.undo(self.actor)
        self.assertEqual(scene.total(self.actor), was)

    def test_a_trial_is_kept_as_one_change_and_refused_where_the_project_moved_on(self) -> None:
        quote = reading.triable(self.actor, f"resource:{self.ids['resource']}")[0].ref
        trial = scene.id_of(actions.add_trial(self.actor, "Leaner", [Value(self.line, "length", "1,70")]))
        actions.add_value(self.actor, trial, Value(quote, "price", "95"))
        other = scene.id_of(actions.add_trial(self.actor, "Other", [Value(self.line, "length", "3")]))
        apart = [reading.effect_of_trial(self.actor, trial, c.id) for c in self.trial(trial).changes]
        whole = reading.effect_of_trial(self.actor, trial)
        self.assertNotEqual(apart[0].bill_after, apart[1].bill_after)
        self.longer("1.9")
        self.assertTrue(self.trial(trial).moved_on)
        with self.assertRaises(Stale) as odd:
            actions.keep_trial(self.actor, trial)
        self.assertEqual(
            (odd.exception.yours, odd.exception.theirs),
            ({"PF2, line 1, length": "1.70"}, {"PF2, line 1, length": "1.9"}),
        )
        actions.renew_trial(self.actor, trial)
        changes = self.changed()
        actions.keep_trial(self.actor, trial)
        self.assertEqual((scene.total(self.actor), self.changed()), (whole.bill_after, changes + 1))
        self.assertEqual([t.name for t in reading.trials(self.actor)], ["Other"])
        history.undo(self.actor)
        self.assertEqual([t.name for t in reading.trials(self.actor)], ["Leaner", "Other"])
        actions.keep_trial(self.actor, other, over=True)
        self.assertEqual(DimensionLine.get_by_id(self.ids["line"]).length, "3")
        self.assertEqual(TrialChange.select().where(TrialChange.project == self.actor.project_id).count(), 2)

    def trial(self, trial: int) -> reading.TrialView:
        return next(each for each in reading.trials(self.actor) if each.id == trial)

    def test_what_can_t_be_tried_is_said_and_what_was_deleted_since(self) -> None:
        for ref, field, value, wrong in (
            (self.line, "length", "ten", BadEntry), (self.line, "colour", "1", Missing), ("line:0", "length", "1", Missing),
            ("person:1", "name", "x", Missing), (f"item:{self.ids['item']}", "rate", "five", BadEntry),
        ):  # fmt: skip
            effect = reading.effect_of_values(self.actor, [Value(ref, field, value)])
            self.assertEqual((len(effect.says), effect.bill_before), (1, effect.bill_after), effect.says)
            with self.assertRaises(wrong):
                actions.add_trial(self.actor, "x", [Value(ref, field, value)])
        trial = scene.id_of(actions.add_trial(self.actor, "x", [Value(self.line, "length", "2")]))
        with self.assertRaises(Forbidden):
            actions.add_trial(scene.member(self.actor, "viewer"), "y")
        dimension_lines.delete_line(self.actor, self.ids["line"])
        self.assertIn("not in this project any more", reading.effect_of_trial(self.actor, trial).says[0])
        with self.assertRaises(Stale):
            actions.keep_trial(self.actor, trial)
        with self.assertRaisesRegex(Refusal, "not in this project any more"):
            actions.keep_trial(self.actor, trial, over=True)
        actions.renew_trial(self.actor, trial)
        with self.assertRaisesRegex(Refusal, "holds no value"):
            actions.keep_trial(self.actor, trial)

    def test_what_a_deletion_moved_is_told_of_what_is_still_there(self) -> None:
        fields = {"description": "Sum", "unit": "nr", "kind": "lump_sum", "typed_amount": "250"}
        section = Item.get_by_id(self.ids["item"]).section_id
        made = bill.add_item(self.actor, section, fields)
        gone = bill.delete_item(self.actor, scene.id_of(made))
        assert gone.change is not None
        effect = effects.effect_of(self.actor, gone.change)
        self.assertEqual((effect.items, effect.bill_before - effect.bill_after), ([], D("250.00")))

    def test_every_kind_that_can_be_tried_is_offered_its_fields_in_the_demonstration(self) -> None:
        actor = scene.demonstration()
        for kind, each in tries().items():
            rows = each.row.select().where(each.row.project == actor.project_id).limit(4)
            fields = [(f"{kind}:{row.id}", f.key, f.value) for row in rows for f in each.fields(row)]
            self.assertTrue(fields, kind)
            # Put down as it stands, no value moves anything.
            same = [Value(*field) for field in fields if field[2] and kind != "item"]
            effect = reading.effect_of_values(actor, same)
            self.assertEqual((effect.says, effect.bill_after), ([], effect.bill_before), kind)

    def test_in_feet_a_size_is_told_and_tried_in_feet(self) -> None:
        actor = scene.project()
        version = Project.get_by_id(actor.project_id).version
        projects.change_project(actor, version, {"unit_system": "us"})
        with held("us"):
            element, line = scene.pf2(actor)
            fields = {f.field: (f.value, f.unit) for f in reading.triable(actor, f"line:{line}")}
            self.assertEqual((fields["length"], fields["times"]), (("1.80", "ft"), ("4", "")))
            trial = scene.id_of(actions.add_trial(actor, "Larger", [Value(f"line:{line}", "length", "2.5")]))
            (change,) = reading.trials(actor)[0].changes
            self.assertEqual((change.value, change.was, change.unit, change.says), ("2.5", "1.80", "ft", ""))
            effect = reading.effect_of_trial(actor, trial)
            self.assertEqual(effect.says, [])
            actions.keep_trial(actor, trial)
            kept = DimensionLine.get_by_id(line).length
        self.assertEqual(kept, "2.5 ft")
        self.assertTrue(element)

    def test_nobody_waits_for_what_is_tried(self) -> None:
        inside, done = threading.Event(), threading.Event()

        def slow() -> D:
            self.longer("9")
            inside.set()
            self.assertTrue(done.wait(20))
            return scene.total(self.actor)

        found: list[D] = []
        trying = threading.Thread(target=lambda: found.append(tried(slow)))
        trying.start()
        self.assertTrue(inside.wait(20))
        database.execute_sql("SET lock_timeout = '5s'")
        self.addCleanup(lambda: database.execute_sql("RESET lock_timeout"))
        self.longer("2")  # the same line, its element, items and bill
        now = scene.total(self.actor)
        done.set()
        trying.join()
        self.assertNotEqual(found[0], now)
        self.assertEqual(scene.total(self.actor), now)

    def test_trials_come_back_from_a_project_file(self) -> None:
        actions.add_trial(
            self.actor,
            "Leaner",
            [Value(self.line, "length", "2"), Value(f"item:{self.ids['item']}", "rate", "90")],
        )
        dropped = scene.id_of(actions.add_trial(self.actor, "Gone", [Value(self.line, "width", "2")]))
        self.assertTrue(dropped)
        content = scene.file_of(self.actor)
        person = scene.person()
        made = scene.taken_in(person, content)
        other = Actor(person, made.id, "owner")
        effect = [
            reading.effect_of_trial(
                a, Trial.get((Trial.project == a.project_id) & (Trial.name == "Leaner")).id
            )
            for a in (self.actor, other)
        ]
        self.assertEqual(effect[0].bill_after, effect[1].bill_after)
        self.assertEqual(scene.file_of(other), content)
        file = json.loads(content)
        file["tables"]["trial_change"][0]["ref"] = "person:1"
        with self.assertRaisesRegex(Refusal, "nothing that can be tried"):
            scene.taken_in(person, json.dumps(file).encode())
