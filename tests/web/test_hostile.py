"""Hostile requests and files, as many of ``bench/hostile.py``'s as the tests have time for; the bench runs ten thousand."""

from __future__ import annotations

import os
import unittest

from bench import hostile

CASES = 3000 if os.environ.get("SANDSCALE_WHOLE") else 400


class Hostile(unittest.TestCase):
    def test_each_is_answered_in_words_and_the_project_stays_whole(self) -> None:
        sweep = hostile.Sweep()
        sweep.begin(seed=2)
        self.addCleanup(sweep.doCleanups)
        counted, failed = sweep.sweep(CASES)
        self.assertEqual(failed, [])
        for number, document in enumerate(
            sweep.deep
        ):  # those of a thousand within one another that dice left out
            answer = sweep.sent("POST", "/api/projects/from-file", data=hostile.json.dumps(document).encode())
            self.assertEqual(answer.status_code, 422, f"{number}: {answer.text[:200]}")
        sweep.check_whole()
        kinds = {what.split(",")[0] for what in counted}
        self.assertEqual(kinds, {kind for kind, _ in sweep.kinds})


if __name__ == "__main__":
    unittest.main()
