"""Reading a make-up from its data and proving that it holds together before it is ever run."""

from __future__ import annotations

import keyword
import tomllib
from collections.abc import Mapping
from functools import lru_cache
from importlib import resources
from typing import Annotated, Literal

from pint.util import UnitsContainer
from pydantic import BaseModel, ConfigDict, Field, StringConstraints, ValidationError

from ..bars.rules import BAR_RULES
from ..numbers.entry import read_entry
from ..numbers.formula import CONSTANTS, Formula, in_order, names_in, parse
from ..numbers.units import NUMBER, unit
from ..refusals import BadEntry, BadFormula

DIMENSIONS: Mapping[str, str] = {"times": "", "length": "m", "width": "m", "height": "m", "area": "m²"}
FAMILIES = ("concrete", "formwork", "bars", "masonry", "earth", "paving", "pipes")
LARGEST_SOURCE = 60_000

Key = Annotated[str, StringConstraints(pattern=r"^[A-Za-z][A-Za-z0-9_]{0,39}$")]
Words = Annotated[str, StringConstraints(min_length=1, max_length=200, strip_whitespace=True)]


class _Data(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Choice(_Data):
    """One row of a choice table: its label, and every value that picking it sets (entries with units)."""

    label: Words
    sets: dict[Key, str] = {}


class Input(_Data):
    """A question the make-up asks: a value with a unit, a pick from a choice table, or words for the bill."""

    key: Key
    label: Words
    unit: str = ""
    default: str
    minimum: float | None = None
    hint: str = ""
    words: bool = False
    choices: tuple[Choice, ...] = ()

    def choice(self, label: str) -> Choice:
        """The row of that label.

        Raises:
            BadEntry: the table has no such row.
        """
        for row in self.choices:
            if row.label == label:
                return row
        raise BadEntry(f"{self.label} has no choice “{label}”.", field=self.key, remedy=f"Choose {', '.join(c.label for c in self.choices)}.")


class Derived(_Data):
    """A value worked out on the way to the outputs, shown in the working."""

    key: Key
    label: Words
    unit: str = ""
    formula: str


class Output(_Data):
    """One quantity the make-up gives: its formula for one dimension line, and the bill item it belongs to.

    ``deducts`` says what a ddt line does to it: taken away (``subtract``) or left as it is (``ignore``).
    ``item``, ``section`` and ``family`` are words in which ``{input}`` is replaced by what was entered.
    """

    key: Key
    label: Words
    unit: str
    family: str
    formula: str
    waste: float = Field(default=0, ge=0, le=100)
    deducts: Literal["subtract", "ignore"] = "subtract"
    item: Words
    section: Words


class Caution(_Data):
    """A condition on one dimension line that is legal but suspect, and what to say of it."""

    when: str
    says: Words


class _Document(_Data):
    key: Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
    name: Words
    about: str = ""
    headline: Key
    needs: tuple[Literal["length", "width", "height", "area"], ...] = ()
    inputs: tuple[Input, ...] = ()
    derived: tuple[Derived, ...] = ()
    outputs: Annotated[tuple[Output, ...], Field(min_length=1, max_length=60)]
    cautions: tuple[Caution, ...] = ()


class MakeUp:
    """A make-up that has been read and proved: every name known, every formula's units right, no loop.

    Attributes:
        document: the data as written.
        derived: the derived values with their formulas, in the order they can be computed.
        outputs: the outputs with their formulas.
        cautions: the cautions with their conditions.
        labels: the words for every name a formula may use.
    """

    def __init__(self, document: _Document) -> None:
        self.document = document
        self.key, self.name, self.needs = document.key, document.name, document.needs
        wastes = [Input(key=f"waste_{o.key}", label=f"Waste on {o.label.lower()} %", default=f"{o.waste:g}", minimum=0) for o in document.outputs]
        self.inputs = {field.key: field for field in (*document.inputs, *wastes)}
        self._check_names()
        scope: dict[str, UnitsContainer] = {name: unit(symbol).dimension for name, symbol in DIMENSIONS.items()}
        for field in self.inputs.values():
            scope.update(_values_of(field))
        written = {d.key: d for d in document.derived}
        uses = {key: names_in(parse(d.formula, d.label)) for key, d in written.items()}
        self.derived: list[tuple[Derived, Formula]] = []
        for key in in_order(uses, f"The derived values of “{document.name}”"):
            item = written[key]
            formula = Formula(item.formula, scope, BAR_RULES, where=item.label).expect(unit(item.unit).dimension, item.unit)
            scope[key] = unit(item.unit).dimension
            self.derived.append((item, formula))
        self.outputs = [(o, Formula(o.formula, scope, BAR_RULES, where=o.label).expect(unit(o.unit).dimension, o.unit)) for o in document.outputs]
        self.cautions = [(w, Formula(w.when, scope, BAR_RULES, where=f"caution “{w.says}”")) for w in document.cautions]
        self.labels = {name: name for name in DIMENSIONS} | {d.key: d.label.lower() for d in document.derived}
        for field in self.inputs.values():
            self.labels[field.key] = field.label.lower()
            self.labels |= {name: name for choice in field.choices for name in choice.sets}
        self.dimensions = scope

    def _check_names(self) -> None:
        document = self.document
        seen: set[str] = set(DIMENSIONS) | set(CONSTANTS)
        inputs = self.inputs.values()
        keys = [i.key for i in inputs] + [name for i in inputs if i.choices for name in i.choices[0].sets] + [d.key for d in document.derived]
        for key in keys:
            if key in seen or keyword.iskeyword(key):
                raise BadFormula(
                    f"“{document.name}” names two values “{key}”, or takes a name that is kept.", field=key, remedy="Give one of them another name."
                )
            seen.add(key)
        outputs = [o.key for o in document.outputs]
        for key in outputs:
            if outputs.count(key) > 1:
                raise BadFormula(f"“{document.name}” has two outputs “{key}”.", field=key)
        if document.headline not in outputs:
            raise BadFormula(f"“{document.name}” shows “{document.headline}” first, but has no such output.", field="headline")
        for output in document.outputs:
            asked = self.inputs.get(output.family[1:-1]) if output.family.startswith("{") else None
            for family in [choice.label for choice in asked.choices] if asked else [output.family]:
                if family not in FAMILIES:
                    raise BadFormula(f"{output.label} is of a family “{family}”, which is none of {', '.join(FAMILIES)}.", field=output.key)

    def values(self, entries: Mapping[str, str]) -> dict[str, float]:
        """Every input's value in SI from what was entered, defaults where nothing was.

        Raises:
            BadEntry: an entry can't be read, is below its minimum, or is no choice of its table.
        """
        for key in set(entries) - set(self.inputs):
            raise BadEntry(f"“{self.name}” has no input “{key}”.", field=key)
        values: dict[str, float] = {}
        for field in self.inputs.values():
            entry = entries.get(field.key, field.default)
            if field.words:
                if not entry.strip() or len(entry) > 200:
                    raise BadEntry(f"{field.label} takes 1 to 200 characters.", field=field.key)
            elif field.choices:
                values |= {name: _setting(setting) for name, setting in field.choice(entry).sets.items()}
            else:
                minimum = None if field.minimum is None else field.minimum * unit(field.unit).size
                try:
                    values[field.key] = read_entry(entry, field.unit, field=field.label.lower(), minimum=minimum)
                except BadEntry as error:
                    raise BadEntry(error.sentence, field=field.key, remedy=error.remedy) from None
        return values

    def words(self, template: str, entries: Mapping[str, str]) -> str:
        """A bill description with the entered values put in."""
        for field in self.document.inputs:
            template = template.replace("{" + field.key + "}", entries.get(field.key, field.default))
        return template


def _setting(entry: str) -> float:
    """A choice's value in SI: it carries its own unit, or is a plain number."""
    amount, _, symbol = entry.strip().partition(" ")
    return float(amount) * unit(symbol).size


def _values_of(field: Input) -> dict[str, UnitsContainer]:
    """The names an input gives to formulas, with their dimensions.

    Raises:
        BadFormula: a choice table is uneven or its default is not in it.
    """
    if field.words:
        return {}
    if not field.choices:
        try:
            read_entry(field.default, field.unit, field=field.label)
        except BadEntry as error:
            raise BadFormula(f"The default of {field.label} doesn't fit: {error.sentence}", field=field.key) from None
        return {field.key: unit(field.unit).dimension}
    first = field.choices[0].sets
    dimensions = {name: _setting_dimension(field, name, entry) for name, entry in first.items()}
    for choice in field.choices:
        if {name: _setting_dimension(field, name, entry) for name, entry in choice.sets.items()} != dimensions:
            raise BadFormula(f"Choice “{choice.label}” of {field.label} doesn't set the same values as “{field.choices[0].label}”.", field=field.key)
    field.choice(field.default)
    return dimensions


def _setting_dimension(field: Input, name: str, entry: str) -> UnitsContainer:
    try:
        _setting(entry)
        symbol = entry.strip().partition(" ")[2]
        return unit(symbol).dimension if symbol else NUMBER
    except (ValueError, BadEntry):
        raise BadFormula(f"A choice of {field.label} sets {name} to “{entry}”, which is not a number with a unit.", field=field.key) from None


def read_makeup(source: str) -> MakeUp:
    """A make-up from its TOML text.

    Raises:
        BadFormula: the text, a name, a unit or a formula doesn't hold; the sentence says where.
    """
    if len(source) > LARGEST_SOURCE:
        raise BadFormula(f"The make-up is longer than {LARGEST_SOURCE} characters.", field="source")
    try:
        data = tomllib.loads(source)
    except (tomllib.TOMLDecodeError, RecursionError) as error:
        raise BadFormula(f"The make-up can't be read: {error}.", field="source", remedy="Compare it with a built-in one.") from None
    try:
        return MakeUp(_Document.model_validate(data))
    except ValidationError as error:
        first = error.errors()[0]
        place = " → ".join(str(part) for part in first["loc"])
        raise BadFormula(f"The make-up doesn't hold at {place}: {first['msg']}.", field=place) from None
    except BadEntry as error:
        raise BadFormula(error.sentence, field=error.field, remedy=error.remedy) from None


@lru_cache(maxsize=1)
def built_in() -> Mapping[str, MakeUp]:
    """The make-ups that ship with the application, by key, in the order shown."""
    folder = resources.files(__package__) / "library"
    found = [read_makeup(file.read_text("utf-8")) for file in sorted(folder.iterdir(), key=lambda f: f.name) if file.name.endswith(".toml")]
    return {makeup.key: makeup for makeup in found}


def built_in_source(key: str) -> str:
    """The text of a built-in make-up, to copy and change."""
    return (resources.files(__package__) / "library" / f"{key}.toml").read_text("utf-8")
