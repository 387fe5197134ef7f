"""How long a task takes."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any


def best(task: Callable[[], Any], runs: int = 5) -> tuple[float, Any]:
    """The least of several times in seconds, and what the task gave."""
    times, given = [], None
    for _ in range(runs):
        begun = time.perf_counter()
        given = task()
        times.append(time.perf_counter() - begun)
    return min(times), given
