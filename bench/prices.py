"""A quote changed under many rates and items, and a long list of quotes read from a file.

    SANDSCALE_DATABASE=… python -m bench.prices

2,000 rates nested three deep, all of them on one resource in the end, price 5,000 items. Told beside the same
change where one rate prices one item."""

from __future__ import annotations

import random
import statistics
import time
from datetime import date
from decimal import Decimal

from sandscale.services.answers.moved import answered
from sandscale.services.bill.reading import own_bill
from sandscale.services.keeping.acting import Actor
from sandscale.services.keeping.graph import settle_afresh
from sandscale.services.prices import actions, taking_in
from sandscale.services.projects import actions as projects
from sandscale.store.database import connect, connected, database, migrate
from sandscale.store.models import BuildUp, BuildUpLine, Item, Project, Quote, Resource, Section

from .edit import share
from .large_project import insert, person

DEPTHS = (400, 600, 1_000)  # rates by how deep they are nested
ITEMS, LISTED, TIMES = 5_000, 10_000, 12


def make(depths: tuple[int, ...], items: int, name: str) -> tuple[Actor, int]:
    """A project of so many rates and items; gives who acts in it, and the quote all of it hangs on."""
    chance = random.Random(7)
    with database.atomic():
        project = projects.new_project(person(), name, "", "EUR", date(2026, 11, 2)).id
        labour, cement = (
            insert(Resource, [{"project": project, "name": each, "kind": kind, "unit": unit}])[0]
            for each, kind, unit in (("Labourer", "labour", "h"), ("Cement", "material", "kg"))
        )
        own = {"project": project, "supplier": "Quayside", "quoted_on": date(2026, 10, 1)}
        quotes = insert(
            Quote,
            [
                {**own, "resource": labour, "price": Decimal("27.20"), "unit": "h"},
                {**own, "resource": cement, "price": Decimal("5.35"), "unit": "bag 25 kg"},
            ],
        )
        inner = [None]
        for depth, number in enumerate(depths):
            heads = [
                {"project": project, "name": f"Rate {depth} {n}", "unit": "m³", "output": "2.4"}
                for n in range(number)
            ]
            ids, lines = insert(BuildUp, heads), []
            for each in ids:
                row = {"project": project, "build_up": each, "group": "labour", "quantity": "2"}
                lines.append({**row, "position": 0, "basis": "output", "resource": labour, "nested": None})
                drawn = {"resource": cement} if depth == 0 else {"nested": chance.choice(inner)}
                quantity = f"{chance.uniform(200, 400):.0f}" if depth == 0 else "1.05"
                own_line = {"group": "material", "basis": "unit", "quantity": quantity, "position": 1}
                lines.append({**row, "resource": None, "nested": None, **own_line, **drawn})
            insert(BuildUpLine, lines)
            inner = ids
        bill = own_bill(project).id
        places = [
            {"project": project, "bill": bill, "title": f"Section {n}", "position": n} for n in range(25)
        ]
        sections = insert(Section, places)
        insert(
            Item,
            [
                {
                    "project": project, "section": sections[n % 25], "position": n,
                    "description": f"Concrete {n}",
                    "unit": "m³", "typed_quantity": f"{chance.uniform(1, 90):.2f}", "typed_reason": "sketch",
                    "build_up": inner[n % len(inner)],
                }
                for n in range(items)
            ],
        )  # fmt: skip
        settle_afresh(project)
    database.execute_sql("ANALYZE")
    return Actor(person(), project, "owner"), quotes[1]


def change(actor: Actor, quote: int, number: int) -> float:
    """How long another price of a quote takes until its answer with the new total is there, in ms."""
    row = Quote.get_by_id(quote)
    begun = time.perf_counter()
    price = Decimal("5.35") + Decimal(number % 7) / 100
    answer = answered(actor, actions.change_quote(actor, quote, row.version, {"price": price}))
    assert answer.bill_total == Project.get_by_id(actor.project_id).bill_total
    return (time.perf_counter() - begun) * 1000


def main() -> None:
    connect()
    migrate()
    with connected():
        many, one = make(DEPTHS, ITEMS, "Bench, many rates"), make((1, 1, 1), 1, "Bench, one rate")
        took: dict[str, list[float]] = {"many": [], "one": []}
        for number in range(1, TIMES + 1):
            took["many"].append(change(*many, number))
            took["one"].append(change(*one, number))
        for name, each in took.items():
            middle, most = statistics.median(each), share(each, 0.95)
            print(f"a quote changed under {name}: median {middle:.0f} ms, 95 of 100 under {most:.0f}")
        rows = [
            f"Goods {n};Quayside;{n % 90 + 1}.25;bag 25 kg;2026-10-20;31.12.2026;Q-{n}" for n in range(LISTED)
        ]
        content = "\n".join(["Resource;Supplier;Price;Sold by;Quoted on;Valid until;Source", *rows]).encode()
        begun = time.perf_counter()
        seen = taking_in.read(one[0], content, "list.csv")
        read = time.perf_counter() - begun
        begun = time.perf_counter()
        saved = taking_in.add_quotes(one[0], [row.fields for row in seen.rows if not row.says])
        taken = time.perf_counter() - begun
        print(
            f"{len(seen.rows)} quotes read from a file in {read:.1f} s, {saved.id} taken in in {taken:.1f} s"
        )


if __name__ == "__main__":
    main()
