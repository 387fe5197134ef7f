"""What an allowance comes to, rounded by hand, with the reason."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ..numbers.entry import kept, read_entry
from ..refusals import BadEntry
from .document import Input, Output

BY_HAND = "hand_"  # how the names of such inputs begin
_GROUP = "Rounded by hand"


def asked(outputs: Sequence[Output]) -> Iterator[Input]:
    """What may be said by hand of every output."""
    for output in outputs:
        yield Input(
            key=BY_HAND + output.key, label=f"{output.label} by hand", unit=output.unit, group=_GROUP,
            hint="The number and why, like 48: whole shifts only.", words=True,
        )  # fmt: skip


def by_hand(entry: str, output: Output) -> tuple[float, str] | None:
    """What an output is set to, in its unit's SI, and why; None where nothing is said.

    Raises:
        BadEntry: it can't be read, is below zero, or says no reason.
    """
    if not entry.strip():
        return None
    amount, _, reason = (part.strip() for part in entry.partition(":"))
    key = BY_HAND + output.key
    try:
        value = read_entry(amount, output.unit, field=output.label.lower(), minimum=0)
    except BadEntry as error:
        raise BadEntry(error.sentence, field=key, remedy=error.remedy) from None
    if not reason or len(entry) > 200:
        raise BadEntry(
            f"It isn't said why {output.label.lower()} is {amount}.", field=key,
            remedy="Write the reason after the number, like 48: whole shifts only.",
        )  # fmt: skip
    return value, reason


def kept_by_hand(entry: str, output: Output) -> str:
    """What was said by hand in the project's ways, as it is kept.

    Raises:
        BadEntry: its number can be read in two ways.
    """
    amount, colon, reason = entry.partition(":")
    if not amount.strip():
        return entry
    return f"{kept(amount.strip(), output.unit, field=output.label.lower())}{colon}{reason}"
