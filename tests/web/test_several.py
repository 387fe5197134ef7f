"""Run by others: several web servers and workers on one database, made and looked after by the command line."""

from __future__ import annotations

import http.cookiejar
import json
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import unittest
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit, urlunsplit

import psycopg

from sandscale.services.keeping import history
from sandscale.services.projects import actions as projects
from sandscale.settings import ADDRESS, DATABASE, DEMONSTRATION
from sandscale.store.database import connect, connected, database, migrate
from sandscale.store.models import Change, Project
from tests import scene
from tests.served import Served, free_port

PASSWORD = "a-password-of-mine"


class Browser:
    """Someone at a server, by what a browser sends."""

    def __init__(self, address: str) -> None:
        self.address, self.token = address, ""
        jar = urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar())
        self.opener = urllib.request.build_opener(jar)

    def send(self, method: str, path: str, body: Any = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json", "X-Sandscale-Token": self.token}
        request = urllib.request.Request(f"{self.address}{path}", data, headers, method=method)
        with self.opener.open(request, timeout=20) as answer:
            return json.load(answer)

    def sign_in(self, email: str, password: str) -> Browser:
        self.token = self.send("POST", "/api/session", {"email": email, "password": password})["csrf_token"]
        return self


class SeveralMachines(unittest.TestCase):
    def setUp(self) -> None:
        scene.prepare()
        home, name = os.environ[DATABASE], f"several_{os.getpid()}"
        self.server(home, f"CREATE DATABASE {name}")
        self.addCleanup(self.server, home, f"DROP DATABASE {name} WITH (FORCE)")
        self.database = urlunsplit(urlsplit(home)._replace(path=f"/{name}"))

    def server(self, home: str, statement: str) -> None:
        with psycopg.connect(home, autocommit=True) as connection:
            connection.execute(statement)

    def command(self, *words: str, typed: str = "", **settings: str) -> subprocess.CompletedProcess[str]:
        environment = {**os.environ, DATABASE: self.database, **settings}
        return subprocess.run(
            [sys.executable, "-m", "sandscale", *words],
            input=typed, capture_output=True, text=True, timeout=90, check=False, env=environment,
        )  # fmt: skip

    def test_one_of_two_servers_and_the_worker_are_killed_and_nothing_is_lost(self) -> None:
        self.assertIn("0001_first_tables", self.command("migrate").stdout)
        self.assertIn("up to date", self.command("migrate").stdout)
        self.assertEqual(self.command("check").returncode, 1)  # nobody works yet
        refused = self.command("add-person", "Asta Venn", "asta@test.example", typed="short\nshort\n")
        self.assertIn("8 to 200 characters", refused.stderr)
        typed = f"{PASSWORD}\n{PASSWORD}\n"
        made = self.command("add-person", "Asta Venn", "asta@test.example", typed=typed)
        self.assertIn("Asta Venn can sign in", made.stdout)
        first = Served(QUIET="1", **{DATABASE: self.database}).wait()
        second = Served(working=False, QUIET="1", **{DATABASE: self.database}).wait()
        self.addCleanup(first.stop)
        self.addCleanup(second.stop)
        here = Browser(first.address).sign_in("asta@test.example", PASSWORD)
        there = Browser(second.address).sign_in("asta@test.example", PASSWORD)
        project = here.send("POST", "/api/projects", {"name": "Shared", "price_date": "2026-11-02"})["id"]
        path = f"/api/projects/{project}"
        self.until(lambda: self.assertEqual(self.command("check").returncode, 0))
        self.assertTrue(there.send("GET", "/api/health")["well"])
        # One machine goes down with all on it; a job waits until another works.
        for process in (first.server, first.worker):
            assert process is not None
            process.send_signal(signal.SIGKILL)
        for child in first.web_processes():
            os.kill(child, signal.SIGKILL)
        there.send("POST", f"{path}/sections", {"title": "Kept"})
        job = there.send("POST", f"{path}/jobs", {"kind": "bill_pdf"})["id"]
        self.assertEqual(there.send("GET", f"{path}/jobs/{job}")["state"], "waiting")
        again = second.begin("work")
        self.addCleanup(again.wait)
        self.addCleanup(again.terminate)
        self.until(lambda: self.assertEqual(there.send("GET", f"{path}/jobs/{job}")["state"], "done"))
        self.assertEqual([s["title"] for s in there.send("GET", f"{path}/bill")["sections"]], ["Kept"])

    def until(self, holds: Any, seconds: float = 40) -> None:
        ends = time.monotonic() + seconds
        while True:
            try:
                return holds()
            except AssertionError:
                if time.monotonic() > ends:
                    raise
                time.sleep(0.3)

    def test_the_demonstration_signs_in_on_loopback_and_where_it_is_asked_for_only(self) -> None:
        beyond = {DEMONSTRATION: "1", ADDRESS: f"0.0.0.0:{free_port()}"}
        refused = self.command("serve", **beyond)
        self.assertEqual(refused.returncode, 1)
        self.assertIn("The demonstration's sign-in is published", refused.stderr)
        self.assertIn("No database", self.command("check", **{DATABASE: ""}).stderr)

    def test_a_project_is_lost_and_comes_back_equal_from_a_backup(self) -> None:
        connect(self.database)
        self.addCleanup(connect, os.environ[DATABASE])
        migrate()
        with connected():
            actor = scene.project("Lost and found")
            scene.priced(actor)
            scene.sheet(actor)
            before, changes = scene.file_of(actor), Change.select().count()
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        file = folder / "all.backup"
        self.assertIn("MB", self.command("backup", str(file)).stdout)
        self.assertEqual(file.stat().st_mode & 0o077, 0)  # for nobody else's eyes
        self.assertIn("is there already", self.command("backup", str(file)).stderr)
        with connected():
            projects.delete_project(actor, "Lost and found")
        self.assertIn("isn't empty", self.command("restore", str(file)).stderr)
        name = f"{urlsplit(self.database).path[1:]}_again"
        self.server(os.environ[DATABASE], f"CREATE DATABASE {name}")
        self.addCleanup(self.server, os.environ[DATABASE], f"DROP DATABASE {name} WITH (FORCE)")
        again = urlunsplit(urlsplit(self.database)._replace(path=f"/{name}"))
        (folder / "other").write_bytes(b"no backup")
        for wrong, says in (("other", "pg_restore failed"), ("nowhere", "There is no file")):
            self.assertIn(says, self.command("restore", str(folder / wrong), **{DATABASE: again}).stderr)
        self.assertIn("is restored", self.command("restore", str(file), **{DATABASE: again}).stdout)
        database.obj.close_all()
        connect(again)
        with connected():
            self.assertEqual(scene.file_of(actor), before)
            self.assertEqual(Change.select().count(), changes)
            history.undo(actor)  # the change log came back with it
        email = self.email_of(again, actor.person_id)
        self.assertIn("is gone", self.command("remove-person", "--yes", email, **{DATABASE: again}).stdout)
        with connected():
            self.assertIsNone(Project.get_or_none(Project.id == actor.project_id))
        self.assertIn(
            "Nobody signs in", self.command("remove-person", "--yes", email, **{DATABASE: again}).stderr
        )
        database.obj.close_all()

    def email_of(self, address: str, person: int) -> str:
        with psycopg.connect(address) as connection:
            found = connection.execute("SELECT email FROM person WHERE id = %s", (person,)).fetchone()
        assert found is not None
        return str(found[0])

    def test_a_password_is_changed_and_other_browsers_are_signed_out(self) -> None:
        self.command("migrate")
        self.command("add-person", "Ilo", "ilo@test.example", typed=f"{PASSWORD}\n{PASSWORD}\n")
        one = Served(working=False, QUIET="1", **{DATABASE: self.database}).wait()
        self.addCleanup(one.stop)
        here, other = (Browser(one.address).sign_in("ilo@test.example", PASSWORD) for _ in range(2))
        for wrong in (
            {"now": "not-this-one", "new": "another-password"},
            {"now": PASSWORD, "new": "qwertyuiop"},
        ):
            with self.assertRaises(urllib.error.HTTPError) as refused:
                here.send("POST", "/api/session/password", wrong)
            self.assertEqual(refused.exception.code, 422)
        here.send("POST", "/api/session/password", {"now": PASSWORD, "new": "another-password"})
        self.assertEqual(here.send("GET", "/api/session")["person"]["name"], "Ilo")
        self.assertIsNone(other.send("GET", "/api/session")["person"])
        Browser(one.address).sign_in("ilo@test.example", "another-password")


if __name__ == "__main__":
    unittest.main()
