"""The application served as whoever runs it serves it: a web server, and a worker beside it."""

from __future__ import annotations

import atexit
import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from pathlib import Path
from threading import Thread

from sandscale.settings import ADDRESS, MAIL, PRICE_DESK, SURVEY_FEED, WEB_PROCESSES
from sandscale.standins import price_desk, survey_feed
from sandscale.standins.mailbox import Mailbox


def free_port() -> int:
    """A port that nobody listens at."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Served:
    """A web server of two processes, and a worker; further settings by name."""

    def __init__(self, *, working: bool = True, **settings: str) -> None:
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        said = {ADDRESS: f"127.0.0.1:{self.port}", WEB_PROCESSES: "2"}
        self.environment = {**os.environ, **said, **settings}
        self.server = self.begin("serve")
        self.worker = self.begin("work") if working else None

    def begin(self, command: str) -> subprocess.Popen[bytes]:
        """One of the application's processes."""
        quiet = subprocess.DEVNULL if self.environment.get("QUIET") else None
        return subprocess.Popen(
            [sys.executable, "-m", "sandscale", command], env=self.environment, stderr=quiet
        )

    def wait(self) -> Served:
        """Until it answers."""
        for _ in range(200):
            try:
                urllib.request.urlopen(f"{self.address}/api/session", timeout=5).close()
                return self
            except OSError:
                time.sleep(0.2)
        raise AssertionError("the application doesn't answer")

    def web_processes(self) -> list[int]:
        """The processes that answer, not the one that watches over them."""
        children = Path(f"/proc/{self.server.pid}/task/{self.server.pid}/children").read_text()
        return [int(child) for child in children.split()]

    def stop(self) -> None:
        """End all of it."""
        for process in (self.server, self.worker):
            if process is not None and process.poll() is None:
                process.send_signal(signal.SIGTERM)
        for process in (self.server, self.worker):
            if process is not None:
                process.wait(timeout=30)


@contextmanager
def survey_feed_offered() -> Iterator[str]:
    """The simulated survey feed at an address of its own."""
    server = survey_feed.serve(0)
    Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}"
    finally:
        server.shutdown()
        server.server_close()


@contextmanager
def price_desk_offered(letters: Path) -> Iterator[str]:
    """The simulated price desk at an address of its own, answering at once what stands in a folder of
    letters."""
    server = price_desk.serve(0, letters, every=0)
    Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}"
    finally:
        server.shutdown()
        server.server_close()


@lru_cache(maxsize=1)
def served() -> Served:
    """One for all tests of this process, on the tests' database, with a survey feed, a mailbox, and a price
    desk that answers the letters in it."""
    letters, port = Path(tempfile.mkdtemp()), free_port()
    box = Mailbox(letters / "letters", port)
    box.start()
    feed, desk = survey_feed_offered(), price_desk_offered(letters / "letters")
    known = {SURVEY_FEED: feed.__enter__(), PRICE_DESK: desk.__enter__(), MAIL: f"smtp://127.0.0.1:{port}"}
    one = Served(**known).wait()
    atexit.register(shutil.rmtree, letters, ignore_errors=True)
    atexit.register(box.stop)
    for offered in (feed, desk):
        atexit.register(offered.__exit__, None, None, None)
    atexit.register(one.stop)
    return one
