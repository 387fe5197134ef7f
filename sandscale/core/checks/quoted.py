"""A price that rests on a stale or outlying quote, or on none."""

from __future__ import annotations

from .check import Check


def quoted(resource: str, says: str, ref: str, *, used: bool) -> Check:
    """A finding on a resource's price as a check; a price that nothing draws on stops nothing."""
    return Check("stop" if used and says.startswith("Has no") else "look", "quote", f"{resource}: {says[0].lower() + says[1:]}", ref)
