"""Reading a make-up from its data and proving that it holds together before it is ever run."""

from __future__ import annotations

import keyword
import re
import tomllib
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources
from itertools import combinations
from math import isfinite

from pint.util import UnitsContainer
from pydantic import ValidationError

from ..bars.detailing import Detailing, rules_of, standard
from ..bars.schedule import STEEL_BANDS
from ..bars.shapes import SHAPES
from ..numbers.entry import kept, read_entry
from ..numbers.formula import (
    CONSTANTS,
    Formula,
    NamedFormula,
    in_order,
    names_in,
    parse,
    primitives,
)
from ..numbers.systems import METRIC, SYSTEMS, System, UnitSystem
from ..numbers.units import NUMBER, unit
from ..refusals import BadEntry, BadFormula
from ..structure import STRUCTURE_RULES
from .bought import PACK, WASTE, asked, kept_pack, pack, waste
from .by_hand import BY_HAND, by_hand, kept_by_hand
from .by_hand import asked as asked_by_hand
from .document import Band, Bands, Bar, Caution, Choice, Derived, Document, Input, Part, Shared

DIMENSIONS: Mapping[str, str] = {
    "times": "",
    "length": "m",
    "width": "m",
    "height": "m",
    "area": "m²",
    "girth": "m",
    "void_girth": "m",
    "deduct": "",
    "drawn_junctions": "",
}
# Over all the added lines of an element; for cautions, since a quantity belongs to its own line.
OVER_ALL: Mapping[str, str] = {"longest": "m", "tallest": "m"}
FAMILIES = ("concrete", "formwork", "bars", "masonry", "earth", "paving", "pipes", "steel", "site")
LARGEST_SOURCE, DEEPEST_KEY = 60_000, 30
MOST_NODES = (
    20_000  # names, numbers and signs in all formulas, written out; the largest built-in one has 2,300
)
_LENGTH = unit("m").dimension
# What the tables of bars and concrete set, in words.
_SET_WORDS = {"d": "ø", "r": "former radius", "least_leg": "least leg", "lap_d": "lap in ø"}


_IN_WORDS = {
    "string_too_short": ("nothing is written there", "Write what it is."),
    "string_pattern_mismatch": (
        "that is no name", "A name begins with a letter and goes on with letters, digits and _.",
    ),
    "missing": ("it is missing", "Write it."),
    "extra_forbidden": ("nothing of that name belongs there", "Take it out."),
}  # fmt: skip


class MakeUp:
    """A make-up that has been read and proved: every name known, every formula's units right, no loop.

    Attributes:
        about: what it is for, what it counts, and what it leaves to others.
        system: the unit system it reckons in; its values are in that one's base units, its outputs in its
        units.
        document: the data as written, with the parts it uses.
        inputs: the questions by key, choices and defaults taken from the detailing rules put in.
        derived: the derived values with their formulas, in the order they can be computed.
        outputs: the outputs with their formulas.
        cautions: the cautions with their conditions.
        packs: for outputs that are bought in packs, the formula of what a pack holds.
        rules: the detailing rules it runs under.
        bars: what stands in the bending schedule, each with its formulas.
        sketch: the parts of the sketch with the formulas of their points and radius.
        labels: the words for every name a formula may use.
        is_allowance: whether it counts once by what it asks, without dimension lines.
    """

    def __init__(self, document: Document, rules: Detailing, system: System = METRIC) -> None:
        self.system = system
        self.rules = rules
        self.document = document = _with_parts(document)
        leaves = document.leaves[:1].lower() + document.leaves[1:]
        self.about = f"{document.about} Left to others: {leaves}" if leaves else document.about
        self.key, self.name, self.needs = document.key, document.name, document.needs
        questions = (_asked(field, rules) for field in document.inputs)
        self.is_allowance = document.kind == "allowance"
        beside = asked_by_hand(document.outputs) if self.is_allowance else asked(document.outputs)
        self.inputs = {field.key: field for field in (*questions, *beside)}
        self._by_hand = {BY_HAND + o.key: o for o in document.outputs if BY_HAND + o.key in self.inputs}
        self._packed = {PACK + o.key: o for o in document.outputs if PACK + o.key in self.inputs}
        self._check_names()
        self._named = {**rules.formulas(), **STRUCTURE_RULES}
        self._size = 0
        scope: dict[str, UnitsContainer] = {}
        for field in self.inputs.values():
            scope.update(_values_of(field))
        self.packs = {
            o.key: self._formula(o.purchase.holds, scope, f"a pack of {o.label}", o.unit)
            for o in document.outputs
            if o.purchase
        }
        measured = {name: unit(symbol).dimension for name, symbol in DIMENSIONS.items()}
        scope |= {} if self.is_allowance else measured
        written = {d.key: d for d in self._written()}
        uses = {key: names_in(parse(d.formula, d.label)) for key, d in written.items()}
        self.derived: list[tuple[Derived, Formula]] = []
        for key in in_order(uses, f"The derived values of “{document.name}”"):
            item = written[key]
            self.derived.append((item, self._formula(item.formula, scope, item.label, item.unit)))
            scope[key] = unit(item.unit).dimension
        self.outputs = [
            (
                o.model_copy(update={"unit": system.symbol(o.unit)}),
                self._formula(o.formula, scope, o.label, o.unit),
            )
            for o in document.outputs
        ]
        over_all = {name: unit(symbol).dimension for name, symbol in OVER_ALL.items()}
        wider = scope | ({} if self.is_allowance else over_all)
        cautions = (
            *document.cautions,
            *(caution for table in document.bands for caution in _band_cautions(table)),
        )
        self.cautions = [
            (
                w,
                self._counted(
                    Formula(w.when, wider, self._named, where=f"caution “{w.says}”", system=system)
                ),
            )
            for w in cautions
        ]
        self.bars = [self._barred(bar, scope) for bar in document.bars]
        self.sketch = [(part, *self._sketched(part, scope)) for part in document.sketch]
        self.labels = (
            {name: name for name in DIMENSIONS}
            | {"deduct": "ddt", "void_girth": "girth of voids", "drawn_junctions": "T junctions as drawn"}
            | {d.key: d.label.lower() for d in written.values()}
        )
        for field in self.inputs.values():
            self.labels[field.key] = field.label.lower()
            self.labels |= {name: _words_of(field, name) for choice in field.choices for name in choice.sets}
        self.dimensions = measured | scope
        # What the inputs come to when nothing is entered: most elements enter little.
        self._defaults = {
            key: value
            for field in self.inputs.values()
            for key, value in self._value_of(field, field.default).items()
        }

    def _written(self) -> Iterator[Derived]:
        """The derived values: those written, those set by tables, and the cut lengths of bars."""
        yield from self.document.derived
        for table in self.document.bands:
            yield from _band_values(table)
        own = {d.key for d in self.document.derived}
        for bar in self.document.bars:
            if bar.shape and f"{bar.key}_cut" not in own:
                label = f"Cut length, {bar.label[:1].lower()}{bar.label[1:]}"
                yield Derived(key=f"{bar.key}_cut", label=label, unit="m", formula=bar.cut)

    def _barred(self, bar: Bar, scope: Mapping[str, UnitsContainer]) -> tuple[Bar, dict[str, Formula]]:
        """A bar with its formulas, by what they give: its number, its diameter, and its legs by their
        letters, or its run, or what is laid."""
        where = f"the bars “{bar.label}”"
        if bar.output not in {o.key for o in self.document.outputs}:
            says = f"The bars “{bar.label}” are part of no output that there is."
            raise BadFormula(says, field="bars", remedy="Name one of the outputs.")
        units = {"number": ("", bar.number), "d": ("m", bar.d)}
        units |= {name: ("m", text) for name, text in (("run", bar.run), ("laid", bar.laid)) if text}
        if bar.shape:
            shape = SHAPES.get(bar.shape)
            if shape is None or len(shape.legs) != len(bar.legs):
                says = f"“{bar.label}” has {len(bar.legs)} legs; shape {bar.shape} is none of so many."
                raise BadFormula(says, field="bars", remedy=f"Shapes: {', '.join(SHAPES)}.")
            for letter, leg in zip(shape.legs, bar.legs, strict=True):
                units[letter] = ("" if letter in shape.numbers else "m", leg)
        return bar, {
            name: self._formula(text, scope, where, symbol) for name, (symbol, text) in units.items()
        }

    def _formula(self, text: str, scope: Mapping[str, UnitsContainer], where: str, symbol: str) -> Formula:
        read = Formula(text, scope, self._named, where=where, system=self.system).expect(
            unit(symbol).dimension, symbol
        )
        return self._counted(read)

    def _counted(self, formula: Formula) -> Formula:
        """A formula, unless all of the make-up's together are too long to be worked with."""
        self._size += formula.size
        if self._size > MOST_NODES:
            raise BadFormula(
                f"The formulas of “{self.name}” are too long together.",
                field=formula.where, remedy="Make two make-ups of it.",
            )  # fmt: skip
        return formula

    def _sketched(
        self, part: Part, scope: Mapping[str, UnitsContainer]
    ) -> tuple[list[tuple[Formula, Formula]], Formula | None]:
        where = f"the sketch of {part.label}"
        points = [
            (self._formula(x, scope, where, "m"), self._formula(y, scope, where, "m")) for x, y in part.points
        ]
        return points, self._formula(part.radius, scope, where, "m") if part.radius else None

    def _check_names(self) -> None:
        document = self.document
        seen: set[str] = set(DIMENSIONS) | set(CONSTANTS) | set(OVER_ALL)
        inputs = self.inputs.values()
        keys = (
            [i.key for i in inputs]
            + [name for i in inputs if i.choices for name in i.choices[0].sets]
            + [d.key for d in self._written()]
        )
        for key in keys:
            if key in seen or keyword.iskeyword(key):
                raise BadFormula(
                    f"“{document.name}” names two values “{key}”, or takes a name that is kept.",
                    field=key,
                    remedy="Give one of them another name.",
                )
            seen.add(key)
        outputs = [o.key for o in document.outputs]
        for key in outputs:
            if outputs.count(key) > 1:
                raise BadFormula(f"“{document.name}” has two outputs “{key}”.", field=key)
        if document.headline not in outputs:
            raise BadFormula(
                f"“{document.name}” shows “{document.headline}” first, but has no such output.",
                field="headline",
            )
        if document.steel and document.steel not in STEEL_BANDS:
            raise BadFormula(
                f"There is no steel band for “{document.steel}”.",
                field="steel",
                remedy=f"Kinds: {', '.join(STEEL_BANDS)}.",
            )
        for output in document.outputs:
            asked = self.inputs.get(output.family[1:-1]) if output.family.startswith("{") else None
            for family in [choice.label for choice in asked.choices] if asked else [output.family]:
                if family not in FAMILIES:
                    raise BadFormula(
                        f"{output.label} is of a family “{family}”, which is none of {', '.join(FAMILIES)}.",
                        field=output.key,
                    )

    def values(self, entries: Mapping[str, str]) -> dict[str, float]:
        """Every input's value in base units from what was entered, defaults where nothing was.

        Raises:
            BadEntry: an entry can't be read, is below its minimum, or is no choice of its table.
        """
        values = dict(self._defaults)
        for key, entry in entries.items():
            if key not in self.inputs:
                raise BadEntry(f"“{self.name}” has no input “{key}”.", field=key)
            values |= self._value_of(self.inputs[key], entry)
        return values

    def typed(self, key: str, entry: str) -> str:
        """What was typed for an input in the project's ways, as it is kept.

        Raises:
            BadEntry: it can't be read, or could be read in two ways.
        """
        if key in self._packed:
            return kept_pack(entry, self._packed[key])
        if key in self._by_hand:
            return kept_by_hand(entry, self._by_hand[key])
        field = self.inputs.get(key)
        return kept(entry, field.unit, field=field.label.lower()) if field and field.is_number else entry

    def pack_entered(self, output: str, entries: Mapping[str, str]) -> tuple[str, float] | None:
        """The pack that was entered for an output, and what it holds, in SI."""
        field = self._packed.get(PACK + output)
        return pack(entries.get(PACK + output, ""), field) if field else None

    def set_by_hand(self, output: str, entries: Mapping[str, str]) -> tuple[float, str] | None:
        """What an allowance's output was set to by hand, in SI, and why; None where it wasn't."""
        asked = self._by_hand.get(BY_HAND + output)
        return by_hand(entries.get(BY_HAND + output, ""), asked) if asked else None

    def _value_of(self, field: Input, entry: str) -> dict[str, float]:
        if field.key in self._packed:
            pack(entry, self._packed[field.key])
            return {}
        if field.key in self._by_hand:
            by_hand(entry, self._by_hand[field.key])
            return {}
        found = self._in_si(field, entry)
        if self.system is METRIC:
            return found
        return {name: value / self.system.base(self.dimensions[name]) for name, value in found.items()}

    @staticmethod
    def _in_si(field: Input, entry: str) -> dict[str, float]:
        if field.words:
            if not entry.strip() or len(entry) > 200:
                raise BadEntry(f"{field.label} takes 1 to 200 characters.", field=field.key)
            return {}
        if field.choices:
            return {name: _setting(setting) for name, setting in _row(field, entry).sets.items()}
        if field.key.startswith(WASTE):
            return {field.key: waste(entry, field)}
        minimum = None if field.minimum is None else field.minimum * unit(field.unit).size
        try:
            return {field.key: read_entry(entry, field.unit, field=field.label.lower(), minimum=minimum)}
        except BadEntry as error:
            raise BadEntry(error.sentence, field=field.key, remedy=error.remedy) from None

    def words(self, template: str, entries: Mapping[str, str], *, units: bool = False) -> str:
        """A bill description with the entered values put in; with their units where none was typed and it is
        asked, or they aren't the unit system's own."""
        for field in self.inputs.values():
            if "{" + field.key + "}" in template:
                entry = entries.get(field.key, field.default)
                told = units or self.system.symbol(field.unit) != field.unit
                bare = told and field.unit and entry.strip().replace(".", "", 1).isdigit()
                if entry.startswith("#"):  # a bar size by its number
                    template = template.replace("{" + field.key + "} mm", entry)
                template = template.replace("{" + field.key + "}", f"{entry} {field.unit}" if bare else entry)
        return template


def _row(field: Input, label: str) -> Choice:
    """The row of a choice table.

    Raises:
        BadEntry: the table has no such row.
    """
    for row in field.choices:
        if row.label == label:
            return row
    raise BadEntry(
        f"{field.label} has no choice “{label}”.",
        field=field.key,
        remedy=f"Choose {', '.join(c.label for c in field.choices)}.",
    )


def _with_parts(document: Document) -> Document:
    """The document with what its shared parts ask and give, after its own; what it, or a part before, asks or
    gives by the same name stands instead.

    Raises:
        BadFormula: there is no part of that name.
    """
    parts = _parts()
    whole = document
    for name in document.uses:
        if name not in parts:
            raise BadFormula(
                f"There is no part “{name}” to use.",
                field="uses",
                remedy=f"Parts: {', '.join(sorted(parts))}.",
            )
        part = parts[name]
        update: dict[str, object] = {"cautions": (*whole.cautions, *part.cautions)}
        for table in ("inputs", "derived", "outputs", "bars"):
            own = getattr(whole, table)
            named = {each.key for each in own}
            update[table] = (*own, *(each for each in getattr(part, table) if each.key not in named))
        whole = whole.model_copy(update=update)
    return whole.model_copy(update={"uses": ()})


def _asked(field: Input, rules: Detailing) -> Input:
    """An input with its choices and default taken from the detailing rules, where it says so."""
    changes: dict[str, object] = {}
    if field.table:
        rows = rules.table(field.table)
        changes["choices"] = tuple(
            Choice(label=label, sets={field.prefix + name: value for name, value in sets.items()})
            for label, sets in rows
        )
        if field.default not in [label for label, _ in rows]:
            changes["default"] = rows[len(rows) // 2][0]
    if field.rule:
        changes["default"] = rules.setting(field.rule).removesuffix(f" {field.unit}")
    return field.model_copy(update=changes) if changes else field


def _words_of(field: Input, name: str) -> str:
    """The words for a value that a choice sets: “link ø”, “girth sides”."""
    words = _in_words(name.removeprefix(field.prefix))
    return f"{field.label.lower()} {words}" if field.table == "bars" else words


def _in_words(name: str) -> str:
    return _SET_WORDS.get(name) or " ".join(_SET_WORDS.get(word, word) for word in name.split("_"))


def _band_values(table: Bands) -> Iterator[Derived]:
    """What a band table sets, as derived values: one choice after the other, nothing outside them all."""
    names = table.rows[0].sets
    for row in table.rows:
        if row.sets.keys() != names.keys():
            raise BadFormula(
                f"A row of {table.label} doesn't set the same values as the first.", field=table.key
            )
    for name in names:
        text = "0"
        for row in reversed(table.rows):
            text = f"({_literal(row.sets[name])} if {_within(table, row)} else {text})"
        yield Derived(
            key=name,
            label=f"{_in_words(name)}, by {table.label.lower()}",
            unit=METRIC.symbol_of(_setting_dimension(table.label, name, names[name])),
            formula=text,
        )


def _band_cautions(table: Bands) -> Iterator[Caution]:
    outside = " and ".join(f"not ({_within(table, row)})" for row in table.rows)
    yield Caution(
        when=outside,
        says=f"It lies outside every band of {table.label.lower()}, so it takes nothing from them.",
    )
    for one, two in combinations(table.rows, 2):
        low, high = (
            max(_setting(one.from_), _setting(two.from_)),
            min(_setting(one.below), _setting(two.below)),
        )
        if low < high:
            both = f"{_within(table, one)} and {_within(table, two)}"
            yield Caution(
                when=both, says=f"It lies on two bands of {table.label.lower()}; the first was taken."
            )


def _within(table: Bands, row: Band) -> str:
    """Whether a value lies in a row of a table; lengths are compared to a tenth of a millimetre, so that
    1.525 m stands on a limit of 1525 mm."""
    low, high = _limit(row.from_), _limit(row.below)
    return f"{_limit(row.from_, table.by)} >= {low} and {_limit(row.below, table.by)} < {high}"


def _limit(entry: str, value: str = "") -> str:
    """A limit, or a value that is held against it."""
    shown = value or _literal(entry)
    symbol = entry.strip().partition(" ")[2]
    is_length = bool(symbol) and unit(symbol).dimension == _LENGTH
    return f"nearest({shown}, 0.1*mm)" if is_length else f"({shown})"


def _literal(entry: str) -> str:
    """A value with a unit, as a formula writes it."""
    try:
        amount, dimension = _setting(entry), unit(entry.strip().partition(" ")[2]).dimension
    except (ValueError, BadEntry):
        raise BadFormula(
            f"“{entry}” is not a number with a unit.", field="bands", remedy="Write it like “1.5 m”."
        ) from None
    names = {"[length]": "m", "[mass]": "kg"}
    if set(dimension) - set(names):
        raise BadFormula(
            f"A band can't set “{entry}”.", field="bands", remedy="Bands set numbers, lengths and masses."
        )
    return " * ".join(
        [repr(amount), *(f"{names[base]}**{float(str(power)):g}" for base, power in dimension.items())]
    )


def _setting(entry: str) -> float:
    """A choice's value in SI: it carries its own unit, or is a plain number."""
    amount, _, symbol = entry.strip().partition(" ")
    value = float(amount) * unit(symbol).size
    if not isfinite(value):
        raise ValueError(entry)
    return value


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
            raise BadFormula(
                f"The default of {field.label} doesn't fit: {error.sentence}", field=field.key
            ) from None
        return {field.key: unit(field.unit).dimension}
    first = field.choices[0].sets
    dimensions = {name: _setting_dimension(field.label, name, entry) for name, entry in first.items()}
    for choice in field.choices:
        if {
            name: _setting_dimension(field.label, name, entry) for name, entry in choice.sets.items()
        } != dimensions:
            raise BadFormula(
                f"Choice “{choice.label}” of {field.label} doesn't set the same values "
                f"as “{field.choices[0].label}”.",
                field=field.key,
            )
    _row(field, field.default)
    return dimensions


def _setting_dimension(table: str, name: str, entry: str) -> UnitsContainer:
    try:
        _setting(entry)
        symbol = entry.strip().partition(" ")[2]
        return unit(symbol).dimension if symbol else NUMBER
    except (ValueError, BadEntry):
        raise BadFormula(
            f"A choice of {table} sets {name} to “{entry}”, which is not a number with a unit.", field=name
        ) from None


def read_makeup(source: str, rules: Detailing | None = None, system: System = METRIC) -> MakeUp:
    """A make-up from its TOML text.

    Args:
        source: the text.
        rules: the detailing rules it runs under; the standard ones when missing.
        system: the unit system it reckons in.

    Raises:
        BadFormula: the text, a name, a unit or a formula doesn't hold; the sentence says where.
    """
    if len(source) > LARGEST_SOURCE:
        raise BadFormula(f"The make-up is longer than {LARGEST_SOURCE} characters.", field="source")
    # A key of many parts makes tables within tables, which take long to read: looked for before that.
    bare = source.replace('"', "").replace("'", "")
    if any(part.count(".") > DEEPEST_KEY for part in re.split(r"[={}\[\],\n*/+()]", bare)):
        raise BadFormula("A name in the make-up has too many parts.", field="source")
    try:
        data = tomllib.loads(source)
    except (tomllib.TOMLDecodeError, ValueError, RecursionError) as error:
        raise BadFormula(
            f"The make-up can't be read: {error}.", field="source", remedy="Compare it with a built-in one."
        ) from None
    try:
        return MakeUp(Document.model_validate(data), rules or standard(), system)
    except RecursionError:
        raise BadFormula("The make-up is nested too deep.", field="source") from None
    except ValidationError as error:
        first = error.errors(include_input=False, include_url=False)[0]
        place = " → ".join(str(part) for part in first["loc"])
        says, remedy = _IN_WORDS.get(first["type"], (first["msg"].lower(), ""))
        raise BadFormula(
            f"The make-up doesn't hold at {place}: {says}.", field=place, remedy=remedy
        ) from None
    except BadEntry as error:
        raise BadFormula(error.sentence, field=error.field, remedy=error.remedy) from None


@dataclass(frozen=True)
class Words:
    """What make-ups are written with, for a form to offer.

    Attributes:
        functions: the formulas they may call, with their parameters and source.
        parts: the shared parts they may use, with what each gives.
    """

    functions: tuple[NamedFormula, ...]
    families: tuple[str, ...]
    parts: Mapping[str, str]
    steel: tuple[str, ...]


@lru_cache(maxsize=1)
def words() -> Words:
    """What make-ups are written with."""
    rules = {**standard().formulas(), **STRUCTURE_RULES}
    gives = {
        name: ", ".join(each.label.lower() for each in (part.outputs or part.inputs or part.derived))
        for name, part in sorted(_parts().items())
    }
    return Words((*primitives(), *rules.values()), FAMILIES, gives, tuple(STEEL_BANDS))


@lru_cache(maxsize=1)
def _parts() -> Mapping[str, Shared]:
    """The shared parts by name."""
    folder = resources.files(__package__) / "parts"
    return {
        file.name.removesuffix(".toml"): Shared.model_validate(tomllib.loads(file.read_text("utf-8")))
        for file in folder.iterdir()
    }


@lru_cache(maxsize=1)
def built_in_keys() -> tuple[str, ...]:
    """The keys of the make-ups that ship with the application, in the order shown."""
    names = (file.name for file in (resources.files(__package__) / "library").iterdir())
    return tuple(sorted(name.removesuffix(".toml") for name in names if name.endswith(".toml")))


def built_in_makeup(key: str, detailing: str = "", unit_system: UnitSystem = "metric") -> MakeUp:
    """One of the make-ups that ship with the application, read and proved once.

    Args:
        detailing: the key of the detailing rules it runs under; the standard ones when empty.
        unit_system: the one it reckons in.
    """
    return _built_in(key, detailing or standard().key, unit_system)


@lru_cache(maxsize=512)
def _built_in(key: str, detailing: str, unit_system: UnitSystem) -> MakeUp:
    return read_makeup(built_in_source(key), rules_of(detailing), SYSTEMS[unit_system])


@lru_cache(maxsize=8)
def built_in(detailing: str = "") -> Mapping[str, MakeUp]:
    """The make-ups that ship with the application, by key, in the order shown (see
    :func:`built_in_makeup`)."""
    return {key: built_in_makeup(key, detailing) for key in built_in_keys()}


def built_in_source(key: str) -> str:
    """The text of a built-in make-up, to copy and change."""
    return (resources.files(__package__) / "library" / f"{key}.toml").read_text("utf-8")
