"""The documentation's page of make-ups says what they are today."""

from __future__ import annotations

import unittest
from pathlib import Path

from sandscale.core.makeups.makeup import built_in
from sandscale.reports.makeups_page import page, pictures

DOCS = Path(__file__).parents[2] / "docs"


class MakeUpsPage(unittest.TestCase):
    def test_it_is_up_to_date_and_every_make_up_says_what_it_leaves_to_others(self) -> None:
        self.assertEqual((DOCS / "make-ups.md").read_text("utf-8"), page())
        kept = {file.stem: file.read_text("utf-8") for file in (DOCS / "make-ups").iterdir()}
        self.assertEqual(kept, dict(pictures()))
        for key, makeup in built_in().items():
            self.assertTrue(makeup.document.leaves, key)
            self.assertIn("Left to others", makeup.about)
