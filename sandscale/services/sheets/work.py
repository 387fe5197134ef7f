"""What jobs do for sheets: read what a file's pages hold, a page a job, so that a long file keeps nobody
waiting; draw a DXF; lay a revision over the one before."""

from __future__ import annotations

from ...store.models import Job, Revision, StoredFile, now
from ..keeping import jobs
from ..keeping.acting import Actor
from ..keeping.jobs import Outcome, Progress
from ..people.signing_in import role_in
from .bringing_in import KIND, bring_in
from .pages import PAGE_CONTENT, keep_unread, pages_of, read_page_content
from .papers import revision_of
from .revisions import take_in


def _page_content(job: Job, progress: Progress) -> Outcome:
    read_page_content(job.arguments["file"], job.arguments["page"], progress)
    _next_page(job)
    return None


def _given_up(job: Job, says: str) -> None:
    keep_unread(job.arguments["file"], job.arguments["page"], says)
    _next_page(job)


def _next_page(job: Job) -> None:
    page = job.arguments["page"] + 1
    if page <= job.arguments.get("of", 0):
        jobs.begin_after(job, {**job.arguments, "page": page})


def _drawing_in(job: Job, progress: Progress) -> Outcome:
    """Read a drawing's file and bring it in, once."""
    file = StoredFile.get_by_id(job.arguments["brought"])
    if Revision.select().where(Revision.file == file.id).exists():
        return None  # this job's, kept just before its worker died
    actor = Actor(job.person_id, job.project_id, role_in(job.person_id, job.project_id) or "viewer")
    drawing = job.arguments.get("drawing")
    reading = 0.5 if drawing else 0.9  # of the work, what reading the file takes
    media_type, pages = pages_of(bytes(file.content), file.name, lambda share: progress(reading * share))
    if media_type != file.media_type:
        StoredFile.update(media_type=media_type).where(StoredFile.id == file.id).execute()
        file.media_type = media_type
    if drawing:
        take_in(actor, drawing, job.arguments["letter"], file, pages, progress)
    else:
        bring_in(actor, file, pages, now().date())
    return None


KINDS = {PAGE_CONTENT: _page_content, KIND: _drawing_in, "revision_report": revision_of}
GIVEN_UP = {PAGE_CONTENT: _given_up}
