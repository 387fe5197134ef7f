"""What jobs do for the issue: write documents, packages and forms, and send packages."""

from __future__ import annotations

from ...store.models import Job
from ..keeping.jobs import Outcome, Progress, Work, file_of, reader_of
from . import packages
from .documents import bill_pdf, bill_workbook, dimensions_pdf, sheet_pdf
from .forms import filled_of


def _sheet_pdf(job: Job, progress: Progress) -> Outcome:
    return sheet_pdf(reader_of(job), job.arguments["sheet"], progress)


KINDS: dict[str, Work] = {
    "bill_xlsx": file_of(bill_workbook),
    "bill_pdf": file_of(bill_pdf),
    "dimensions_pdf": file_of(dimensions_pdf),
    "sheet_pdf": _sheet_pdf,
    packages.KIND: packages.work_of,
    packages.LETTER: packages.letter_of,
    "form_filled": filled_of,
}
