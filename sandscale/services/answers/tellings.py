"""What changes moved, as their writers told it: kept for a while, so that colleagues' tabs are told the same
without reading it again. Several are put together into one."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from functools import lru_cache

from ...store.database import database
from ...store.models import Telling, now
from .views import ElementMoved, Moved

KEPT_FOR = timedelta(minutes=10)
_AFTER = """
SELECT c.id, c.kind, c.at, t.body FROM change c LEFT JOIN telling t ON t.change_id = c.id
WHERE c.project_id = %s AND c.id > %s AND c.id <= %s ORDER BY c.id LIMIT %s"""
_KEEP = "INSERT INTO telling (change_id, body, at) VALUES (%s, %s, %s) ON CONFLICT DO NOTHING"
# A change, its kind, when it was, and what was told of it, if anything yet.
Told = tuple[int, str, object, Moved | None]


def keep(moved: Moved) -> Moved:
    """Keep what was told of a change."""
    database.execute_sql(_KEEP, (moved.change, moved.model_dump_json(), now()))
    return moved


def after(project_id: int, known: int, last: int, most: int) -> list[Told]:
    """The changes of a project after one, up to another, each with what was told of it."""
    rows = database.execute_sql(_AFTER, (project_id, known, last, most)).fetchall()
    return [(change, kind, at, _read(body) if body else None) for change, kind, at, body in rows]


@lru_cache(maxsize=256)
def _read(body: str) -> Moved:
    return Moved.model_validate_json(body)


def clear() -> None:
    """Clear away what colleagues' tabs have heard long since."""
    Telling.delete().where(Telling.at < now() - KEPT_FOR).execute()


def together(told: Sequence[Moved]) -> Moved:
    """What several changes moved, one after the other, as one."""
    last = told[-1]
    if len(told) == 1:
        return last
    rows = {(row.table, row.id): row for moved in told for row in moved.rows}
    gone = {row.id for row in rows.values() if row.table == "element" and row.gone}
    figures = {figure.id: figure for moved in told for figure in moved.figures}
    lost = {figure.id: figure for moved in told for figure in moved.figures_gone}
    for moved in told:  # a figure that was taken out and brought back is there
        for figure in moved.figures:
            lost.pop(figure.id, None)
        for each in moved.figures_gone:
            lost[each.id] = each
    return Moved(
        change=last.change,
        rows=list(rows.values()),
        again=sorted({kind for moved in told for kind in moved.again}),
        elements=_elements(told, gone),
        order=any(moved.order for moved in told),
        figures=[figure for figure in figures.values() if figure.id not in lost],
        figures_gone=list(lost.values()),
        sheets=sorted({sheet for moved in told for sheet in moved.sheets}),
        totals=sorted({sheet for moved in told for sheet in moved.totals}),
        bars=sorted({element for moved in told for element in moved.bars}),
        cut=any(moved.cut for moved in told),
        ground=sorted({each for moved in told for each in moved.ground}),
        resources=list({each.id: each for moved in told for each in moved.resources}.values()),
        build_ups=list({each.id: each for moved in told for each in moved.build_ups}.values()),
        items=list({each.id: each for moved in told for each in moved.items}.values()),
        sections=list({each.id: each for moved in told for each in moved.sections}.values()),
        foot=next((moved.foot for moved in reversed(told) if moved.foot is not None), None),
        outline=any(moved.outline for moved in told),
    )


def _elements(told: Sequence[Moved], gone: set[int]) -> list[ElementMoved]:
    found: dict[int, ElementMoved] = {}
    for moved in told:
        for element in moved.elements:
            before = found.get(element.id)
            found[element.id] = element if before is None else _on(before, element)
    return [element for element in found.values() if element.id not in gone]


def _on(before: ElementMoved, after_: ElementMoved) -> ElementMoved:
    """An element moved twice: as it is after the second, with the lines that either wrote."""
    here = {line.id: line for line in (*before.lines, *after_.lines)}
    gone = (set(before.gone) - {line.id for line in after_.lines}) | set(after_.gone)
    lines = [line for line in here.values() if line.id not in gone]
    inputs = before.inputs if after_.inputs is None else after_.inputs
    whole = before.whole or after_.whole
    return after_.model_copy(update={"lines": lines, "gone": sorted(gone), "inputs": inputs, "whole": whole})
