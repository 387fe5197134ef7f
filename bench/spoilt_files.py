"""Feeds the readers of levels with spoilt files, many more than the tests do.

    python -m bench.spoilt_files [seconds]

Only a refusal may come of a spoilt file; anything else is printed with the seed that makes it, and counted.
"""

from __future__ import annotations

import random
import sys
import time
import traceback

from tests.formats.test_levels import Spoilt, fed, spoilt


def feed(seconds: float) -> int:
    """Spoil and read files of each format in turn until the time is up; how many readers failed."""
    failed, slowest = 0, 0.0
    for name, (content, read) in Spoilt.files.items():
        rounds, until = 0, time.monotonic() + seconds / len(Spoilt.files)
        while time.monotonic() < until:
            begun = time.monotonic()
            try:
                fed(read, spoilt(content, random.Random(rounds)), name)
            except Exception:  # any failure at all is what is looked for
                failed += 1
                print(f"{name}, seed {rounds}: {traceback.format_exc(limit=-3)}")
            slowest = max(slowest, time.monotonic() - begun)
            rounds += 1
        print(f"{name}: {rounds} spoilt files")
    print(f"{failed} failures; the slowest file took {slowest:.2f} s")
    return failed


if __name__ == "__main__":
    sys.exit(min(feed(float(sys.argv[1]) if len(sys.argv) > 1 else 120.0), 1))
