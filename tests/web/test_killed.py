"""The whole application under the axe, as ``bench/kills.py`` swings it: it comes back by itself, or is there again at once,
and what was acknowledged stays."""

from __future__ import annotations

import os
import subprocess
import sys
import time
import unittest

from bench import kills

ROUNDS = int(os.environ.get("SANDSCALE_KILL_ROUNDS", "12"))


class Killed(unittest.TestCase):
    def test_killed_while_it_is_made_and_then_while_someone_types_it_loses_nothing(self) -> None:
        application = kills.Application(kills.free_ports())
        try:
            for seconds in (0.4, 1.5, 3):  # while the cluster, the tables or the demonstration are made
                time.sleep(seconds)
                application.keeper.kill()
                application.keeper.wait()
                application.start()
            struck = [way for way, _ in kills.rounds(application, ROUNDS, seed=4)]
            self.assertEqual(len(struck), ROUNDS)
            # Of two on one folder the second says so and lets the first be; on its port too.
            for folder, says in (("db", "runs already"), ("other", "is taken by another program")):
                command = [sys.executable, str(kills.KEEP), str(application.folder / folder)]
                second = subprocess.run(
                    [*command, str(application.port if folder == "other" else kills.free_ports())],
                    capture_output=True, text=True, timeout=120, check=False,
                )  # fmt: skip
                self.assertEqual(second.returncode, 1, second.stderr)
                self.assertIn(says, second.stderr)
        finally:
            application.stop()  # and no process is left behind


if __name__ == "__main__":
    unittest.main()
