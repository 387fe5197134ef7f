"""The application under the axe: parts of it are killed at random moments while someone types; what was
acknowledged must be there, all of it must come back by itself or be there again at once, and nothing be left
behind.

    python -m bench.kills [ROUNDS] [SEED]        200 kills unless told otherwise
"""

from __future__ import annotations

import contextlib
import http.cookiejar
import json
import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, TypeVar

from sandscale.demo.project import PASSWORD, PEOPLE

R = TypeVar("R")
KEEP = Path(__file__).parents[1] / "bin" / "keep.py"
PATIENCE = 90.0  # seconds until it must be back, on a busy machine


class Application:
    """The whole of it, kept by ``bin/keep.py`` on a folder of its own."""

    def __init__(self, port: int) -> None:
        self.port = port
        self.folder = Path(tempfile.mkdtemp(prefix="sandscale-killed-", dir="/tmp"))
        self.folder.chmod(0o755)
        self.address = f"http://127.0.0.1:{port}"
        self.log = open(self.folder / "log", "ab")  # noqa: SIM115  for the processes' whole life
        self.start()

    def start(self) -> None:
        """Start it, or start it again."""
        command = [sys.executable, str(KEEP), str(self.folder / "db"), str(self.port)]
        self.keeper = subprocess.Popen(command, stdout=self.log, stderr=self.log)

    def pids(self, *words: str) -> list[int]:
        """Its processes whose command holds all these words, the oldest first."""
        found = []
        for each in Path("/proc").glob("[0-9]*"):
            with contextlib.suppress(OSError):
                command = (each / "cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
                environment = (each / "environ").read_bytes()
                mine = str(self.folder) in command or f"127.0.0.1:{self.port}".encode() in environment
                if mine and all(word in command for word in words):
                    found.append(int(each.name))
        return sorted(found)

    def postmaster(self) -> int | None:
        """The database server's process."""
        with contextlib.suppress(OSError, IndexError, ValueError):
            return int((self.folder / "db" / "data" / "postmaster.pid").read_text().split()[0])
        return None

    def stop(self) -> None:
        """Stop it, and clear its folder away."""
        self.keeper.terminate()
        self.keeper.wait(timeout=60)
        left = self.pids()
        self.log.close()
        shutil.rmtree(self.folder, ignore_errors=True)
        if left:
            raise AssertionError(f"processes left behind: {left}")


class Typist:
    """Someone who types all the time, and remembers what was said to be saved."""

    def __init__(self, application: Application) -> None:
        self.application = application
        jar = urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar())
        self.opener = urllib.request.build_opener(jar)
        self.token, self.saved, self.done = "", list[str](), threading.Event()
        login = {"email": PEOPLE[0][1], "password": PASSWORD}
        self.token = until(lambda: self.send("POST", "/api/session", login))["csrf_token"]
        project = self.send("POST", "/api/projects", {"name": "Killed", "price_date": "2026-11-02"})["id"]
        self.path = f"/api/projects/{project}"
        place = self.send("POST", f"{self.path}/locations", {"name": "Here"})["id"]
        fields = {"location": place, "mark": "K1", "makeup": "plain-length"}
        self.element = self.send("POST", f"{self.path}/elements", fields)["id"]
        self.thread = threading.Thread(target=self.type)
        self.thread.start()

    def send(self, method: str, path: str, body: Any = None) -> Any:
        """An answer of the application's."""
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json", "X-Sandscale-Token": self.token}
        request = urllib.request.Request(f"{self.application.address}{path}", data, headers, method=method)
        with self.opener.open(request, timeout=20) as answer:
            return json.load(answer)

    def type(self) -> None:
        """Line after line, whatever happens."""
        number = 0
        while not self.done.is_set():
            number += 1
            try:
                line = {"length": "1", "note": f"edit {number}"}
                self.send("POST", f"{self.path}/elements/{self.element}/lines", line)
                self.saved.append(line["note"])
            except OSError:
                time.sleep(0.05)

    def types_on(self, lines: int = 3) -> None:
        """Wait until so many more lines are saved."""
        reached = len(self.saved) + lines
        until(lambda: None if len(self.saved) >= reached else not_yet())

    def stop(self) -> dict[str, Any]:
        """Stop typing; gives the element as it is then."""
        self.done.set()
        self.thread.join()
        view: dict[str, Any] = until(lambda: self.send("GET", f"{self.path}/elements/{self.element}"))
        return view


def until(task: Callable[[], R], patience: float = PATIENCE) -> R:
    """What a task gives once the application is back; it must come back by itself."""
    ends = time.monotonic() + patience
    while True:
        try:
            return task()
        except (OSError, urllib.error.HTTPError):
            if time.monotonic() > ends:
                raise
            time.sleep(0.1)


def not_yet() -> None:
    """What is waited for is not there yet."""
    raise OSError("not yet")


class Axe:
    """Kills parts of the application, chosen by dice."""

    def __init__(self, application: Application, dice: random.Random) -> None:
        self.application, self.dice = application, dice
        self.ways: dict[str, Callable[[], None]] = {
            "web master": lambda: self.kill("sandscale serve", oldest=True),
            "web process": lambda: self.kill("sandscale serve", oldest=False),
            "worker": lambda: self.kill("sandscale work", oldest=True),
            "reader of drawings": lambda: self.kill("formats.reader", oldest=False),
            "mailbox": lambda: self.kill("standins.mailbox", oldest=True),
            "database": self.database,
            "database while it starts": self.starting,
            "database, and its port taken": self.taken,
            "all of it": self.keeper,
        }

    def strike(self) -> str:
        """Kill one; gives which."""
        way = self.dice.choice(list(self.ways))
        self.ways[way]()
        return way

    def kill(self, words: str, *, oldest: bool) -> None:
        if found := self.application.pids(words):
            with contextlib.suppress(ProcessLookupError):
                os.kill(found[0] if oldest else self.dice.choice(found[1:] or found), signal.SIGKILL)

    def database(self) -> None:
        if pid := self.application.postmaster():
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, signal.SIGKILL)

    def starting(self) -> None:
        for _ in range(3):
            self.database()
            time.sleep(self.dice.uniform(0.1, 0.8))

    def taken(self) -> None:
        port = int((self.application.folder / "db" / "port").read_text())
        self.database()
        with socket.socket() as other:
            other.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            with contextlib.suppress(OSError):
                other.bind(("127.0.0.1", port))
                other.listen()
            time.sleep(2)

    def keeper(self) -> None:
        self.application.keeper.kill()
        self.application.keeper.wait()
        time.sleep(self.dice.choice((0, 0, 0.5)))
        self.application.start()
        time.sleep(self.dice.uniform(0, 2))  # the next strike may meet it half started


def lost(typist: Typist) -> set[str]:
    """What was said to be saved and isn't there; what is there must be whole."""
    view = typist.stop()
    net = view["quantities"][0]["net"]
    if abs(net - len(view["lines"])) > 1e-9:
        raise AssertionError(f"{len(view['lines'])} lines come to {net}")
    return set(typist.saved) - {line["note"] for line in view["lines"]}


def rounds(application: Application, number: int, seed: int) -> Iterator[tuple[str, float]]:
    """Strike so many times while someone types; gives each, and the seconds until typing went on."""
    typist = Typist(application)
    axe = Axe(application, random.Random(seed))
    try:
        for _ in range(number):
            typist.types_on()
            way, begun = axe.strike(), time.monotonic()
            typist.types_on()
            yield way, time.monotonic() - begun
        if gone := lost(typist):
            raise AssertionError(f"{len(gone)} of {len(typist.saved)} edits are lost: {sorted(gone)[:5]}")
        print(f"{len(typist.saved)} edits were acknowledged, and all are there.")
    finally:
        typist.done.set()
        typist.thread.join()


def free_ports() -> int:
    """The first of three ports in a row that nobody listens at, below those that connections going out are
    given."""
    while True:
        port = random.SystemRandom().randrange(20_000, 32_000)
        with contextlib.suppress(OSError), contextlib.ExitStack() as stack:
            for at in range(3):
                stack.enter_context(socket.socket()).bind(("127.0.0.1", port + at))
            return port


def main() -> None:
    number, seed = (int(word) for word in (*sys.argv[1:], *("200", "1")[len(sys.argv) - 1 :]))
    application = Application(free_ports())
    times: dict[str, list[float]] = {}
    try:
        for at, (way, seconds) in enumerate(rounds(application, number, seed), start=1):
            times.setdefault(way, []).append(seconds)
            if at % 20 == 0:
                print(f"{at} kills", flush=True)
    finally:
        application.stop()
    counted = Counter({way: len(each) for way, each in times.items()})
    for way, count in counted.most_common():
        each = sorted(times[way])
        after = f"typing on after {each[count // 2]:5.1f} s, {each[-1]:5.1f} at most"
        print(f"{way:30} {count:4} times, {after}")


if __name__ == "__main__":
    main()
