"""The application under the axe: web workers and the database killed during a stream of edits; what was acknowledged stays."""

from __future__ import annotations

import http.cookiejar
import json
import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
import unittest
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

import psycopg

from tests.served import Served

SCRIPT = Path(__file__).parents[2] / "bin" / "cluster.py"
ROUNDS = int(os.environ.get("SANDSCALE_KILL_ROUNDS", "3"))
SEED = """
from sandscale.store.database import connect, connected, migrate
connect(); migrate()
from datetime import date
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions import elements
from sandscale.services.people import accounts as people
from sandscale.services.projects import actions as projects
with connected():
    person = people.add_person("Asta", "asta@test.example", "a-long-password")
    project = projects.new_project(person.id, "Killed", "", "EUR", date(2026, 11, 2))
    actor = Actor(person.id, project.id, "owner")
    place = elements.add_location(actor, "Here").id
    element = elements.add_element(actor, place, "K1", "plain-length").id
    print(project.id, element)
"""


class Killed(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="sandscale-killed-", dir="/tmp"))
        self.folder.chmod(0o755)
        self.addCleanup(subprocess.run, ["rm", "-rf", str(self.folder)], check=False)
        self.addCleanup(self.cluster, "stop")
        self.database = self.cluster("start")
        seeded = subprocess.run(
            [sys.executable, "-c", SEED],
            capture_output=True,
            text=True,
            check=True,
            env={**os.environ, "SANDSCALE_DATABASE": self.database},
        )
        self.project, self.element = map(int, seeded.stdout.split())
        self.served = Served(SANDSCALE_DATABASE=self.database, QUIET="1")
        self.addCleanup(self.served.stop)
        self.opener = urllib.request.build_opener(
            urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar())
        )
        self.token = ""
        self.token = self.until(
            lambda: self.send(
                "POST", "/api/session", {"email": "asta@test.example", "password": "a-long-password"}
            )
        )["csrf_token"]

    def cluster(self, verb: str) -> str:
        done = subprocess.run(
            [sys.executable, str(SCRIPT), verb, str(self.folder / "db")],
            capture_output=True,
            text=True,
            timeout=120,
            check=False,
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout.strip()

    def send(self, method: str, path: str, body: Any = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json", "X-Sandscale-Token": self.token}
        request = urllib.request.Request(f"{self.served.address}{path}", data, headers, method=method)
        with self.opener.open(request, timeout=20) as answer:
            return json.load(answer)

    def until(self, task: Any, seconds: float = 60) -> Any:
        """What a task gives once the application is back; it must come back by itself."""
        ends = time.monotonic() + seconds
        while True:
            try:
                return task()
            except (OSError, urllib.error.HTTPError):
                if time.monotonic() > ends:
                    raise
                time.sleep(0.2)

    def test_every_acknowledged_edit_is_there_however_often_workers_and_database_are_killed(self) -> None:
        path = f"/api/projects/{self.project}/elements/{self.element}"
        acknowledged: list[str] = []
        done = threading.Event()

        def edit() -> None:
            number = 0
            while not done.is_set():
                number += 1
                try:
                    self.send("POST", f"{path}/lines", {"length": "1", "note": f"edit {number}"})
                    acknowledged.append(f"edit {number}")
                except OSError:
                    time.sleep(0.05)

        typist = threading.Thread(target=edit)
        typist.start()
        try:
            for round_ in range(ROUNDS):
                reached = len(acknowledged) + 5
                self.until(
                    lambda reached=reached: None if len(acknowledged) >= reached else self.fail_softly()
                )
                if round_ % 2:
                    os.kill(self.postmaster(), signal.SIGKILL)
                    self.cluster("start")
                else:
                    os.kill(self.served.web_processes()[round_ % 2], signal.SIGKILL)
            reached = len(acknowledged) + 5
            self.until(lambda: None if len(acknowledged) >= reached else self.fail_softly())
        finally:
            done.set()
            typist.join()
        view = self.until(lambda: self.send("GET", path))
        notes = {line["note"] for line in view["lines"]}
        self.assertEqual(set(acknowledged) - notes, set())
        # What was written is whole: the quantity is that of the lines, and every change has its entries.
        self.assertAlmostEqual(view["quantities"][0]["net"], len(view["lines"]))
        with psycopg.connect(self.database) as connection:
            empty = connection.execute(
                "SELECT count(*) FROM change WHERE NOT EXISTS (SELECT FROM change_entry WHERE change_id = change.id)"
            ).fetchone()
        self.assertEqual(empty, (0,))

    def fail_softly(self) -> None:
        raise OSError("not yet")

    def postmaster(self) -> int:
        return int((self.folder / "db" / "data" / "postmaster.pid").read_text().split()[0])


if __name__ == "__main__":
    unittest.main()
