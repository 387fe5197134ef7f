"""What an earlier version wrote is read: project files of every version, and databases from the first schema on."""

from __future__ import annotations

import hashlib
import json
import os
import time
import unittest
from importlib import resources
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit, urlunsplit

import psycopg
from playhouse.migrations import Runner
from playhouse.schema_diff import diff_models

from sandscale.core.refusals import Refusal
from sandscale.formats.project_versions import VERSION
from sandscale.services.bill import reading as bill_reading
from sandscale.services.keeping import checking, history, worker
from sandscale.services.keeping.acting import Actor
from sandscale.services.keeping.upgrade import upgrade
from sandscale.settings import DATABASE
from sandscale.store import models
from sandscale.store.database import connect, connected, database
from sandscale.store.models import QuantityLine
from tests import scene

KEPT = Path(__file__).parent / "kept"
MIGRATIONS = Path(str(resources.files("sandscale.store") / "migrations"))


class Files(scene.DatabaseCase):
    def comes_to(self, project: int, person: int) -> dict[str, Any]:
        view = bill_reading.bill_view(Actor(person, project, "owner"))
        quantities = QuantityLine.select().where(QuantityLine.project == project)
        return {
            "total": str(view.total),
            "quantities": sorted(
                [q.element.mark, q.output, round(q.net, 6), round(q.gross, 6)] for q in quantities
            ),
            "items": [
                [i.ref, i.description, str(i.quantity), str(i.rate), str(i.amount)]
                for s in view.sections
                for i in s.items
            ],
        }

    def test_a_file_of_every_version_comes_to_what_it_came_to_and_goes_out_as_todays(self) -> None:
        kept = sorted(KEPT.glob("version-*.json"))
        self.assertEqual({int(path.name.split("-")[1]) for path in kept}, set(range(1, VERSION + 1)))
        for path in kept:
            with self.subTest(path.name):
                document, person = json.loads(path.read_text("utf-8")), scene.person()
                made = scene.taken_in(person, json.dumps(document["file"]).encode())
                worker.work_off()  # earthworks are worked out beside the request
                self.assertEqual(self.comes_to(made.id, person), document["comes_to"])
                again = scene.file_of(Actor(person, made.id, "owner"))
                self.assertEqual(json.loads(again)["version"], VERSION)

    def test_an_older_file_that_does_not_hold_is_refused_in_words(self) -> None:
        good = json.loads((KEPT / "version-1-walk.json").read_text("utf-8"))["file"]
        for spoilt in (
            {**good, "tables": None}, {**good, "tables": {"element": [3]}}, {**good, "tables": {}},
            {**good, "project": []}, {**good, "version": VERSION + 1}, {**good, "version": True}, {"version": 1},
        ):  # fmt: skip
            with self.assertRaises(Refusal):
                scene.taken_in(scene.person(), json.dumps(spoilt).encode())


# A project in the first schema's tables: a wall measured and priced, one change of it logged, and an undo to come.
FIRST = """
INSERT INTO person (id, name, email, password_hash) VALUES (1, 'Asta', 'asta@test.example', 'x');
INSERT INTO project (id, name, client, currency, price_date, rounding, bill_total)
    VALUES (1, 'First', '', 'EUR', '2026-11-02', '{}', 324.00);
INSERT INTO membership (project_id, person_id, role) VALUES (1, 1, 'owner');
INSERT INTO location (id, project_id, name, position) VALUES (1, 1, 'Here', 0);
INSERT INTO element (id, project_id, location_id, mark, description, makeup, inputs, position)
    VALUES (1, 1, 1, 'V1', '', 'plain-volume', '{}', 0);
INSERT INTO dimension_line (id, project_id, version, element_id, position, times, length, width, height, deduct, note)
    VALUES (1, 1, 2, 1, 0, '2', '1.8', '1.8', '0.5', false, 'Grid 1');
INSERT INTO quantity_line (project_id, element_id, output, label, unit, family, net, waste, gross)
    VALUES (1, 1, 'net', 'Volume', 'm³', 'concrete', 3.24, 0, 3.24);
INSERT INTO build_up (id, project_id, name, unit, heading, output, hours) VALUES (1, 1, 'Concrete', 'm³', '', '1', '1');
INSERT INTO resource (id, project_id, name, kind, unit, basis) VALUES (1, 1, 'Ready mix', 'material', 'm³', 'latest');
INSERT INTO quote (id, project_id, resource_id, supplier, price, unit, contains, quoted_on, source)
    VALUES (1, 1, 1, 'Marl Mix', 100, 'm³', 1, '2026-10-01', '');
INSERT INTO build_up_line
    (project_id, build_up_id, position, "group", basis, resource_id, quantity, allowance, escalation)
    VALUES (1, 1, 0, 'material', 'unit', 1, '1', 0, 0);
INSERT INTO section (id, project_id, title, position) VALUES (1, 1, 'Concrete', 0);
INSERT INTO item (id, project_id, section_id, position, description, unit, typed_quantity, typed_reason, build_up_id)
    VALUES (1, 1, 1, 0, 'Concrete', 'm³', '', '', 1);
INSERT INTO item_link (id, project_id, item_id, element_id, output, factor) VALUES (1, 1, 1, 1, 'net', '1');
INSERT INTO adjustment (id, project_id, position, name, percent, base) VALUES (1, 1, 0, 'Profit', 10, 'items');
INSERT INTO change (id, project_id, person_id, at, label, kind, state, bill_before, bill_after)
    VALUES (1, 1, 1, '2026-11-02', 'V1: width', 'do', 'done', 180, 324);
INSERT INTO change_entry (change_id, table_name, row_id, before, after) VALUES
    (1, 'dimension_line', 1,
     '{"project": 1, "element": 1, "position": 0, "times": "2", "length": "1.8", "width": "1.0", "height": "0.5",
       "deduct": false, "note": "Grid 1", "figure": null}',
     '{"project": 1, "element": 1, "position": 0, "times": "2", "length": "1.8", "width": "1.8", "height": "0.5",
       "deduct": false, "note": "Grid 1", "figure": null}'),
    (1, 'section', 1, '{"project": 1, "parent": null, "title": "Beds", "position": 0}',
     '{"project": 1, "parent": null, "title": "Concrete", "position": 0}'),
    (1, 'adjustment', 1, null,
     '{"project": 1, "position": 0, "name": "Profit", "percent": "10", "base": "items"}');
SELECT setval(pg_get_serial_sequence('change', 'id'), 1);
INSERT INTO stored_file (id, project_id, name, media_type, sha256, content)
    VALUES (1, 1, 'S-1.pdf', 'application/pdf', 'x', 'x');
INSERT INTO drawing (id, project_id, number, title, position) VALUES (1, 1, 'S-1', '', 0);
INSERT INTO revision (id, project_id, drawing_id, letter, received, file_id) VALUES (1, 1, 1, 'A', '2026-11-01', 1);
INSERT INTO sheet (id, project_id, revision_id, page, title, width, height, scale_source)
    VALUES (1, 1, 1, 1, '', 1000, 800, ''), (2, 1, 1, 2, '', 1000, 800, '');
"""
_KINDS = "ALTER TABLE change DROP CONSTRAINT change_kind_check, ADD CONSTRAINT change_kind_check CHECK (kind IN ('do', 'undo', 'redo'));"
_FINDINGS = """UPDATE element SET findings = '[[1, "Looks wrong", false]]'; UPDATE resource SET findings = '["No quote"]';"""
_PUBLISHED = "ALTER TABLE person DROP published;"
# Every schema that was ever committed: up to which migration, and what takes that back to how it was at first. The last
# was never edited, and none is from then on.
SCHEMAS = {
    "0001, first": (
        "0001_first_tables",
        "DROP TABLE sign_in_failure; DROP INDEX change_entry_table_name_row_id;",
    ),
    "0001, second": ("0001_first_tables", "DROP INDEX change_entry_table_name_row_id;"),
    "0001": ("0001_first_tables", ""),
    "0002, first": ("0002_measuring_desk", "ALTER TABLE section DROP items_total, DROP set_aside;"),
    "0002": ("0002_measuring_desk", ""),
    "0003, first": ("0003_measured_things", _PUBLISHED + _KINDS + _FINDINGS),
    "0003, second": ("0003_measured_things", _KINDS + _FINDINGS),
    "0003, third": ("0003_measured_things", _FINDINGS),
    "0003": ("0003_measured_things", ""),
}
# The migrations as they were committed, by the beginning of their hash: one that is edited is found here.
COMMITTED = {
    "0001_first_tables.py": "4f771ee7c68e1da6", "0002_measuring_desk.py": "2ed6d6c1bd34d642", "0003_measured_things.py": "40438ea1c055c029", "0004_under_fire.py": "494bbfbf46b2e9d4",
    "0005_tellings.py": "fbfb3b49ac9476c6", "0006_ways.py": "43cc188071eb6320",
    "0007_shelves.py": "e631e3e5c376a849", "0008_bars.py": "03e050eff5179038",
    "0009_ground.py": "bfb5ded194aca516", "0010_trenches.py": "188754854de1bc90", "0011_routes.py": "6816492297e641e9",
    "0012_rates.py": "985762b28f47b0f6", "0013_enquiries.py": "3cd3b856d91bf1c8",
    "0014_references.py": "e656c899e4442657",
    "0015_worked_prices.py": "aa4ba0a5e33c1de5", "0016_allowances.py": "0c02372aae6af162",
    "0017_bills.py": "137c5a79d6d6745b",
    "0018_orders.py": "cb97e97992d6940c",
    "0019_issued.py": "462381b43a4b574b",
    "0020_trials.py": "0aee91573499519e",
    "0021_room_to_move.py": "41ca1072987b41bb",
    "0022_changing_drawings.py": "a56807b70d14be1a",
    "0023_takes.py": "0f673d11ffa3b70f", "0024_items_held.py": "cefcad2a5ac15bca",
    "queue_3_10.sql": "e5d7e3efc6e7fb93",
}  # fmt: skip


class Databases(unittest.TestCase):
    """A database of its own, brought up from the first schema while it holds a project."""

    def setUp(self) -> None:
        scene.prepare()
        self.home = os.environ[DATABASE]
        self.addCleanup(connect, self.home)

    def fresh(self, name: str) -> None:
        """A database of its own, connected to."""
        self.server(f"CREATE DATABASE {name}")
        self.addCleanup(self.dropped, name)
        connect(urlunsplit(urlsplit(self.home)._replace(path=f"/{name}")))

    def dropped(self, name: str) -> None:
        """Drop a database; the server's own housekeeping may be in it, and isn't ours to end."""
        for left in reversed(range(20)):
            try:
                return self.server(f"DROP DATABASE {name} WITH (FORCE)")
            except (psycopg.errors.InsufficientPrivilege, psycopg.errors.ObjectInUse):
                if not left:
                    raise
                time.sleep(0.5)

    def server(self, statement: str) -> None:
        with psycopg.connect(self.home, autocommit=True) as connection:
            connection.execute(statement)

    def test_a_database_of_every_schema_migrates_with_what_is_in_it(self) -> None:
        for number, (schema, (last, taken_back)) in enumerate(SCHEMAS.items()):
            with self.subTest(schema):
                self.fresh(f"schema_{os.getpid()}_{number}")
                with connected():
                    runner = Runner(database.obj, str(MIGRATIONS))
                    runner.up("0001_first_tables")
                    database.execute_sql(FIRST)
                    runner.up(last)
                    if taken_back:
                        database.execute_sql(taken_back)
                done = upgrade()
                self.assertEqual(len(done), len([m for m in MIGRATIONS.glob("0*.py") if m.stem > last]))
                with connected():
                    self.assertFalse(diff_models(database.obj, list(models.ALL_TABLES)))
                    self.check_what_is_in_it()
                self.assertEqual(upgrade(), [])
                database.obj.close_all()

    def check_what_is_in_it(self) -> None:
        actor = Actor(1, 1, "owner")
        view = bill_reading.bill_view(actor)
        (section,) = view.sections
        self.assertEqual((section.title, section.items[0].quantity), ("Concrete", scene.Decimal("3.24")))
        self.assertEqual(section.holds, 1)
        self.assertEqual((str(view.items_total), str(view.total)), ("324.00", "356.40"))
        self.assertEqual(view.adjustments[0].name, "Profit")
        history.undo(actor)  # what was logged then is still what stands now
        view = bill_reading.bill_view(actor)
        self.assertEqual(
            (view.sections[0].title, str(view.items_total), view.adjustments), ("Beds", "180.00", [])
        )
        history.redo(actor)
        self.assertEqual(str(bill_reading.bill_view(actor).total), "356.40")
        held = models.Project.get_by_id(1)
        self.assertEqual((held.rows_held, held.bytes_held), (16, 1))
        checking.checks(actor)
        # What was never read is asked to be, once and for all its pages.
        asked = [job.arguments for job in models.Job.select().where(models.Job.kind == "page_content")]
        self.assertEqual(asked, [{"file": 1, "page": 1, "of": 2}])
        queued = database.execute_sql("SELECT count(*) FROM procrastinate_jobs").fetchone()
        self.assertEqual(queued, (1,))

    def test_a_migration_that_was_committed_is_never_edited(self) -> None:
        found = {
            path.name: hashlib.sha256(path.read_bytes()).hexdigest()[:16]
            for path in MIGRATIONS.iterdir()
            if path.suffix in (".py", ".sql")
        }
        self.assertEqual(found, COMMITTED)


if __name__ == "__main__":
    unittest.main()
