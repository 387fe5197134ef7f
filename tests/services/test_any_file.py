"""Project files with something wrong in them: refused with a sentence and without a trace, or taken in whole."""

from __future__ import annotations

import copy
import json
import os
import random
from typing import Any

from sandscale.core.refusals import Refusal
from sandscale.services.keeping.acting import Actor
from sandscale.store.models import Membership
from tests import scene
from tests.services.test_any_order import Walk, worked_out

WRONG: tuple[Any, ...] = (
    None, True, 0, -1, 1, 2, 7, 10**30, 2**31, 1.5e308, [], {}, [[]], [[1, 2]], {"x": 1}, [None], "", " ", "\x00", "x" * 300, "9" * 400, "1e400", "NaN",
    "Infinity", "-1", "1/0", "(" * 200, "=1+1", "2026-02-30", "0001-01-01", "👷", "after:Nobody", "percent", "measured", "area", "\ud800",
)  # fmt: skip


class AnyFile(scene.DatabaseCase):
    TRIALS = 200 if os.environ.get("SANDSCALE_WHOLE") else 40

    def spoil(self, document: dict[str, Any], dice: random.Random) -> str:
        """Spoil one place; gives which."""
        table = dice.choice([name for name, rows in document["tables"].items() if rows])
        rows = document["tables"][table]
        row = dice.choice(rows)
        column = dice.choice(list(row))
        what = dice.randrange(8)
        if what == 0:
            rows.remove(row)
            return f"a row of {table} taken out"
        if what == 1:
            rows.append(copy.deepcopy(row))
            return f"a row of {table} doubled"
        if what == 2:
            dice.shuffle(rows)
            return f"{table} shuffled"
        value = row[column]
        if isinstance(value, dict) and value and what < 6:
            inner = dice.choice(list(value))
            value[inner] = dice.choice(WRONG)
            return f"{inner} in {column} of {table}: {value[inner]!r:.60}"
        row[column] = dice.choice(WRONG)
        return f"{column} of {table}: {row[column]!r:.60}"

    def test_a_spoilt_file_is_refused_whole_or_taken_in_whole(self) -> None:
        dice = random.Random(11)
        walk = Walk(11)
        for _ in range(60):
            walk.step()
        good = json.loads(scene.file_of(walk.actor))
        person = scene.person()
        refused = taken = 0
        for number in range(self.TRIALS):
            document = copy.deepcopy(good)
            said = self.spoil(document, dice)
            before = Membership.select().where(Membership.person == person).count()
            with self.subTest(number=number, spoilt=said):
                try:
                    made = scene.taken_in(person, json.dumps(document).encode("utf-8"))
                except Refusal as refusal:
                    refused += 1
                    self.assertTrue(refusal.sentence.strip())
                    self.assertEqual(Membership.select().where(Membership.person == person).count(), before)
                    continue
                taken += 1
                if taken % 5 == 0:  # what was taken in goes out and comes in as the same
                    again = scene.taken_in(person, scene.file_of(Actor(person, made.id, "owner")))
                    self.assertEqual(worked_out(made.id), worked_out(again.id))
        self.assertGreater(refused, self.TRIALS / 4)
        self.assertGreater(taken, self.TRIALS / 20)

    def test_bytes_that_are_no_project_are_refused(self) -> None:
        person, dice = scene.person(), random.Random(3)
        good = scene.file_of(scene.project())
        for content in (
            b"", b"\x00", b"[]", b"null", b"{}", b'{"format": 1}', b"[" * 100_000, b'{"a":' * 50_000, b"\xff\xfe{}", good[: len(good) // 2], good + b"x", b'"' + good,
            *(bytes(dice.randrange(256) for _ in range(200)) for _ in range(20)),
        ):  # fmt: skip
            with self.assertRaises(Refusal):
                scene.taken_in(person, content)
