#!/usr/bin/env python3
"""Keep the application running on this machine until told to stop: its database, web server, worker
and stand-ins.

    keep.py FOLDER PORT

What dies is started again. All of it ends with this process, however that ends, and may be started again at
once.
"""

from __future__ import annotations

import ctypes
import fcntl
import os
import signal
import subprocess
import sys
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from cluster import Cluster, Failed, is_free

PR_SET_PDEATHSIG = 1
LOOKS = 0.2  # seconds between looks
LONGEST_PAUSE = 5.0
STEADY = 10.0  # seconds after which a process that dies is no longer one that can't start
STARTS = 20  # tries of the database, and of the demonstration, before giving up
_libc = ctypes.CDLL(None)


def main() -> None:
    if len(sys.argv) != 3:
        sys.exit(__doc__)
    Keeper(Path(sys.argv[1]).absolute(), sys.argv[2]).keep()


@dataclass
class Kept:
    """A process that is started again when it has died, after a pause that grows while it dies young."""

    words: list[str]
    process: subprocess.Popen[bytes] | None = None
    since: float = 0.0
    pause: float = 0.0
    again_at: float = field(default=0.0)

    def look(self, environment: dict[str, str]) -> None:
        """Start it unless it runs or has to pause."""
        now = time.monotonic()
        if self.process is not None and self.process.poll() is not None:
            self.pause = LOOKS if now - self.since > STEADY else min(LONGEST_PAUSE, 2 * self.pause + LOOKS)
            self.process, self.again_at = None, now + self.pause
        if self.process is None and now >= self.again_at:
            self.since = now
            self.process = subprocess.Popen(
                [sys.executable, "-m", *self.words], env=environment, stdin=subprocess.DEVNULL,
                preexec_fn=_end_with_parent, start_new_session=True,
            )  # fmt: skip

    def stop(self) -> None:
        """End it, in peace if it can."""
        if self.process is None:
            return
        self.process.terminate()
        try:
            self.process.wait(timeout=15)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()
        self.process = None


class Keeper:
    def __init__(self, folder: Path, port: str) -> None:
        self.cluster = Cluster(folder)
        self.folder, self.port = folder, _checked_port(port)
        self.database: subprocess.Popen[bytes] | None = None
        self.environment: dict[str, str] = {}
        mailbox = [
            "sandscale.standins.mailbox",
            str(folder / "letters"),
            str(self.port + 1),
            str(self.port + 2),
        ]
        feed = ["sandscale.standins.survey_feed", str(self.port + 3)]
        desk = ["sandscale.standins.price_desk", str(folder / "letters"), str(self.port + 4)]
        served = (["sandscale", "serve"], ["sandscale", "work"], mailbox, feed, desk)
        self.kept = [Kept(words) for words in served]

    def keep(self) -> None:
        """Keep all of it until told to stop."""
        self.cluster.make_ready()
        lock = open(self.folder / "lock", "a")  # noqa: SIM115  held as long as this process lives
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            sys.exit(f"Sand Scale runs already on {self.folder}: stop that, or set SANDSCALE_DATA.")
        for sign in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(sign, _leave)
        try:
            self._database()
            self._demonstration()
            print(f"\nSand Scale is at http://127.0.0.1:{self.port}   (Ctrl+C stops it)", flush=True)
            print(f"Its simulated mailbox is at http://127.0.0.1:{self.port + 2}", flush=True)
            print(f"Its simulated survey feed is at http://127.0.0.1:{self.port + 3}", flush=True)
            print(f"Its simulated price desk is at http://127.0.0.1:{self.port + 4}", flush=True)
            while True:
                self._database()
                for each in self.kept:
                    each.look(self.environment)
                time.sleep(LOOKS)
        finally:
            for sign in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
                signal.signal(sign, signal.SIG_IGN)
            for each in self.kept:
                each.stop()
            self.cluster.stop()
            print("Stopped.", flush=True)

    def _database(self) -> None:
        """See that the database runs; where it had to move, those that knew its old place are started
        again."""
        for _ in range(STARTS):
            if self.database is not None and self.database.poll() is None:
                return
            try:
                self.database = self.cluster.begin()
                self._reached_at(self.cluster.address(60, self.database))
                return
            except (Failed, OSError) as error:
                print(f"The database doesn't start yet: {error}", file=sys.stderr)
                time.sleep(LOOKS)
        sys.exit(f"The database doesn't start: see {self.folder / 'server.log'}.")

    def _reached_at(self, address: str) -> None:
        known = self.environment.get("SANDSCALE_DATABASE")
        web = f"127.0.0.1:{self.port}"
        # The demonstration's sign-in is published: it counts here, on loopback, and nowhere else.
        self.environment = {
            **os.environ, "SANDSCALE_DATABASE": address, "SANDSCALE_DEMONSTRATION": "1",
            "SANDSCALE_ADDRESS": web, "SANDSCALE_PUBLIC_ADDRESS": f"http://{web}",
            "SANDSCALE_MAIL": f"smtp://127.0.0.1:{self.port + 1}",
            "SANDSCALE_SURVEY_FEED": f"http://127.0.0.1:{self.port + 3}",
            "SANDSCALE_PRICE_DESK": f"http://127.0.0.1:{self.port + 4}",
        }  # fmt: skip
        if known not in (None, address):
            for each in self.kept:
                each.stop()

    def _demonstration(self) -> None:
        """The tables brought up to date, and the demonstration in them."""
        for _ in range(STARTS):
            load = [sys.executable, "-m", "sandscale.demo.project", str(self.folder.with_name("files"))]
            done = subprocess.run(load, env=self.environment, check=False, preexec_fn=_end_with_parent)
            if done.returncode == 0:
                return
            if self.database is not None and self.database.poll() is None:
                sys.exit("The demonstration could not be loaded; the lines above say why.")
            self._database()  # it went away meanwhile; what was begun was taken back


def _checked_port(text: str) -> int:
    try:
        port = int(text)
    except ValueError:
        port = 0
    if not 1024 <= port <= 65_531:
        sys.exit(f"SANDSCALE_PORT is “{text}”, which is no port to use: set a number from 1024 to 65531.")
    for each in range(port, port + 5):
        ends = time.monotonic() + 5  # what ran here a moment ago may still be going
        while not is_free(each):
            if time.monotonic() > ends:
                sys.exit(
                    f"Port {each} is taken by another program: stop it, or set SANDSCALE_PORT to another."
                )
            time.sleep(0.1)
    return port


def _end_with_parent() -> None:
    _libc.prctl(PR_SET_PDEATHSIG, signal.SIGKILL)


def _leave(*_: Any) -> None:
    raise SystemExit(0)


if __name__ == "__main__":
    main()
