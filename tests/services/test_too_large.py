"""A slip of zeros: whatever is typed too large is refused in words or counts nothing, and what was there before stays as it was."""

from __future__ import annotations

import io
import unittest
from collections.abc import Callable
from decimal import Decimal
from typing import Any

from openpyxl import load_workbook

from sandscale.core.refusals import Refusal
from sandscale.services.bill import actions as bill
from sandscale.services.bill import adjustments
from sandscale.services.bill import reading as bill_reading
from sandscale.services.issue import documents as issue
from sandscale.services.keeping import walking
from sandscale.services.measure import reading as measure_reading
from sandscale.services.prices import actions as prices
from sandscale.services.rates import lines as rate_lines
from sandscale.services.rates import reading as rates_reading
from sandscale.store.models import (
    BuildUpLine,
    DimensionLine,
    Element,
    Item,
    Project,
    QuantityLine,
    Quote,
    Row,
)
from tests import scene
from tests.services.test_issue import bill_rows, recalculated


class TooLarge(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.made = scene.priced(self.actor)
        self.total = scene.total(self.actor)

    def of(self, model: type[Row], **named: Any) -> Any:
        return model.get(
            *(
                getattr(model, key) == value
                for key, value in {"project": self.actor.project_id, **named}.items()
            )
        )

    def whole(self) -> None:
        """Every view of the project opens, every number of the element can be walked, and its file is taken in again with the same total."""
        measure_reading.elements(self.actor)
        measure_reading.element_view(self.actor, self.made["element"])
        bill_reading.bill_view(self.actor)
        rates_reading.build_up_view(self.actor, self.made["rate"])
        for row in QuantityLine.select().where(QuantityLine.element == self.made["element"]):
            walking.walk(self.actor, f"quantity:{row.element_id}:{row.output}")
        for row in DimensionLine.select().where(DimensionLine.element == self.made["element"]):
            walking.walk(self.actor, f"line:{row.id}")
        again = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        self.assertEqual(Project.get_by_id(again.id).bill_total, scene.total(self.actor))

    def test_a_dimension_line_counts_nothing_and_says_so(self) -> None:
        for times, length in (("1", "1e9"), ("1e12", "2"), ("1e12/" * 20, "1e12")):
            with self.subTest(times=times[:9], length=length):
                line = scene.line(self.actor, self.made["element"], times, length, length, "1e9")
                self.assertEqual(scene.total(self.actor), self.total)
                found = [
                    says
                    for at, says, wrong, *_ in Element.get_by_id(self.made["element"]).findings
                    if at == line and wrong
                ]
                self.assertTrue(any("too large" in says for says in found), found)
                self.whole()

    def test_another_program_counts_nothing_for_it_either(self) -> None:
        scene.line(self.actor, self.made["element"], "1", "2", "1e9", "1e9")
        rows = bill_rows(recalculated(load_workbook(io.BytesIO(issue.bill_workbook(self.actor)[1]))))
        self.assertAlmostEqual(rows["Total, EUR"][5], float(self.total), places=2)

    def test_what_the_bill_cannot_hold_is_refused(self) -> None:
        item, line, quote = self.of(Item, id=self.made["item"]), self.of(BuildUpLine), self.of(Quote)
        others = QuantityLine.select().where(
            QuantityLine.element == self.made["element"], QuantityLine.unit == "m³", QuantityLine.net > 0
        )
        other = next(row.output for row in others if row.output != "concrete")
        for number in range(8):
            adjustments.add_adjustment(self.actor, f"Slip {number}", "1000", "running")
        tried: list[Callable[[], object]] = [
            lambda: bill.change_item(
                self.actor, item.id, item.version, {"typed_quantity": "1e12", "typed_reason": "as ordered"}
            ),
            lambda: bill.add_link(self.actor, item.id, self.made["element"], other, "1e12"),
            lambda: rate_lines.change_build_up_line(self.actor, line.id, line.version, {"quantity": "1e12"}),
            lambda: prices.change_quote(
                self.actor, quote.id, quote.version, {"price": Decimal("99999999999999")}
            ),
            lambda: prices.change_quote(
                self.actor,
                quote.id,
                quote.version,
                {"contains": Decimal("0.000001"), "price": Decimal("99999999")},
            ),
            lambda: adjustments.add_adjustment(self.actor, "Slip", "1000", "running"),
        ]
        for at, write in enumerate(tried):
            with self.subTest(at):
                before = scene.total(self.actor)
                try:
                    write()
                except Refusal as refused:
                    self.assertIn("large", str(refused))
                    self.assertEqual(scene.total(self.actor), before)
                else:
                    self.fail("taken")
        self.whole()


if __name__ == "__main__":
    unittest.main()
