"""The bars as files: PDF, XLSX, CSV and the BVBS exchange text."""

from __future__ import annotations

from collections.abc import Iterator

from ...core.bars.schedule import BarLine as CoreBar
from ...core.bars.schedule import ScheduleLine, SizeTotal
from ...core.bars.shapes import SHAPES
from ...core.numbers.working import Working
from ...formats import bars_csv, bvbs
from ...reports import bars_pdf as bars_pdf_report
from ...reports import bars_xlsx
from ...reports.bars import BarRow, BarsDocument, PatternRow, PlanBlock, SumRow
from ...reports.paper import Progress
from ...store.models import Project
from ..keeping.acting import Actor
from ..keeping.project_file import file_name
from .cuttings import cutting_views
from .reading import bar_views, schedule_view, summary_view
from .views import BarView

_AT_ONCE = 200
_CSV_LETTERS = "ABCDEFGHIJKLR"


def _no_progress(_share: float) -> None:
    """Nobody waits for how far it is."""


def document(actor: Actor) -> BarsDocument:
    """All that the documents of bars tell."""
    project, head, sums = Project.get_by_id(actor.project_id), schedule_view(actor), summary_view(actor)
    ratios = {member.id: (member.ratio, member.band) for member in head.members}
    return BarsDocument(
        project=project.name, client=project.client, rules=head.rules, revision=head.letter,
        rows=[_row(view) for view in every(actor)],
        sizes=[SizeTotal(s.size, s.number, s.length, s.mass) for s in sums.sizes],
        grades={s.size: s.grade for s in sums.sizes},
        members=[SumRow(m.name, m.masses, *ratios.get(m.element or 0, (None, None))) for m in sums.members],
        locations=[SumRow(each.name, each.masses) for each in sums.locations],
        plans=list(_plans(actor)),
    )  # fmt: skip


def every(actor: Actor) -> Iterator[BarView]:
    """Every line of the schedule, in its order."""
    first = 0
    while views := bar_views(actor, first, _AT_ONCE):
        yield from views
        first += len(views)


def _row(view: BarView) -> BarRow:
    return BarRow(
        view.member, view.mark, view.grade, view.size, view.members, view.each, view.total, view.cut,
        view.mass, view.shape, {leg.letter: leg.size for leg in view.legs}, view.outline, view.revision,
        view.findings,
    )  # fmt: skip


def _plans(actor: Actor) -> Iterator[PlanBlock]:
    for cutting in cutting_views(actor):
        for plan in cutting.plans:
            yield PlanBlock(
                cutting.name, f"{plan.grade}{plan.size}",
                [
                    PatternRow(p.stock, [(c.length, c.number) for c in p.cuts], p.times, p.offcut, p.kept)
                    for p in plan.patterns
                ],
                [(c.length, c.number) for c in plan.order], plan.demand, plan.bought, plan.bound, plan.proven,
                [(c.length, c.number) for c in plan.too_long], plan.fresh,
            )  # fmt: skip


def bars_pdf(actor: Actor, progress: Progress = _no_progress) -> tuple[str, bytes]:
    """Schedule with shapes, summary and cutting as PDF; with its file name."""
    made = document(actor)
    return f"{file_name(made.project)} bars.pdf", bars_pdf_report.write(made, progress)


def bars_workbook(actor: Actor, progress: Progress = _no_progress) -> tuple[str, bytes]:
    """Schedule, summary and cutting as XLSX with live formulas; with its file name."""
    made = document(actor)
    return f"{file_name(made.project)} bars.xlsx", bars_xlsx.write(made, progress)


def bars_csv_file(actor: Actor, _progress: Progress = _no_progress) -> tuple[str, bytes]:
    """The schedule as CSV; with its file name."""
    views = list(every(actor))
    rows = [
        (
            v.member,
            v.mark,
            f"{v.grade}{v.size}",
            v.members,
            v.each,
            v.total,
            round(v.cut, 3),
            v.shape,
            v.revision,
        )
        for v in views
    ]
    legs = [{leg.letter: leg.size for leg in v.legs} for v in views]
    there = [letter for letter in _CSV_LETTERS if letter in "ABCDE" or any(letter in own for own in legs)]
    return f"{file_name(_project(actor))} bars.csv", bars_csv.write_bars(rows, legs, there)


def bars_bvbs(actor: Actor, _progress: Progress = _no_progress) -> tuple[str, bytes]:
    """The schedule in the BVBS exchange text; with its file name. What is round has no place in it."""
    head = schedule_view(actor)
    lines = [_core(view) for view in every(actor)]
    return f"{file_name(_project(actor))} bars.abs", bvbs.write_bars(lines, _project(actor), head.letter)


def _project(actor: Actor) -> str:
    return str(Project.get_by_id(actor.project_id).name)


def _core(view: BarView) -> ScheduleLine:
    """A line of the schedule as the core has it, as it was worked out."""
    counted = SHAPES[view.shape].numbers if view.shape in SHAPES else ()
    legs = {leg.letter: leg.size if leg.letter in counted else leg.size / 1000 for leg in view.legs}
    bar = CoreBar(view.member, view.mark, view.size, view.members, view.each, view.shape, legs, view.grade)
    outline = tuple((x / 1000, y / 1000) for x, y in view.outline)
    length = view.total * view.cut
    return ScheduleLine(
        bar, view.total, view.cut, length, view.mass, (), outline, Working(view.mark, view.cut)
    )
