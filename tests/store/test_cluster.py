"""The private database cluster: started, killed, started again, with every acknowledged edit still there."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
import tempfile
import threading
import unittest
from pathlib import Path

import psycopg

SCRIPT = Path(__file__).parents[2] / "bin" / "cluster.py"


class Cluster(unittest.TestCase):
    def setUp(self) -> None:
        # The server's own user must be able to pass every folder above its data.
        self.folder = Path(tempfile.mkdtemp(prefix="sandscale-cluster-", dir="/tmp"))
        self.folder.chmod(0o755)
        self.addCleanup(subprocess.run, ["rm", "-rf", str(self.folder)], check=False)
        self.addCleanup(self.command, "stop")

    def command(self, verb: str) -> str:
        done = subprocess.run(
            [sys.executable, str(SCRIPT), verb, str(self.folder / "db")],
            capture_output=True,
            text=True,
            timeout=120,
            check=False,
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout.strip()

    def kill(self) -> None:
        pid = int((self.folder / "db" / "data" / "postmaster.pid").read_text().split()[0])
        os.kill(pid, signal.SIGKILL)

    def test_a_second_start_finds_the_first(self) -> None:
        first = self.command("start")
        self.assertEqual(self.command("start"), first)

    def test_the_server_is_its_own_user_on_loopback_behind_a_password(self) -> None:
        address = self.command("start")
        with psycopg.connect(address) as connection:
            told = "SELECT rolsuper, rolcreaterole FROM pg_roles WHERE rolname = current_user"
            self.assertEqual(connection.execute(told).fetchone(), (False, False))
            self.assertEqual(connection.execute("SHOW listen_addresses").fetchone(), ("127.0.0.1",))
        rules = (self.folder / "db" / "data" / "pg_hba.conf").read_text().splitlines()
        self.assertEqual({rule.split()[-1] for rule in rules if rule and rule[0] != "#"}, {"scram-sha-256"})
        pid = (self.folder / "db" / "data" / "postmaster.pid").read_text().split()[0]
        self.assertNotEqual(os.stat(f"/proc/{pid}").st_uid, 0)
        with self.assertRaises(psycopg.OperationalError):
            psycopg.connect(address.replace(":" + address.split(":")[2].split("@")[0], ":wrong"))

    def test_what_was_acknowledged_outlives_the_server_being_killed_many_times(self) -> None:
        kept = 0
        for round_ in range(4):
            with psycopg.connect(self.command("start"), autocommit=True) as connection:
                connection.execute("CREATE TABLE IF NOT EXISTS edit (number integer)")
                self.assertEqual(connection.execute("SELECT count(*) FROM edit").fetchone(), (kept,))
                for number in range(20):
                    connection.execute("INSERT INTO edit VALUES (%s)", (round_ * 20 + number,))
                    kept += 1
                self.kill()
                with self.assertRaises(psycopg.OperationalError):
                    for _ in range(200):
                        connection.execute("SELECT pg_sleep(0.05)")

    def test_a_database_that_belonged_to_the_superuser_is_handed_over_with_what_is_in_it(self) -> None:
        address = self.command("start")
        keeper = address.replace("application", "sandscale").replace(
            address.split(":")[2].split("@")[0], (self.folder / "db" / "password").read_text()
        )
        with psycopg.connect(keeper, autocommit=True) as connection:
            for statement in (
                "ALTER DATABASE sandscale OWNER TO sandscale", "DROP SCHEMA public CASCADE", "CREATE SCHEMA public",
                "CREATE TYPE mood AS ENUM ('wet', 'dry')", "CREATE TABLE edit (id serial, mood mood)",
                "INSERT INTO edit (mood) VALUES ('wet')",
                "CREATE FUNCTION twice(integer) RETURNS integer LANGUAGE sql AS 'SELECT 2 * $1'",
            ):  # fmt: skip
                connection.execute(statement)
        with psycopg.connect(self.command("start"), autocommit=True) as connection:
            self.assertEqual(connection.execute("SELECT mood::text FROM edit").fetchone(), ("wet",))
            for statement in (
                "ALTER TABLE edit ADD more text", "ALTER TYPE mood ADD VALUE 'damp'", "DROP FUNCTION twice(integer)",
                "INSERT INTO edit (mood) VALUES ('dry')", "CREATE TABLE other (id integer)",
            ):  # fmt: skip
                connection.execute(statement)

    def test_a_making_that_was_broken_off_is_begun_anew(self) -> None:
        (self.folder / "db" / "data.new").mkdir(parents=True)
        (self.folder / "db" / "data.new" / "PG_VERSION").write_text("15")
        with psycopg.connect(self.command("start")) as connection:
            self.assertEqual(connection.execute("SELECT 1").fetchone(), (1,))
        self.assertFalse((self.folder / "db" / "data.new").exists())

    def test_no_password_is_in_a_processs_arguments(self) -> None:
        watching, seen = threading.Event(), set[str]()

        def watch() -> None:
            while not watching.is_set():
                for each in Path("/proc").glob("[0-9]*/cmdline"):
                    with contextlib.suppress(OSError):
                        seen.add(each.read_text())

        thread = threading.Thread(target=watch)
        thread.start()
        address = self.command("start")
        watching.set()
        thread.join()
        self.assertTrue(any("psql" in command for command in seen))
        secrets = {address.split(":")[2].split("@")[0], (self.folder / "db" / "password").read_text()}
        self.assertFalse([command for command in seen if any(secret in command for secret in secrets)])

    def test_a_record_left_by_another_process_does_not_stop_a_start(self) -> None:
        self.command("start")
        self.command("stop")
        record = self.folder / "db" / "data" / "postmaster.pid"
        record.write_text(f"{os.getpid()}\n{self.folder}/db/data\n0\n5432\n/tmp\n127.0.0.1\n0\nready\n")
        with psycopg.connect(self.command("start")) as connection:
            self.assertEqual(connection.execute("SELECT 1").fetchone(), (1,))


if __name__ == "__main__":
    unittest.main()
