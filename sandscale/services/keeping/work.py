"""What jobs do for every stage: work out figures that take long."""

from __future__ import annotations

from ...store.models import Job
from .jobs import Outcome, Progress
from .slow import KIND, give_up, work_out


def _work_out(job: Job, progress: Progress) -> Outcome:
    of = (job.arguments["node"], job.arguments["row"], job.arguments["fingerprint"])
    work_out(job.project_id, *of, progress)
    return None


def _given_up(job: Job, says: str) -> None:
    told = f"It could not be worked out: {says}"
    give_up(job.project_id, job.arguments["node"], job.arguments["row"], job.arguments["fingerprint"], told)


KINDS = {KIND: _work_out}
GIVEN_UP = {KIND: _given_up}
