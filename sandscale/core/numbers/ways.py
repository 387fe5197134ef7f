"""How the project that is being worked in writes numbers and measures; like a locale, it holds for one
thread's task.

What is kept is written plainly, with units of its own: the ways only say how people read and type it.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Literal

from .systems import METRIC, SYSTEMS, System

WORKING_DAY = 8.0  # hours, where a project doesn't say
# A number written each way; empty where a project hasn't said, and numbers stand as 1 234.5.
Writing = Literal["", "1 234.5", "1,234.5", "1234.5", "1 234,5", "1.234,5", "1234,5"]


@dataclass(frozen=True)
class Ways:
    """A project's unit system, the signs in its numbers, and the hours of its working day."""

    system: System = METRIC
    writing: str = ""
    day: float = WORKING_DAY

    @property
    def decimal(self) -> str:
        """The decimal sign."""
        return self.writing[-2] if self.writing else "."

    @property
    def thousands(self) -> str:
        """What stands between thousands; empty for nothing."""
        sign = self.writing[1:2] or " "
        return "" if sign.isdigit() else sign


_AS_KEPT = Ways()
_now: ContextVar[Ways | None] = ContextVar("ways", default=None)


def ways() -> Ways:
    """The ways that hold now."""
    return _now.get() or _AS_KEPT


def hold(unit_system: str = "metric", writing: str = "", day: float = WORKING_DAY) -> None:
    """From here on in this thread, the ways of a project."""
    _now.set(Ways(SYSTEMS[unit_system], writing, day))


@contextmanager
def held(unit_system: str = "metric", writing: str = "", day: float = WORKING_DAY) -> Iterator[None]:
    """The ways of a project, for a while."""
    token = _now.set(Ways(SYSTEMS[unit_system], writing, day))
    try:
        yield
    finally:
        _now.reset(token)
