"""People, projects and sheets for tests that need a database. Each test makes its own, so none sees another's."""

from __future__ import annotations

import io
import itertools
import unittest
import uuid
from datetime import date
from decimal import Decimal
from typing import Any

from reportlab.pdfgen.canvas import Canvas

from sandscale.demo import project as demo
from sandscale.services.bill import actions as bill
from sandscale.services.keeping import jobs, project_file
from sandscale.services.keeping.acting import Actor
from sandscale.services.keeping.views import Saved
from sandscale.services.measure.actions import dimension_lines, elements, figures
from sandscale.services.people import accounts as people
from sandscale.services.people import invitations
from sandscale.services.prices import actions as prices
from sandscale.services.projects import actions as projects
from sandscale.services.rates import actions as rates
from sandscale.services.rates import lines as rate_lines
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import bringing_in
from sandscale.store.database import connect, database, migrate
from sandscale.store.models import Item, Job, Membership, Person, Project, Revision, Sheet

PASSWORD = "a-long-password"
PRICE_DATE = date(2026, 11, 2)
_numbers = itertools.count(1)
_ready = False


def prepare() -> None:
    """Connect to the tests' database and migrate it, once."""
    global _ready
    if not _ready:
        connect()
        migrate()
        _ready = True


class DatabaseCase(unittest.TestCase):
    """A test with the database open."""

    @classmethod
    def setUpClass(cls) -> None:
        prepare()

    def setUp(self) -> None:
        database.connect(reuse_if_open=True)
        self.addCleanup(lambda: database.is_closed() or database.close())


def person(name: str = "Test Person") -> int:
    """A new person; gives the id."""
    return people.add_person(name, f"{uuid.uuid4().hex}@test.example", PASSWORD).id


def email_of(person_id: int) -> str:
    return str(Person.get_by_id(person_id).email)


def project(name: str = "Test project") -> Actor:
    """A new project; gives its owner as the one who acts."""
    owner = person()
    made = projects.new_project(owner, name, "Test client", "EUR", PRICE_DATE)
    return Actor(owner, made.id, "owner")


def demonstration() -> Actor:
    """The owner of the demonstration, which is loaded once into a database of tests, with all worked out."""
    if not Person.get_or_none(Person.email == demo.PEOPLE[0][1]):
        demo.load()
        while job := Job.get_or_none(Job.state == "waiting"):
            jobs.do(job.id)
    owner = Person.get(Person.email == demo.PEOPLE[0][1])
    theirs = (Project.name == demo.NAME) & (Membership.person == owner)
    known = Project.select().join(Membership).where(theirs).order_by(Project.id).first()
    return Actor(owner.id, known.id, "owner")


def file_of(actor: Actor) -> bytes:
    """A project's file."""
    out = io.BytesIO()
    project_file.write(actor, out)
    return out.getvalue()


def taken_in(person_id: int, content: bytes) -> Project:
    """A project from its file."""
    return project_file.take_in(person_id, io.BytesIO(content))


def member(actor: Actor, role: str, name: str = "Test Person") -> Actor:
    """Another person of a project."""
    other = person(name)
    projects.share(actor, email_of(other), role)
    invited = invitations.waiting_for(Person.get_by_id(other))
    invitations.take_up(Person.get_by_id(other), invited[0].id)
    return Actor(other, actor.project_id, role)


def pdf(pages: int = 1, size: tuple[float, float] = (1000.0, 800.0)) -> bytes:
    """A PDF with a rectangle and a word on every page."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=size, invariant=1)
    for number in range(pages):
        canvas.rect(100, 100, 500, 300)
        canvas.drawString(120, 120, f"page {number + 1}")
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def plan(letter: str) -> bytes:
    """A PDF of 1000 × 800 sheet units: a grid that stays, and a line and a word that the letter moves."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(1000.0, 800.0), invariant=1)
    for at in range(12):
        canvas.line(40 + 75 * at, 30, 40 + 75 * at, 700 - 9 * at)
    canvas.line(100 + ord(letter), 110, 300 + ord(letter), 160)
    canvas.drawString(500, 400, f"revision {letter}")
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def sheet(actor: Actor, ratio: str | None = "100") -> Sheet:
    """A new sheet of 1000 × 800 sheet units, at a scale unless the ratio is None."""
    drawing = bringing_in.add_drawing(actor, "S-1.pdf", pdf(), PRICE_DATE)
    made = Sheet.select().join(Revision).where(Revision.drawing == drawing.id).get()
    if ratio is not None:
        sheets.set_scale_by_ratio(actor, made.id, made.version, ratio)
    return Sheet.get_by_id(made.id)


def location(actor: Actor, name: str = "Foundations") -> int:
    return id_of(elements.add_location(actor, name))


def element(actor: Actor, mark: str = "PF2", makeup: str = "pad-footing", **inputs: str) -> int:
    """A new element in a location of its own."""
    return id_of(
        elements.add_element(
            actor, location(actor, f"Place of {mark} {next(_numbers)}"), mark, makeup, "", inputs
        )
    )


def line(
    actor: Actor,
    element_id: int,
    times: str = "",
    length: str = "",
    width: str = "",
    height: str = "",
    **more: Any,
) -> int:
    return id_of(
        dimension_lines.add_line(
            actor, element_id, {"times": times, "length": length, "width": width, "height": height, **more}
        )
    )


def pf2(actor: Actor) -> tuple[int, int]:
    """The pad footing of the worked case, 4 × 1.80 × 1.80 × 0.50; gives the element and its line."""
    made = element(actor)
    return made, line(actor, made, "4", "1.80", "1.80", "0.50")


def resource(actor: Actor, name: str, kind: str, unit: str, price: str) -> int:
    """A resource with one quote without end."""
    made = id_of(prices.add_resource(actor, {"name": name, "kind": kind, "unit": unit, "basis": "latest"}))
    prices.add_quote(
        actor,
        made,
        {
            "supplier": "Test supplier",
            "price": Decimal(price),
            "contains": Decimal(1),
            "quoted_on": date(2026, 10, 1),
            "valid_to": None,
        },
    )
    return made


def build_up(
    actor: Actor, name: str, unit: str, lines: list[dict[str, Any]], output: str = "1", hours: str = "1"
) -> int:
    made = id_of(
        rates.add_build_up(
            actor, {"name": name, "unit": unit, "heading": "", "output": output, "hours": hours}
        )
    )
    for fields in lines:
        rate_lines.add_build_up_line(actor, made, {"quantity": "1", **fields})
    return made


def priced(actor: Actor) -> dict[str, int]:
    """PF2 measured, in the bill, its concrete priced at 100.00 per m³; gives the ids by name."""
    element_id, line_id = pf2(actor)
    elements.link_to_bill(actor, element_id)
    concrete = resource(actor, "Ready concrete", "material", "m³", "100.00")
    rate = build_up(actor, "Concrete in footings", "m³", [{"resource": concrete}])
    item = Item.get(
        (Item.project == actor.project_id) & (Item.unit == "m³") & Item.description.contains("pad footings")
    )
    bill.change_item(actor, item.id, item.version, {"build_up": rate})
    return {"element": element_id, "line": line_id, "resource": concrete, "rate": rate, "item": item.id}


def total(actor: Actor) -> Decimal:
    return Decimal(Project.get_by_id(actor.project_id).bill_total)


def area(actor: Actor, sheet_id: int, element_id: int, ring: list[tuple[float, float]]) -> int:
    return id_of(figures.draw_figure(actor, sheet_id, element_id, "area", ring))


def id_of(saved: Saved) -> int:
    assert saved.id is not None
    return saved.id
