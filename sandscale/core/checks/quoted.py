"""A price that rests on a stale or outlying quote, or on none."""

from __future__ import annotations

from .check import Check


def quoted(resource: str, says: str, ref: str, *, stops: bool) -> Check:
    """A finding on a resource's price as a check; it stops the bill where something draws on a price there
    isn't."""
    return Check("stop" if stops else "look", "quote", f"{resource}: {says[0].lower() + says[1:]}", ref)
