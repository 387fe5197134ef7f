"""Actions in any order: what is kept up to date change by change is what the same project comes to when worked out afresh."""

from __future__ import annotations

import io
import os
import random
import threading
from collections.abc import Callable
from contextlib import suppress
from datetime import date
from decimal import Decimal
from typing import Any
from unittest.mock import patch

from openpyxl import load_workbook
from peewee import fn

from sandscale.core.refusals import Refusal
from sandscale.demo.bills import client_bill
from sandscale.formats.levels_in import How
from sandscale.services.bars import actions as bars
from sandscale.services.bars import cuttings
from sandscale.services.bars import reading as bars_reading
from sandscale.services.bill import actions as bill
from sandscale.services.bill import adjustments, bills, composing, matching, merging, received
from sandscale.services.bill import reading as bill_reading
from sandscale.services.bill.reading import own_bill
from sandscale.services.ground.actions import billing, earthworks, surfaces, surveys
from sandscale.services.ground.reading.earthworks import earthwork_view
from sandscale.services.ground.reading.overview import ground_view
from sandscale.services.ground.routes import actions as routes
from sandscale.services.ground.routes import typicals
from sandscale.services.ground.routes.reading import route_view
from sandscale.services.ground.trenches import actions as trenches
from sandscale.services.ground.trenches import laying
from sandscale.services.ground.trenches.reading import network_view
from sandscale.services.issue import documents as issue
from sandscale.services.issue import forms, packages
from sandscale.services.keeping import checking, history, worker
from sandscale.services.keeping.acting import Actor
from sandscale.services.keeping.trying import tries
from sandscale.services.measure.actions import allowances, dimension_lines, elements, figures
from sandscale.services.measure.actions.allowances import Draw
from sandscale.services.order import actions as ordering
from sandscale.services.prices import actions as prices
from sandscale.services.prices import enquiries, working_out
from sandscale.services.projects import actions as projects
from sandscale.services.rates import actions as rates
from sandscale.services.rates import bands, taking
from sandscale.services.rates import lines as rate_lines
from sandscale.services.rates import sizes as reference_sizes
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import bringing_in, revisions
from sandscale.services.trials import actions as trials
from sandscale.services.trials.reading import Value
from sandscale.settings import MAIL
from sandscale.store.database import database
from sandscale.store.models import (
    Adjustment,
    Answer,
    BarLine,
    Bill,
    BuildUp,
    BuildUpLine,
    Change,
    ChangedPlace,
    Cutting,
    DimensionLine,
    Drawing,
    EarthClass,
    Earthwork,
    Element,
    Enquiry,
    EnquiryLine,
    Figure,
    Formation,
    FormCell,
    GroundLine,
    GroundSurface,
    IssuedPackage,
    Item,
    ItemLink,
    Level,
    Location,
    Membership,
    OrderLine,
    OwnForm,
    Project,
    PurchaseOrder,
    QuantityLine,
    Quote,
    RateBand,
    RatePart,
    ReferenceSize,
    Resource,
    Route,
    Section,
    Sheet,
    Survey,
    TrenchKind,
    TrenchNetwork,
    TrenchNode,
    TrenchRun,
    Trial,
    TypedBar,
    TypicalSection,
    now,
)
from tests import scene
from tests.services.test_issue import bill_rows, recalculated
from tests.services.test_packages import own_form

SIZES = ("", "0.45", "1.80", "2.40+0.3", "(3.6-0.4)*2", "12")
PIT = [[10, 8], [24, 8], [24, 18], [10, 18]]
BESIDE = [[18, 12], [34, 12], [34, 22], [18, 22]]
MAKEUPS = ("pad-footing", "strip-footing", "ground-slab", "blockwork", "plain-area", "plain-number")


def worked_out(project: int) -> dict[str, Any]:
    """Every derived figure of a project, under names that hold in a copy of it too."""
    actor = Actor(Membership.get(Membership.project == project).person_id, project, "owner")
    worker.work_off()
    quantities = (
        QuantityLine.select(QuantityLine, Element, Location)
        .join(Element)
        .join(Location)
        .where(QuantityLine.project == project)
    )
    found: dict[str, Any] = {
        "quantities": sorted(
            (
                q.element.location.name,
                q.element.mark,
                q.output,
                *(round(v, 9) for v in (q.net, q.waste, q.gross)),
            )
            for q in quantities
        ),
        "prices": sorted(
            (r.name, str(r.price), r.findings) for r in Resource.select().where(Resource.project == project)
        ),
        "rates": sorted((b.name, str(b.rate)) for b in BuildUp.select().where(BuildUp.project == project)),
    }
    found["schedule"] = [
        (b.member, b.mark, b.size, b.shape, b.members, b.each, round(b.cut, 9), round(b.mass, 6), b.legs)
        for b in bars_reading.bar_views(actor, 0, 10_000)
    ]
    found["issued"] = [
        (c.member, c.mark, c.how)
        for c in bars_reading.changes_since(project, bars_reading.last_issue(project))
    ]
    found["steel"] = [
        (s.size, s.grade, s.number, round(s.length, 6), round(s.mass, 6))
        for s in bars_reading.size_views(project)
    ]
    found["cut"] = sorted(
        (c.name, p.size, p.fresh, round(p.demand, 6), len(p.too_long))
        for c in cuttings.cutting_views(actor)
        for p in c.plans
    )
    ground = ground_view(actor)
    found["levels"] = [(s.name, s.number, s.used, s.undecided, s.state) for s in ground.surveys]
    found["surfaces"] = [(s.name, s.number, s.lowest, s.highest, s.says, s.state) for s in ground.surfaces]
    found["earth"] = [
        (w.mark, [(m.name, round(m.cut, 6), round(m.fill, 6), m.says) for m in w.methods], w.says, w.state)
        for w in (earthwork_view(actor, brief.id) for brief in ground.earthworks)
    ]
    found["trenches"] = [
        (n.mark, n.says, n.state, [(r.begins, r.ends, r.says, round(r.dug or 0, 6)) for r in n.runs])
        for n in (network_view(actor, brief.id) for brief in ground.networks)
    ]
    found["routes"] = [
        (w.mark, w.says, w.state, w.length, [r.says for r in (*w.named, *w.stretches, *w.changes)])
        for w in (route_view(actor, brief.id) for brief in ground.routes)
    ]
    view = bill_reading.bill_view(actor)
    for section in view.sections:
        found[f"section {section.ref}"] = (section.title, section.total)
        found |= {f"item {i.ref}": (i.description, i.quantity, i.rate, i.amount) for i in section.items}
    found |= {f"foot {a.name}": (a.on, a.adds) for a in view.adjustments}
    found["total"] = (view.total, Project.get_by_id(project).bill_total)
    found["checks"] = sorted((c.severity, c.says) for c in checking.checks(actor))
    return found


class Walk:
    """One person doing one thing after another, picked by a seeded dice."""

    def __init__(self, seed: int) -> None:
        self.dice = random.Random(seed)
        self.actor = scene.project(f"Walk {seed}")
        self.refused = 0
        scene.priced(self.actor)
        scene.sheet(self.actor)
        labourer = scene.resource(self.actor, "Labourer", "labour", "h", "27.20")
        gang = scene.id_of(rates.add_build_up(self.actor, {"name": "Gang", "kind": "gang"}))
        rate_lines.add_build_up_line(
            self.actor, gang, {"resource": labourer, "quantity": "2", "basis": "unit"}
        )
        for name, unit in (("Laid", "m²"), ("Fixed", "kg"), ("Cast", "m³"), ("Set", "nr")):
            scene.build_up(
                self.actor, name, unit, [{"nested": gang}], output=self.dice.choice(("1.9", "0.6", "14"))
            )
        for mark, makeup in enumerate(MAKEUPS):
            element = scene.element(self.actor, f"E{mark}", makeup)
            scene.line(self.actor, element, "", "3.60", "2.40", "0.50")
            elements.link_to_bill(self.actor, element)
        adjustments.add_adjustment(self.actor, "Contingency", "2.5", "work")
        bars.add_member(self.actor, scene.location(self.actor), "T1")
        cuttings.add_cutting(self.actor, "All bars")
        self.dig()

    def dig(self) -> None:
        """A slope as it was surveyed, with a spike and a level missing; a pit in it, and a survey to type into."""
        rows = [f"{x};{y};{10 + x / 10:.2f}" for x in range(0, 40, 5) for y in range(0, 30, 5)]
        rows[12], rows[30] = rows[12][:-2] + "900", rows[30].rsplit(";", 1)[0] + ";"
        surveys.take_in(self.actor, "slope.csv", "\n".join(["E;N;Z", *rows]).encode(), How())
        surveys.add_survey(self.actor, "Typed")
        ground = GroundSurface.get(GroundSurface.project == self.actor.project_id)
        place = scene.location(self.actor)
        pit = scene.id_of(earthworks.add_earthwork(self.actor, "G1", "Pit", place, ground.id))
        earthworks.add_formation(self.actor, pit, {"level": "10.5", "outline": PIT, "cut_batter": "1:1"})
        kind = {
            "name": "Sewer",
            "pipe": "DN 150",
            "bore": "0.15",
            "bed": "0.1",
            "layers": [{"name": "Bed", "over": "0.1"}],
        }
        trenches.add_kind(self.actor, kind)
        net = scene.id_of(trenches.add_network(self.actor, "N1", "Sewer", place, ground.id))
        laying.draw_runs(self.actor, net, [[3, 3], [30, 3], [30, 20]])
        runs = [run.id for run in TrenchRun.those(TrenchRun.project, [self.actor.project_id], TrenchRun.id)]
        laying.grade_runs(self.actor, net, runs, "9", "8.8")
        road = {
            "name": "Road", "right": [{"name": "Lane", "width": "2"}, {"name": "Kerb", "width": "0.2", "linear": True}],
            "layers": [{"name": "Top", "thickness": "0.1", "under": ["Lane"]}], "cut": "1:1", "topsoil": "0.1",
        }  # fmt: skip
        typicals.add_typical(self.actor, road)
        way = scene.id_of(routes.add_route(self.actor, "W1", "Track", place, ground.id))
        routes.draw_centreline(self.actor, way, [[8, 12], [30, 12]])
        for at, level in (("0", "10.6"), ("30", "11.2")):
            routes.add_row(self.actor, way, "levels", {"chainage": at, "level": level})
        routes.add_row(self.actor, way, "changes", {"chainage": "0"})
        worker.work_off()
        billing.into_bill(self.actor, pit)
        billing.into_bill(self.actor, way)
        billing.into_bill(self.actor, net)

    def any(self, model: Any, *where: Any) -> Any:
        """A row of the project, or a refusal when there is none."""
        rows = list(model.select().where(model.project == self.actor.project_id, *where).order_by(model.id))
        if not rows:
            raise Refusal(f"No {model.__name__} is left.")
        return self.dice.choice(rows)

    def size(self) -> str:
        return self.dice.choice(SIZES)

    def ring(self) -> list[tuple[float, float]]:
        x, y, a, b = (self.dice.randrange(50, 300) for _ in range(4))
        return [(x, y), (x + a, y), (x + a, y + b), (x, y + b)]

    def add_line(self) -> None:
        fields = {
            "times": self.dice.choice(("", "2", "3/2")),
            "length": self.size(),
            "width": self.size(),
            "height": self.size(),
        }
        dimension_lines.add_line(
            self.actor, self.any(Element).id, {**fields, "deduct": self.dice.random() < 0.3}
        )

    def change_line(self) -> None:
        line = self.any(DimensionLine)
        dimension_lines.change_line(
            self.actor, line.id, line.version, {self.dice.choice(("length", "width", "height")): self.size()}
        )

    def delete_line(self) -> None:
        dimension_lines.delete_line(self.actor, self.any(DimensionLine).id)

    def move_lines(self) -> None:
        dimension_lines.move_lines(
            self.actor, [self.any(DimensionLine).id], self.any(Element).id, copy=self.dice.random() < 0.5
        )

    def replace(self) -> None:
        dimension_lines.replace(self.actor, None, "height", "0.50", self.dice.choice(("0.55", "0.45")))

    def copy_element(self) -> None:
        source = self.any(Element)
        elements.copy_element(self.actor, source.id, source.location_id, f"{source.mark}c", figures=True)

    def change_element(self) -> None:
        element = self.any(Element)
        fields = self.dice.choice(
            (
                {"makeup": self.dice.choice(MAKEUPS)},
                {"inputs": {"waste_concrete": "7"}},
                {"mark": f"{element.mark}x"},
            )
        )
        elements.change_element(self.actor, element.id, element.version, fields)

    def delete_element(self) -> None:
        elements.delete_element(self.actor, self.any(Element, fn.LENGTH(Element.mark) > 2).id)

    def typed_rate(self) -> None:
        item = self.any(Item, Item.section << self.own_sections())
        bill.change_item(
            self.actor, item.id, item.version, {"typed_rate": self.size(), "rate_reason": "a list"}
        )

    def own_sections(self) -> list[int]:
        own = own_bill(self.actor.project_id).id
        return [row.id for row in Section.those(Section.bill, [own])]

    def compose(self) -> None:
        item, rate = self.any(Item, Item.section << self.own_sections()), self.any(BuildUp)
        composing.add_part(self.actor, item.id, rate.id, self.dice.choice(("1", "0.25", "2*3")))

    def change_part(self) -> None:
        part = self.any(RatePart)
        composing.change_part(self.actor, part.id, part.version, {"factor": self.dice.choice(("0.5", "3"))})

    def delete_part(self) -> None:
        composing.delete_part(self.actor, self.any(RatePart).id)

    def preliminary(self) -> None:
        kind = self.dice.choice(("fixed", "time"))
        money = (
            {"typed_amount": "900", "typed_reason": "x"}
            if kind == "fixed"
            else {"typed_rate": "45", "rate_reason": "x"}
        )
        fields = {"kind": kind, "description": f"Office {self.dice.random():.3f}", "unit": "week", **money}
        bill.add_item(self.actor, self.dice.choice(self.own_sections()), fields)

    def period(self) -> None:
        row = Bill.get((Bill.project == self.actor.project_id) & (Bill.kind == "own"))
        bills.change_bill(
            self.actor, row.id, row.version, {"period": self.dice.choice(("", "26", "4 months"))}
        )

    def issue(self) -> None:
        bills.issue_bill(self.actor, f"Tender {self.dice.randrange(9)}", scene.PRICE_DATE)

    def receive(self) -> None:
        received.receive_workbook(self.actor, "Tank", scene.PRICE_DATE, client_bill(), "tank.xlsx")

    def match(self) -> None:
        other = self.any(Bill, Bill.kind == "received")
        sure = {
            m.item.id: m.offered[0].id for m in matching.matches(self.actor, other.id) if m.item and m.offered
        }
        matching.take_matches(self.actor, other.id, sure)

    def merge(self) -> None:
        own, other = own_bill(self.actor.project_id).id, self.any(Bill, Bill.kind != "own")
        seen = merging.merge_seen(self.actor, own, other.id)
        choices = {c.theirs.id: self.dice.choice(c.choices) for c in seen.clashes if c.theirs}
        merging.merge_bills(self.actor, own, other.id, {}, choices)

    def delete_bill(self) -> None:
        bills.delete_bill(self.actor, self.any(Bill, Bill.kind != "own").id)

    def order(self) -> None:
        ordering.order_resources(
            self.actor, [row.id for row in Resource.those(Resource.project, [self.actor.project_id])]
        )

    def change_order_line(self) -> None:
        line = self.any(OrderLine)
        ordering.change_line(self.actor, line.id, line.version, {"number": self.dice.choice(("3", "7.5"))})

    def send_order(self) -> None:
        ordering.send_order(self.actor, self.any(PurchaseOrder).id)

    def delivery(self) -> None:
        ordering.add_delivery(self.actor, self.any(OrderLine).id, "1", now().date())

    def delete_order(self) -> None:
        ordering.delete_order(self.actor, self.any(PurchaseOrder).id)

    def package(self) -> None:
        packages.ask_for_package(self.actor, "Tender", {"bill": ["X84"]})

    def delete_package(self) -> None:
        packages.delete_package(self.actor, self.any(IssuedPackage).id)

    def own_form(self) -> None:
        if self.dice.random() < 0.5 or not OwnForm.those(OwnForm.project, [self.actor.project_id]):
            forms.add_form(self.actor, own_form(), "cover.xlsx")
        else:
            forms.replace_form(self.actor, self.any(OwnForm).id, own_form(), "again.xlsx")

    def tie_cell(self) -> None:
        refs = ("bill", f"item:{self.any(Item).id}", f"resource:{self.any(Resource).id}")
        place = self.dice.choice(("tender_sum", "Cover sheet!B3", "Cover sheet!D9"))
        forms.tie_cell(self.actor, self.any(OwnForm).id, place, self.dice.choice(refs))

    def drop_form(self) -> None:
        if self.dice.random() < 0.5:
            forms.untie_cell(self.actor, self.any(FormCell).id)
        else:
            forms.delete_form(self.actor, self.any(OwnForm).id)

    def trial(self) -> None:
        values = [Value(f"line:{self.any(DimensionLine).id}", "width", self.dice.choice(("2", "0.75", "")))]
        trials.add_trial(self.actor, "Wider", values)

    def trial_value(self) -> None:
        kind = self.dice.choice(list(tries()))
        row = self.any(tries()[kind].row)
        field = self.dice.choice(tries()[kind].fields(row) or [None])
        if field is not None:
            value = Value(f"{kind}:{row.id}", field.key, self.dice.choice(("1.5", "12", "0")))
            trials.add_value(self.actor, self.any(Trial).id, value)

    def settle_trial(self) -> None:
        what = self.dice.choice((trials.keep_trial, trials.keep_trial, trials.renew_trial, trials.drop_trial))
        what(self.actor, self.any(Trial).id)

    def link_to_bill(self) -> None:
        elements.link_to_bill(self.actor, self.any(Element).id)

    def take_line(self) -> None:
        line, source = self.any(DimensionLine), self.any(Element)
        outputs = [q.output for q in source.quantities if q.unit in ("m", "m²", "nr")] or ["none"]
        output = self.dice.choice(outputs)
        if self.dice.random() < 0.3:
            dimension_lines.add_taken_line(self.actor, line.element_id, source.id, output)
        else:
            dimension_lines.take_line(self.actor, line.id, line.version, source.id, output)

    def rules(self) -> None:
        key = self.dice.choice(("", "bs-8666", "two-diameters"))
        if self.dice.random() < 0.5:
            element = self.any(Element)
            elements.change_element(self.actor, element.id, element.version, {"detailing": key})
        else:
            version = Project.get_by_id(self.actor.project_id).version
            projects.change_project(self.actor, version, {"detailing": key})

    def bar(self) -> dict[str, Any]:
        shape = self.dice.choice(("00", "11", "21", "51", "99"))
        legs = {letter: str(self.dice.randrange(150, 3000, 50)) for letter in "ABC"}
        corners = [[0, 0], [500, 0], [500, self.dice.randrange(150, 900)]] if shape == "99" else []
        return {
            "size": self.dice.choice(("10", "16", "20")), "each": self.dice.choice(("", "4", "2*3")), "shape": shape,
            "mark": self.dice.choice(("", "01", "7")), "legs": {} if shape == "99" else legs, "corners": corners,
        }  # fmt: skip

    def add_bar(self) -> None:
        member = self.any(Element, Element.measurer == "typed-bars")
        bars.add_bar(self.actor, member.id, self.bar())

    def add_bars(self) -> None:
        rows = [{**self.bar(), "member": self.dice.choice(("T1", "T2", "E0"))} for _ in range(3)]
        bars.add_bars(self.actor, rows, self.any(Location).id)

    def change_bar(self) -> None:
        bar = self.any(TypedBar)
        fields = self.dice.choice(
            ({"size": "12"}, {"legs": {"A": "450"}}, {"each": "9"}, {"mass": "0.9"}, {"shape": "21"})
        )
        bars.change_bar(self.actor, bar.id, bar.version, fields)

    def delete_bar(self) -> None:
        bars.delete_bar(self.actor, self.any(TypedBar).id)

    def mark(self) -> None:
        bars.mark_bar(self.actor, self.any(BarLine).id, self.dice.choice(("", "A1", "07")))

    def issue_bars(self) -> None:
        bars.issue(self.actor)

    def cutting(self) -> None:
        cutting = self.any(Cutting)
        fields: dict[str, Any] = self.dice.choice(
            ({"stock": "9; 12"}, {"stock": ""}, {"blade": "3"}, {"members": [self.any(Element).id]})
        )
        cuttings.change_cutting(self.actor, cutting.id, cutting.version, fields)

    def keep_piece(self) -> None:
        cuttings.add_offcut(self.actor, self.any(Cutting).id, self.dice.choice(("10", "16")), "3.2", "2")

    def type_level(self) -> None:
        survey = self.any(Survey, Survey.origin == "typed")
        place = {axis: str(self.dice.randrange(0, 30)) for axis in ("east", "north")}
        surveys.add_level(
            self.actor, survey.id, {**place, "level": self.dice.choice(("", "11", "12.5", "0"))}
        )

    def change_level(self) -> None:
        level = self.any(Level)
        surveys.change_level(
            self.actor, level.id, level.version, {"level": self.dice.choice(("10.2", "13", ""))}
        )

    def delete_level(self) -> None:
        surveys.delete_level(self.actor, self.any(Level).id)

    def decide(self) -> None:
        kind, does = (
            self.dice.choice(("spike", "missing", "zero", "")),
            self.dice.choice(("keep", "leave out")),
        )
        at = self.dice.choice(((), (12,), (30,), (3, 4)))
        if at and self.dice.random() < 0.4:
            surveys.decide(self.actor, self.any(Survey).id, kind, "put right", at, "12.4")
        elif self.dice.random() < 0.3:
            surveys.undecide(self.actor, self.any(Survey).id, kind, at)
        else:
            surveys.decide(self.actor, self.any(Survey).id, kind, does, at)

    def take_levels_otherwise(self) -> None:
        survey = self.any(Survey)
        fields = self.dice.choice(
            ({"level_unit": "ft"}, {"level_unit": "m"}, {"swapped": not survey.swapped})
        )
        surveys.change_survey(self.actor, survey.id, survey.version, fields)

    def draw_for_surface(self) -> None:
        if self.dice.random() < 0.4:
            surfaces.delete_line(self.actor, self.any(GroundLine).id)
        kind = self.dice.choice(("boundary", "hole", "breakline"))
        ring = [[2, 2, 10.2], [33, 2, 13], [33, 22, 13], [2, 22, 10.2]] if kind == "boundary" else PIT
        corners = [[3, 3, 10.4], [30, 18, 13.1]] if kind == "breakline" else ring
        surfaces.add_line(self.actor, self.any(GroundSurface).id, kind, corners)

    def formation(self) -> None:
        work = self.any(Earthwork)
        if self.dice.random() < 0.3:
            earthworks.add_formation(self.actor, work.element_id, {"level": "11.2", "outline": BESIDE})
            return
        row = self.any(Formation)
        fields = self.dice.choice(
            ({"level": "10.2"}, {"level": "11"}, {"fill_batter": "1:2"}, {"grade_east": "2%"}, {"outline": PIT},
             {"surface": self.any(GroundSurface).id}, {"surface": None})
        )  # fmt: skip
        earthworks.change_formation(self.actor, row.id, row.version, fields)

    def classes(self) -> None:
        if self.dice.random() < 0.5:
            name = self.dice.choice(("Topsoil", "Rock", "Soft"))
            taken = {"Topsoil": "stripped", "Rock": "dug", "Soft": "below formation"}[name]
            work = self.any(Earthwork)
            earthworks.add_class(self.actor, work.element_id, {"name": name, "depth": "0.3", "taken": taken})
            return
        row = self.any(EarthClass)
        fields = self.dice.choice(({"depth": "0.2"}, {"reused": not row.reused}, {"outline": BESIDE}))
        earthworks.change_class(self.actor, row.id, row.version, fields)

    def stage(self) -> None:
        work = self.any(Earthwork)
        name = self.dice.choice(("West", "East"))
        earthworks.add_stage(
            self.actor, work.element_id, {"name": name, "outline": PIT[:3] if name == "East" else PIT}
        )

    def reckon_otherwise(self) -> None:
        work = self.any(Earthwork)
        fields: dict[str, Any] = self.dice.choice(
            ({"method": "square grid"}, {"method": "exact"}, {"method": "grid sections", "rule": "prismoidal"},
             {"spacing": "4"}, {"bands": "1; 3"}, {"bulking": "1.4"}, {"ground": self.any(GroundSurface).id})
        )  # fmt: skip
        earthworks.change_earthwork(self.actor, work.element_id, work.version, fields)

    def trench(self) -> None:
        net = self.any(TrenchNetwork)
        if self.dice.random() < 0.5:
            start = self.dice.choice(([3, 3], [30, 20], [5, 15]))
            laying.draw_runs(self.actor, net.element_id, [start, [self.dice.randrange(4, 33), 22]])
            return
        fields = self.dice.choice(
            ({"bands": "1; 2"}, {"bulking": "1.3"}, {"ground": None}, {"ground": self.any(GroundSurface).id})
        )
        trenches.change_network(self.actor, net.element_id, net.version, fields)

    def trench_kind(self) -> None:
        kind = self.any(TrenchKind)
        fields = self.dice.choice(
            ({"width": "0.8"}, {"width": ""}, {"bore": "0.3"}, {"sides": "battered", "batter": "1:0.5"},
             {"layers": []}, {"restored": [{"name": "Turf", "thickness": "0.1"}]}, {"cover": "1.5"})
        )  # fmt: skip
        trenches.change_kind(self.actor, kind.id, kind.version, fields)

    def run(self) -> None:
        run = self.any(TrenchRun)
        if self.dice.random() < 0.2:
            trenches.delete_run(self.actor, run.id)
            return
        fields = self.dice.choice(
            ({"invert_begins": "8.5"}, {"invert_ends": "8.2"}, {"invert_ends": ""}, {"stage": "One"}, {"kind": None},
             {"kind": self.any(TrenchKind).id}, {"begins": self.any(TrenchNode).name})
        )  # fmt: skip
        trenches.change_run(self.actor, run.id, run.version, fields)

    def node(self) -> None:
        node = self.any(TrenchNode)
        if self.dice.random() < 0.2:
            trenches.delete_node(self.actor, node.id)
            return
        fields = self.dice.choice(
            (
                {"name": f"M{self.dice.randrange(9)}"},
                {"ground": "12.4"},
                {"ground": ""},
                {"manhole": "1.0"},
                {"east": "12"},
            )
        )
        trenches.change_node(self.actor, node.id, node.version, fields)

    def typical(self) -> None:
        row = self.any(TypicalSection)
        layer = {"name": "Top", "thickness": "0.15", "under": ["Lane"], "spread": "0.3"}
        fields = self.dice.choice(
            ({"topsoil": "0"}, {"layers": [layer]}, {"layers": [layer, {**layer, "name": "Base"}]}, {"cut": "1:2"},
             {"ditch_depth": "0.3", "ditch_bottom": "0.2"}, {"name": f"Road {self.dice.randrange(9)}"}, {"right": []})
        )  # fmt: skip
        typicals.change_typical(self.actor, row.id, row.version, fields)

    def route(self) -> None:
        row = self.any(Route)
        fields = self.dice.choice(
            ({"interval": "5"}, {"rule": "prismoidal"}, {"rule": "frustum"}, {"curved": False}, {"lorry": "6"},
             {"ground": None}, {"ground": self.any(GroundSurface).id}, {"begins": "-3"})
        )  # fmt: skip
        routes.change_route(self.actor, row.element_id, row.version, fields)

    def route_row(self) -> None:
        element = self.any(Route).element_id
        part, cells = self.dice.choice(
            (("corners", {"east": "20", "north": "20"}), ("levels", {"chainage": "40", "level": "11"}),
             ("stretches", {"name": "A", "begins": "0", "ends": "12", "stage": "1"}), ("changes", {"chainage": "9", "taper": "4"}),
             ("stretches", {"name": "B", "begins": "8", "ends": "50"}), ("named", {"name": "Stone", "layers": "Top", "density": "2"}),
             ("named", {"name": "Kerbs", "layers": "Kerb"}))
        )  # fmt: skip
        if self.dice.random() < 0.5:
            routes.add_row(self.actor, element, part, cells)
            return
        row = self.any(routes.ROWS[part].table)
        if self.dice.random() < 0.4:
            routes.delete_row(self.actor, part, row.id)
            return
        name, value = self.dice.choice(list(cells.items()))
        routes.change_row(self.actor, part, row.id, row.version, {name: value})

    @property
    def sheet(self) -> int:
        """The sheet of its drawing as it came last."""
        mine = Sheet.select(Sheet.id).where(Sheet.project == self.actor.project_id)
        return int(mine.order_by(Sheet.id.desc()).first().id)

    def revise(self) -> None:
        drawing, letter = self.any(Drawing), self.dice.choice("PQRS")
        bringing_in.ask_to_revise(self.actor, drawing.id, "S-1.pdf", scene.plan(letter), "")
        worker.work_off()

    def look(self) -> None:
        if not ChangedPlace.those(ChangedPlace.project, [self.actor.project_id]):
            self.revise()
        elif self.dice.random() < 0.5:
            place = self.any(ChangedPlace)
            revisions.look_at_place(self.actor, place.id, place.version, looked=not place.looked)
        else:
            revisions.look_at_figures(self.actor, [self.any(Figure, Figure.near).id])

    def lay(self) -> None:
        if not Sheet.select().where((Sheet.project == self.actor.project_id) & Sheet.follows.is_null(False)):
            return self.revise()
        sheet = self.any(Sheet, Sheet.follows.is_null(False))
        onto = [(self.dice.uniform(0, 9), 0.0), (400.0, self.dice.uniform(0, 9))]
        revisions.lay_by_picks(self.actor, sheet.id, sheet.version, [(0.0, 0.0), (400.0, 0.0)], onto)

    def draw(self) -> None:
        kind = self.dice.choice(("count", "run", "loop", "area"))
        figures.draw_figure(self.actor, self.sheet, self.any(Element).id, kind, self.ring())

    def reshape(self) -> None:
        figure = self.any(Figure)
        figures.reshape_figure(self.actor, figure.id, figure.version, self.ring(), [])

    def delete_figure(self) -> None:
        figures.delete_figure(self.actor, self.any(Figure).id)

    def scale(self) -> None:
        sheet = Sheet.get_by_id(self.sheet)
        sheets.set_scale_by_ratio(self.actor, sheet.id, sheet.version, self.dice.choice(("50", "100", "200")))

    def detail(self) -> None:
        sheets.add_scale_area(self.actor, self.sheet, self.ring(), "20")

    def quote(self) -> None:
        fields = {
            "supplier": "Tern Aggregates",
            "contains": Decimal(1),
            "quoted_on": date(2026, 10, self.dice.randrange(2, 30)),
            "valid_to": None,
        }
        prices.add_quote(
            self.actor,
            self.any(Resource).id,
            {**fields, "price": Decimal(self.dice.randrange(1000, 12000)) / 100},
        )

    def sold(self) -> None:
        quote = self.any(Quote)
        fields = self.dice.choice(
            ({"unit": "t", "contains": None}, {"least": Decimal(40)}, {"unit": "bag 25 kg", "contains": Decimal(25)})
        )  # fmt: skip
        prices.change_quote(self.actor, quote.id, quote.version, fields)

    def norm(self) -> None:
        resource = self.any(Resource)
        fields = self.dice.choice(
            ({"density": "1600"}, {"norm_low": Decimal(40), "norm_high": Decimal(60)}, {"basis": "norm"})
        )
        prices.change_resource(self.actor, resource.id, resource.version, fields)

    def enquiry(self) -> None:
        name = f"Supplier {self.dice.randrange(9)}"
        supplier = scene.id_of(enquiries.add_supplier(self.actor, {"name": name, "email": "s@test.example"}))
        resource = self.any(Resource).id
        made = scene.id_of(enquiries.add_enquiry(self.actor, [resource], [supplier], {"title": "Walk"}))
        with patch.dict(os.environ, {MAIL: "smtp://127.0.0.1:9"}), patch.object(enquiries.jobs, "begin"):
            enquiries.send_enquiry(self.actor, made)
        told = {
            "email": "s@test.example", "line": EnquiryLine.get(EnquiryLine.enquiry == made).id, "price": Decimal(31),
            "unit": "nr", "least": None, "quoted_on": date(2026, 10, 5), "valid_to": None,
            "came_on": date(2026, 10, 9), "source": "Walk",
        }  # fmt: skip
        with patch("sandscale.services.prices.enquiries.answers_to", return_value=([told], 0)):
            enquiries.fetch_answers(self.actor, made)

    def take_answer(self) -> None:
        enquiries.take_answer(self.actor, self.any(Answer).id)

    def reference(self) -> None:
        name = f"Walls by thickness {self.dice.randrange(9)}"
        made = scene.id_of(
            rates.add_build_up(
                self.actor, {"name": name, "unit": "m²", "kind": "reference", "sized_in": "mm"}
            )
        )
        for size in ("150", "200"):
            reference_sizes.add_size(
                self.actor, made, {"size": size, "labour": Decimal(self.dice.randrange(20, 40))}
            )
        outer = self.any(BuildUp, BuildUp.kind == "rate").id
        fields = {
            "nested": made,
            "quantity": "0.5",
            "basis": "unit",
            "size": self.dice.choice(("175", "240", "")),
        }
        rate_lines.add_build_up_line(self.actor, outer, fields)

    def reference_size(self) -> None:
        size = self.any(ReferenceSize)
        if self.dice.random() < 0.3:
            return reference_sizes.delete_size(self.actor, size.id) and None
        reference_sizes.change_size(
            self.actor, size.id, size.version, {"material": Decimal(self.dice.randrange(9, 30))}
        )

    def worked_out(self) -> None:
        resource = self.any(Resource)
        prices.change_resource(self.actor, resource.id, resource.version, {"basis": "worked"})
        draws = {"driver": self.any(Resource).id} if self.dice.random() < 0.5 else {}
        told = {"hire": str(self.dice.randrange(200, 900)), "hours": "40", "fuel": "6"}
        version = Resource.get_by_id(resource.id).version
        working_out.change_worked(self.actor, resource.id, version, "hire", told, draws)

    def allowance(self) -> None:
        allowances.add_allowance(self.actor, f"RC{self.dice.randrange(9)}", "road-cleaning")

    def draw_input(self) -> None:
        element = self.any(Element, Element.source == "road-cleaning")
        quantity = self.any(QuantityLine, QuantityLine.unit == "h")
        draws = [
            Draw(self.any(Resource, Resource.unit == "h").id, self.any(Item).id),
            Draw(element=quantity.element_id, output=quantity.output),
        ]
        name = self.dice.choice(("own_hours", "hired_hours", "heavy_hours"))
        chosen = draws[: self.dice.randrange(3)] or draws[1:]
        allowances.draw_input(self.actor, element.id, element.version, name, chosen)

    def take_quantity(self) -> None:
        quantity = self.any(QuantityLine)
        if self.dice.random() < 0.5:
            line = self.any(BuildUpLine)
            return (
                taking.take_for_line(self.actor, line.id, line.version, quantity.element_id, quantity.output)
                and None
            )
        rate = self.any(BuildUp, BuildUp.unit == quantity.unit, BuildUp.kind == "rate")
        taking.take_for_rate(
            self.actor, rate.id, rate.version, "output", quantity.element_id, quantity.output
        )

    def banded(self) -> None:
        name = f"Walls by height {self.dice.randrange(9)}"
        head = {"name": name, "unit": "m²", "kind": "banded", "sized_by": "height", "sized_in": "m"}
        made = scene.id_of(rates.add_build_up(self.actor, head))
        bands.add_band(self.actor, made, {"below": "1.5", "price": Decimal(self.dice.randrange(20, 60))})
        nested = self.any(BuildUp, BuildUp.unit == "m²", BuildUp.kind == "rate").id
        bands.add_band(self.actor, made, {"low": "1.5", "nested": nested})
        for item in (
            Item.select().where((Item.project == self.actor.project_id) & (Item.unit == "m²")).limit(2)
        ):
            bill.change_item(
                self.actor, item.id, item.version, {"build_up": made, "size": self.dice.choice(("1.2", "2"))}
            )

    def band(self) -> None:
        band = self.any(RateBand)
        fields = ({"price": Decimal(44)}, {"below": "2.5"}, {"low": "0.5"})
        bands.change_band(self.actor, band.id, band.version, self.dice.choice(fields))

    def delete_enquiry(self) -> None:
        enquiries.delete_enquiry(self.actor, self.any(Enquiry).id)

    def change_quote(self) -> None:
        quote = self.any(Quote)
        prices.change_quote(
            self.actor, quote.id, quote.version, {"price": Decimal(self.dice.randrange(1000, 12000)) / 100}
        )

    def basis(self) -> None:
        resource = self.any(Resource)
        prices.change_resource(
            self.actor,
            resource.id,
            resource.version,
            {"basis": self.dice.choice(("lowest", "latest", "mean"))},
        )

    def price_date(self) -> None:
        version = Project.get_by_id(self.actor.project_id).version
        projects.change_project(
            self.actor,
            version,
            self.dice.choice(
                (
                    {"price_date": date(2026, 10, self.dice.randrange(5, 31))},
                    {"working_day": 9.0},
                    {"rounding": {"rate": 3, "m³": 3}},
                )
            ),
        )

    def build_up_line(self) -> None:
        rate_lines.add_build_up_line(
            self.actor,
            self.any(BuildUp).id,
            {
                "resource": self.any(Resource).id, "quantity": self.dice.choice(("0.2", "1.05")),
                "basis": self.dice.choice(("unit", "output", "day", "fixed")),
            },
        )  # fmt: skip

    def percentage(self) -> None:
        rate_lines.add_build_up_line(
            self.actor,
            self.any(BuildUp, BuildUp.kind == "rate").id,
            {"basis": "percent", "percent_of": "labour", "quantity": "4"},
        )

    def nest(self) -> None:
        rate_lines.add_build_up_line(
            self.actor,
            self.any(BuildUp, BuildUp.kind == "rate").id,
            {"nested": self.any(BuildUp).id, "quantity": "0.5"},
        )

    def delete_build_up_line(self) -> None:
        rate_lines.delete_build_up_line(self.actor, self.any(BuildUpLine).id)

    def output(self) -> None:
        build_up = self.any(BuildUp, BuildUp.kind == "rate")
        rates.change_build_up(
            self.actor,
            build_up.id,
            build_up.version,
            self.dice.choice(
                (
                    {"output": "1"},
                    {"output": "2.5", "hours": "4"},
                    {"added": Decimal(12)},
                    {"added_on": "price"},
                )
            ),
        )

    def rate(self) -> None:
        item = self.any(Item)
        chosen = self.any(BuildUp, BuildUp.unit == item.unit)
        bill.change_item(self.actor, item.id, item.version, {"build_up": self.dice.choice((chosen.id, None))})

    def factor(self) -> None:
        link = self.any(ItemLink)
        bill.add_link(
            self.actor, self.any(Item).id, link.element_id, link.output, self.dice.choice(("2", "0.5"))
        )

    def unlink(self) -> None:
        bill.delete_link(self.actor, self.any(ItemLink).id)

    def sum_of_money(self) -> None:
        bill.add_item(
            self.actor,
            self.any(Section).id,
            {"kind": "provisional", "description": "Sum", "unit": "nr", "typed_amount": "1200"},
        )

    def typed(self) -> None:
        item = self.any(Item, Item.kind == "measured")
        bill.change_item(
            self.actor,
            item.id,
            item.version,
            {"typed_quantity": self.dice.choice(("3", "12.5")), "typed_reason": "letter"},
        )

    def move_item(self) -> None:
        bill.move_item(self.actor, self.any(Item).id, self.any(Section).id)

    def nest_section(self) -> None:
        bill.move_section(self.actor, self.any(Section).id, self.dice.choice((None, self.any(Section).id)))

    def adjust(self) -> None:
        row = self.any(Adjustment)
        adjustments.change_adjustment(
            self.actor, row.id, row.version, {"percent": self.dice.choice(("-3", "2.5", "10"))}
        )

    def step(self) -> None:
        """One thing done, or refused; most of all dimension lines, as in the work itself."""
        plain: list[Callable[[], None]] = [
            self.add_line, self.change_line, self.change_line, self.delete_line, self.move_lines, self.replace, self.copy_element,
            self.change_element, self.delete_element, self.link_to_bill, self.draw, self.draw, self.reshape, self.delete_figure,
            self.scale, self.detail, self.quote, self.change_quote, self.basis, self.price_date, self.build_up_line, self.percentage,
            self.nest, self.delete_build_up_line, self.output, self.rate, self.rate, self.factor, self.unlink, self.sum_of_money,
            self.typed, self.move_item, self.nest_section, self.adjust, self.take_line, self.take_line, self.rules,
            self.add_bar, self.add_bar, self.add_bars, self.change_bar, self.delete_bar, self.mark, self.mark, self.issue_bars,
            self.cutting, self.keep_piece,
            self.type_level, self.type_level, self.change_level, self.delete_level, self.decide, self.decide,
            self.take_levels_otherwise, self.draw_for_surface, self.formation, self.formation, self.classes, self.stage,
            self.reckon_otherwise, self.trench, self.trench_kind, self.run, self.run, self.node,
            self.typical, self.route, self.route_row, self.route_row,
            self.sold, self.norm, self.enquiry, self.take_answer, self.delete_enquiry, self.reference, self.reference_size, self.worked_out,
            self.allowance, self.draw_input, self.draw_input, self.take_quantity, self.banded, self.band,
            self.typed_rate, self.compose, self.compose, self.change_part, self.delete_part, self.preliminary, self.period, self.issue,
            self.receive, self.match, self.merge, self.delete_bill,
            self.order, self.change_order_line, self.send_order, self.delivery, self.delete_order,
            self.package, self.delete_package, self.own_form, self.tie_cell, self.tie_cell, self.drop_form,
            self.revise, self.look, self.look, self.lay,
            self.trial, self.trial_value, self.trial_value, self.settle_trial,
        ]  # fmt: skip
        done = self.dice.choice(plain)
        self.last = done.__name__
        try:
            done()
        except Refusal:
            self.refused += 1


class AnyOrder(scene.DatabaseCase):
    STEPS = 90

    def test_figures_kept_change_by_change_are_those_worked_out_afresh(self) -> None:
        for seed in (1, 2, 3):
            with self.subTest(seed=seed):
                walk = Walk(seed)
                for _ in range(3):
                    for _ in range(self.STEPS // 3):
                        walk.step()
                    project = walk.actor.project_id
                    copy = scene.taken_in(scene.person(), scene.file_of(walk.actor))
                    kept, afresh = worked_out(project), worked_out(copy.id)
                    for named in kept | afresh:
                        self.assertEqual(kept.get(named), afresh.get(named), f"{named} after {walk.last}")
                self.assertLess(walk.refused, self.STEPS / 3)

    def test_two_people_at_once_leave_a_project_that_holds(self) -> None:
        first = Walk(7)
        second = Walk(8)
        second.actor = scene.member(first.actor, "editor")

        def work(walk: Walk) -> None:
            with database.connection_context():
                for _ in range(self.STEPS // 2):
                    walk.step()

        threads = [threading.Thread(target=work, args=(walk,)) for walk in (first, second)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(120)
        self.assertFalse(any(thread.is_alive() for thread in threads))
        people = {
            change.person_id
            for change in Change.select().where(Change.project == first.actor.project_id)
            if change.kind != "worked"  # what jobs hand in is nobody's
        }
        self.assertEqual(people, {first.actor.person_id, second.actor.person_id})
        copy = scene.taken_in(scene.person(), scene.file_of(first.actor))
        self.assertEqual(worked_out(first.actor.project_id), worked_out(copy.id))

    def test_what_two_people_take_back_by_turns_leaves_a_project_that_holds(self) -> None:
        first, second = Walk(2), Walk(1002)
        second.actor = scene.member(first.actor, "editor")
        stepped = 0
        for n in range(self.STEPS):
            walk = first if first.dice.random() < 0.5 else second
            walk.step()
            if (chance := first.dice.random()) < 0.3:
                with suppress(Refusal):
                    (history.undo if chance < 0.2 else history.redo)(walk.actor)
                    stepped += 1
            if n % 30 == 29:
                copy = scene.taken_in(scene.person(), scene.file_of(first.actor))
                self.assertEqual(worked_out(first.actor.project_id), worked_out(copy.id))
        self.assertGreater(stepped, self.STEPS / 10)

    def test_another_program_works_the_workbook_of_it_out_to_the_same_bill(self) -> None:
        for seed in (5, 6):
            with self.subTest(seed=seed):
                walk = Walk(seed)
                for _ in range(self.STEPS):
                    walk.step()
                rows = bill_rows(recalculated(load_workbook(io.BytesIO(issue.bill_workbook(walk.actor)[1]))))
                view = bill_reading.bill_view(walk.actor)
                for item in (i for s in view.sections for i in s.items):
                    self.assertAlmostEqual(
                        rows[item.ref][5] or 0, float(item.amount), places=2, msg=item.description
                    )
                self.assertAlmostEqual(rows["Total, EUR"][5], float(view.total), places=2)

    def test_all_of_it_is_taken_back_and_done_again_to_the_same_figures(self) -> None:
        walk = Walk(4)
        project = walk.actor.project_id

        def done() -> int:
            return Change.select().where((Change.project == project) & (Change.kind == "do")).count()

        first, before = worked_out(project), done()
        for _ in range(self.STEPS):
            walk.step()
        last = worked_out(project)
        steps = done() - before
        self.assertGreater(steps, self.STEPS / 2)
        for _ in range(steps):
            history.undo(walk.actor)
        self.assertEqual(worked_out(project), first)
        for _ in range(steps):
            history.redo(walk.actor)
        self.assertEqual(worked_out(project), last)
