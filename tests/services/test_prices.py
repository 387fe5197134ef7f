"""Prices from enquiry to quote: what is asked, what the price desk answers, lists of prices, norms and packs."""

from __future__ import annotations

import io
import json
import os
import shutil
import tempfile
from collections.abc import Sequence
from datetime import date, timedelta
from decimal import Decimal
from pathlib import Path
from unittest.mock import patch

from openpyxl import Workbook

from sandscale import settings
from sandscale.core.refusals import BadEntry, Refusal
from sandscale.services.bill import actions as bill
from sandscale.services.keeping import checking, history, walking, worker
from sandscale.services.keeping.acting import Actor, Forbidden, InUse, Missing
from sandscale.services.measure.actions import dimension_lines
from sandscale.services.prices import actions, asked, enquiries, norms, reading, taking_in
from sandscale.services.prices.views import EnquiryView, ResourceView
from sandscale.services.projects import actions as projects
from sandscale.services.shelves import actions as shelves
from sandscale.standins.mailbox import Mailbox
from sandscale.store.models import Answer, Item, Quote, Resource, Supplier, now
from tests import scene
from tests.served import free_port, price_desk_offered

D = Decimal


class PriceCase(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()

    def resource(self, name: str, unit: str = "kg", kind: str = "material") -> int:
        return scene.id_of(actions.add_resource(self.actor, {"name": name, "kind": kind, "unit": unit}))

    def change(self, resource: int, **fields: object) -> None:
        actions.change_resource(self.actor, resource, Resource.get_by_id(resource).version, fields)

    def quote(self, resource: int, price: str, unit: str, **fields: object) -> int:
        told = {
            "supplier": "Quayside",
            "price": D(price),
            "unit": unit,
            "quoted_on": date(2026, 10, 20),
            **fields,
        }
        return scene.id_of(actions.add_quote(self.actor, resource, told))

    def seen(self, resource: int) -> ResourceView:
        (view,) = reading.resource_views(self.actor, [Resource.get_by_id(resource)])
        return view

    def rated(self, resource: int, unit: str, quantity: str, allowance: str = "0") -> dict[str, int]:
        """PF2’s concrete priced by a rate within a rate that takes so much of a resource; 6.48 m³ of it."""
        ids = scene.priced(self.actor)
        inner = scene.build_up(
            self.actor, "Mix", "m³",
            [{"resource": resource, "quantity": quantity, "allowance": D(allowance), "basis": "unit"}],
        )  # fmt: skip
        outer = scene.build_up(self.actor, "Placed", "m³", [{"nested": inner, "basis": "unit"}])
        item = Item.get_by_id(ids["item"])
        bill.change_item(self.actor, item.id, item.version, {"build_up": outer})
        return ids


class Packs(PriceCase):
    def test_what_a_unit_holds_is_read_typed_over_and_follows_the_density(self) -> None:
        cement, sand = self.resource("Cement"), self.resource("Sand", "m³")
        self.quote(cement, "312.00", "pallet of 60 bags of 25 kg")
        self.assertEqual(self.seen(cement).price, D("0.208"))
        quote = self.quote(sand, "24.60", "t")
        view = self.seen(sand)
        self.assertEqual((view.price, view.quotes[0].per_unit), (None, None))
        self.assertIn("no density is known", view.quotes[0].says)
        self.assertIn("The quote of Quayside isn't used", view.findings[-1])
        self.change(sand, density="1600 kg/m³", density_source="Tern, sieve report")
        self.assertEqual((self.seen(sand).price, self.seen(sand).quotes[0].holds), (D("39.36"), D("0.625")))
        walked = walking.walk(self.actor, f"quote:{quote}")
        self.assertIn("24.60 / 0.625", walked.working.figures)
        self.assertIn("1600 kg/m³, Tern, sieve report", walked.working.source)
        changed = actions.change_quote(self.actor, quote, 1, {"contains": D("0.6"), "valid_to": None})
        self.assertRegex(changed.label, ": contains, valid to$")
        self.assertEqual(self.seen(sand).price, D("41"))
        history.undo(self.actor)
        self.change(sand, density="100 lb/ft³")
        self.assertAlmostEqual(float(self.seen(sand).price or 0), 39.4054, places=3)
        for fields, says in (
            ({"density": "0"}, "must be above zero"), ({"density": "12 m"}, "density"),
            ({"norm_low": D(5), "norm_high": D(4)}, "from its lower price"), ({"norm_low": D(-1)}, "can't be a norm"),
        ):  # fmt: skip
            with self.subTest(fields), self.assertRaisesRegex(BadEntry, says):
                self.change(sand, **fields)
        # A norm is looked at as a whole, also where one end of it is typed.
        self.change(sand, norm_low=D(4), norm_high=D(5))
        self.change(sand, norm_high=D("5.5"))
        with self.assertRaisesRegex(BadEntry, "from its lower price"):
            self.change(sand, norm_low=D(6))
        with self.assertRaisesRegex(BadEntry, "holds nothing"):
            self.quote(cement, "1", "bag 0 kg")

    def test_a_least_quantity_is_held_against_what_the_bill_needs(self) -> None:
        cement = self.resource("Cement")
        self.quote(cement, "5.00", "bag 25 kg", least=D(120))
        ids = self.rated(cement, "kg", "300", "10")  # 6.48 m³ × 330 kg
        says = "The quote of Quayside is for 3\u00a0000 kg at least; the bill needs 2\u00a0138.40 kg."
        self.assertEqual(self.seen(cement).findings, [says])
        self.assertIn("below-least", [check.code for check in checking.checks(self.actor)])
        dimension_lines.change_line(self.actor, ids["line"], 1, {"times": "6"})
        self.assertEqual(self.seen(cement).findings, [])
        self.assertNotIn("below-least", [check.code for check in checking.checks(self.actor)])

    def test_norms_stand_on_a_shelf(self) -> None:
        cement = self.resource("Cement")
        self.change(cement, norm_low=D("0.18"), norm_high=D("0.20"))
        shelf = shelves.add_shelf(self.actor.person_id, "Sandhall", "").id
        norms.put_norms(self.actor, shelf, "Sandhall 2026")
        other = Actor(
            self.actor.person_id,
            projects.new_project(self.actor.person_id, "B", "", "EUR", scene.PRICE_DATE).id,
            "owner",
        )
        theirs = scene.id_of(
            actions.add_resource(other, {"name": "CEMENT", "kind": "material", "unit": "kg"})
        )
        self.assertEqual(norms.take_norms(other, shelf, "sandhall-2026").id, 1)
        self.assertEqual(Resource.get_by_id(theirs).norm_source, "Sandhall 2026, no. 1")
        actions.change_resource(other, theirs, Resource.get_by_id(theirs).version, {"basis": "norm"})
        self.assertEqual(Resource.get_by_id(theirs).price, D("0.19"))
        self.assertIn(
            "own norm, Sandhall 2026, no. 1", walking.walk(other, f"resource:{theirs}").working.expression
        )
        self.quote(cement, "5.25", "bag 25 kg")
        self.assertEqual(
            self.seen(cement).findings, ["The quote of Quayside is outside the own norm of 0.18 to 0.20."]
        )
        dollars = Actor(
            self.actor.person_id,
            projects.new_project(self.actor.person_id, "C", "", "USD", scene.PRICE_DATE).id,
            "owner",
        )
        for actor, says in ((dollars, "is in EUR, the project in USD"), (other, "")):
            if not says:
                actions.delete_resource(other, theirs)
            with self.assertRaisesRegex(BadEntry, says or "None of the 1 norms"):
                norms.take_norms(actor, shelf, "sandhall-2026")


class Lists(PriceCase):
    LIST = (
        "Price list October\n\nArticle;Sold by;Price (EUR);Min. qty;Valid until;Offer no.\n"
        "Cement;bag 25 kg;5,35;40 bags;31.12.2026;Q-7\nNo price;t;;;;\n"
        "Membrane 500;roll 50 m²;€ 61.00;;2026-12-31;=Q-8\nSand;t;24.60;;;\nCement;bag 0 kg;1.00;;;\n"
    )

    def test_a_list_is_seen_put_right_and_taken_in_once(self) -> None:
        cement = self.resource("cement ")
        self.resource("Sand", "m³")
        seen = taking_in.read(self.actor, self.LIST.encode(), "list.csv", supplier="Quayside")
        self.assertEqual(seen.columns, ["resource", "unit", "price", "least", "valid_to", "source"])
        self.assertEqual([bool(row.says) for row in seen.rows], [False, True, False, False, True])
        self.assertIn("it is made, as material in m²", seen.rows[2].looks)
        self.assertIn("no density is known", seen.rows[3].looks)
        good = [row.fields for row in seen.rows if not row.says]
        saved = taking_in.add_quotes(self.actor, good)
        self.assertEqual(saved.id, 3)
        view = self.seen(cement)
        quote = view.quotes[0]
        self.assertEqual(
            (view.price, quote.least, quote.valid_to, quote.supplier),
            (D("0.214"), 40, date(2026, 12, 31), "Quayside"),
        )
        self.assertEqual(Resource.get(Resource.name == "Membrane 500").unit, "m²")
        again = taking_in.read(self.actor, self.LIST.encode(), "list.csv", supplier="Quayside")
        self.assertEqual(next(row.says for row in again.rows), "The project has this quote already.")
        history.undo(self.actor)
        self.assertEqual(Quote.select().where(Quote.project == self.actor.project_id).count(), 0)
        with self.assertRaisesRegex(BadEntry, "Row 2: It has no price"):
            taking_in.add_quotes(self.actor, [good[0], {"resource": "Sand", "supplier": "Q"}])
        book = Workbook()
        for row in (
            ("Item", "Supplier", "Unit price", "per"),
            ("Cement", "Marl", 0.21, "kg"),
            ("Sand", "Marl", 41, "m³"),
        ):
            book.active.append(row)
        book.save(out := io.BytesIO())
        said: Sequence[object] = ["resource", "", "price", "unit"]
        for columns, wrong in ((None, 0), (said, 2)):
            seen = taking_in.read(self.actor, out.getvalue(), "list.xlsx", columns)  # type: ignore[arg-type]
            self.assertEqual((len(seen.rows), seen.wrong), (2, wrong))


class Enquiries(PriceCase):
    def setUp(self) -> None:
        super().setUp()
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        port = free_port()
        self.mailbox = Mailbox(folder / "letters", port)
        self.mailbox.start()
        self.addCleanup(self.mailbox.stop)
        desk = price_desk_offered(folder / "letters")
        address = desk.__enter__()
        self.addCleanup(desk.__exit__, None, None, None)
        known = {settings.MAIL: f"smtp://127.0.0.1:{port}", settings.PRICE_DESK: address}
        patching = patch.dict(os.environ, known)
        patching.start()
        self.addCleanup(patching.stop)

    def supplier(self, name: str) -> int:
        email = f"{name.lower()}@suppliers.example"
        return scene.id_of(enquiries.add_supplier(self.actor, {"name": name, "email": email}))

    def view(self, enquiry: int) -> EnquiryView:
        return asked.enquiry_view(self.actor, enquiry)

    def test_from_what_the_bill_needs_to_quotes_of_several_suppliers(self) -> None:
        cement, ply = self.resource("Cement"), self.resource("Formwork ply 18 mm", "m²")
        self.rated(cement, "kg", "300", "10")
        names = ("Quayside", "Marl", "Tern", "Ostrey", "Weirside")
        firms = [self.supplier(name) for name in names]
        by = now().date() + timedelta(days=7)
        enquiry = scene.id_of(
            enquiries.add_enquiry(self.actor, [cement, ply], firms[:1], {"title": "Frame", "answer_by": by})
        )
        view = self.view(enquiry)
        self.assertEqual(
            [(each.name, each.quantity) for each in view.lines],
            [("Cement", D("2138.4")), ("Formwork ply 18 mm", 0)],
        )
        enquiries.change_enquiry_line(self.actor, view.lines[1].id, 1, D(80))
        enquiries.ask_suppliers(self.actor, enquiry, firms)
        with self.assertRaisesRegex(Refusal, "wasn't sent yet"):
            enquiries.fetch_answers(self.actor, enquiry)
        enquiries.send_enquiry(self.actor, enquiry)
        self.assertEqual(self.view(enquiry).waited, 10)
        worker.work_off()
        letter = self.mailbox.letters("tern@suppliers.example")[0]
        self.assertIn("Cement: 2\u00a0138.40 kg", letter.get_body(("plain",)).get_content())
        enquiries.fetch_answers(self.actor, enquiry)
        view = self.view(enquiry)
        self.assertEqual(len(view.answers) + view.waited, 10)
        self.assertEqual(view.waited, sum(len(s.waited) for s in view.suppliers))
        prices = [a.per_unit for a in view.answers if a.resource == cement]
        self.assertEqual(prices, sorted(prices))
        self.assertTrue(any("came late" in a.says for a in view.answers))
        self.assertEqual(enquiries.fetch_answers(self.actor, enquiry).id, 0)  # nothing twice
        # One taken in prices its resource; the rest as one change.
        first = view.answers[0]
        quote = scene.id_of(enquiries.take_answer(self.actor, first.id))
        self.assertEqual(self.seen(cement).quotes[0].source, first.source)
        walked = walking.walk(self.actor, f"quote:{quote}")
        self.assertIn(
            (f"answer:{first.id}", enquiry), [(link.ref, link.target) for link in walked.comes_from]
        )
        with self.assertRaises(InUse):
            enquiries.take_answer(self.actor, first.id)
        enquiries.set_aside(self.actor, view.answers[1].id, True)
        taken = enquiries.take_answers(self.actor, enquiry)
        self.assertEqual(taken.id, len(view.answers) - 2)
        with self.assertRaises(Missing):
            enquiries.take_answers(self.actor, enquiry)
        history.undo(self.actor)
        self.assertEqual(
            Quote.select()
            .where(Quote.answer.is_null(False))
            .where(Quote.project == self.actor.project_id)
            .count(),
            1,
        )
        with self.assertRaisesRegex(Refusal, "went out on"):
            enquiries.ask_suppliers(self.actor, enquiry, firms[:1])
        # It goes along with the project's file; deleted, its quotes stay.
        copy = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        self.assertEqual(Answer.select().where(Answer.project == copy.id).count(), len(view.answers))
        enquiries.delete_enquiry(self.actor, enquiry)
        self.assertIsNone(Quote.get_by_id(quote).answer_id)
        history.undo(self.actor)
        self.assertEqual(Quote.get_by_id(quote).answer_id, first.id)

    def test_what_cannot_be_asked_or_sent_is_a_sentence(self) -> None:
        cement, firm = self.resource("Cement"), self.supplier("Quayside")
        for wrong, says in (
            (lambda: enquiries.add_enquiry(self.actor, [], [firm], {}), "asks for something"),
            (lambda: enquiries.add_supplier(self.actor, {"name": "quayside"}), "is a supplier “quayside” already"),
            (lambda: enquiries.add_supplier(self.actor, {"name": "X", "email": "x@y"}), "no e-mail address"),
        ):  # fmt: skip
            with self.assertRaisesRegex(BadEntry, says):
                wrong()
        enquiry = scene.id_of(enquiries.add_enquiry(self.actor, [cement], [], {}))
        with self.assertRaisesRegex(Refusal, "Enquiry 1 lacks a supplier"):
            enquiries.send_enquiry(self.actor, enquiry)
        nameless = scene.id_of(enquiries.add_supplier(self.actor, {"name": "Nobody"}))
        enquiries.ask_suppliers(self.actor, enquiry, [nameless])
        with self.assertRaisesRegex(Refusal, "Nobody has no e-mail address"):
            enquiries.send_enquiry(self.actor, enquiry)
        with self.assertRaises(InUse):
            enquiries.delete_supplier(self.actor, nameless)
        enquiries.ask_suppliers(self.actor, enquiry, [firm])
        enquiries.change_enquiry(self.actor, enquiry, 1, {"answer_by": date(2020, 1, 1)})
        with self.assertRaisesRegex(BadEntry, "is past"):
            enquiries.send_enquiry(self.actor, enquiry)
        enquiries.change_enquiry(self.actor, enquiry, 2, {"answer_by": None})
        with (
            patch.dict(os.environ, {settings.MAIL: ""}),
            self.assertRaisesRegex(Refusal, "No letters go out"),
        ):
            enquiries.send_enquiry(self.actor, enquiry)
        enquiries.send_enquiry(self.actor, enquiry)
        with (
            patch.dict(os.environ, {settings.PRICE_DESK: f"http://127.0.0.1:{free_port()}"}),
            self.assertRaisesRegex(Refusal, "The price desk can't be reached"),
        ):
            enquiries.fetch_answers(self.actor, enquiry)
        for told in (b"[", b"{}", b'[{"supplier": "x"}]'):
            with (
                self.subTest(told),
                patch("sandscale.services.prices.desk.fetched", return_value=told),
                self.assertRaisesRegex(Refusal, "nothing that can be read"),
            ):
                enquiries.fetch_answers(self.actor, enquiry)
        line = self.view(enquiry).lines[0].id
        email = Supplier.get_by_id(firm).email
        days = {
            "quoted_on": "2026-11-02",
            "valid_to": None,
            "came_on": "2026-11-03",
            "unit": "kg",
            "source": "Q7",
        }
        one = {"supplier": email, "line": line, "price": "0.20", **days}
        odd = [{**one, "price": "-1"}, {**one, "supplier": "who@else.example"}, {**one, "line": 10**9}]
        with patch(
            "sandscale.services.prices.desk.fetched", return_value=json.dumps([one, one, *odd]).encode()
        ):
            came = enquiries.fetch_answers(self.actor, enquiry)
            again = enquiries.fetch_answers(self.actor, enquiry)
        told = "left out, which can't be or wasn't asked for"
        self.assertEqual(
            (came.label, again.label),
            (f"Enquiry 1: 1 answer; 3 {told}", f"Enquiry 1: nothing new yet; 3 {told}"),
        )
        self.assertEqual([(a.price, a.source) for a in self.view(enquiry).answers], [(D("0.20"), "Q7")])
        with self.assertRaises(Forbidden):
            enquiries.send_enquiry(scene.member(self.actor, "viewer"), enquiry)
        with self.assertRaises(Missing):
            asked.enquiry_view(scene.project(), enquiry)
