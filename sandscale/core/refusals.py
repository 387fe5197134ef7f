"""What the application refuses, said so that a person can act on it."""

from __future__ import annotations

import re
from collections.abc import Mapping


class Refusal(Exception):
    """Something that can't be taken as it is.

    Args:
        sentence: what is wrong, where, in plain words.
        field: the field at fault, by its name in the interface's request; empty when none is.
        remedy: what to do about it; empty when the sentence says it already.
        code: what kind of refusal it is, for whoever acts on it without reading the sentence; its class's,
            as ``bad-entry``, when not given.
        numbers: those the sentence tells, by name.
    """

    def __init__(
        self,
        sentence: str,
        *,
        field: str = "",
        remedy: str = "",
        code: str = "",
        numbers: Mapping[str, float] | None = None,
    ) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.field = field
        self.remedy = remedy
        self.code = code or re.sub(r"(?<=[a-z])(?=[A-Z])", "-", type(self).__name__).lower()
        self.numbers = dict(numbers or {})

    def __str__(self) -> str:
        return f"{self.sentence} {self.remedy}".strip()


class BadEntry(Refusal):
    """A typed value that can't be read as what its field holds."""


class BadFormula(Refusal):
    """A formula or a make-up that doesn't hold together."""


class BadShape(Refusal):
    """A figure on a sheet whose shape can't be measured."""
