"""Build-ups worked out, line by line."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from decimal import Decimal
from functools import lru_cache
from typing import Any

from peewee import Field

from ...core.findings import Finding
from ...core.numbers.entry import read_entry
from ...core.numbers.formula import refuse_deeper
from ...core.numbers.rounding import DEFAULT_PLACES, RATE, exact
from ...core.numbers.units import unit
from ...core.numbers.working import shown
from ...core.numbers.written import written
from ...core.pricing import build_up as rate_rules
from ...core.pricing import reference
from ...core.pricing.bands import Picked
from ...core.pricing.build_up import GROUPS, Analysis, LineAnalysis, Terms, analyse
from ...core.refusals import BadEntry
from ...store.models import BuildUp, BuildUpLine, RateBand, ReferenceSize, Resource, Row
from ..bill.rating import billed_by
from ..keeping.acting import Actor, find
from ..keeping.graph import ids_in
from ..measure.taken import Taken, taken_of
from .banded import Banded, size_beside
from .references import kept_size, known_size, read_references, reading_of, size_in, sizes_of
from .views import (
    BandView,
    BuildUpBrief,
    BuildUpLineView,
    BuildUpView,
    GroupTotal,
    ReadingView,
    ReferenceSizeView,
    TakenView,
)

_CENT = Decimal("0.0001")
_OF_LINES = [each for each in BuildUpLine._meta.sorted_fields if each.name not in ("project", "position")]
_OF_RESOURCES = (Resource.id, Resource.name, Resource.kind, Resource.unit, Resource.price)
_DRAWN_ON = (
    BuildUp.id, BuildUp.name, BuildUp.kind, BuildUp.unit, BuildUp.cost, BuildUp.sized_by, BuildUp.sized_in,
    BuildUp.source, BuildUp.year,
)  # fmt: skip

Drawn = Mapping[int, list[Any]]  # rows by the rate they are of, with what they draw on
MOST_NESTED = 60  # rates within rates within rates …


def build_ups(actor: Actor) -> list[BuildUpBrief]:
    """The project's build-ups by heading."""
    query = BuildUp.select().where(BuildUp.project == actor.project_id).order_by(BuildUp.heading, BuildUp.id)
    return [BuildUpBrief.model_validate(row) for row in query]


def build_up_view(actor: Actor, build_up_id: int) -> BuildUpView:
    """A build-up with every line worked out and its groups' subtotals."""
    row = find(BuildUp, actor, build_up_id)
    known = lines_of([row.id])
    rows, lines = known[row.id], core_lines(row, known)
    terms = terms_of(row, lines)
    analysis = analyse(lines, terms)
    return BuildUpView(
        id=row.id, version=row.version, name=row.name, unit=row.unit, heading=row.heading, kind=row.kind,
        rate=row.rate, output=written(row.output), hours=written(row.hours), added=row.added,
        added_on=row.added_on, note=row.note, cost=_kept(analysis.cost), adds=_kept(analysis.added),
        billed=terms.billed,
        lines=[
            _line_view(line, [a for a in analysis.lines if a.line.row == line.id], terms) for line in rows
        ],
        groups=[
            _group_total(analysis, g)
            for g in GROUPS
            if any(a.line.group == g for a in analysis.lines)
        ],
        findings=[f.says for f in (*analysis.findings, *findings_of(rows))], items=row.items.count(),
        sized_by=row.sized_by, sized_in=row.sized_in, source=row.source, year=row.year,
        sizes=[_size_view(each) for each in sizes_of(row)], bands=_band_views(row),
        **{f"{figure}_taken": _taken_view(taken) for figure, taken in taken_by(row).items()},
    )  # fmt: skip


def _taken_view(taken: Taken | None) -> TakenView | None:
    if taken is None:
        return None
    _, element, output = taken.link.split(":", 2)
    return TakenView(
        element=int(element),
        output=output,
        name=taken.name,
        value=taken.value,
        unit=taken.unit,
        ref=taken.link,
    )


def _band_views(row: BuildUp) -> list[BandView]:
    """The bands of a banded rate, from the lowest up."""
    if row.kind != "banded":
        return []
    found = Banded([row.id])
    together = list(zip(found.rows[row.id], found.bands(row.id), strict=True))
    ordered = sorted(together, key=lambda each: (each[1].low is not None, each[1].low or 0))
    return [
        BandView(
            id=own.id, version=own.version, low=size_beside(own.low, row.sized_in),
            below=size_beside(own.below, row.sized_in), nested=own.nested_id,
            nested_name=band.name, price=own.price, cost=band.cost,
        )
        for own, band in ordered
    ]  # fmt: skip


def findings_of(rows: Iterable[BuildUpLine]) -> list[Finding]:
    """What is to be looked at in the references that lines read."""
    found: list[Finding] = []
    for row in rows:
        if row.taken_id and not (row.drawn_quantity and row.drawn_quantity.value):
            says = f"{told_name(row)} takes a quantity that comes to nothing, so it counts nothing."
            found.append(Finding(says, wrong=True, code="taken-nothing"))
        told = row.reading
        if isinstance(told, BadEntry):
            found.append(Finding(f"{row.nested.name}: {told.sentence}", wrong=True, code="unread"))
        elif told is not None:
            found += [replace(f, says=f"{row.nested.name}: {f.says}") for f in told.findings]
    return found


def told_name(row: Any) -> str:
    """What a line draws on."""
    return str((row.resource or row.nested).name)


def _size_view(row: ReferenceSize) -> ReferenceSizeView:
    parts = [value for part in reference.PARTS if (value := getattr(row, part)) is not None]
    return ReferenceSizeView(
        id=row.id, version=row.version, size=size_beside(row.size, row.build_up.sized_in),
        at=size_in(row.size, row.build_up.sized_in), labour=row.labour, plant=row.plant,
        material=row.material, whole=row.whole, together=sum(parts, Decimal(0)) if parts else None,
    )  # fmt: skip


def read_at(actor: Actor, build_up_id: int, size: str) -> ReadingView:
    """A reference read at a size, which nothing draws on yet.

    Raises:
        BadEntry: it can't be read there.
    """
    row = find(BuildUp, actor, build_up_id)
    table = [known_size(each) for each in sizes_of(row)]
    told = reading_of(row, table, kept_size(size, row.sized_in))
    return ReadingView(
        at=told.size, total=_kept(told.total), told=told.told(row.sized_in),
        findings=[f.says for f in told.findings], parts={p: _kept(v) for p, v in told.parts.items()},
        whole=None if told.whole is None else _kept(told.whole),
    )  # fmt: skip


def _group_total(analysis: Analysis, group: str) -> GroupTotal:
    found = analysis.of_group(group)
    return GroupTotal(
        group=group, unit=found.unit, amount=_kept(found.amount), unit_price=_kept(found.unit_price),
        total_quantity=None if found.total_quantity is None else _kept(found.total_quantity),
        unit_quantity=None if found.unit_quantity is None else _kept(found.unit_quantity),
    )  # fmt: skip


def _line_view(row: BuildUpLine, worked: list[LineAnalysis], terms: Terms) -> BuildUpLineView:
    """A line as it stands; a gang's is the sum of those who work in it."""
    own = core_line(row)
    gang = bool(row.nested_id) and row.nested.kind == "gang"
    reading = None if isinstance(row.reading, BadEntry) else row.reading
    amount, unit_price = (
        _kept(sum((getattr(a, name) for a in worked), Decimal(0))) for name in ("amount", "unit_price")
    )
    # A gang's quantity is of its hours, which one who works in it alone has as well.
    first = worked[0] if worked and not gang else analyse([own], terms).lines[0] if gang else None
    return BuildUpLineView(
        id=row.id, version=row.version, group=row.group, basis=row.basis, percent_of=row.percent_of,
        resource=row.resource_id, nested=row.nested_id,
        parted=gang or bool(reading and reading.parts), sized_in=row.nested.sized_in if row.reading else "",
        size=size_beside(row.size, row.nested.sized_in) if row.reading else "",
        reads=told_of(row), name=own.name,
        unit=own.unit, quantity=written(row.quantity),
        taken=_taken_view(row.drawn_quantity), entered=own.quantity,
        note=row.note,
        allowance=row.allowance,
        escalation=row.escalation, price=own.price,
        total_quantity=_kept(first.total_quantity if first else own.quantity), amount=amount,
        unit_quantity=_kept(first.unit_quantity if first else Decimal(0)), unit_price=unit_price,
        shares={g: _of_group(worked, g, "unit_price") for g in dict.fromkeys(a.line.group for a in worked)},
    )  # fmt: skip


def _of_group(lines: Iterable[LineAnalysis], group: str, name: str) -> Decimal:
    """What the lines of a group come to."""
    return _kept(sum((getattr(a, name) for a in lines if a.line.group == group), Decimal(0)))


def _kept(value: Decimal) -> Decimal:
    return value.quantize(_CENT)


def core_lines(build_up: BuildUp, known: Drawn | None = None) -> list[rate_rules.BuildUpLine]:
    """A build-up's lines as the core takes them, with the prices they have now; a gang's as those who work
    in it.

    Args:
        known: its rows and its gangs', where they were read already.
    """
    day = _day(build_up.project.working_day)
    known = known if known is not None else lines_of([build_up.id])
    parts: list[rate_rules.BuildUpLine] = []
    for line in known[build_up.id]:
        parts += _core_parts(line, day, known)
    return parts


def lines_of(build_up_ids: Iterable[int]) -> Drawn:
    """The rows of build-ups in order, by build-up, with what they draw on; those of the gangs among that
    too.

    Raises:
        BadFormula: a gang works in itself by others, as it may after an undo.
    """
    found: dict[int, list[BuildUpLine]] = {}
    gangs: dict[int, Any] = {}
    fresh = set(build_up_ids)
    while fresh:
        rows = BuildUpLine.some(_OF_LINES, BuildUpLine.build_up, fresh, BuildUpLine.position, BuildUpLine.id)
        resources = _by_id(Resource, _OF_RESOURCES, {row.resource_id for row in rows})
        nested = _by_id(BuildUp, _DRAWN_ON, {row.nested_id for row in rows})
        taken = taken_of((row.taken_id, row.taken_key) for row in rows if row.taken_id)
        found |= {each: [] for each in fresh}
        for row in rows:
            row.resource, row.nested = resources.get(row.resource_id), nested.get(row.nested_id)
            row.reading, row.drawn_quantity = None, taken.get((row.taken_id, row.taken_key))
            found[row.build_up_id].append(row)
        read_references([row for row in rows if row.nested_id and row.nested.kind == "reference"])
        _pick_bands([row for row in rows if row.nested_id and row.nested.kind == "banded"])
        gangs |= {each: row for each, row in nested.items() if row.kind == "gang"}
        fresh = set(gangs) - set(found)
    within = {
        gang.name: [row.nested.name for row in found[each] if row.nested_id in gangs]
        for each, gang in gangs.items()
    }
    refuse_deeper(within, "Gangs", MOST_NESTED)
    return found


def told_of(row: BuildUpLine) -> str:
    """How a line read its reference, and of which source; empty where it reads none."""
    told = row.reading
    if told is None or isinstance(told, BadEntry):
        return str(told or "")
    table = row.nested
    source = ", ".join(part for part in (table.source, table.year) if part)
    return f"{told.told(table.sized_in)}{f'; {source}' if source else ''}"


def _pick_bands(rows: list[Any]) -> None:
    """Pick the bands of the banded rates that lines draw on; where none is picked, why not."""
    by_band = Banded({row.nested_id for row in rows})
    for row in rows:
        try:
            row.reading = by_band.pick(row.nested_id, row.size)
        except BadEntry as refusal:
            row.reading = refusal


def _by_id(table: type[Row], fields: Sequence[Field], ids: set[int | None]) -> dict[int, Any]:
    return {row.id: row for row in table.some(fields, table.id, ids - {None})}


def _core_parts(line: BuildUpLine, day: Decimal, known: Drawn) -> tuple[rate_rules.BuildUpLine, ...]:
    """A build-up's line as the core takes it: one, or one for each line of the gang it draws on; ``day`` are
    the hours of a working day."""
    own = core_line(line)
    if not line.nested_id:
        return (own,)
    if line.reading is not None and not isinstance(line.reading, BadEntry) and line.reading.parts:
        groups = line.reading.groups.items()
        return tuple(own._replace(group=group, price=price, source="") for group, price in groups)
    if line.nested.kind == "gang":
        members = [part for member in known[line.nested_id] for part in _core_parts(member, day, known)]
        return rate_rules.of_gang(own, members, day)
    return (own,)


def core_line(line: BuildUpLine) -> rate_rules.BuildUpLine:
    """A build-up's line as the core takes it."""
    if line.basis == "percent":
        share = exact(read_entry(line.quantity, "%", field="quantity") * 100)
        name = f"{shown(share, least=0)} % of {line.percent_of}"
        return rate_rules.BuildUpLine(
            name, line.group, "percent", share, "%", Decimal(0), None, percent_of=line.percent_of, row=line.id
        )
    if line.resource_id:
        source, price, link = line.resource, line.resource.price, f"resource:{line.resource_id}"
    else:
        source, price, link = line.nested, line.nested.cost, f"build-up:{line.nested_id}"
    name, whose = source.name, link
    if line.reading is not None:
        link = f"reference:{line.nested_id}:{line.id}"
        whose = line.reading.band.link if isinstance(line.reading, Picked) else ""
        price = None if isinstance(line.reading, BadEntry) else line.reading.total
        name = f"{name}, {size_beside(line.size, source.sized_in) or '?'} {source.sized_in}".strip()
    quantity = (
        _quantity(line.quantity, source.unit, line.basis)
        if line.taken_id is None
        else _held(line.drawn_quantity, source.unit)
    )
    return rate_rules.BuildUpLine(
        name, line.group, line.basis, quantity, source.unit, line.allowance, price, line.escalation, link,
        row=line.id, source=whose,
    )  # fmt: skip


@lru_cache(maxsize=100)
def _day(hours: float) -> Decimal:
    """The hours of a working day."""
    return exact(hours)


@lru_cache(maxsize=20_000)  # a project's entries are mostly the same few hundred
def _quantity(text: str, symbol: str, basis: str) -> Decimal:
    return exact(quantity_in(text, symbol, basis))


_A_DAY = re.compile(r"\s*(?:/|per)\s*(?:days?|d)\b", re.IGNORECASE)


def quantity_in(text: str, symbol: str, basis: str) -> float:
    """The quantity of a line in the unit of what it draws on; what a day takes may be typed as ``160 l/day``.

    Raises:
        BadEntry: it can't be read, or is below zero.
    """
    plain = _A_DAY.sub("", text) if basis == "day" else text
    return read_entry(plain, symbol, field="quantity", minimum=0) / unit(symbol).size


def terms_of(build_up: BuildUp, lines: Iterable[rate_rules.BuildUpLine]) -> Terms:
    """What a build-up is reckoned by besides its lines; how much is billed by it where something is had
    once."""
    output, hours = _period(build_up.output, "", "output"), _period(build_up.hours, "h", "hours")
    if build_up.output_taken_id or build_up.hours_taken_id:
        taken = taken_by(build_up)
        if build_up.output_taken_id:
            output = _held(taken.get("output"), build_up.unit)
        if build_up.hours_taken_id:
            hours = _held(taken.get("hours"), "h")
    fixed = "fixed" in [line.basis for line in lines]
    billed = billed_by([build_up.id]).get(build_up.id) if fixed else None
    project = build_up.project
    return Terms(
        output, hours, _day(project.working_day), billed, build_up.added, build_up.added_on,
        project.rounding.get(RATE, DEFAULT_PLACES[RATE]),
    )  # fmt: skip


def _held(taken: Taken | None, symbol: str) -> Decimal:
    """What is taken, in a unit; nothing where it is gone, or in another kind of unit by now."""
    try:
        return exact(taken.held_in(symbol)) if taken else Decimal(0)
    except BadEntry:
        return Decimal(0)


def taken_by(build_up: BuildUp) -> dict[str, Taken | None]:
    """The quantity lines that stand for a rate's output and its hours; none where what is typed does."""
    wanted = {
        "output": (build_up.output_taken_id, build_up.output_key),
        "hours": (build_up.hours_taken_id, build_up.hours_key),
    }
    found = taken_of(wanted.values())
    return {name: found.get(key) for name, key in wanted.items()}


@lru_cache(maxsize=5_000)
def _period(text: str, symbol: str, field: str) -> Decimal:
    return exact(read_entry(text, symbol, field=field))


def nesting_told(project_id: int) -> dict[str, list[str]]:
    """For each build-up of a project by its name, those its lines draw on."""
    names = dict(BuildUp.select(BuildUp.id, BuildUp.name).where(BuildUp.project == project_id).tuples())
    uses = nesting(project_id).items()
    return {names[int(outer)]: [names[int(inner)] for inner in inside] for outer, inside in uses}


def nesting(project_id: int) -> dict[str, list[str]]:
    """For each build-up of a project, the build-ups its lines draw on (ids as text)."""
    uses: dict[str, list[str]] = {
        str(i): [] for i in sorted(ids_in(BuildUp.select(BuildUp.id).where(BuildUp.project == project_id)))
    }
    lines = BuildUpLine.select(BuildUpLine.build_up, BuildUpLine.nested).where(
        (BuildUpLine.project == project_id) & BuildUpLine.nested.is_null(False)
    )
    for outer, inner in lines.tuples():
        uses[str(outer)].append(str(inner))
    bands = (RateBand.project == project_id) & RateBand.nested.is_null(False)
    for outer, inner in RateBand.select(RateBand.build_up, RateBand.nested).where(bands).tuples():
        uses[str(outer)].append(str(inner))
    return uses
