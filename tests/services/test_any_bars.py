"""Files of bars with something wrong in them: each row is taken in or says why not, and no file is the end of it."""

from __future__ import annotations

import io
import os
import random
from typing import Any

from openpyxl import Workbook

from sandscale.core.bars.columns import COLUMNS
from sandscale.core.refusals import Refusal
from sandscale.services.bars import actions, documents, reading, taking_in
from sandscale.services.bars.views import SheetRead
from sandscale.services.keeping.acting import Actor
from sandscale.store.models import BarLine, Membership, TypedBar
from tests import scene

SIGNS = "0123456789.,;:@-+eE²³½\u0661\t\n\r \"'=()<>[]{}HGClwrpdnjiABCDR#×ü\x00"
CELLS: tuple[Any, ...] = (
    "", "²", "-1", "0", "1e9", "9" * 400, "1/0", "2*3", "H", "H0", "H16", "#4", "17", "99", "00", "51", "x" * 400, "👷", "=1+1", "(" * 300, "nan",
    "12 m", "300 mm", "350 + 2*16", None, True, 2.5, 10**30, 1.5e308,
)  # fmt: skip


class AnyBars(scene.DatabaseCase):
    TRIALS = 400 if os.environ.get("SANDSCALE_WHOLE") else 120
    demo: Actor

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        project = scene.demonstration().project_id
        cls.demo = Actor(Membership.get(Membership.project == project).person_id, project, "owner")

    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.place = scene.location(self.actor)

    def spoilt(self, text: str, dice: random.Random) -> str:
        """Some signs of a text put in, left out, put in place of others, or a part of it twice."""
        for _ in range(dice.randrange(1, 12)):
            at, until = sorted(dice.randrange(len(text) + 1) for _ in range(2))
            what = dice.randrange(4)
            if what == 0:
                text = text[:at] + dice.choice(SIGNS) * dice.choice((1, 1, 3, 5000)) + text[at:]
            elif what == 1:
                text = text[:at] + text[at + dice.choice((1, 5)) :]
            elif what == 2:
                text = text[:at] + dice.choice(SIGNS) + text[at + 1 :]
            elif until - at < 300:
                text = text[:until] + text[at:until] + text[until:]
        return text

    def taken(self, read: SheetRead) -> int:
        """Every row that says nothing can be taken in; gives how many were."""
        good = [row for row in read.rows if not row.says]
        before = TypedBar.select().where(TypedBar.project == self.actor.project_id).count()
        rows = [{"member": row.fields["member"], **taking_in.bar_of(row.fields)} for row in good]
        if rows:
            actions.add_bars(self.actor, rows, self.place)
        after = TypedBar.select().where(TypedBar.project == self.actor.project_id).count()
        self.assertEqual(after - before, len(rows))
        return len(rows)

    def test_a_spoilt_text_is_refused_or_read_row_by_row(self) -> None:
        dice = random.Random(13)
        for write, code in ((documents.bars_bvbs, "latin-1"), (documents.bars_csv_file, "utf-8")):
            name, content = write(self.demo)
            counted = [0, 0, 0]
            for number in range(self.TRIALS):
                bad = self.spoilt(content.decode(code), dice).encode(code, "replace")
                with self.subTest(name=name, number=number):
                    try:
                        read = taking_in.read(self.actor, bad, name)
                        counted[0] += len(read.rows) - read.wrong
                        counted[1] += read.wrong
                        if number % 10 == 0:
                            self.taken(read)
                    except Refusal as refusal:
                        self.assertTrue(refusal.sentence.strip())
                        counted[2] += 1
            self.assertGreater(counted[0], self.TRIALS)
            self.assertGreater(counted[1], self.TRIALS / 4)
        # All that was taken in stands in the schedule and has come to a number.
        rows = list(BarLine.select().where(BarLine.project == self.actor.project_id))
        self.assertEqual(
            len(rows), TypedBar.select().where(TypedBar.project == self.actor.project_id).count()
        )
        self.assertTrue(all(0 <= abs(row.mass) < 1e12 for row in rows))

    def test_columns_said_to_be_anything(self) -> None:
        dice = random.Random(17)
        for number in range(self.TRIALS // 2):
            book = Workbook()
            sheet = book.active
            wide = dice.randrange(1, 16)
            for _ in range(dice.randrange(1, 8)):
                sheet.append([dice.choice(CELLS) for _ in range(wide)])
            file = io.BytesIO()
            book.save(file)
            said = [dice.choice(COLUMNS) for _ in range(wide)]
            with self.subTest(number=number, said=said):
                try:
                    self.taken(taking_in.read(self.actor, file.getvalue(), "bars.xlsx", said))
                except Refusal as refusal:
                    self.assertTrue(refusal.sentence.strip())

    def test_a_member_of_a_make_up_is_found_whatever_its_letters(self) -> None:
        element = scene.element(self.actor, "PF2", "pad-footing")
        scene.line(self.actor, element, "4", "1.8", "1.8", "0.5")
        text = (
            "Member,Mark,Size,Nr in each,Code,A\npf2,01,16,4,00,900\nvc9,01,16,4,00,900\nVC9,02,16,4,00,950\n"
        )
        read = taking_in.read(self.actor, text.encode(), "bars.csv")
        self.assertEqual(read.rows[0].says, "The bars of pf2 come from its make-up.")
        self.assertEqual((self.taken(read), read.wrong), (2, 1))
        self.assertEqual({m.mark for m in reading.schedule_view(self.actor).members}, {"PF2", "vc9"})
