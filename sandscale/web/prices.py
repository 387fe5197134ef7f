"""The prices stage: resources, quotes and enquiries."""

from __future__ import annotations

from typing import Any

from flask import g, request
from pydantic import RootModel

from ..core.pricing.columns import COLUMNS
from ..core.refusals import BadEntry
from ..services.keeping.views import Saved, TableRead
from ..services.prices import actions as prices
from ..services.prices import asked, needs, norms, taking_in, working_out
from ..services.prices import enquiries as enquiring
from ..services.prices import reading as prices_reading
from ..services.prices.views import (
    EnquiryBrief,
    EnquiryView,
    NeedView,
    ResourceView,
    SupplierView,
)
from .api import answers, api, stage, writes
from .rate_schemas import (
    AnswerAside,
    AskedFor,
    AskedQuantity,
    EnquiryChange,
    NewEnquiry,
    NewQuote,
    NewResource,
    NewSupplier,
    QuoteChange,
    QuotesPasted,
    QuotesTaken,
    ResourceChange,
    SupplierChange,
    SuppliersAsked,
    WorkedChange,
)
from .schemas import FromShelf, ListOnShelf

blueprint = stage("prices")


class Resources(RootModel[list[ResourceView]]):
    """The project's resources."""


class Needs(RootModel[list[NeedView]]):
    """Items that need a resource."""


@blueprint.get("/resources")
@api.validate(resp=answers(Resources))
def resources() -> Any:
    """The resources with their quotes."""
    return Resources(prices_reading.resources(g.actor))


@blueprint.post("/resources")
@writes
def add_resource(json: NewResource) -> Saved:
    """Add a resource."""
    return prices.add_resource(g.actor, json.model_dump())


@blueprint.get("/resources/<int:resource>/items")
@api.validate(resp=answers(Needs))
def items_needing(resource: int) -> Any:
    """The items of the bill that need a resource, and how much."""
    return Needs(needs.items_needing(g.actor, resource))


@blueprint.patch("/resources/<int:resource>")
@writes
def change_resource(resource: int, json: ResourceChange) -> Saved:
    """Change a resource."""
    return prices.change_resource(g.actor, resource, json.version, json.given())


@blueprint.patch("/resources/<int:resource>/worked")
@writes
def change_worked(resource: int, json: WorkedChange) -> Saved:
    """Change how a resource's price is worked out."""
    return working_out.change_worked(g.actor, resource, json.version, json.way, json.inputs, json.draws)


@blueprint.delete("/resources/<int:resource>")
@writes
def delete_resource(resource: int) -> Saved:
    """Delete a resource nothing draws on."""
    return prices.delete_resource(g.actor, resource)


@blueprint.post("/resources/<int:resource>/quotes")
@writes
def add_quote(resource: int, json: NewQuote) -> Saved:
    """Add a quote."""
    return prices.add_quote(g.actor, resource, json.given())


@blueprint.patch("/quotes/<int:quote>")
@writes
def change_quote(quote: int, json: QuoteChange) -> Saved:
    """Change a quote."""
    return prices.change_quote(g.actor, quote, json.version, json.given())


@blueprint.delete("/quotes/<int:quote>")
@writes
def delete_quote(quote: int) -> Saved:
    """Delete a quote."""
    return prices.delete_quote(g.actor, quote)


@blueprint.post("/quotes/read")
@api.validate(resp=answers(TableRead))
def read_quotes(json: QuotesPasted) -> TableRead:
    """What a pasted list would become; nothing is kept."""
    return taking_in.read(g.actor, json.text.encode(), "what was pasted", json.columns, json.supplier)


@blueprint.post("/quotes/read-file")
@api.validate(resp=answers(TableRead))
def read_quotes_file() -> TableRead:
    """What a list in a file would become, sent as a form with it, the columns and the supplier; nothing is
    kept."""
    file = request.files.get("file")
    if file is None:
        raise BadEntry("No file was sent.", field="file")
    told = request.form.get("columns")
    said = [each if each in COLUMNS else "" for each in told.split(",")] if told else None
    supplier = request.form.get("supplier", "")[:500]
    return taking_in.read(g.actor, file.read(), file.filename or "the file", said, supplier)  # type: ignore[arg-type]


@blueprint.post("/quotes/taken")
@writes
def take_quotes(json: QuotesTaken) -> Saved:
    """Take a list in as quotes, as one change."""
    return taking_in.add_quotes(g.actor, json.rows)


class Suppliers(RootModel[list[SupplierView]]):
    """The project's suppliers."""


@blueprint.get("/suppliers")
@api.validate(resp=answers(Suppliers))
def suppliers() -> Any:
    """Who can be asked."""
    return Suppliers(asked.suppliers(g.actor))


@blueprint.post("/suppliers")
@writes
def add_supplier(json: NewSupplier) -> Saved:
    """Add a supplier."""
    return enquiring.add_supplier(g.actor, json.model_dump())


@blueprint.patch("/suppliers/<int:supplier>")
@writes
def change_supplier(supplier: int, json: SupplierChange) -> Saved:
    """Change a supplier."""
    return enquiring.change_supplier(g.actor, supplier, json.version, json.given())


@blueprint.delete("/suppliers/<int:supplier>")
@writes
def delete_supplier(supplier: int) -> Saved:
    """Delete a supplier nobody asked."""
    return enquiring.delete_supplier(g.actor, supplier)


class Enquiries(RootModel[list[EnquiryBrief]]):
    """The project's enquiries."""


@blueprint.get("/enquiries")
@api.validate(resp=answers(Enquiries))
def enquiries() -> Any:
    """The enquiries, the newest first."""
    return Enquiries(asked.enquiries(g.actor))


@blueprint.post("/enquiries")
@writes
def add_enquiry(json: NewEnquiry) -> Saved:
    """Make an enquiry ready."""
    fields = {"title": json.title, "words": json.words, "answer_by": json.answer_by}
    return enquiring.add_enquiry(g.actor, json.resources, json.suppliers, fields)


@blueprint.get("/enquiries/<int:enquiry>")
@api.validate(resp=answers(EnquiryView))
def enquiry(enquiry: int) -> EnquiryView:
    """An enquiry with its answers."""
    return asked.enquiry_view(g.actor, enquiry)


@blueprint.patch("/enquiries/<int:enquiry>")
@writes
def change_enquiry(enquiry: int, json: EnquiryChange) -> Saved:
    """Change an enquiry that wasn't sent."""
    return enquiring.change_enquiry(g.actor, enquiry, json.version, json.given())


@blueprint.delete("/enquiries/<int:enquiry>")
@writes
def delete_enquiry(enquiry: int) -> Saved:
    """Delete an enquiry with its answers."""
    return enquiring.delete_enquiry(g.actor, enquiry)


@blueprint.post("/enquiries/<int:enquiry>/lines")
@writes
def ask_for(enquiry: int, json: AskedFor) -> Saved:
    """Ask for one resource more."""
    return enquiring.add_enquiry_line(g.actor, enquiry, json.resource)


@blueprint.put("/enquiries/<int:enquiry>/suppliers")
@writes
def ask_suppliers(enquiry: int, json: SuppliersAsked) -> Saved:
    """Say whom it goes to."""
    return enquiring.ask_suppliers(g.actor, enquiry, json.suppliers)


@blueprint.post("/enquiries/<int:enquiry>/send")
@writes
def send_enquiry(enquiry: int) -> Saved:
    """Send it."""
    return enquiring.send_enquiry(g.actor, enquiry)


@blueprint.post("/enquiries/<int:enquiry>/answers")
@writes
def fetch_answers(enquiry: int) -> Saved:
    """Ask the price desk what was answered."""
    return enquiring.fetch_answers(g.actor, enquiry)


@blueprint.post("/enquiries/<int:enquiry>/take")
@writes
def take_answers(enquiry: int) -> Saved:
    """Take in all answers that are left."""
    return enquiring.take_answers(g.actor, enquiry)


@blueprint.patch("/enquiry-lines/<int:enquiry_line>")
@writes
def change_enquiry_line(enquiry_line: int, json: AskedQuantity) -> Saved:
    """Ask for another quantity."""
    return enquiring.change_enquiry_line(g.actor, enquiry_line, json.version, json.quantity)


@blueprint.delete("/enquiry-lines/<int:enquiry_line>")
@writes
def delete_enquiry_line(enquiry_line: int) -> Saved:
    """Ask for a resource no longer."""
    return enquiring.delete_enquiry_line(g.actor, enquiry_line)


@blueprint.post("/answers/<int:answer>/take")
@writes
def take_answer(answer: int) -> Saved:
    """Take an answer in as a quote."""
    return enquiring.take_answer(g.actor, answer)


@blueprint.post("/answers/<int:answer>/aside")
@writes
def set_aside(answer: int, json: AnswerAside) -> Saved:
    """Leave an answer out, or heed it again."""
    return enquiring.set_aside(g.actor, answer, json.aside)


@blueprint.post("/norms/from-shelf")
@writes
def take_norms(json: FromShelf) -> Saved:
    """Take the firm's own norms from a list on a shelf."""
    return norms.take_norms(g.actor, json.shelf, json.key)


@blueprint.post("/norms/shelf")
@writes
def put_norms(json: ListOnShelf) -> Saved:
    """Put the project's norms on a shelf."""
    return norms.put_norms(g.actor, json.shelf, json.name)
