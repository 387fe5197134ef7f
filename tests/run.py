"""Every test, in several processes at once, each with a database of its own, a copy of the one that
``tests.ready`` makes: ``python -m tests.run [processes]``.

The modules wait in queues, the longest first, and each process takes the next when it is done with one.
``SANDSCALE_WHOLE=1`` runs the sweeps of any request and any file whole; otherwise they take every few cases.
"""

from __future__ import annotations

import io
import multiprocessing
import os
import sys
import time
import unittest
from dataclasses import dataclass
from pathlib import Path
from queue import Empty

from sandscale.settings import DATABASE
from tests import ready

ROOT = Path(__file__).parents[1]
# What takes long, in the order of how long; the rest follows as it comes.
FIRST = (
    "browser.test_views", "browser.test_ground", "browser.test_whole_job", "browser.test_fast_hands", "browser.test_rates_bill_and_checks",
    "services.test_any_order", "browser.test_desk_turns", "core.test_any_ground", "browser.test_sheet_tools",
    "browser.test_measuring_desk", "browser.test_make_up_form", "browser.test_bars", "browser.test_prices_desk", "browser.test_keys",
    "web.test_killed", "web.test_several", "web.test_any_request", "services.test_any_file", "browser.test_walks",
    "browser.test_trenches", "services.test_ground", "services.test_any_levels",
    "services.test_issue", "store.test_cluster", "core.test_missing_measures",
)  # fmt: skip


def modules() -> list[str]:
    """Every module of tests, the longest first."""
    found = sorted(
        ".".join(path.relative_to(ROOT).with_suffix("").parts) for path in ROOT.glob("tests/**/test_*.py")
    )
    first = [f"tests.{name}" for name in FIRST]
    return [*first, *(name for name in found if name not in first)]


def work(number: int, waiting: multiprocessing.Queue[str], done: multiprocessing.Queue[object]) -> None:
    """Run modules from a queue until it is empty, on a database of this process."""
    os.environ[DATABASE] = ready.make(f"tests_{number}", ready.NAME)
    while (module := waiting.get()) != "":
        begun, said = time.monotonic(), io.StringIO()
        suite = unittest.defaultTestLoader.loadTestsFromName(module)
        result = unittest.TextTestRunner(said, verbosity=0, warnings="ignore").run(suite)
        wrong = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        done.put((module, result.testsRun, wrong, time.monotonic() - begun, said.getvalue() if wrong else ""))


@dataclass
class Lane:
    """One process at a time: first for the tests in a browser, whose server and event loop it keeps, then for the
    others."""

    number: int
    queues: list[multiprocessing.Queue[str]]
    done: multiprocessing.Queue[object]
    process: multiprocessing.process.BaseProcess | None = None

    def busy(self) -> bool:
        """Whether it is at work; begins with the next queue where it isn't and there is one."""
        if self.process is not None and self.process.is_alive():
            return True
        if not self.queues:
            return False
        arguments = (self.number, self.queues.pop(0), self.done)
        self.process = multiprocessing.get_context("spawn").Process(target=work, args=arguments)
        self.process.start()
        return True


def main() -> int:
    """Run all tests; gives how many failed."""
    processes = int(sys.argv[1]) if len(sys.argv) > 1 else 2
    context = multiprocessing.get_context("spawn")
    done: multiprocessing.Queue[object] = context.Queue()
    todo = modules()
    browsing: multiprocessing.Queue[str] = context.Queue()
    others: multiprocessing.Queue[str] = context.Queue()
    for module in todo:
        (browsing if ".browser." in module else others).put(module)
    for queue in (browsing, others):
        for _ in range(processes):
            queue.put("")
    lanes = [Lane(n, [browsing, others], done) for n in range(processes)]
    passed = failed = 0
    left = set(todo)
    while sum(lane.busy() for lane in lanes) or not done.empty():
        try:
            module, ran, wrong, seconds, said = done.get(timeout=1)  # type: ignore[misc]
        except Empty:
            continue
        left.discard(module)
        passed, failed = passed + ran - wrong, failed + wrong
        print(f"{module:50} {ran:4} tests {seconds:6.1f} s{'  FAILED' if wrong else ''}", flush=True)
        print(said, end="", flush=True)
    for module in sorted(left):
        print(f"{module}: its process died.")
    failed += len(left)
    print(f"{passed} passed, {failed} failed")
    return failed


if __name__ == "__main__":
    sys.exit(1 if main() else 0)
