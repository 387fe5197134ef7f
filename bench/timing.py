"""How long a task takes."""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from typing import Any


def best(task: Callable[[], Any], runs: int = 5) -> tuple[float, Any]:
    """The least of several times in seconds, and what the task gave."""
    ((least, given),) = by_turns(task, runs=runs)
    return least, given


def by_turns(*tasks: Callable[[], Any], runs: int = 5) -> list[tuple[float, Any]]:
    """The same of several tasks that are held against one another: a busy spell of the machine then falls
    on all of them."""
    least, given = [math.inf] * len(tasks), [None] * len(tasks)
    for _ in range(runs):
        for at, task in enumerate(tasks):
            begun = time.perf_counter()
            given[at] = task()
            least[at] = min(least[at], time.perf_counter() - begun)
    return list(zip(least, given, strict=True))
