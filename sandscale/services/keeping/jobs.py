"""Long work, done by workers off the request. The queue is procrastinate's, in the same database.

A job is put into the queue within the action's own transaction, so it is there exactly when the action is.
How far it is, and what it made, stands in ``job``. A job whose worker died is tried again, a set number of
times, and then told; so its work must come to the same when it is done twice."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import timedelta
from functools import lru_cache
from typing import Any

from peewee import fn

from ...core.refusals import Refusal
from ...core.words import JobState
from ...store.database import database
from ...store.models import Job, now
from .acting import Actor, Missing
from .stages import parts
from .views import JobView

QUEUE, TASK = "work", "sandscale.work"
MOST_TRIES = 3
KEPT_FOR = timedelta(days=1)
UNFINISHED: tuple[JobState, ...] = ("waiting", "running")
Progress = Callable[[float], None]
Outcome = tuple[str, bytes] | None
Work = Callable[[Job, Progress], Outcome]
_ROW = "ROW(%s, %s, 0, NULL, NULL, %s, NULL)::procrastinate_job_to_defer_v1"
_DEFER = f"SELECT procrastinate_defer_jobs_v1(ARRAY[{_ROW}])"


class Stopped(Exception):
    """A person stopped the job, or it was tried again meanwhile."""


@lru_cache(maxsize=1)
def kinds() -> dict[str, Work]:
    """What there is to do for each kind of job, as the stages' ``work`` says; gives the file it made, or
    None."""
    return {kind: work for module in parts("work") for kind, work in module.KINDS.items()}


def begin(actor: Actor, kind: str, arguments: dict[str, Any] | None = None) -> Job:
    """Put a job of a person into the queue."""
    return _begin(project=actor.project_id, person=actor.person_id, kind=kind, arguments=arguments or {})


def begin_for_all(project_id: int, kind: str, arguments: dict[str, Any]) -> Job:
    """Put a job of nobody in particular into the queue: work that a project's figures wait for."""
    return _begin(project=project_id, kind=kind, arguments=arguments)


def begin_after(job: Job, arguments: dict[str, Any]) -> Job:
    """Put a job into the queue that goes on where one ends, in its person's name."""
    return _begin(project=job.project_id, person=job.person_id, kind=job.kind, arguments=arguments)


def _begin(**fields: Any) -> Job:
    job = Job.create(**fields)
    database.execute_sql(_DEFER, (QUEUE, TASK, json.dumps({"job_id": job.id})))
    return job


def view(actor: Actor, job_id: int) -> JobView:
    """How far a job is.

    Raises:
        Missing: it isn't the actor's, or was cleared away.
    """
    job = _own(actor, job_id)
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
    mine = (Job.id == job.id) & (Job.state << UNFINISHED)
    Job.update(state="stopped", said="Stopped.").where(mine).execute()
    return view(actor, job_id)


def _own(actor: Actor, job_id: int) -> Job:
    mine = (Job.id == job_id) & (Job.project == actor.project_id) & (Job.person == actor.person_id)
    job = Job.get_or_none(mine)
    if job is None:
        raise Missing("There is no such job of yours.", remedy="Ask for the file again.")
    return job


def do(job_id: int) -> None:
    """Do a job; a worker's work. One that was stopped, or that another worker has done, is let be."""
    taken = (Job.id == job_id) & (Job.state << UNFINISHED)
    if not Job.update(state="running", tries=Job.tries + 1, done=0).where(taken).execute():
        return
    job = Job.get_by_id(job_id)

    def progress(share: float) -> None:
        if not Job.update(done=share).where(_still(job)).execute():
            raise Stopped

    try:
        made = kinds()[job.kind](job, progress)
        name, content = made or ("", None)
        _settle(job, state="done", done=1.0, result=content, result_name=name)
    except Stopped:
        pass
    except Refusal as refusal:
        _settle(job, state="failed", said=str(refusal))
    except Exception:
        _fail(job, "The server could not finish this; nothing was changed.")
        raise


def _still(job: Job) -> Any:
    """Whether a job is still running, and this try of it."""
    return (Job.id == job.id) & (Job.state == "running") & (Job.tries == job.tries)


def _settle(job: Job, **fields: Any) -> None:
    Job.update(**fields).where(_still(job)).execute()


def lost(job_id: int) -> bool:
    """What becomes of a job whose worker died: whether it is to be tried again. Tried often enough, it has
    failed."""
    job = Job.get_or_none((Job.id == job_id) & (Job.state << UNFINISHED))
    if job is None:
        return False
    if job.tries < MOST_TRIES:
        return True
    Job.update(state="running").where(Job.id == job.id).execute()
    job.state = "running"
    _fail(job, f"The server stopped each of the {MOST_TRIES} times this was tried; nothing was changed.")
    return False


def _fail(job: Job, said: str) -> None:
    """Tell that a job has failed, also to whoever waits for what it was to work out."""
    _settle(job, state="failed", said=said)
    for module in parts("work"):
        if tell := getattr(module, "GIVEN_UP", {}).get(job.kind):
            tell(job, said)


def clear() -> None:
    """Clear away jobs that ended a while ago, with the files they made."""
    Job.delete().where((Job.made < now() - KEPT_FOR) & ~(Job.state << UNFINISHED)).execute()


def waiting() -> int:
    """How many jobs wait or run."""
    return int(Job.select(fn.COUNT(Job.id)).where(Job.state << UNFINISHED).scalar())
