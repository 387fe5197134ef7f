"""What jobs do for the issue: write documents."""

from __future__ import annotations

from collections.abc import Callable

from ...store.models import Job
from ..keeping.acting import Actor
from ..keeping.jobs import Outcome, Progress, Work
from .documents import bill_pdf, bill_workbook, dimensions_pdf, sheet_pdf


def _file(write: Callable[[Actor, Progress], tuple[str, bytes]]) -> Work:
    return lambda job, progress: write(_reader(job), progress)


def _sheet_pdf(job: Job, progress: Progress) -> Outcome:
    return sheet_pdf(_reader(job), job.arguments["sheet"], progress)


def _reader(job: Job) -> Actor:
    return Actor(job.person_id, job.project_id, "viewer")


KINDS: dict[str, Work] = {
    "bill_xlsx": _file(bill_workbook),
    "bill_pdf": _file(bill_pdf),
    "dimensions_pdf": _file(dimensions_pdf),
    "sheet_pdf": _sheet_pdf,
}
