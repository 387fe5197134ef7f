"""A large project, made by code: so many dimension lines in elements of several make-ups, and bill items
that draw on them."""

from __future__ import annotations

import random
from datetime import date
from decimal import Decimal
from typing import Any

from sandscale.core.makeups.makeup import built_in
from sandscale.core.makeups.run import Line
from sandscale.services.bill.reading import own_bill
from sandscale.services.keeping.acting import Actor
from sandscale.services.keeping.graph import settle_afresh
from sandscale.services.people import accounts as people
from sandscale.services.projects import actions as projects
from sandscale.store.database import database
from sandscale.store.models import (
    BuildUp,
    BuildUpLine,
    DimensionLine,
    Element,
    Item,
    ItemLink,
    Location,
    Person,
    Quote,
    Resource,
    Section,
)

LINES_PER_ELEMENT = 5
MAKE_UPS = ("strip-footing", "wall", "blockwork", "plain-volume", "plain-area", "beam", "render", "kerb")
BATCH = 2_000


def person() -> int:
    """Whose projects the benchmark's are."""
    known = Person.get_or_none(Person.email == "bench@sandhall.example")
    return int(
        known.id if known else people.add_person("Bench", "bench@sandhall.example", "bench-password").id
    )


def make(lines: int, items: int, seed: int = 11) -> tuple[Actor, list[int]]:
    """A project of that size; gives who acts in it, and the ids of its dimension lines."""
    chance = random.Random(seed)
    with database.atomic():
        project = projects.new_project(
            person(), f"Bench {lines}", "Marl Valley Water Board", "EUR", date(2026, 11, 2)
        )
        actor = Actor(person(), project.id, "owner")
        places = [Location.create(project=project.id, name=f"Block {n}", position=n).id for n in range(20)]
        keys = [MAKE_UPS[n % len(MAKE_UPS)] for n in range(lines // LINES_PER_ELEMENT)]
        elements = insert(
            Element,
            [
                {
                    "project": project.id,
                    "location": places[n % 20],
                    "mark": f"E{n}",
                    "source": key,
                    "inputs": {},
                    "position": n,
                }
                for n, key in enumerate(keys)
            ],
        )
        drawn = [[_line(chance) for _ in range(LINES_PER_ELEMENT)] for _ in elements]
        rows = [
            {
                "project": project.id, "element": element, "position": at, "times": f"{line.times:g}",
                "length": f"{line.length:.2f}",
                "width": f"{line.width:.2f}", "height": f"{line.height:.2f}", "note": f"Grid {at}",
            }
            for element, own in zip(elements, drawn, strict=True)
            for at, line in enumerate(own)
        ]  # fmt: skip
        ids = insert(DimensionLine, rows)
        _bill(project.id, elements, keys, items)
        settle_afresh(project.id)
    database.execute_sql("ANALYZE")
    return actor, ids


def _line(chance: random.Random) -> Line:
    length, width, height = (round(chance.uniform(*span), 2) for span in ((2, 12), (0.3, 1.2), (0.2, 3)))
    return Line(chance.randint(1, 6), length, width, height)


def insert(model: Any, rows: list[dict[str, Any]]) -> list[int]:
    """Rows written a batch at a time; gives their ids."""
    made: list[int] = []
    for start in range(0, len(rows), BATCH):
        made += [
            row[0]
            for row in model.insert_many(rows[start : start + BATCH]).returning(model.id).tuples().execute()
        ]
    return made


def _rate(project: int, unit: str) -> int:
    """A rate of one resource at one quote."""
    resource = Resource.create(project=project, name=f"Material per {unit}", kind="material", unit=unit)
    quote = {
        "supplier": "Test supplier",
        "price": Decimal("41.37"),
        "unit": unit,
        "quoted_on": date(2026, 10, 1),
    }
    Quote.create(project=project, resource=resource, **quote)
    made = BuildUp.create(project=project, name=f"Rate {unit}", unit=unit)
    drawn = {"group": "material", "basis": "unit", "resource": resource, "quantity": "1"}
    BuildUpLine.create(project=project, build_up=made, position=0, **drawn)
    return int(made.id)


def _bill(project: int, elements: list[int], keys: list[str], items: int) -> None:
    own = own_bill(project).id
    sections = [
        Section.create(project=project, bill=own, title=f"Section {n}", position=n).id for n in range(25)
    ]
    rate = {unit: _rate(project, unit) for unit in ("m", "m²", "m³", "kg", "nr")}
    rows, links = [], []
    for n in range(items):
        output = next(o for o, _ in built_in()[keys[n % len(keys)]].outputs if o.item)
        rows.append(
            {
                "project": project, "section": sections[n % 25], "position": n,
                "description": f"{output.item} " "" f"{n}", "unit": output.unit,
                "typed_quantity": "", "typed_reason": "", "build_up": rate.get(output.unit),
            }
        )  # fmt: skip
    ids = insert(Item, rows)
    for n, element in enumerate(elements):
        item = n % items
        output = next(o for o, _ in built_in()[keys[item % len(keys)]].outputs if o.item)
        if keys[n] == keys[item % len(keys)]:
            links.append({"project": project, "item": ids[item], "element": element, "output": output.key})
    insert(ItemLink, links)
