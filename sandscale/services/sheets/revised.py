"""What a revision changed, and what it did to the bill."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from decimal import Decimal
from typing import Any

import shapely

from ...core.pricing import comparing
from ...core.pricing.comparing import Pair, Stood
from ...store.models import (
    Bill,
    ChangedPlace,
    DimensionLine,
    Drawing,
    Figure,
    ItemLink,
    Project,
    Revision,
    Sheet,
)
from ..bill.compared import stood
from ..bill.reading import own_bill
from ..keeping.acting import Actor, Missing, find
from ..measure.reading import figure_views
from .laid import MM, find_former
from .reading import find_sheet
from .revisions import MOST_PLACES, figure_shape, reach_of
from .views import ChangesView, FigureView, NearFigure, PlaceView, RevisedItem, RevisedView, WordView

MOST_ITEMS = 1000  # told


def changes_of(actor: Actor, sheet_id: int) -> ChangesView:
    """Where a sheet differs from the one it follows, and the figures near that are to be looked at.

    Raises:
        Missing: it follows none.
    """
    sheet = find_sheet(actor, sheet_id)
    if sheet.follows_id is None:
        raise Missing("This sheet follows no other.", remedy="Bring in a revision of its drawing.")
    rows = ChangedPlace.those(ChangedPlace.sheet, [sheet.id])
    rows.sort(key=lambda row: (-row.size, row.id))
    waiting = [view for view in figure_views(sheet) if view.near]
    near: dict[int, list[NearFigure]] = defaultdict(list)
    elsewhere = []
    kept = Figure.those(Figure.id, [view.id for view in waiting], Figure.id)
    shapes = {
        figure.id: (figure_shape(figure.kind, figure.geometry), reach_of(figure.kind)) for figure in kept
    }
    for view in waiting:
        shape, reach = shapes[view.id]
        at = [row.id for row in rows if shape.distance(shapely.box(*row.box)) <= reach]
        for place in at:
            near[place].append(_near(view))
        if not at:
            elsewhere.append(_near(view))
    return ChangesView(
        letter=sheet.revision.letter, former=find_former(sheet).revision.letter, left=_left(sheet),
        places=[_place(row, near[row.id]) for row in rows],
        more=max(int(sheet.lay.get("places", 0)) - MOST_PLACES, 0), elsewhere=elsewhere,
    )  # fmt: skip


def _left(sheet: Sheet) -> list[int]:
    """The pages of the revision before a sheet's that no sheet of its own follows."""
    former = Sheet.those(Sheet.revision, [find_former(sheet).revision_id], Sheet.page)
    followed = Sheet.column(Sheet.follows, Sheet.revision, [sheet.revision_id])
    return [each.page for each in former if each.id not in followed]


def _near(view: FigureView) -> NearFigure:
    return NearFigure(
        id=view.id,
        version=view.version,
        element=view.element,
        mark=view.mark,
        kind=view.kind,
        shows=view.shows,
    )


def _place(row: ChangedPlace, figures: list[NearFigure]) -> PlaceView:
    return PlaceView(
        id=row.id, version=row.version, box=row.box, size=row.size * MM, gone=row.gone, came=row.came,
        words_gone=_words(row.words_gone), words_came=_words(row.words_came),
        looked=row.looked, figures=figures,
    )  # fmt: skip


def _words(words: Sequence[Sequence[Any]]) -> list[WordView]:
    return [WordView(text=text, box=[x, y, x + wide, y + high]) for text, x, y, wide, high in words]


def revised(actor: Actor, revision_id: int) -> RevisedView:
    """What a revision did to the bill: as it was before it came, against as it was before the next one, or as
    it is.

    Raises:
        Missing: it is a drawing's first, or the bill from before it was deleted.
    """
    revision = find(Revision, actor, revision_id)
    drawing = find(Drawing, actor, revision.drawing_id)
    later = Revision.select().where((Revision.drawing == drawing.id) & (Revision.id > revision.id))
    following = later.order_by(Revision.id).first()
    before = _bill_before(revision)
    after = _bill_before(following) if following else own_bill(actor.project_id)
    pairs = [pair for pair in comparing.compare(stood(before), stood(after)) if _moved(pair)]
    elements, waiting = _measured_on(drawing)
    rests = _resting(elements, waiting, [pair.after.id for pair in pairs if pair.after])
    # Of an item that is gone, or of a kept bill, what it rested on isn't known any more.
    items = [_item(pair, rests, told=following is None) for pair in pairs]
    items.sort(key=lambda item: (not item.measured_here, -abs(item.by_quantity)))
    here = sum((i.by_quantity for i in items if i.measured_here), Decimal(0))
    project = Project.get_by_id(actor.project_id)
    return RevisedView(
        number=drawing.number, letter=revision.letter, former=_former_letter(revision),
        received=revision.received, currency=project.currency,
        before=before.total, after=after.total, here=here,
        elsewhere=sum((i.by_quantity + i.otherwise for i in items), Decimal(0)) - here,
        near=sum(waiting.values()), items=items[:MOST_ITEMS], more=max(len(items) - MOST_ITEMS, 0),
    )  # fmt: skip


def _bill_before(revision: Revision) -> Bill:
    bill = next(iter(Bill.those(Bill.revision, [revision.id])), None)
    if bill is None:
        raise Missing(
            f"No bill from before revision {revision.letter} is kept.",
            remedy="A drawing's first has none; where another's was deleted, undo brings it back.",
        )  # fmt: skip
    return bill


def _former_letter(revision: Revision) -> str:
    mine = (Revision.drawing == revision.drawing_id) & (Revision.id < revision.id)
    former = Revision.select(Revision.letter).where(mine).order_by(Revision.id.desc()).first()
    return str(former.letter) if former else ""


def _moved(pair: Pair) -> bool:
    return (
        pair.before is None or pair.after is None or bool({"quantity", "rate", "amount"} & set(pair.differs))
    )


def _measured_on(drawing: Drawing) -> tuple[set[int], Counter[int]]:
    """The elements measured on a drawing and those taken from them; and how many figures of each wait to be
    looked at."""
    sheets = Sheet.select(Sheet.id).join(Revision).where(Revision.drawing == drawing.id)
    figures = list(Figure.select(Figure.element, Figure.near).where(Figure.sheet << sheets).tuples())
    waiting = Counter(element for element, is_near in figures if is_near)
    found = new = {element for element, _ in figures}
    while new := DimensionLine.column(DimensionLine.element, DimensionLine.taken_from, new) - found:
        found = found | new
    return found, waiting


def _resting(elements: set[int], waiting: Counter[int], items: Iterable[int]) -> dict[int, int]:
    """Those of some items that rest on elements, and on how many figures that wait."""
    found: dict[int, int] = {}
    for link in ItemLink.some((ItemLink.item, ItemLink.element), ItemLink.item, items):
        if link.element_id in elements:
            found[link.item_id] = found.get(link.item_id, 0) + waiting[link.element_id]
    return found


def _item(pair: Pair, rests: dict[int, int], *, told: bool) -> RevisedItem:
    shown_as: Stood = pair.after or pair.before  # type: ignore[assignment]
    was, now = pair.before, pair.after
    rate = now.rate if now else was.rate if was else None
    step = (now.quantity if now else Decimal(0)) - (was.quantity if was else Decimal(0))
    same_rate = was is None or now is None or was.rate == now.rate
    by_quantity = pair.moved if rate is None or same_rate else round(step * rate, 2)
    return RevisedItem(
        ref=shown_as.number or shown_as.ref, id=now.id if now else None, section=" / ".join(shown_as.section),
        description=shown_as.description, unit=shown_as.unit, quantity_before=was.quantity if was else None,
        quantity_after=now.quantity if now else None, rate=rate, by_quantity=by_quantity,
        otherwise=pair.moved - by_quantity,
        measured_here=now.id in rests if now and told else step != 0,
        waits=rests.get(now.id, 0) if now else 0,
    )  # fmt: skip
