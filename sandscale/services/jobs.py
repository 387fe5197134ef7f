"""Long work, kept as rows of a queue in the database and done by workers off the request.

A job begun in an action is there exactly when the action is. A worker that dies leaves its job to another, so
a job's
work must come to the same when it is done twice.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from peewee import fn

from ..core.refusals import Refusal
from ..store.database import database
from ..store.models import Job, now
from .acting import Actor, Missing
from .views import JobView

LOST_AFTER = timedelta(seconds=40)  # without a sign of life
KEPT_FOR = timedelta(days=1)
Progress = Callable[[float], None]
Outcome = tuple[str, bytes] | None


class Stopped(Exception):
    """A person stopped the job."""


def begin(actor: Actor, kind: str, arguments: dict[str, Any] | None = None) -> Job:
    """Put a job into the queue."""
    return Job.create(project=actor.project_id, person=actor.person_id, kind=kind, arguments=arguments or {})


def view(actor: Actor, job_id: int) -> JobView:
    """How far a job is.

    Raises:
        Missing: it isn't the actor's, or was cleared away.
    """
    return _view(_own(actor, job_id))


def _view(job: Job) -> JobView:
    return JobView(
        id=job.id, kind=job.kind, state=job.state, done=job.done, said=job.said, name=job.result_name
    )


def result(actor: Actor, job_id: int) -> tuple[str, bytes]:
    """What a finished job made: a file's name and content.

    Raises:
        Missing: it isn't the actor's, isn't finished, or made nothing.
    """
    job = _own(actor, job_id)
    if job.state != "done" or job.result is None:
        raise Missing("That file isn't ready.", remedy="Ask for it again.")
    return job.result_name, bytes(job.result)


def stop(actor: Actor, job_id: int) -> JobView:
    """Stop a job; its worker lets go of it at its next sign of progress."""
    job = _own(actor, job_id)
    Job.update(state="stopped", said="Stopped.").where(
        (Job.id == job.id) & (Job.state << ["waiting", "running"])
    ).execute()
    return view(actor, job_id)


def _own(actor: Actor, job_id: int) -> Job:
    job = Job.get_or_none(
        (Job.id == job_id) & (Job.project == actor.project_id) & (Job.person == actor.person_id)
    )
    if job is None:
        raise Missing("There is no such job of yours.", remedy="Ask for the file again.")
    return job


def take() -> Job | None:
    """The next job, now this worker's: one that waits, or one whose worker was lost."""
    with database.atomic():
        free = (Job.state == "waiting") | ((Job.state == "running") & (Job.beat < now() - LOST_AFTER))
        job = Job.select().where(free).order_by(Job.id).for_update("FOR UPDATE SKIP LOCKED").first()
        if job is not None:
            Job.update(state="running", beat=now()).where(Job.id == job.id).execute()
        return job


def run_next(kinds: dict[str, Callable[[Job, Progress], Outcome]]) -> bool:
    """Do one job of the queue; tells whether there was one.

    Args:
        kinds: what to do for each kind of job; gives the file it made, or None.
    """
    job = take()
    if job is None:
        return False

    def progress(share: float) -> None:
        if (
            not Job.update(done=share, beat=now())
            .where((Job.id == job.id) & (Job.state == "running"))
            .execute()
        ):
            raise Stopped

    try:
        made = kinds[job.kind](job, progress)
        name, content = made or ("", None)
        _settle(job, state="done", done=1.0, result=content, result_name=name)
    except Stopped:
        pass
    except Refusal as refusal:
        _settle(job, state="failed", said=str(refusal))
    except Exception:
        _settle(job, state="failed", said="The server could not finish this; nothing was changed.")
        raise
    return True


def _settle(job: Job, **fields: Any) -> None:
    Job.update(**fields).where((Job.id == job.id) & (Job.state == "running")).execute()


def clear() -> None:
    """Clear away jobs that ended a while ago, with the files they made."""
    Job.delete().where((Job.made < now() - KEPT_FOR) & ~(Job.state << ["waiting", "running"])).execute()


def waiting() -> int:
    """How many jobs wait or run."""
    return int(Job.select(fn.COUNT(Job.id)).where(Job.state << ["waiting", "running"]).scalar())
