"""What is legal but looks wrong: a value to be shown, not an error."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Finding:
    """One thing that looks wrong.

    Attributes:
        says: what looks wrong and, where there is one, what to do.
        line: the dimension line or table row (0-based) it was found on; -1 when it is about the whole.
        field: the input or column at fault; empty when none is.
        wrong: whether a quantity is wrong while it stands; otherwise it may be right, but someone should see
            it.
        code: what kind of thing it is, for whoever acts on it without reading the sentence.
        numbers: those the sentence tells, where someone may want to reckon with them.
    """

    says: str
    line: int = -1
    field: str = ""
    wrong: bool = False
    code: str = ""
    numbers: tuple[float, ...] = ()
