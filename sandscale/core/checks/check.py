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
        code: what kind of thing it is, for whoever acts on it without reading the sentence; by its rule
            when not given.
        numbers: those the sentence tells, where someone may want to reckon with them.
    """

    severity: Severity
    rule: str
    says: str
    ref: str
    code: str = ""
    numbers: tuple[float, ...] = ()

    def __post_init__(self) -> None:
        if not self.code:
            object.__setattr__(self, "code", self.rule.replace(" ", "-"))
