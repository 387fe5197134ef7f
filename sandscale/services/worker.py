"""The worker: a process beside the web server that does the jobs of the queue, one after the other.

python -m sandscale.services.worker
"""

from __future__ import annotations

import gc
import logging
import signal
import threading
from collections.abc import Callable

from peewee import InterfaceError, OperationalError

from ..store.database import connect, connected
from ..store.models import Job
from . import issue, jobs, sheets
from .acting import Actor

IDLE = 0.3  # seconds between looks at an empty queue
CLEARS = 1000  # looks between clearing away what is old


def _page_content(job: Job, _progress: jobs.Progress) -> jobs.Outcome:
    sheets.read_page_content(job.arguments["file"], job.arguments["page"])
    return None


def _file(
    write: Callable[[Actor, jobs.Progress], tuple[str, bytes]],
) -> Callable[[Job, jobs.Progress], jobs.Outcome]:
    return lambda job, progress: write(Actor(job.person_id, job.project_id, "viewer"), progress)


KINDS: dict[str, Callable[[Job, jobs.Progress], jobs.Outcome]] = {
    "page_content": _page_content,
    "bill_xlsx": _file(issue.bill_workbook),
    "bill_pdf": _file(issue.bill_pdf),
    "dimensions_pdf": _file(issue.dimensions_pdf),
    "sheet_pdf": lambda job, progress: issue.sheet_pdf(
        Actor(job.person_id, job.project_id, "viewer"), job.arguments["sheet"], progress
    ),
}


def main() -> None:
    """Work until told to stop; a lost database is tried again."""
    connect()
    gc.set_threshold(
        200_000, 20, 20
    )  # a large document is millions of objects, none of them garbage until it is written
    ended = threading.Event()
    for sign in (signal.SIGINT, signal.SIGTERM):
        signal.signal(sign, lambda *_: ended.set())
    idle = 0
    while not ended.is_set():
        busy = False
        try:
            with connected():
                busy = jobs.run_next(KINDS)
                idle = 0 if busy else idle + 1
                if idle % CLEARS == 1:
                    jobs.clear()
        except (OperationalError, InterfaceError):
            logging.warning("The database can't be reached; trying again.")
            ended.wait(2)
        except Exception:
            logging.exception("A job broke.")
        if not busy:
            ended.wait(IDLE)


if __name__ == "__main__":
    main()
