"""What several parts of one reading ask alike is asked once while it lasts."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import wraps
from typing import Any, ParamSpec, TypeVar

P = ParamSpec("P")
T = TypeVar("T")
_known: ContextVar[dict[Any, Any] | None] = ContextVar("known", default=None)


@contextmanager
def one_reading() -> Iterator[None]:
    """A reading, such as all that a change moved; nothing is written while it lasts."""
    before = _known.set({})
    try:
        yield
    finally:
        _known.reset(before)


def once_a_reading(ask: Callable[P, T]) -> Callable[P, T]:
    """A question that is asked once in a reading, and each time outside of one."""

    @wraps(ask)
    def asked(*arguments: P.args, **named: P.kwargs) -> T:
        known = _known.get()
        if known is None:
            return ask(*arguments, **named)
        key = (ask, arguments, tuple(named.items()))
        if key not in known:
            known[key] = ask(*arguments, **named)
        return known[key]  # type: ignore[no-any-return]

    return asked
