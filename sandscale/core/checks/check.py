"""A check: something that looks wrong, how badly, and where."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Severity = Literal["stop", "look"]


@dataclass(frozen=True)
class Check:
    """One thing that looks wrong.

    Attributes:
        severity: ``stop``: the bill is wrong or unfinished while it stands; ``look``: it may be right, but
            someone should see it.
        rule: what was broken, in a few words.
        says: what and why, in a sentence.
        ref: where, as a reference that can be walked to, such as ``line:12``.
    """

    severity: Severity
    rule: str
    says: str
    ref: str
