"""What jobs do for people: send letters."""

from __future__ import annotations

from ...store.models import Job
from ..keeping.jobs import Outcome, Progress
from .invitations import LETTER, send_letter


def _letter(job: Job, _progress: Progress) -> Outcome:
    send_letter(job.arguments["invitation"])
    return None


KINDS = {LETTER: _letter}
