"""The bill stage: sections, items, links, adjustments."""

from __future__ import annotations

from typing import Any

from flask import g, request
from pydantic import BaseModel, RootModel, ValidationError

from ..core.numbers.days import read_day
from ..core.refusals import BadEntry
from ..formats.bill_workbook import LARGEST
from ..services.bill import actions as bill
from ..services.bill import (
    adjustments,
    bills,
    compared,
    composing,
    matching,
    merging,
    rating,
    received,
    report,
)
from ..services.bill import reading as bill_reading
from ..services.bill.block import ItemEdit
from ..services.bill.block import change_items as change_items_as_one
from ..services.bill.views import (
    BillBrief,
    BillOutline,
    ComparedView,
    ItemView,
    LinkView,
    MatchView,
    MergeView,
    MostView,
    RatePartView,
    ReportView,
    WorkbookSeen,
)
from ..services.keeping.views import Saved
from .api import answers, api, stage, writes
from .bill_schemas import (
    AdjustmentChange,
    BillAsked,
    BillChange,
    BillLayout,
    BillWindow,
    Comparing,
    ItemBlock,
    ItemChange,
    ItemMove,
    Matches,
    Merging,
    NewAdjustment,
    NewIssued,
    NewItem,
    NewLink,
    NewPart,
    NewSection,
    PartChange,
    ReportAsked,
    SectionMove,
)
from .schemas import MovedBy, Titled

blueprint = stage("bill")


class Items(RootModel[list[ItemView]]):
    """A window of a bill's items."""


class Bills(RootModel[list[BillBrief]]):
    """The bills of a project."""


class Parts(RootModel[list[RatePartView]]):
    """The rates that an item's is composed of."""


class MatchesFound(RootModel[list[MatchView]]):
    """Items that aren't priced yet."""


class ItemPlace(BaseModel):
    """Where an item stands in its bill's order; 0 is the first. ``bill``: which, none for the own."""

    index: int
    bill: int | None


class Links(RootModel[list[LinkView]]):
    """What an item draws on."""


@blueprint.get("/bill")
@api.validate(query=BillAsked, resp=answers(BillOutline))
def outline(query: BillAsked) -> BillOutline:
    """A bill's sections and foot; its items are read in windows."""
    return bill_reading.bill_outline(g.actor, query.bill)


@blueprint.get("/bill/items")
@api.validate(query=BillWindow, resp=answers(Items))
def window(query: BillWindow) -> Any:
    """A window of a bill's items, in its order."""
    return Items(bill_reading.bill_items(g.actor, query.first, query.most, query.bill))


@blueprint.get("/items/<int:item>/place")
@api.validate(resp=answers(ItemPlace))
def place(item: int) -> ItemPlace:
    """Where an item stands in the bill's order."""
    return ItemPlace(
        index=bill_reading.index_of(g.actor, item), bill=bill_reading.other_bill_of(g.actor, item)
    )


@blueprint.get("/bills")
@api.validate(resp=answers(Bills))
def bills_listed() -> Any:
    """The project's bills: its own, those received, those issued."""
    return Bills(bill_reading.bills(g.actor))


@blueprint.get("/bills/compared")
@api.validate(query=Comparing, resp=answers(ComparedView))
def compare(query: Comparing) -> ComparedView:
    """Two bills item by item."""
    return compared.compared(g.actor, query.before, query.after)


@blueprint.get("/bill/report")
@api.validate(query=ReportAsked, resp=answers(ReportView))
def reported(query: ReportAsked) -> ReportView:
    """A bill by what is asked of it."""
    return report.report(
        g.actor, query.tables(), query.bill, adjustments=query.chosen(), subcontract=query.subcontract
    )


@blueprint.get("/bill/most")
@api.validate(query=BillAsked, resp=answers(MostView))
def most(query: BillAsked) -> MostView:
    """The few items that make most of a bill."""
    return report.most(g.actor, query.bill)


@blueprint.post("/bills/<int:bill_id>/merge/seen")
@api.validate(resp=answers(MergeView))
def merge_seen(bill_id: int, json: Merging) -> MergeView:
    """What bringing a bill into another would come to; nothing is kept."""
    return merging.merge_seen(g.actor, json.into, bill_id, json.sections)


@blueprint.post("/bills/<int:bill_id>/merge")
@writes
def merge(bill_id: int, json: Merging) -> Saved:
    """Bring a bill into another."""
    return merging.merge_bills(g.actor, json.into, bill_id, json.sections, json.choices)


@blueprint.get("/bills/<int:bill_id>/matches")
@api.validate(resp=answers(MatchesFound))
def matches(bill_id: int) -> Any:
    """The items of a bill that aren't priced yet, and what each may be priced as."""
    return MatchesFound(matching.matches(g.actor, bill_id))


@blueprint.post("/bills/<int:bill_id>/matches")
@writes
def take_matches(bill_id: int, json: Matches) -> Saved:
    """Price items of a bill as other items are."""
    return matching.take_matches(g.actor, bill_id, json.taken)


@blueprint.post("/bills/read-file")
@api.validate(resp=answers(WorkbookSeen))
def read_workbook() -> WorkbookSeen:
    """What a client's workbook holds, sent as a form with it and its layout; nothing is kept."""
    content, name, said = _workbook()
    return received.seen(content, name, said)


@blueprint.post("/bills/received")
@writes
def receive() -> Saved:
    """Take a client's bill in from their workbook, sent as a form with it, its layout, a title and a date."""
    content, name, said = _workbook()
    title, dated = request.form.get("title", "")[:500], request.form.get("dated", "")
    return received.receive_workbook(g.actor, title, read_day(dated, "dated"), content, name, said)


def _workbook() -> tuple[bytes, str, received.Said | None]:
    request.max_content_length = LARGEST + 64 * 1024
    file = request.files.get("file")
    if file is None:
        raise BadEntry("No file was sent.", field="file")
    told = request.form.get("layout", "")
    try:
        said = BillLayout.model_validate_json(told).sheets if told else None
    except ValidationError:
        raise BadEntry("It doesn't say which columns of the workbook are what.", field="layout") from None
    return file.read(), file.filename or "the workbook", said  # type: ignore[return-value]


@blueprint.post("/bills/issued")
@writes
def issue(json: NewIssued) -> Saved:
    """Keep the project's own bill as it is now, as it goes out."""
    return bills.issue_bill(g.actor, json.title, json.dated)


@blueprint.patch("/bills/<int:bill_id>")
@writes
def change_bill(bill_id: int, json: BillChange) -> Saved:
    """Change a bill's title, or how long its work lasts."""
    return bills.change_bill(g.actor, bill_id, json.version, json.given())


@blueprint.delete("/bills/<int:bill_id>")
@writes
def delete_bill(bill_id: int) -> Saved:
    """Delete a bill received or issued."""
    return bills.delete_bill(g.actor, bill_id)


@blueprint.get("/items/<int:item>/parts")
@api.validate(resp=answers(Parts))
def parts(item: int) -> Any:
    """The rates that an item's is composed of."""
    return Parts(rating.parts(g.actor, item))


@blueprint.post("/items/<int:item>/parts")
@writes
def add_part(item: int, json: NewPart) -> Saved:
    """Compose an item's rate with one more."""
    return composing.add_part(g.actor, item, json.build_up, json.factor, json.size)


@blueprint.patch("/parts/<int:rate_part>")
@writes
def change_part(rate_part: int, json: PartChange) -> Saved:
    """Change the factor or size of a rate in a composed one."""
    return composing.change_part(g.actor, rate_part, json.version, json.given())


@blueprint.delete("/parts/<int:rate_part>")
@writes
def delete_part(rate_part: int) -> Saved:
    """Take a rate out of a composed one."""
    return composing.delete_part(g.actor, rate_part)


@blueprint.post("/sections")
@writes
def add_section(json: NewSection) -> Saved:
    """Add a section."""
    return bill.add_section(g.actor, json.title, json.parent, json.bill)


@blueprint.patch("/sections/<int:section>")
@writes
def change_section(section: int, json: Titled) -> Saved:
    """Rename a section."""
    return bill.change_section(g.actor, section, json.version, json.title)


@blueprint.delete("/sections/<int:section>")
@writes
def delete_section(section: int) -> Saved:
    """Delete an empty section."""
    return bill.delete_section(g.actor, section)


@blueprint.post("/items")
@writes
def add_item(json: NewItem) -> Saved:
    """Add an item."""
    return bill.add_item(g.actor, json.section, json.model_dump(exclude={"section"}))


@blueprint.post("/items/block")
@writes
def change_items(json: ItemBlock) -> Saved:
    """Change or add many items as one."""
    edits = [
        ItemEdit(each.item, each.version, each.model_dump(exclude_unset=True, exclude={"item", "version"}))
        for each in json.items
    ]
    return change_items_as_one(g.actor, json.section, edits)


@blueprint.patch("/items/<int:item>")
@writes
def change_item(item: int, json: ItemChange) -> Saved:
    """Change an item."""
    return bill.change_item(g.actor, item, json.version, json.given())


@blueprint.delete("/items/<int:item>")
@writes
def delete_item(item: int) -> Saved:
    """Delete an item."""
    return bill.delete_item(g.actor, item)


@blueprint.get("/items/<int:item>/links")
@api.validate(resp=answers(Links))
def links(item: int) -> Any:
    """What an item draws on."""
    return Links(bill_reading.links(g.actor, item))


@blueprint.post("/items/<int:item>/links")
@writes
def add_link(item: int, json: NewLink) -> Saved:
    """Let an item draw on a quantity line."""
    return bill.add_link(g.actor, item, json.element, json.output, json.factor, json.split, json.part)


@blueprint.delete("/links/<int:link>")
@writes
def delete_link(link: int) -> Saved:
    """Take a link off an item."""
    return bill.delete_link(g.actor, link)


@blueprint.post("/items/<int:item>/move")
@writes
def move_item(item: int, json: ItemMove) -> Saved:
    """Put an item somewhere else."""
    return bill.move_item(g.actor, item, json.section, json.before)


@blueprint.post("/sections/<int:section>/move")
@writes
def move_section(section: int, json: SectionMove) -> Saved:
    """Put a section somewhere else."""
    return bill.move_section(g.actor, section, json.parent, json.before)


@blueprint.post("/adjustments")
@writes
def add_adjustment(json: NewAdjustment) -> Saved:
    """Add an adjustment."""
    return adjustments.add_adjustment(g.actor, json.name, json.percent, json.base, json.bill)


@blueprint.patch("/adjustments/<int:adjustment>")
@writes
def change_adjustment(adjustment: int, json: AdjustmentChange) -> Saved:
    """Change an adjustment."""
    return adjustments.change_adjustment(g.actor, adjustment, json.version, json.given())


@blueprint.post("/adjustments/<int:adjustment>/move")
@writes
def move_adjustment(adjustment: int, json: MovedBy) -> Saved:
    """Put an adjustment earlier or later."""
    return adjustments.move_adjustment(g.actor, adjustment, json.by)


@blueprint.delete("/adjustments/<int:adjustment>")
@writes
def delete_adjustment(adjustment: int) -> Saved:
    """Take an adjustment off."""
    return adjustments.delete_adjustment(g.actor, adjustment)
