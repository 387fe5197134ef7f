"""What jobs do for every stage: work out figures that take long."""

from __future__ import annotations

from ...store.models import Job
from .jobs import Outcome, Progress
from .slow import KIND, work_out


def _work_out(job: Job, _progress: Progress) -> Outcome:
    work_out(job.project_id, job.arguments["node"], job.arguments["row"], job.arguments["fingerprint"])
    return None


KINDS = {KIND: _work_out}
