"""Detailing rules as data: covers, formers, least legs, laps, stock lengths, and how bends are deducted.

A named set is one file in ``detailing/``. Make-ups take their bar tables, laps, covers and shape formulas
from it.
"""

from __future__ import annotations

import tomllib
from collections.abc import Iterable, Mapping
from functools import lru_cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..numbers.entry import read_entry
from ..numbers.formula import NamedFormula
from ..numbers.rounding import half_up
from ..refusals import BadEntry, BadFormula
from .rules import BAR_RULES
from .shapes import SHAPES, Shape
from .sizes import NOMINAL_MASS, diameter

_GUARD, _ALIKE = 1e-9, 5e-5


class _Data(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Former(_Data):
    """The former radius of bars up to a diameter."""

    to: str
    times_d: float = Field(gt=0)


class LeastLeg(_Data):
    """A least length of an end: k·d but, for bars up to a diameter, not less than a length; measured beyond
    the bend or over all, and set to the nearest step where the rules' own table is."""

    times_d: float = Field(ge=0)
    least: str
    to: str = "100 mm"
    beyond_bend: bool = False
    step: str = "0 mm"


class Lap(_Data):
    """The lap of bars in a concrete, in diameters; ``above`` narrows it to bars thicker than that."""

    concrete: str
    times_d: float = Field(gt=0)
    above: str = "0 mm"


class Detailing(_Data):
    """A set of detailing rules, as written in its file."""

    key: Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
    name: str
    source: str
    bends: Literal["formula", "count", "none"]
    bend_times_d: float = Field(default=0, ge=0)
    cut_step: str
    stock: Annotated[tuple[str, ...], Field(min_length=1)]
    counting: str
    grade: str = Field(default="", max_length=2)
    former: Annotated[tuple[Former, ...], Field(min_length=1)]
    least_leg: LeastLeg
    least_hook: LeastLeg
    bars: Annotated[tuple[str, ...], Field(min_length=1)]
    covers: dict[str, str]
    laps: Annotated[tuple[Lap, ...], Field(min_length=1)]

    def radius(self, d: float) -> float:
        """The former radius in m of a bar of diameter d in m.

        Raises:
            BadEntry: the set has no former for so thick a bar.
        """
        for former in self.former:
            if d <= read_entry(former.to, "m") + _GUARD:
                return former.times_d * d
        raise BadEntry(
            f"{self.name} has no former for a bar of {d * 1000:g} mm.",
            field="size",
            remedy="Choose a thinner bar or another set of rules.",
        )

    def leg(self, d: float, *, hook: bool = False) -> float:
        """The least end, in m over all, of a bar of diameter d in m."""
        rule = self.least_hook if hook else self.least_leg
        straight = rule.times_d * d
        if d <= read_entry(rule.to, "m") + _GUARD:
            straight = max(straight, read_entry(rule.least, "m"))
        end, step = straight + (self.radius(d) + d if rule.beyond_bend else 0.0), read_entry(rule.step, "m")
        return float(half_up(end / step, 0)) * step if step else end

    def lap(self, d: float, concrete: str) -> float:
        """The lap in m of bars of diameter d in m.

        Raises:
            BadEntry: the set has no lap for that concrete.
        """
        fitting = [
            lap for lap in self.laps if lap.concrete == concrete and d > read_entry(lap.above, "m") + _GUARD
        ]
        if not fitting:
            known = ", ".join(dict.fromkeys(lap.concrete for lap in self.laps))
            raise BadEntry(
                f"{self.name} has no lap in {concrete}.", field="concrete", remedy=f"It knows {known}."
            )
        return fitting[-1].times_d * d

    def size_of(self, d: float) -> str:
        """The size of a diameter in m: the set's own of that diameter, else in mm."""
        for size in self.bars:
            if abs(diameter(size) - d) < _ALIKE:
                return size
        return f"{d * 1000:g}"

    def stock_lengths(self) -> tuple[float, ...]:
        """The lengths bars are sold in, in m, longest first."""
        return tuple(sorted((read_entry(length, "m") for length in self.stock), reverse=True))

    def setting(self, name: str) -> str:
        """The entry a make-up's input takes from the rules: ``cut_step``, ``stock``, ``counting``,
        ``cover:XC2``.

        Raises:
            BadFormula: there is no such setting.
        """
        kind, _, which = name.partition(":")
        if kind == "cover" and which:
            # A set without that exposure gives its greatest cover: too much concrete is safe, too little is
            # not.
            return self.covers.get(which) or max(
                self.covers.values(), key=lambda cover: read_entry(cover, "m")
            )
        if kind in ("cut_step", "counting"):
            return str(getattr(self, kind))
        if kind == "stock":
            return self.stock[0]
        raise BadFormula(
            f"Detailing rules have no setting “{name}”.",
            field="rule",
            remedy="Use cut_step, stock, counting or cover:… .",
        )

    def table(self, name: str) -> tuple[tuple[str, Mapping[str, str]], ...]:
        """A choice table make-ups may ask for: its rows' labels and what each sets.

        ``bars`` sets d, r (former radius) and leg (least end); ``concrete`` sets lap_d, the lap in diameters.

        Raises:
            BadFormula: there is no such table.
        """
        if name == "bars":
            return tuple(
                (size, {"d": f"{d!r} m", "r": f"{self.radius(d)!r} m", "least_leg": f"{self.leg(d)!r} m"})
                for size in self.bars
                for d in (diameter(size),)
            )
        if name == "concrete":
            return tuple(
                (lap.concrete, {"lap_d": f"{lap.times_d:g}"})
                for lap in self.laps
                if read_entry(lap.above, "m") == 0
            )
        raise BadFormula(
            f"Detailing rules have no table “{name}”.", field="table", remedy="Use bars or concrete."
        )

    def formulas(self, shapes: Iterable[Shape] = tuple(SHAPES.values())) -> Mapping[str, NamedFormula]:
        """The named formulas of reinforcement under these rules: counts, laps, and ``shape_21`` and its
        like."""
        found = dict(BAR_RULES)
        if all(size.startswith("#") for size in self.bars):
            found["bar_mass"] = NOMINAL_MASS
        for shape in shapes:
            text = {
                "formula": shape.formula,
                "none": shape.sum,
                "count": f"{shape.sum} - {shape.bends * self.bend_times_d:g}*d",
            }[self.bends]
            name = f"shape_{shape.code}"
            found[name] = NamedFormula(
                name, (*shape.legs, "r", "d"), text, f"Shape code {shape.code}, bends by {self.name}"
            )
        return found


def _least(rules: Detailing) -> tuple[str, ...]:
    return tuple(
        length for rule in (rules.least_leg, rules.least_hook) for length in (rule.least, rule.to, rule.step)
    )


def read_detailing(source: str) -> Detailing:
    """A set of detailing rules from its TOML text.

    Raises:
        BadFormula: it can't be read or a value in it doesn't hold; the sentence says where.
    """
    try:
        rules = Detailing.model_validate(tomllib.loads(source))
        for length in (
            rules.cut_step,
            *rules.stock,
            *rules.covers.values(),
            *(former.to for former in rules.former),
            *_least(rules),
        ):
            read_entry(length, "m", field="length", minimum=0)
        rules.table("bars")
    except tomllib.TOMLDecodeError as error:
        raise BadFormula(
            f"The detailing rules can't be read: {error}.",
            field="source",
            remedy="Compare them with a built-in set.",
        ) from None
    except ValidationError as error:
        first = error.errors()[0]
        place = " → ".join(str(part) for part in first["loc"])
        raise BadFormula(f"The detailing rules don't hold at {place}: {first['msg']}.", field=place) from None
    except BadEntry as error:
        raise BadFormula(
            f"The detailing rules don't hold: {error.sentence}", field=error.field, remedy=error.remedy
        ) from None
    return rules


@lru_cache(maxsize=1)
def built_in_detailing() -> Mapping[str, Detailing]:
    """The sets that ship with the application, by key."""
    folder = resources.files(__package__) / "detailing"
    found = [
        read_detailing(file.read_text("utf-8")) for file in sorted(folder.iterdir(), key=lambda f: f.name)
    ]
    return {rules.key: rules for rules in found}


def built_in_source(key: str) -> str:
    """The text of a set that ships with the application."""
    return (resources.files(__package__) / "detailing" / f"{key}.toml").read_text("utf-8")


def rules_of(detailing: str) -> Detailing:
    """The set of a key that ships with the application, or of a text; the standard one for nothing."""
    return built_in_detailing()[detailing] if detailing in built_in_detailing() else _read(detailing)


@lru_cache(maxsize=64)
def _read(source: str) -> Detailing:
    return read_detailing(source) if source else standard()


def standard() -> Detailing:
    """The set a project has until it chooses another."""
    return built_in_detailing()["bs-8666"]
