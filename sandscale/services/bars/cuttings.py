"""What can be done with cuttings: made, given stock, members and kept pieces, stopped, begun again."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from ...core.numbers.entry import as_typed, kept, read_entry
from ...core.numbers.working import shown
from ...core.refusals import BadEntry
from ...store.models import BarLine, BeingWorkedOut, CutMember, CutPlan, Cutting, Element, Job, OffCut
from ..keeping.acting import Actor, check_version, find, require_writer
from ..keeping.graph import nodes
from ..keeping.jobs import UNFINISHED
from ..keeping.one_reading import one_reading
from ..keeping.recording import action, in_words, recording
from ..keeping.slow import put_off
from ..keeping.views import Saved
from .cutting import NODE, demands, stock_of, stock_read
from .entered import number_read, size_read
from .views import CuttingView, CutView, OffCutView, PatternView, PlanView

KEPT_FROM = 0.3  # m: shorter pieces aren't worth a place in the yard


@action
def add_cutting(actor: Actor, name: str, members: Sequence[int] = ()) -> Saved:
    """A new cutting, of all bars or of some members'.

    Raises:
        BadEntry: it has no name.
    """
    with recording(actor, f"Cutting {name.strip()}") as log:
        position = Cutting.select().where(Cutting.project == actor.project_id).count()
        row = log.insert(Cutting, name=_named(name), position=position)
        for element in dict.fromkeys(members):
            log.insert(CutMember, cutting=row.id, element=find(Element, actor, element).id)
    return log.saved(row)


@action
def change_cutting(actor: Actor, cutting_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change a cutting's name, stock lengths, blade or members.

    Raises:
        BadEntry: a length can't be read.
        Stale: someone else changed it meanwhile.
    """
    row = find(Cutting, actor, cutting_id)
    members = fields.pop("members", None)
    if "name" in fields:
        fields["name"] = _named(fields["name"])
    if "stock" in fields:
        stock_read(fields["stock"])
        fields["stock"] = "; ".join(
            kept(each.strip(), "m", field="stock")
            for each in fields["stock"].replace(" and ", ";").replace(", ", ";").split(";")
            if each.strip()
        )
    if fields.get("blade"):
        fields["blade"] = kept(fields["blade"], "mm", field="blade")
        if not 0 <= read_entry(fields["blade"], "mm", field="blade", minimum=0) <= 0.05:
            raise BadEntry("A cut takes 0 to 50 mm.", field="blade")
    check_version(row, version, fields)
    with recording(actor, f"Cutting {row.name}: {in_words(fields) or 'members'}") as log:
        log.update(row, **fields)
        if members is not None:
            there = {each.element_id: each for each in CutMember.those(CutMember.cutting, [row.id])}
            for element in dict.fromkeys(members):
                if element not in there:
                    log.insert(CutMember, cutting=row.id, element=find(Element, actor, element).id)
            for element, each in there.items():
                if element not in members:
                    log.delete(each)
    return log.saved(row)


@action
def delete_cutting(actor: Actor, cutting_id: int) -> Saved:
    """Take a cutting out, with the pieces kept for it."""
    row = find(Cutting, actor, cutting_id)
    with recording(actor, f"Cutting {row.name} deleted") as log:
        for each in (*row.offcuts, *row.chosen, row):
            log.delete(each)
    return log.saved()


@action
def add_offcut(actor: Actor, cutting_id: int, size: str, length: str, number: str = "1") -> Saved:
    """Pieces kept from before, to be cut first.

    Raises:
        BadEntry: the size, the length or the number can't be.
    """
    row = find(Cutting, actor, cutting_id)
    fields = _piece({"size": size, "length": length, "number": number})
    with recording(actor, f"Cutting {row.name}: off-cuts kept") as log:
        made = log.insert(OffCut, cutting=row.id, **fields)
    return log.saved(made)


@action
def change_offcut(actor: Actor, offcut_id: int, version: int, fields: dict[str, Any]) -> Saved:
    """Change pieces kept from before."""
    row = find(OffCut, actor, offcut_id)
    fields = _piece(fields)
    check_version(row, version, fields)
    with recording(actor, "Off-cuts kept") as log:
        log.update(row, **fields)
    return log.saved(row)


@action
def delete_offcut(actor: Actor, offcut_id: int) -> Saved:
    """Take kept pieces out."""
    with recording(actor, "Off-cuts taken out") as log:
        log.delete(find(OffCut, actor, offcut_id))
    return log.saved()


@action
def keep_offcuts(actor: Actor, cutting_id: int, into_id: int, least: str = "") -> Saved:
    """Keep what one cutting leaves over for another, from a length on.

    Raises:
        BadEntry: both are the same, or nothing so long is left.
    """
    row, into = find(Cutting, actor, cutting_id), find(Cutting, actor, into_id)
    if row.id == into.id:
        raise BadEntry("Off-cuts are kept for another cutting.", field="into")
    least = kept(least, "m", field="least")
    shortest = read_entry(least, "m", field="least", minimum=0) if least else KEPT_FROM
    pieces = [
        (plan.size, length, number)
        for plan in CutPlan.those(CutPlan.cutting, [row.id])
        for length, number in plan.plan.get("offcuts", [])
        if length >= shortest
    ]
    if not pieces:
        raise BadEntry(f"“{row.name}” leaves nothing of {shortest:g} m or longer.", field="least")
    with recording(actor, f"Off-cuts of {row.name} kept for {into.name}") as log:
        for size, length, number in pieces:
            log.insert(OffCut, cutting=into.id, size=size, length=f"{length:.3f}", number=str(number))
    return log.saved(into)


def stop_cutting(actor: Actor, cutting_id: int) -> CuttingView:
    """Stop the job that is at a cutting; the plans it had stay, told to be old."""
    require_writer(actor)
    row = find(Cutting, actor, cutting_id)
    asked = BeingWorkedOut.get_or_none((BeingWorkedOut.node == NODE) & (BeingWorkedOut.row_id == row.id))
    if asked is not None:
        running = (Job.id == asked.job_id) & (Job.state << UNFINISHED)
        Job.update(state="stopped", said="Stopped.").where(running).execute()
        asked.delete_instance()
    return cutting_view(row)


@action
def cut_again(actor: Actor, cutting_id: int) -> CuttingView:
    """Begin a cutting again that was stopped."""
    row = find(Cutting, actor, cutting_id)
    put_off(actor.project_id, nodes()[NODE], {row.id})
    return cutting_view(row)


def cutting_views(actor: Actor) -> list[CuttingView]:
    """The cuttings of the project with their plans."""
    with one_reading():
        rows = Cutting.those(Cutting.project, [actor.project_id], Cutting.position, Cutting.id)
        return [cutting_view(row) for row in rows]


def cutting_view(row: Cutting) -> CuttingView:
    """A cutting with its plans, each told whether it is of what there is to cut now."""
    asked = BeingWorkedOut.get_or_none((BeingWorkedOut.node == NODE) & (BeingWorkedOut.row_id == row.id))
    job = Job.get_or_none(Job.id == asked.job_id) if asked is not None else None
    plans = {plan.size: plan for plan in CutPlan.those(CutPlan.cutting, [row.id])}
    wanted = {demand.size: demand.fingerprint for demand in demands(row)}
    says = plans.pop("").plan["says"] if "" in plans else ""
    grades = dict(
        BarLine.select(BarLine.size, BarLine.grade)
        .where(BarLine.project == row.project_id)
        .distinct()
        .tuples()
    )
    shown_plans = [
        _plan(plan, grades.get(size, ""), wanted.get(size) == plan.fingerprint)
        for size, plan in sorted(plans.items(), key=lambda each: _thickness(each[0]))
    ]
    fresh = {plan.size for plan in shown_plans if plan.fresh} == set(wanted) == set(plans)
    return CuttingView(
        id=row.id, version=row.version, name=row.name,
        stock="; ".join(as_typed(each, "m") for each in row.stock.split("; ") if each),
        stock_now=", ".join(f"{shown(length, 0, 3)} m" for length in stock_of(row)),
        blade=as_typed(row.blade, "mm"),
        members=[each.element_id for each in CutMember.those(CutMember.cutting, [row.id])],
        offcuts=[
            OffCutView(
                id=each.id, version=each.version, size=each.size, length=as_typed(each.length, "m"),
                number=each.number,
            )
            for each in OffCut.those(OffCut.cutting, [row.id], OffCut.id)
        ],
        state="working" if asked is not None else "fresh" if fresh or says else "stopped",
        done=job.done if job is not None else 1.0, says=says, plans=shown_plans,
    )  # fmt: skip


def _thickness(size: str) -> tuple[bool, float]:
    return size.startswith("#"), float(size.lstrip("#"))


def _plan(row: CutPlan, grade: str, fresh: bool) -> PlanView:
    plan = row.plan
    order = _cuts(plan["order"])
    lengths = {each.length for each in order}
    fewest = math.ceil(plan["bound"] / max(lengths) - 1e-6) if len(lengths) == 1 else None
    return PlanView(
        size=row.size, grade=grade,
        patterns=[
            PatternView(
                stock=p["stock"], cuts=_cuts(p["cuts"]), times=p["times"], offcut=p["offcut"], kept=p["kept"]
            )
            for p in plan["patterns"]
        ],
        order=order, demand=plan["demand"], bought=plan["bought"], bound=plan["bound"], fewest=fewest,
        proven=plan["bought"] <= plan["bound"] + 1e-6,
        waste=(plan["bought"] / plan["demand"] - 1) * 100 if plan["demand"] else 0.0,
        offcuts=_cuts(plan["offcuts"]), too_long=_cuts(plan["too_long"]), fresh=fresh,
    )  # fmt: skip


def _cuts(rows: Sequence[Sequence[float]]) -> list[CutView]:
    return [CutView(length=length, number=int(number)) for length, number in rows]


def _named(name: str) -> str:
    if not name.strip():
        raise BadEntry("A cutting needs a name, such as “All bars”.", field="name")
    return name.strip()[:80].strip()


def _piece(fields: Mapping[str, Any]) -> dict[str, Any]:
    """Kept pieces as they are written down."""
    found = dict(fields)
    if "size" in found:
        found["size"] = size_read(found["size"])
    if "length" in found:
        found["length"] = kept(found["length"], "m", field="length")
        if not 0.05 <= read_entry(found["length"], "m", field="length", minimum=0) <= 30:
            raise BadEntry("A kept piece is 0.05 to 30 m long.", field="length")
    if "number" in found:
        found["number"] = kept(found["number"], "nr", field="number")
        if not 0 <= number_read(found["number"], "number") <= 100_000:
            raise BadEntry("Up to 100 000 pieces are kept.", field="number")
    return found
