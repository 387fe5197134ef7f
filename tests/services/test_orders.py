"""What the bill needs and what to buy: exploded, in packs, ordered, delivered, outgrown."""

from __future__ import annotations

import os
import shutil
import tempfile
from datetime import timedelta
from decimal import Decimal as D
from pathlib import Path
from unittest.mock import patch

from sandscale import settings
from sandscale.core.pricing.orders import packs
from sandscale.core.refusals import BadEntry, Refusal
from sandscale.services.bill import actions as bill
from sandscale.services.keeping import checking, history, walking, worker
from sandscale.services.keeping.acting import InUse
from sandscale.services.order import actions, grouped, reading
from sandscale.services.order.views import BuyView
from sandscale.services.prices import actions as prices
from sandscale.services.prices import enquiries
from sandscale.standins.mailbox import Mailbox
from sandscale.store.models import Item, OrderLine, PurchaseOrder, Quote, now
from tests import scene
from tests.served import free_port


class Orders(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.labour = scene.resource(self.actor, "Mason", "labour", "h", "40")
        self.cement = scene.resource(self.actor, "Cement", "material", "kg", "1")
        quote = Quote.get(Quote.resource == self.cement)
        sold = {"price": D("5.35"), "unit": "bag 25 kg", "contains": None, "supplier": "Quayside"}
        prices.change_quote(self.actor, quote.id, quote.version, sold)
        # Mortar: 400 kg of cement a m³, 2 % lost; a m² of wall takes 0.02 m³ of it, 5 % lost, and 0.5 h.
        mortar = scene.build_up(
            self.actor, "Mortar", "m³", [{"resource": self.cement, "quantity": "400", "allowance": D(2)}]
        )
        wall = scene.build_up(
            self.actor, "Wall", "m²",
            [{"nested": mortar, "quantity": "0.02", "allowance": D(5)}, {"resource": self.labour, "quantity": "0.5"}],
        )  # fmt: skip
        section = scene.id_of(bill.add_section(self.actor, "Walls"))
        fields = {
            "description": "Wall",
            "unit": "m²",
            "typed_quantity": "100",
            "typed_reason": "x",
            "build_up": wall,
        }
        self.item = scene.id_of(bill.add_item(self.actor, section, fields))

    def seen(self, resource: int) -> BuyView:
        return next(r for r in reading.ordering_view(self.actor).resources if r.resource == resource)

    def measured(self, quantity: str) -> None:
        bill.change_item(
            self.actor, self.item, Item.get_by_id(self.item).version, {"typed_quantity": quantity}
        )

    def test_the_bill_is_exploded_net_and_with_waste_and_bought_in_whole_packs(self) -> None:
        view = reading.ordering_view(self.actor)
        cement = self.seen(self.cement)
        self.assertEqual((cement.net, cement.gross), (D("800.0000"), D("856.8000")))
        self.assertEqual(
            (cement.packs, cement.contains, cement.supplier, cement.cost), (35, 25, "Quayside", D("187.25"))
        )
        self.assertEqual((view.labour_hours, cement.state), (D("50"), "to order"))
        # The money of the resources and the rest are the items' sum.
        total = sum((row.money for row in view.resources), D(0)) + view.unexplained
        self.assertEqual(total, Item.get_by_id(self.item).amount)
        walked = walking.walk(self.actor, f"need:{self.cement}")
        self.assertEqual([link.target for link in walked.comes_from], [self.item])
        self.assertIn("net 800.00 kg", walked.working.source)
        for needed, contains, deliveries, bought in (
            ("856.8", "25", 1, 35), ("856.8", "25", 4, 36), ("0", "25", 3, 0), ("-4", "25", 1, 0), ("25", "25", 1, 1),
            ("25.000000000001", "25", 1, 1), ("0.0001", "25", 1, 1), ("1000000000", "0.5", 1, 2_000_000_000),
        ):  # fmt: skip
            with self.subTest(needed=needed, deliveries=deliveries):
                self.assertEqual(packs(D(needed), D(contains), deliveries), bought)
        for contains, deliveries in (("0", 1), ("-1", 1), ("1", 0), ("1", 201)):
            with self.assertRaises(BadEntry):
                packs(D(1), D(contains), deliveries)

    def test_an_order_of_nobody_is_not_sent(self) -> None:
        prices.delete_quote(self.actor, Quote.get(Quote.resource == self.cement).id)
        order = scene.id_of(actions.order_resources(self.actor, [self.cement]))
        self.assertEqual(PurchaseOrder.get_by_id(order).supplier, actions.NOBODY)
        with self.assertRaisesRegex(Refusal, "has no supplier yet"):
            actions.send_order(self.actor, order)
        actions.change_order(self.actor, order, 1, {"supplier": "Tern"})
        actions.send_order(self.actor, order)
        self.assertEqual(self.seen(self.cement).state, "ordered")

    def test_ordered_due_delivered_late_and_outgrown(self) -> None:
        order = scene.id_of(actions.order_resources(self.actor, [self.cement, self.labour]))
        row = PurchaseOrder.get_by_id(order)
        self.assertEqual(row.supplier, "Quayside")
        self.assertEqual((self.seen(self.cement).being_ordered, self.seen(self.cement).packs), (875, 0))
        with self.assertRaisesRegex(Refusal, "Nothing of that is still to be ordered"):
            actions.order_resources(self.actor, [self.cement])
        line = reading.order_view(self.actor, order).lines[0]
        for number in ("0", "-3", "x", "1e99"):
            with self.subTest(number), self.assertRaises(BadEntry):
                actions.change_line(self.actor, line.id, line.version, {"number": number})
        with self.assertRaisesRegex(Refusal, "wasn't sent yet"):
            actions.add_delivery(self.actor, line.id, "1", now().date())
        actions.send_order(self.actor, order)
        self.assertEqual((self.seen(self.cement).ordered, self.seen(self.cement).state), (875, "ordered"))
        with self.assertRaises(InUse):
            actions.change_line(self.actor, line.id, line.version, {"number": "9"})
        with self.assertRaisesRegex(InUse, "was sent and stays as it is"):
            actions.change_order(
                self.actor, order, PurchaseOrder.get_by_id(order).version, {"supplier": "Tern"}
            )
        told = {"supplier": "Quayside", "note": "By the north gate"}
        actions.change_order(self.actor, order, PurchaseOrder.get_by_id(order).version, told)
        self.assertEqual(PurchaseOrder.get_by_id(order).note, "By the north gate")
        actions.change_line(self.actor, line.id, line.version, {"due": now().date() - timedelta(days=1)})
        self.assertEqual(self.seen(self.cement).state, "late")
        self.assertEqual([c.rule for c in checking.checks(self.actor)], ["late order"])
        actions.add_delivery(self.actor, line.id, "20", now().date())
        with self.assertRaisesRegex(BadEntry, "Only 15 of Cement"):
            actions.add_delivery(self.actor, line.id, "16", now().date())
        with self.assertRaisesRegex(BadEntry, "can't have come on"):
            actions.add_delivery(self.actor, line.id, "1", now().date() - timedelta(days=9))
        actions.change_line(
            self.actor,
            line.id,
            OrderLine.get_by_id(line.id).version,
            {"due": now().date() + timedelta(days=3)},
        )
        self.assertEqual(self.seen(self.cement).state, "part delivered")
        with self.assertRaises(InUse):
            actions.delete_order(self.actor, order)
        with self.assertRaises(InUse):
            prices.delete_resource(self.actor, self.cement)
        actions.add_delivery(self.actor, line.id, "15", now().date())
        self.assertEqual((self.seen(self.cement).state, self.seen(self.cement).delivered), ("delivered", 875))
        # The job grows past what is ordered: a check, and the rest is to be ordered.
        self.measured("110")
        told = self.seen(self.cement)
        self.assertEqual((told.state, told.packs), ("outgrown", 3))  # 942.48 kg, 875 ordered
        check = checking.checks(self.actor)[0]
        self.assertEqual(
            (check.rule, check.stage, check.numbers), ("outgrown order", "order", [942.48, 875.0])
        )
        second = scene.id_of(actions.order_resources(self.actor, [self.cement]))
        actions.send_order(self.actor, second)
        self.assertEqual(checking.checks(self.actor), [])
        # A quote that goes leaves the line as it is; all of it is undone.
        other = {"supplier": "Tern", "price": D(6), "unit": "bag 25 kg", "quoted_on": scene.PRICE_DATE}
        prices.add_quote(self.actor, self.cement, other)
        prices.delete_quote(
            self.actor, Quote.get((Quote.resource == self.cement) & (Quote.supplier == "Quayside")).id
        )
        self.assertEqual(reading.order_view(self.actor, order).lines[0].price, D("5.35"))
        copy = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        self.assertEqual(OrderLine.select().where(OrderLine.project == copy.id).count(), 3)
        mine = PurchaseOrder.select().where(PurchaseOrder.project == self.actor.project_id)
        while mine.exists():
            history.undo(self.actor)
        self.assertEqual(self.seen(self.cement).state, "to order")

    def test_needs_by_section_and_stage_add_up_to_the_whole(self) -> None:
        other = scene.id_of(bill.add_section(self.actor, "Other walls"))
        item = Item.get_by_id(self.item)
        fields = {"description": "Wall", "unit": "m²", "typed_quantity": "50", "typed_reason": "x"}
        bill.add_item(self.actor, other, fields | {"build_up": item.build_up_id})
        whole = {row.resource: (row.net, row.gross) for row in reading.ordering_view(self.actor).resources}
        for by, names in (("section", ["Walls", "Other walls"]), ("stage", ["not measured"])):
            groups = grouped.needed_by(self.actor, by)
            self.assertEqual([group.name for group in groups], names)
            for resource, both in whole.items():
                rows = [row for group in groups for row in group.rows if row.resource == resource]
                self.assertEqual((sum(r.net for r in rows), sum(r.gross for r in rows)), both)
        walls = grouped.needed_by(self.actor, "section")
        self.assertEqual(walls[0].rows[0].gross, 2 * walls[1].rows[0].gross)

    def test_an_element_is_ordered_once_all_its_materials_are(self) -> None:
        element = scene.element(self.actor)
        scene.line(self.actor, element, "4", "1.80", "1.80", "0.50")
        item = Item.get_by_id(self.item)
        bill.change_item(self.actor, item.id, item.version, {"typed_quantity": ""})
        bill.add_link(self.actor, item.id, element, "formwork")
        self.assertEqual(grouped.ordered_elements(self.actor).missing, [element])
        actions.send_order(self.actor, scene.id_of(actions.order_resources(self.actor, [self.cement])))
        found = grouped.ordered_elements(self.actor)
        self.assertEqual((found.ordered, found.missing), ([element], []))
        scene.line(self.actor, element, "4", "1.80", "1.80", "0.50")
        self.assertEqual(grouped.ordered_elements(self.actor).missing, [element])

    def test_an_order_goes_out_by_letter_and_as_files(self) -> None:
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        port = free_port()
        mailbox = Mailbox(folder / "letters", port)
        mailbox.start()
        self.addCleanup(mailbox.stop)
        enquiries.add_supplier(self.actor, {"name": "Quayside", "email": "q@suppliers.example"})
        with patch.dict(os.environ, {settings.MAIL: f"smtp://127.0.0.1:{port}"}):
            order = scene.id_of(actions.order_resources(self.actor, [self.cement], 5))
            actions.send_order(self.actor, order)
            worker.work_off()
        letter = mailbox.letters("q@suppliers.example")[0]
        self.assertIn("35 × bag 25 kg Cement", letter.get_body(("plain",)).get_content())
        self.assertEqual([p.get_filename().rsplit(".")[-1] for p in letter.iter_attachments()], ["xlsx"])
