"""What may stand on a shelf: documents that are read and proved before they are put there."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from pydantic import ValidationError

from .bars.detailing import read_detailing
from .ground.route.document import read_typical_source
from .ground.route.names import read_names
from .ground.trench.document import read_source
from .makeups.document import Bands
from .makeups.makeup import LARGEST_SOURCE, read_makeup
from .pricing.norms import read_norms
from .pricing.rate_document import read_rate
from .refusals import BadFormula

# A make-up; a table by size, such as one of lintels; a set of detailing rules; a kind of trench; a typical
# section of routes; a list of the named quantities their layers are gathered under; a firm's own norms; a
# rate with all that it draws on.
ShelfKind = Literal["make-up", "sizes", "detailing", "trench", "typical section", "names", "norms", "rate"]


@dataclass(frozen=True)
class Shelved:
    """What is told of a document on a shelf: ``key`` is the same through all its numbers."""

    key: str
    name: str
    about: str


def read_shelved(kind: ShelfKind, source: str) -> Shelved:
    """What a document is, once it is proved.

    Raises:
        BadFormula: it can't be read, or doesn't hold.
    """
    return _READERS[kind](source)


def _makeup(source: str) -> Shelved:
    makeup = read_makeup(source)
    return Shelved(makeup.key, makeup.name, makeup.about)


def _sizes(source: str) -> Shelved:
    if len(source) > LARGEST_SOURCE:
        raise BadFormula(f"The table is longer than {LARGEST_SOURCE} characters.", field="source")
    try:
        table = Bands.model_validate(tomllib.loads(source))
    except (tomllib.TOMLDecodeError, ValueError, RecursionError) as error:
        place = " → ".join(map(str, error.errors()[0]["loc"])) if isinstance(error, ValidationError) else ""
        raise BadFormula(
            f"The table by size can't be read{f' at {place}' if place else ''}.",
            field="source",
            remedy="Every row has a lower bound, an upper one, and what it sets.",
        ) from None
    sets = ", ".join(table.rows[0].sets)
    return Shelved(table.key, table.label, f"{len(table.rows)} rows by {table.by}, which set {sets}.")


def _detailing(source: str) -> Shelved:
    rules = read_detailing(source)
    return Shelved(rules.key, rules.name, rules.source)


def _trench(source: str) -> Shelved:
    made = read_source(source)
    return Shelved(_key(made.name), made.name, made.about)


def _typical(source: str) -> Shelved:
    made = read_typical_source(source)
    return Shelved(_key(made.name), made.name, made.about)


def _names(source: str) -> Shelved:
    made = read_names(source)
    return Shelved(_key(made.name), made.name, f"{len(made.named)} named quantities.")


def _norms(source: str) -> Shelved:
    made = read_norms(source)
    return Shelved(_key(made.name), made.name, f"{len(made.norms)} norms in {made.currency}.")


def _rate(source: str) -> Shelved:
    first, *within = read_rate(source).rates
    drawn = f", with {len(within)} it draws on" if within else ""
    return Shelved(_key(first.name), first.name, f"per {first.unit}, {len(first.lines)} lines{drawn}.")


def _key(name: str) -> str:
    return re.sub(r"\W+", "-", name.lower()).strip("-")[:40] or "unnamed"


_READERS: Mapping[ShelfKind, Callable[[str], Shelved]] = {
    "make-up": _makeup,
    "sizes": _sizes,
    "detailing": _detailing,
    "trench": _trench,
    "typical section": _typical,
    "names": _names,
    "norms": _norms,
    "rate": _rate,
}
