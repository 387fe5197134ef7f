"""What jobs do for sheets: read what a page holds."""

from __future__ import annotations

from ...store.models import Job
from ..keeping.jobs import Outcome, Progress
from .reading import read_page_content


def _page_content(job: Job, _progress: Progress) -> Outcome:
    read_page_content(job.arguments["file"], job.arguments["page"])
    return None


KINDS = {"page_content": _page_content}
