"""What another value would do, in a project of 50,000 dimension lines and 5,000 items: how long until it is
known, beside the same value written; and whether a colleague who writes meanwhile waits for it.

    SANDSCALE_DATABASE=… python -m bench.trials"""

from __future__ import annotations

import statistics
import threading
import time
from collections.abc import Callable

from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions.dimension_lines import change_line
from sandscale.services.trials.reading import Value, effect_of_values
from sandscale.store.database import connect, connected, migrate
from sandscale.store.models import DimensionLine

from .edit import measured_element
from .large_project import make

LINES, ITEMS, RUNS, WARM = 50_000, 5_000, 60, 5


def main() -> None:
    """Measure and print."""
    connect()
    migrate()
    with connected():
        actor, _ = make(LINES, ITEMS)
        element = measured_element(actor)
        lines = DimensionLine.those(DimensionLine.element, [element], DimensionLine.position)
        ids = [line.id for line in lines[:20]]

        def tried(number: int) -> None:
            effect = effect_of_values(
                actor, [Value(f"line:{ids[number % len(ids)]}", "width", _size(number))]
            )
            assert not effect.says

        def written(number: int) -> None:
            line = DimensionLine.get_by_id(ids[number % len(ids)])
            change_line(actor, line.id, line.version, {"width": _size(number)})

        both: tuple[list[float], list[float]] = ([], [])
        for number in range(RUNS + WARM):
            for times, task in zip(both, (tried, written), strict=True):
                times.append(_timed(task, number))
        _tell("tried", both[0][WARM:])
        _tell("the same written", both[1][WARM:])
        print(f"ratio of medians {statistics.median(both[0][WARM:]) / statistics.median(both[1][WARM:]):.2f}")
        _beside(actor, tried, written)


def _size(number: int) -> str:
    return f"{1 + (number * 37 % 400) / 100:.2f}"


def _timed(task: Callable[[int], None], number: int) -> float:
    begun = time.perf_counter()
    task(number)
    return (time.perf_counter() - begun) * 1000


def _beside(actor: Actor, tried: Callable[[int], None], written: Callable[[int], None]) -> None:
    """A colleague's writing while trials go on without a pause; Python's one lock is shared here, as in one
    server process."""
    over = threading.Event()

    def trials() -> None:
        with connected():
            number = 0
            while not over.is_set():
                tried(number)
                number += 1

    beside = threading.Thread(target=trials)
    beside.start()
    times = [_timed(written, number) for number in range(RUNS)]
    over.set()
    beside.join()
    _tell("written while trials go on", times)


def _tell(what: str, times: list[float]) -> None:
    ordered = sorted(times)
    print(
        f"{what}: median {statistics.median(times):.0f} ms, 95 of 100 under "
        f"{ordered[int(len(ordered) * 0.95)]:.0f}, longest {ordered[-1]:.0f}"
    )


if __name__ == "__main__":
    main()
