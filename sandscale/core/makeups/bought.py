"""What an element may say of each of its quantities beside its make-up's questions: its waste or its yield,
and the pack it is bought in."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from ..numbers.entry import kept, read_entry
from ..refusals import BadEntry
from .document import Input, Output

WASTE = "waste_"  # how the names of the wastes of outputs begin; formulas have them in percent
PACK = "pack_"
_GROUP = "Waste and packs"
_YIELD = re.compile(r"(?P<share>.+?)\s*%?\s*yield", re.IGNORECASE)
_OF = re.compile(r"(?P<words>.*\S)\s+of\s+(?P<holds>.+)")


def asked(outputs: Sequence[Output]) -> Iterator[Input]:
    """The waste of every output, and of what is a material, which come first, the pack it is bought in."""
    for output in sorted(outputs, key=lambda each: not _is_material(each)):
        name = output.label.lower()
        yield Input(
            key=WASTE + output.key, label=f"Waste on {name} %", default=f"{output.waste:g}", group=_GROUP
        )
        if _is_material(output):
            yield Input(key=PACK + output.key, label=f"{output.label} bought by", group=_GROUP, words=True)


def _is_material(output: Output) -> bool:
    return output.purchase is not None or not output.item


def waste(entry: str, field: Input) -> float:
    """A waste in percent; a yield of 90 % is a waste of 11.11 %.

    Raises:
        BadEntry: it can't be read, is below zero, or a yield isn't above 0 and up to 100 %.
    """
    given = _YIELD.fullmatch(entry.strip())
    share = (given["share"] if given else entry).strip().removesuffix("%")
    value = _read(share, "", field.label.lower(), field.key, minimum=0)
    if given is None:
        return value
    if not 0 < value <= 100:
        remedy = "Type one above 0 and up to 100."
        raise BadEntry(f"A yield of {value:g} % can't be.", field=field.key, remedy=remedy)
    return 100 * (100 / value - 1)


def pack(entry: str, output: Output) -> tuple[str, float] | None:
    """What a pack is called and what it holds, in SI; None where nothing was entered. A bare amount is in the
    unit the output is written in, whatever the project's.

    Raises:
        BadEntry: what it holds can't be read, is of another dimension, or is nothing.
    """
    named = entry.strip()
    if not named:
        return None
    of, key = _OF.fullmatch(named), PACK + output.key
    held = _read(of["holds"] if of else named, output.unit, f"a pack of {output.label.lower()}", key)
    if held <= 0:
        raise BadEntry(f"“{named}” holds nothing.", field=key, remedy="Type it like pallet of 60.")
    return named if of else f"pack of {named}", held


def kept_pack(entry: str, output: Output) -> str:
    """A pack as it is kept: what it holds in a unit of its own where the project's isn't the output's.

    Raises:
        BadEntry: what it holds can be read in two ways.
    """
    of = _OF.fullmatch(entry.strip())
    words, holds = (f"{of['words']} of ", of["holds"]) if of else ("", entry)
    return words + kept(holds, output.unit, field=f"a pack of {output.label.lower()}")


def _read(text: str, symbol: str, what: str, key: str, *, minimum: float | None = None) -> float:
    """An amount, refused at its input."""
    try:
        return read_entry(text, symbol, field=what, minimum=minimum)
    except BadEntry as error:
        raise BadEntry(error.sentence, field=key, remedy=error.remedy) from None
