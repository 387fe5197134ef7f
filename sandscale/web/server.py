"""Serving: gunicorn looks after the processes, waitress takes the requests within each.

Waitress reads a request whole before it gives it to a thread, so that whoever sends slowly, or never ends,
holds a connection and nothing else. A process ends with the one that looks after it.
"""

from __future__ import annotations

import copy
import ctypes
import gc
import json
import logging
import os
import re
import signal
import threading
import time
from collections import deque
from typing import Any

from flask import Flask
from gunicorn.app.base import BaseApplication
from gunicorn.workers.base import Worker
from waitress import create_server, wasyncore
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.task import ErrorTask

from ..formats.apart import readers
from ..formats.drawing_file import LARGEST_FILE
from ..formats.project_json import LARGEST_DOCUMENT
from ..settings import proxies
from ..store.database import THREADS
from .app import LARGEST_REQUEST, create_app

CONNECTIONS = 1000  # open at once, in each process
UNANSWERED, IDLE = 120, 30  # seconds a process may not answer its master, and a connection may be silent
IN_MEMORY = 128 * 1024  # bytes of a request; more go to a file
PR_SET_PDEATHSIG = 1
_UPLOADS = re.compile(
    r"/api/projects/(\d+/(drawings(/dxf|/\d+/revisions)?|surveys/file|surveys/read|bills/read-file|bills/received|forms|forms/\d+/file)|from-file)"
)
# What waits for a reader of files, for a password's hash, reckons with ground, or takes a whole project.
_WAITS = re.compile(
    r"/tiles/|/drawings(/dxf|/\d+/revisions)?$|/sheets/\d+/lay$|/surveys/|/surfaces/\d+/|/earthworks/\d+/|/networks/\d+|/trench-kinds/drawn|/routes/\d+|/typicals/drawn|/from-file$|/api/live/|/project\.json$"
    r"|^/api/session|/file$|/delete$"
)
_SAYS = {
    400: ("That is no request the server can read.", "Reload the page."),
    413: ("The file is too large to send.", "Split it, or print it to a smaller PDF."),
    431: ("The request says too much about itself.", "Delete the site's cookies and reload the page."),
}


def serve(address: str, processes: int) -> None:
    """Serve the application until told to stop."""
    _Server(
        {
            "bind": address, "workers": processes, "worker_class": Buffered, "preload_app": True,
            "timeout": UNANSWERED, "graceful_timeout": 10, "loglevel": "warning",
            "control_socket_disable": True,
            "post_fork": lambda _master, worker: _end_with(worker.ppid),
        }
    ).run()  # fmt: skip


def _end_with(master: int) -> None:
    """End this process when its master does, however that ends; what was acknowledged is in the database."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGKILL)
    if os.getppid() != master:
        os._exit(1)
    # What was loaded before stays; looking through it for garbage again and again would cost a tenth of the
    # time.
    gc.freeze()
    gc.set_threshold(20_000, 20, 50)


class _Server(BaseApplication):  # type: ignore[misc]
    def __init__(self, options: dict[str, Any]) -> None:
        self.options = options
        super().__init__()

    def load_config(self) -> None:
        for name, value in self.options.items():
            self.cfg.set(name, value)

    def load(self) -> Flask:
        return create_app()


class Buffered(Worker):  # type: ignore[misc]
    """A process that takes requests whole and hands them to its threads."""

    def __init__(self, *arguments: Any, **named: Any) -> None:
        super().__init__(*arguments, **named)
        self.turns = Turns()

    def run(self) -> None:
        """Take requests until told to stop; those begun are answered."""
        trusted = {"trusted_proxy": "*", "trusted_proxy_count": proxies()} if proxies() else {}
        if trusted:
            trusted["trusted_proxy_headers"] = {"x-forwarded-for", "x-forwarded-proto", "x-forwarded-host"}
        server = create_server(
            self._in_turn, sockets=[each.sock for each in self.sockets], threads=THREADS,
            connection_limit=CONNECTIONS, channel_timeout=IDLE, max_request_header_size=32 * 1024,
            inbuf_overflow=IN_MEMORY, recv_bytes=64 * 1024, ident=None, **trusted,
            max_request_body_size=max(LARGEST_FILE, LARGEST_DOCUMENT) + LARGEST_REQUEST,
        )  # fmt: skip
        server.channel_class = _Channel
        logging.getLogger("waitress.queue").setLevel(logging.ERROR)  # that requests wait is no news
        readers.warm()
        last = 0.0
        while self.alive and os.getppid() == self.ppid:
            if time.monotonic() - last > 1:
                last = time.monotonic()
                self.notify()
            wasyncore.loop(timeout=1, use_poll=True, map=server._map, count=1)
        server.accepting = False
        server.task_dispatcher.shutdown(cancel_pending=False, timeout=self.cfg.graceful_timeout)
        ends = time.monotonic() + 1
        while time.monotonic() < ends and any(each.total_outbufs_len for each in _channels(server)):
            wasyncore.loop(timeout=0.1, use_poll=True, map=server._map, count=1)

    def _in_turn(self, environ: Any, start_response: Any) -> Any:
        """Requests that only reckon and ask the database go one at a time: interleaved, each would wait for
        the others' turns at every question. Those that wait for something else don't hold them up."""
        if _WAITS.search(environ["PATH_INFO"]):
            return self.wsgi(environ, start_response)
        with self.turns:
            return self.wsgi(environ, start_response)


class Turns:
    """One at a time, first come first served; but the next doesn't wait for one that takes long to end."""

    SLOW = 0.25  # seconds
    MOST = 8

    def __init__(self) -> None:
        self.begun: dict[int, float] = {}
        self.line: deque[threading.Event] = deque()
        self.lock = threading.Lock()

    def __enter__(self) -> None:
        mine = threading.Event()
        with self.lock:
            self.line.append(mine)
            first = self.line[0] is mine
        if not first:
            mine.wait()
        while (wait := self._taken(mine)) > 0:
            mine.wait(wait)

    def __exit__(self, *_: object) -> None:
        with self.lock:
            del self.begun[threading.get_ident()]
            self._call()

    def _taken(self, mine: threading.Event) -> float:
        """Take the turn, as the first in the line; or the seconds until there may be one, if none ends
        before."""
        with self.lock:
            left = self.SLOW - (time.monotonic() - max(self.begun.values(), default=0.0))
            if left > 0 or len(self.begun) >= self.MOST:
                mine.clear()
                return left if left > 0 else self.SLOW
            self.line.popleft()
            self.begun[threading.get_ident()] = time.monotonic()
            self._call()
            return 0.0

    def _call(self) -> None:
        if self.line:
            self.line[0].set()


def _channels(server: Any) -> list[Any]:
    return list(server.active_channels.values())


class _Parser(HTTPRequestParser):
    """Takes large bodies where files are sent, and nowhere else."""

    def parse_header(self, header_plus: bytes) -> None:
        """Read what stands before the body."""
        super().parse_header(header_plus)
        if not _UPLOADS.fullmatch(self.path):
            self.adj = copy.copy(self.adj)
            self.adj.max_request_body_size = LARGEST_REQUEST + 1


class _Refused(ErrorTask):
    """What is no request is answered in the shape of every refusal."""

    def execute(self) -> None:
        """Say what was wrong with it."""
        error = self.request.error
        title, remedy = _SAYS.get(error.code, ("The server can't do that.", ""))
        body = {
            "type": "BadRequest", "status": error.code, "title": title, "code": "bad-request", "field": "",
            "numbers": {}, "remedy": remedy,
        }  # fmt: skip
        content = json.dumps(body).encode()
        self.status = f"{error.code} {error.reason}"
        self.response_headers.append(("Content-Type", "application/problem+json"))
        self.set_close_on_finish()
        self.content_length = len(content)
        self.write(content)


class _Channel(HTTPChannel):
    parser_class = _Parser
    error_task_class = _Refused
