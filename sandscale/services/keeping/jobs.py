"""Long work, done by workers off the request. The queue is procrastinate's, in the same database.

A job is put into the queue within the action's own transaction, so it is there exactly when the action is.
How far it is, and what it made, stands in ``job``. A job whose worker died is tried again, a set number of
times, and then told; so its work must come to the same when it is done twice. A lock of the database's, which
goes with its connection, keeps two from working on one job.

Each job of a person stands behind as many turns of others' as they have jobs waiting already."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import timedelta
from functools import lru_cache
from typing import Any

from peewee import fn

from ...core.numbers.ways import held
from ...core.refusals import Refusal
from ...core.words import JobState
from ...store.database import database
from ...store.models import Job, now
from .acting import Actor, Missing
from .stages import parts
from .views import JobView

QUEUE, TASK = "work", "sandscale.work"
MOST_TRIES = 3
MOST_OF_A_PERSON = 20  # asked for and not done
LATER = 60  # seconds, for a job that lacked something from outside
AGAIN_AFTER = 15  # seconds, for a job that another worker is still at
_LOCKS = 7261  # the first number of the advisory locks that jobs hold
KEPT_FOR = timedelta(days=1)
UNFINISHED: tuple[JobState, ...] = ("waiting", "running")
Progress = Callable[[float], None]
Outcome = tuple[str, bytes] | None
Work = Callable[[Job, Progress], Outcome]
_ROW = "ROW(%s, %s, %s, NULL, NULL, %s, now() + %s * interval '1 second')::procrastinate_job_to_defer_v1"
_DEFER = f"SELECT procrastinate_defer_jobs_v1(ARRAY[{_ROW}])"
_WITHOUT_A_PLACE = """
SELECT id FROM job WHERE state IN ('waiting', 'running') AND made < now() AT TIME ZONE 'utc' - interval '1
minute' AND NOT EXISTS (SELECT FROM procrastinate_jobs q WHERE q.task_name = %s AND q.status IN ('todo',
'doing') AND (q.args ->> 'job_id')::integer = job.id)"""


class TooMany(Refusal):
    """A person waits for as many jobs already as they may."""


class Later(Refusal):
    """What a job needs from outside isn't there just now: it is tried again after a while, as often as a job
    is."""


class Stopped(Exception):
    """A person stopped the job, or it was tried again meanwhile."""


@lru_cache(maxsize=1)
def kinds() -> dict[str, Work]:
    """What there is to do for each kind of job, as the stages' ``work`` says; gives the file it made, or
    None."""
    return {kind: work for module in parts("work") for kind, work in module.KINDS.items()}


def reader_of(job: Job) -> Actor:
    """Whoever asked for a job, as one who reads."""
    return Actor(job.person_id, job.project_id, "viewer")


def file_of(write: Callable[[Actor, Progress], tuple[str, bytes]]) -> Work:
    """The work of writing a file for whoever asked for it."""
    return lambda job, progress: write(reader_of(job), progress)


def ask_for(actor: Actor, kind: str, arguments: dict[str, Any] | None = None) -> Job:
    """Put a job that a person asked for into the queue.

    Raises:
        TooMany: they wait for many already.
    """
    if _unfinished(Job.person == actor.person_id) >= MOST_OF_A_PERSON:
        raise TooMany(
            f"You wait for {MOST_OF_A_PERSON} files already.", remedy="Wait for them, or stop some.",
            numbers={"wait": 5},
        )  # fmt: skip
    return begin(actor, kind, arguments)


def begin(actor: Actor, kind: str, arguments: dict[str, Any] | None = None) -> Job:
    """Put a job into the queue that goes with what a person did."""
    return _begin(project=actor.project_id, person=actor.person_id, kind=kind, arguments=arguments or {})


def begin_for_all(project_id: int, kind: str, arguments: dict[str, Any]) -> Job:
    """Put a job of nobody in particular into the queue: work that a project's figures wait for."""
    return _begin(project=project_id, kind=kind, arguments=arguments)


def begin_after(job: Job, arguments: dict[str, Any]) -> Job:
    """Put a job into the queue that goes on where one ends, in its person's name."""
    return _begin(project=job.project_id, person=job.person_id, kind=job.kind, arguments=arguments)


def _begin(**fields: Any) -> Job:
    of_project = (Job.project == fields["project"]) & Job.person.is_null()
    before = _unfinished(Job.person == fields["person"] if fields.get("person") else of_project)
    job = Job.create(**fields)
    _queue(job.id, -before)
    return job


def _unfinished(whose: Any) -> int:
    return int(Job.select(fn.COUNT(Job.id)).where(whose & (Job.state << UNFINISHED)).scalar())


def _queue(job_id: int, priority: int = 0, after: int = 0) -> None:
    """Give a job a place in the queue; those of higher priority come first."""
    database.execute_sql(_DEFER, (QUEUE, TASK, priority, json.dumps({"job_id": job_id}), after))


def put_back() -> None:
    """Give jobs that lost their place in the queue a new one."""
    for (job_id,) in database.execute_sql(_WITHOUT_A_PLACE, (TASK,)).fetchall():
        _queue(job_id)


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


@contextmanager
def _alone_at(job_id: int) -> Iterator[bool]:
    """Whether nobody else works on a job; and nobody else will, until the block is left or this process or
    its connection ends."""
    mine = database.execute_sql("SELECT pg_try_advisory_lock(%s, %s)", (_LOCKS, job_id)).fetchone()[0]
    try:
        yield mine
    finally:
        if mine and not database.is_closed():
            database.execute_sql("SELECT pg_advisory_unlock(%s, %s)", (_LOCKS, job_id))


def do(job_id: int) -> None:
    """Do a job; a worker's work. One that was stopped, or that another worker has done, is let be; one that
    another is at stands in the queue again, should that one die."""
    with _alone_at(job_id) as alone:
        if alone:
            _do(job_id)
        else:
            _queue(job_id, after=AGAIN_AFTER)


def _do(job_id: int) -> None:
    unfinished = (Job.id == job_id) & (Job.state << UNFINISHED)
    taken = unfinished & (Job.tries < MOST_TRIES)
    if not Job.update(state="running", tries=Job.tries + 1, done=0).where(taken).execute():
        if Job.select().where(unfinished).exists():
            _tried_often_enough(job_id)
        return
    job = Job.get_by_id(job_id)

    def progress(share: float) -> None:
        if not Job.update(done=share).where(_still(job)).execute():
            raise Stopped

    try:
        with held(job.project.unit_system, job.project.numbers, job.project.working_day):
            name, content = kinds()[job.kind](job, progress) or ("", None)
        _settle(job, state="done", done=1.0, result=content, result_name=name)
    except Stopped:
        pass
    except Later as refusal:
        if job.tries >= MOST_TRIES:
            _settle(job, state="failed", said=str(refusal))
        elif Job.update(state="waiting", said=str(refusal)).where(_still(job)).execute():
            _queue(job.id, after=LATER)
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
    """What becomes of a job whose worker gave no sign of life: whether it is to be tried again. Tried often
    enough, it has failed."""
    job = Job.get_or_none((Job.id == job_id) & (Job.state << UNFINISHED))
    if job is None:
        return False
    with _alone_at(job_id) as alone:
        if not alone or job.tries < MOST_TRIES:
            return True
        _tried_often_enough(job_id)
    return False


def _tried_often_enough(job_id: int) -> None:
    Job.update(state="running").where((Job.id == job_id) & (Job.state << UNFINISHED)).execute()
    said = f"The server stopped each of the {MOST_TRIES} times this was tried; nothing was changed."
    _fail(Job.get_by_id(job_id), said)


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
