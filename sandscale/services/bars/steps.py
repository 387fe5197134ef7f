"""The part of the walk that is the bars: a line of the schedule, and the bars of a size to buy."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from ...core.numbers.ways import ways
from ...core.numbers.working import Working, shown
from ...store.database import database
from ...store.models import BarLine, CutPlan, Cutting, DimensionLine, Project, QuantityLine, TypedBar
from ..keeping.acting import Actor, Missing, find
from ..keeping.views import WalkLink, WalkView
from ..keeping.walking import Step, link_to, view_of
from ..measure.entered import lines_of
from ..measure.measurers import given, measurer_of
from .cuttings import cutting_view
from .detailing import rules_for

MOST_SHOWN = 40  # bars of a size, as parts of what there is to buy


def _bar(actor: Actor, ref: str, line_id: str) -> WalkView:
    line = BarLine.get_or_none((BarLine.id == int(line_id)) & (BarLine.project == actor.project_id))
    if line is None:
        raise Missing("That bar is not in the schedule any more.")
    element = line.element
    rows = lines_of([element.id])[element.id]
    entered = given([element], {element.id: rows})[element.id]
    name = f"Cut length of {element.mark} {line.mark}"
    working = (
        measurer_of(element).bar_working(entered, line.key, name) if line.cut else Working(name, 0.0, "m")
    )
    project = Project.get_by_id(actor.project_id)
    totals = [
        Working("Bars in all", line.total, "nr", "members × in each", f"{shown(line.members, 0)} × "
            f"{shown(line.each, 0)}"),
        Working("Mass", line.mass, "kg", "bars × cut length × mass per metre",
            f"{shown(line.total, 0)} × {shown(line.cut, 3)} × {shown(line.mass / line.length, 3)}"
            if line.length else ""),
    ]  # fmt: skip
    working = replace(working, parts=(*working.parts, *totals), source=rules_for(element, project).name)
    return view_of(ref, working, _comes(line), _goes(line), [says for says, _ in line.findings])


def _comes(line: BarLine) -> Iterable[WalkLink]:
    element = line.element
    row = DimensionLine.get_or_none(DimensionLine.id == line.line) if line.line else None
    if row is not None and row.figure_id:
        yield link_to(f"figure:{row.figure_id}", f"Figure of {element.mark}", None, "", "measure", element.id)
    if row is not None:
        times = row.times or "1"
        yield link_to(
            f"line:{row.id}", f"{element.mark}, dimension line", times, "times", "measure", element.id
        )
    if line.typed:
        typed = TypedBar.get_or_none(TypedBar.id == line.typed)
        told = typed.note if typed is not None and typed.note else "typed"
        yield link_to(
            f"quantity:{element.id}:mass", f"{element.mark}, typed bars", told, "", "measure", element.id
        )


def _goes(line: BarLine) -> Iterable[WalkLink]:
    element = line.element
    output = f"bars_{line.size.replace('#', 'n')}" if line.typed else line.output
    mine = (QuantityLine.element == element.id) & (QuantityLine.output == output)
    for q in QuantityLine.select().where(mine):
        name = f"{q.label} in {element.mark}"
        yield link_to(f"quantity:{element.id}:{q.output}", name, q.net, q.unit, "measure", element.id)
    for cutting in Cutting.those(Cutting.project, [line.project_id], Cutting.position, Cutting.id):
        plan = CutPlan.get_or_none((CutPlan.cutting == cutting.id) & (CutPlan.size == line.size))
        members = [each.element_id for each in cutting.chosen]
        if plan is not None and plan.plan.get("order") and (not members or element.id in members):
            bars = sum(number for _, number in plan.plan["order"])
            name = f"{cutting.name}: {line.grade}{line.size} to buy"
            yield link_to(f"to-buy:{cutting.id}:{line.size}", name, float(bars), "nr", "bars", None)


_BARS = """
SELECT b.id, e.mark, b.mark, b.total, b.cut FROM bar_line b JOIN element e ON e.id = b.element_id
WHERE b.project_id = %s AND b.size = %s AND b.total > 0 AND (%s OR b.element_id = ANY(%s))
ORDER BY b.mass DESC LIMIT %s"""


def _long(metres: float, least: int = 2, most: int = 2) -> str:
    here = ways().system
    return f"{shown(metres * here.size('m'), least, most)} {here.symbol('m')}"


def _to_buy(actor: Actor, ref: str, cutting_id: str, size: str) -> WalkView:
    cutting = find(Cutting, actor, int(cutting_id))
    view = cutting_view(cutting)
    plan = next((each for each in view.plans if each.size == size), None)
    if plan is None:
        raise Missing(f"“{cutting.name}” cuts no bars of {size}.")
    parts = [
        Working(f"From {_long(p.stock, 0, 3)}{', kept' if p.kept else ''}", p.times, "nr", "", ", ".join(
            f"{c.number} × {_long(c.length, 3, 3)}" for c in p.cuts) + f"; {_long(p.offcut, 3, 3)} left")
        for p in plan.patterns
    ]  # fmt: skip
    number = sum(each.number for each in plan.order)
    bound = f"no plan can use less than {_long(plan.bound)}"
    told = f"{_long(plan.bought)} for {_long(plan.demand)}; {bound}"
    name = f"{plan.grade}{plan.size} to buy, {cutting.name}"
    working = Working(name, number, "nr", "whole bars of the cutting plan", told, parts=tuple(parts))
    members, here = view.members, ways().system
    asked = (actor.project_id, size, not members, members, MOST_SHOWN)
    comes = [
        link_to(
            f"bar:{bar}", f"{member} {mark}", f"{shown(total, 0)} × {shown(cut * here.size('m'), 3, 3)}",
            here.symbol("m"), "bars", None,
        )
        for bar, member, mark, total, cut in database.execute_sql(_BARS, asked).fetchall()
    ]  # fmt: skip
    findings = [] if plan.fresh else ["The schedule has moved on since this was cut."]
    return view_of(ref, working, comes, [], findings)


STEPS = {"bar": Step(1, _bar), "to-buy": Step(2, _to_buy)}
