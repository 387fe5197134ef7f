"""Every test, in several processes at once, each with a database of its own: ``python -m tests.run [processes]``.

The modules wait in one queue, the longest first, and each process takes the next when it is done with one.
``SANDSCALE_WHOLE=1`` runs the sweeps of any request and any file whole; otherwise they take every few cases.
"""

from __future__ import annotations

import io
import multiprocessing
import os
import sys
import time
import unittest
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit

from sandscale.settings import DATABASE

ROOT = Path(__file__).parents[1]
# What takes long, in the order of how long; the rest follows as it comes.
FIRST = (
    "browser.test_views", "browser.test_whole_job", "browser.test_rates_bill_and_checks", "services.test_any_order",
    "browser.test_desk_turns", "core.test_any_ground", "browser.test_sheet_tools", "browser.test_prices_desk",
    "browser.test_keys", "web.test_any_request", "services.test_any_file", "browser.test_measuring_desk",
    "web.test_killed", "browser.test_walks", "services.test_issue", "store.test_cluster", "core.test_missing_measures",
)  # fmt: skip


def modules() -> list[str]:
    """Every module of tests, the longest first."""
    found = sorted(
        ".".join(path.relative_to(ROOT).with_suffix("").parts) for path in ROOT.glob("tests/**/test_*.py")
    )
    first = [f"tests.{name}" for name in FIRST]
    return [*first, *(name for name in found if name not in first)]


def work(
    number: int, address: str, waiting: multiprocessing.Queue[str], done: multiprocessing.Queue[object]
) -> None:
    """Run modules from the queue until it is empty, on a database of this process."""
    import psycopg

    name = f"tests_{number}"
    with psycopg.connect(address, autocommit=True) as connection:
        connection.execute(f"DROP DATABASE IF EXISTS {name} WITH (FORCE)")
        connection.execute(f"CREATE DATABASE {name}")
    os.environ[DATABASE] = urlunsplit(urlsplit(address)._replace(path=f"/{name}"))
    while (module := waiting.get()) != "":
        begun, said = time.monotonic(), io.StringIO()
        suite = unittest.defaultTestLoader.loadTestsFromName(module)
        result = unittest.TextTestRunner(said, verbosity=0, warnings="ignore").run(suite)
        wrong = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        done.put((module, result.testsRun, wrong, time.monotonic() - begun, said.getvalue() if wrong else ""))
    done.put(None)


def main() -> int:
    """Run all tests; gives how many failed."""
    processes = int(sys.argv[1]) if len(sys.argv) > 1 else 2
    context = multiprocessing.get_context("spawn")
    waiting: multiprocessing.Queue[str] = context.Queue()
    done: multiprocessing.Queue[object] = context.Queue()
    todo = modules()
    for module in (*todo, *[""] * processes):
        waiting.put(module)
    address = os.environ[DATABASE]
    workers = [context.Process(target=work, args=(n, address, waiting, done)) for n in range(processes)]
    for worker in workers:
        worker.start()
    passed = failed = 0
    left = set(todo)
    while any(worker.is_alive() for worker in workers) or not done.empty():
        try:
            one = done.get(timeout=5)
        except Exception:  # nothing yet; a worker that died leaves its module among those left
            continue
        if isinstance(one, tuple):
            module, ran, wrong, seconds, said = one
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
