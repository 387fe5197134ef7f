"""What jobs do for prices: send the letters of enquiries."""

from __future__ import annotations

from ...core.numbers.working import shown
from ...formats.enquiry_csv import write_enquiry
from ...store.models import Enquiry, EnquiryLine, Job, Project, Supplier
from ..keeping.jobs import Outcome, Progress
from ..people.letters import send
from .desk import reference_of
from .enquiries import LETTER


def _letter(job: Job, _progress: Progress) -> Outcome:
    row = Enquiry.get_or_none(Enquiry.id == job.arguments["enquiry"])
    supplier = Supplier.get_or_none(Supplier.id == job.arguments["supplier"])
    if row is None or supplier is None:
        return None  # taken back meanwhile
    project = Project.get_by_id(row.project_id)
    lines = list(row.lines.order_by(EnquiryLine.id))
    asked = [(each.resource.name, shown(each.quantity), each.resource.unit) for each in lines]
    rows = [(each.id, each.resource.name, each.resource.unit, each.quantity) for each in lines]
    listed = "\n".join(f"  {name}: {quantity} {unit}" for name, quantity, unit in asked)
    by = f" Please answer by {row.answer_by:%d %b %Y}." if row.answer_by else ""
    send(
        supplier.email,
        f"Enquiry {reference_of(row)}: {row.title or project.name}",
        f"{supplier.name},\n\nplease price, for {project.price_date:%d %b %Y} and in {project.currency}:\n\n"
        f"{listed}\n\n{row.words}\n\nSay how long each price holds, and what is sold at least.{by}\n"
        f"The same as a table goes along with this letter.\n\n{job.person.name if job.person_id else ''}\n",
        (f"{reference_of(row)}.csv", write_enquiry(rows, project.price_date, row.answer_by)),
    )
    return None


KINDS = {LETTER: _letter}
