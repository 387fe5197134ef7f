"""The worker: a process beside the web server that does the jobs of the queue, one after the other."""

from __future__ import annotations

import asyncio
import contextlib
import gc
import logging
import os
import signal
import threading

import procrastinate
from procrastinate.jobs import Status
from procrastinate.manager import JobManager

from ...settings import database_address
from ...store.database import connected
from . import jobs
from .tidying import tidy

HEARTBEAT, LOST_AFTER = 5.0, 20.0  # seconds between signs of life, and without one
LOOKS = 5.0  # seconds between looks for jobs whose worker died
TIDIES = 120  # looks between clearing away what is old
at_work = threading.Event()


def queue() -> procrastinate.App:
    """The queue, with the one task it holds: doing a job."""
    connector = procrastinate.PsycopgConnector(
        conninfo=database_address(), min_size=1, max_size=4, timeout=10
    )
    app = procrastinate.App(connector=connector)

    @app.task(name=jobs.TASK, queue=jobs.QUEUE)
    def work(job_id: int) -> None:
        at_work.set()
        try:
            with connected():
                jobs.do(job_id)
        finally:
            at_work.clear()

    return app


def work_until_told() -> None:
    """Work until told to stop; a lost database is tried again.

    Was a job under way when the database went, this process ends with it: without its connection the job's
    lock is gone, and another may be at it before this one notices. Whoever keeps workers running starts one
    anew.
    """
    # A large document is millions of objects, none of them garbage until it is written.
    gc.set_threshold(200_000, 20, 20)
    stopping = False

    def stop(*_: object) -> None:
        nonlocal stopping
        stopping = True
        raise SystemExit(0)

    for sign in (signal.SIGINT, signal.SIGTERM):
        signal.signal(sign, stop)
    while not stopping:
        try:
            asyncio.run(_work(wait=True))
            break
        except (procrastinate.exceptions.ConnectorException, OSError) as error:
            logging.warning("The database can't be reached (%s); trying again.", type(error).__name__)
            if at_work.is_set():
                os._exit(1)
            with contextlib.suppress(SystemExit):
                signal.sigtimedwait([], 2)


def work_off() -> None:
    """Do all that waits in the queue, and come back."""
    asyncio.run(_work(wait=False))


async def _work(*, wait: bool) -> None:
    app = queue()
    async with app.open_async():
        looking = asyncio.create_task(_look_for_lost(app.job_manager)) if wait else None
        try:
            await app.run_worker_async(
                queues=[jobs.QUEUE], wait=wait, delete_jobs="always", install_signal_handlers=wait,
                fetch_job_polling_interval=LOOKS, shutdown_graceful_timeout=10, listen_notify=wait,
                update_heartbeat_interval=HEARTBEAT, stalled_worker_timeout=LOST_AFTER,
            )  # fmt: skip
        finally:
            if looking:
                looking.cancel()


async def _look_for_lost(manager: JobManager) -> None:
    """See to jobs whose worker died, for as long as this one works; and tidy up now and then."""
    looks = 0
    while True:
        with contextlib.suppress(procrastinate.exceptions.ConnectorException):
            await rescue(manager, LOST_AFTER)
            if looks % 12 == 0:
                await asyncio.to_thread(_put_back)
            if looks % TIDIES == 0:
                await asyncio.to_thread(_tidy)
        looks += 1
        await asyncio.sleep(LOOKS)


async def rescue(manager: JobManager, after: float) -> None:
    """Try again the jobs whose worker gave no sign of life for so many seconds; those tried often enough
    have failed."""
    for stalled in await manager.get_stalled_jobs(queue=jobs.QUEUE, seconds_since_heartbeat=after):
        again = await asyncio.to_thread(_lost, stalled.task_kwargs["job_id"])
        if again:
            await manager.retry_job(stalled)
        else:
            await manager.finish_job(stalled, status=Status.FAILED, delete_job=True)


def _lost(job_id: int) -> bool:
    with connected():
        return jobs.lost(job_id)


def _put_back() -> None:
    with connected():
        jobs.put_back()


def _tidy() -> None:
    with connected():
        tidy()
