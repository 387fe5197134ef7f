"""Two bills of 5,000 items compared, a bill exploded into resources and reported, and a client's workbook of
10,000 rows read, taken in, matched and given back.

    SANDSCALE_DATABASE=… python -m bench.bills

Told beside openpyxl reading the same workbook in the same run."""

from __future__ import annotations

import io
import statistics
import time
from collections.abc import Callable
from datetime import date

import xlsxwriter
from openpyxl import load_workbook
from peewee import fn

from sandscale.core.pricing.shares import GROUPED_BY
from sandscale.services.bill import bills, compared, matching, reading, received, report
from sandscale.services.keeping.acting import Actor
from sandscale.services.order.explosion import exploded, together
from sandscale.store.database import connect, connected, migrate
from sandscale.store.models import Item, Project

from .prices import DEPTHS, ITEMS, make

ROWS, TIMES = 10_000, 5
DAY = date(2026, 11, 12)


def workbook(rows: int) -> bytes:
    """A client's bill of so many items, a section for each hundred, a formula for each amount."""
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"constant_memory": True})
    sheet = book.add_worksheet("Bill")
    sheet.write_row(0, 0, ("Item", "Description", "Unit", "Qty", "Rate", "Amount"))
    for at in range(1, rows + 1):
        if at % 100 == 1:
            sheet.write_row(at, 0, (str(at // 100 + 1), f"Part {at // 100 + 1}"))
            continue
        sheet.write_row(at, 0, (f"{at // 100 + 1}.{at % 100:02}", f"Concrete {at}", "m3", at % 90 + 0.5))
        sheet.write_formula(at, 5, f"=ROUND(D{at + 1}*E{at + 1},2)", None, 0)
    book.close()
    return out.getvalue()


def timed(name: str, work: Callable[[], object], times: int = TIMES) -> None:
    took = []
    for _ in range(times):
        begun = time.perf_counter()
        work()
        took.append(time.perf_counter() - begun)
    print(f"{name}: median {statistics.median(took):.2f} s, longest {max(took):.2f} s")


def main() -> None:
    connect()
    migrate()
    with connected():
        actor, _ = make(DEPTHS, ITEMS, "Bench, bills")
        project, own = Project.get_by_id(actor.project_id), reading.own_bill(actor.project_id).id
        begun = time.perf_counter()
        issued = bills.issue_bill(actor, "Tender", DAY).id or 0
        print(f"a bill of {ITEMS} items issued: {time.perf_counter() - begun:.2f} s")
        Item.update(description=Item.description.concat(" worded anew")).where(
            fn.MOD(Item.id, 50) == 0
        ).execute()
        timed(f"two bills of {ITEMS} items compared", lambda: compared.compared(actor, issued, own))
        timed(
            f"{ITEMS} items exploded over rates nested three deep",
            lambda: together(exploded(project, own)),
        )
        timed("reported in nine ways", lambda: report.report(actor, GROUPED_BY))
        content = workbook(ROWS)
        timed("openpyxl reads the client's workbook", lambda: _read(content))
        timed(f"a client's bill of {ROWS} rows seen", lambda: received.seen(content, "client.xlsx"))
        made = list[int]()
        timed("taken in", lambda: made.append(_taken_in(actor, content)), 2)
        timed("matched", lambda: matching.matches(actor, made[0]), 2)
        sure = {m.item.id: m.offered[0].id for m in matching.matches(actor, made[0]) if m.sure and m.item}
        timed(f"{len(sure)} matches taken", lambda: matching.take_matches(actor, made[0], sure), 1)
        timed("given back", lambda: received.given_back(actor, made[0]))


def _taken_in(actor: Actor, content: bytes) -> int:
    return received.receive_workbook(actor, "Client", DAY, content, "client.xlsx").id or 0


def _read(content: bytes) -> int:
    return sum(1 for _ in load_workbook(io.BytesIO(content), read_only=True).worksheets[0].iter_rows())


if __name__ == "__main__":
    main()
