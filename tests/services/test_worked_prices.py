"""Prices that are worked out, from inputs typed and from other resources' prices; what they move, and rings refused."""

from __future__ import annotations

from decimal import Decimal

from sandscale.core.refusals import BadEntry
from sandscale.services.keeping import history, walking
from sandscale.services.keeping.acting import InUse
from sandscale.services.prices import actions, working_out
from sandscale.store.models import BuildUp, Resource
from tests import scene
from tests.services.test_prices import PriceCase

D = Decimal


class WorkedOut(PriceCase):
    def work(
        self, resource: int, way: str | None = None, draws: dict[str, int | None] | None = None, **inputs: str
    ) -> None:
        version = Resource.get_by_id(resource).version
        working_out.change_worked(self.actor, resource, version, way, inputs, draws or {})

    def plant(self, name: str) -> int:
        made = self.resource(name, "h", "plant")
        self.change(made, basis="worked")
        return made

    def test_an_excavator_follows_its_fuel_and_its_driver_into_rates(self) -> None:
        fuel, driver, digger = (
            self.resource("Diesel", "l"),
            self.resource("Driver", "h", "labour"),
            self.plant("Digger"),
        )
        quote = self.quote(fuel, "1.20", "l")
        self.change(driver, basis="worked")
        self.work(driver, wage="18", paid="2080", on_percent="28", worked="1720")
        self.assertEqual(self.seen(driver).price, D("27.862326"))
        self.assertEqual(self.seen(digger).findings, ["“Hire” isn't told yet."])
        self.work(digger, "hire", {"fuel_price": fuel, "driver": driver}, hire="728", hours="40", fuel="7")
        rate = scene.build_up(self.actor, "Dug", "m³", [{"resource": digger}], output="20")
        self.assertEqual(self.seen(digger).price, D("54.462326"))  # 18.20 + 7 × 1.20 + 27.862326
        self.assertEqual(BuildUp.get_by_id(rate).rate, D("2.72"))
        actions.change_quote(self.actor, quote, 1, {"price": D("2.20")})
        self.assertEqual((self.seen(digger).price, BuildUp.get_by_id(rate).rate), (D("61.462326"), D("3.07")))
        self.work(driver, wage="20")
        self.assertEqual(self.seen(digger).price, D("64.558140"))
        walked = walking.walk(self.actor, f"resource:{digger}")
        self.assertEqual([part.name for part in walked.working.parts], ["Hire", "Fuel and oil", "Driver"])
        self.assertEqual({f"resource:{fuel}", f"resource:{driver}"}, {link.ref for link in walked.comes_from})
        self.assertIn(
            f"resource:{digger}", [link.ref for link in walking.walk(self.actor, f"resource:{fuel}").goes_to]
        )
        with self.assertRaisesRegex(InUse, "Diesel is used in the price of Digger"):
            actions.delete_resource(self.actor, fuel)
        with self.assertRaisesRegex(InUse, "Diesel is used in the price of Digger, in l"):
            self.change(fuel, unit="m³")
        copy = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        taken = Resource.get((Resource.project == copy.id) & (Resource.name == "Digger"))
        self.assertEqual(taken.price, D("64.558140"))
        told = [step.field for step in history.history_of(self.actor, f"resource:{digger}")]
        self.assertIn("worked", told)
        dry = self.resource("Oil", "l")
        self.work(digger, None, {"fuel_price": dry}, fuel_price="9.99")
        self.assertEqual(self.seen(digger).findings, ["Oil has no price, so it counts nothing."])
        self.assertEqual(self.seen(digger).price, D("49.158140"))  # 18.20 + 30.958140, and no 9.99
        history.undo(self.actor)
        # Typed again, and owned instead: what hire asked for waits until it is asked for again.
        self.work(digger, None, {"driver": None}, driver="30")
        self.assertEqual(self.seen(digger).price, D("63.6"))
        self.work(digger, "owned", new="96000", life="9600", year="1600")
        self.assertEqual(self.seen(digger).price, D("55.4"))
        history.undo(self.actor)
        self.assertEqual(self.seen(digger).price, D("63.6"))

    def test_what_cannot_be_is_a_sentence_and_nothing_is_lost(self) -> None:
        a, b = self.plant("Pump"), self.plant("Tug")
        self.work(a, "hire", {"driver": b}, hire="100", hours="8")
        for wrong, says in (
            (lambda: self.work(b, None, {"driver": a}), "Prices|ring|Pump"),
            (lambda: self.work(a, None, {"driver": a}), "Pump"),
            (lambda: self.work(a, None, {"hire": b}), "isn't taken from another resource"),
            (lambda: self.work(a, None, {"fuel_price": b}), "“Price of fuel” is told per l; Tug is priced per h"),
            (lambda: self.work(a, hours="0"), "“for so many hours worked” can't be 0"),
            (lambda: self.work(a, "rented"), "worked out as labour"),
            (lambda: self.work(a, nothing="3"), "isn't asked for"), (lambda: self.work(a, hire="much"), "much"),
            (lambda: self.change(self.resource("Sand", "m³"), basis="worked"), "worked out by the hour"),
        ):  # fmt: skip
            with self.subTest(says), self.assertRaisesRegex(BadEntry, says):
                wrong()
        self.assertEqual(
            Resource.get_by_id(a).worked, {"way": "hire", "inputs": {"hire": "100", "hours": "8"}}
        )
