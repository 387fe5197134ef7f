"""What jobs do for sheets: read what a file's pages hold, a page a job, so that a long file keeps nobody
waiting."""

from __future__ import annotations

from ...store.models import Job
from ..keeping import jobs
from ..keeping.jobs import Outcome, Progress
from .reading import PAGE_CONTENT, keep_unread, read_page_content


def _page_content(job: Job, _progress: Progress) -> Outcome:
    read_page_content(job.arguments["file"], job.arguments["page"])
    _next_page(job)
    return None


def _given_up(job: Job, says: str) -> None:
    keep_unread(job.arguments["file"], job.arguments["page"], says)
    _next_page(job)


def _next_page(job: Job) -> None:
    page = job.arguments["page"] + 1
    if page <= job.arguments.get("of", 0):
        jobs.begin_after(job, {**job.arguments, "page": page})


KINDS = {PAGE_CONTENT: _page_content}
GIVEN_UP = {PAGE_CONTENT: _given_up}
