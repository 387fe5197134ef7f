"""Reading what a person types into a number field: units, feet and inches, small sums."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from pint.util import UnitsContainer

from ..refusals import BadEntry
from .rounding import LARGEST
from .units import NUMBER, Unit, is_unit, kind_of, unit
from .ways import WORKING_DAY, Ways, ways
from .written import plain, written

_LONGEST = 120
_NUMBER = r"(?:\d{1,3}(?:[ \u00a0\u202f]\d{3})+(?:\.\d+)?|\d+\.?\d*(?:[eE][+-]?\d+)?|\.\d+)"
_FRACTION = r"(?:\d+[ -]+)?\d+/\d+"
_SYMBOL = r"(?:kg/(?:m[²³23]?|l)|t/m[³3]|lb/ft[²³23]?|[a-zA-Z]+[²³23]?|%)"
_TOKEN = re.compile(
    rf"""\s*(?:
      (?P<feet>{_NUMBER}|{_FRACTION})\s*(?:'|′|ft(?![²³23a-zA-Z])|feet)\s*-?\s*
          (?P<inches>{_FRACTION}|{_NUMBER})\s*(?:"|″|in(?:ch|ches)?(?![a-zA-Z]))
    | (?P<fraction>{_FRACTION})\s*(?P<fraction_unit>"|″|'|′|(?:in|ft|yd)(?![²³23a-zA-Z]))
    | (?P<number>{_NUMBER})\s*(?P<number_unit>{_SYMBOL}|"|″|'|′)?
    | (?P<sign>[-+*/()×−·])
    )""",
    re.VERBOSE,
)
_PLAIN = re.compile(r"\d{1,12}(?:\.\d{1,12})?")
_SIGNS = {"×": "*", "·": "*", "−": "-"}
_LENGTH, _TIME = unit("m").dimension, unit("h").dimension
_DAYS = re.compile(r"\s*\bdays?\b|(?<=[\d.])days?\b")
_AS_KEPT = Ways()
# Numbers without a unit in what stands before it are in this one.
_UNIT_OF_BARE = re.compile(r"(?P<entry>.*\S)\s*\[(?P<unit>[^\[\]]+)\]\s*")
_WITH_UNIT = re.compile(rf"(?P<number>{_NUMBER}|{_FRACTION})\s*(?P<unit>{_SYMBOL})")
# From one end to the other, as a wall's height where its top falls; on a slope, as it is measured on plan.
_FROM_TO = re.compile(r"(?P<start>.*\S)\s+to\s+(?P<end>\S.*)")
_ON_SLOPE = re.compile(
    rf"(?P<plan>.*\S)\s+at\s+(?:1\s*in\s*(?P<run>{_NUMBER})|(?P<rise>{_NUMBER})\s*:\s*(?P<over>{_NUMBER})"
    rf"|(?P<percent>{_NUMBER})\s*%|(?P<degrees>{_NUMBER})\s*(?:°|deg|degrees))"
)
_STEEPEST = 89.0  # degrees
# A draughtsman's feet and inches, or a sum.
_BRACKETED = re.compile(r"\(\s*(?P<number>[\d.]+)\s*\)")
_DASHED = re.compile(r"(?P<feet>\d+)-(?P<inches>\d{1,2}(?: \d+/\d+)?)")


_EXAMPLES = {"m": "2.5, 2500mm or 1.2+0.35", "ft": "12.5, 12'-6\" or 8in"}


def _kind(dimension: UnitsContainer) -> str:
    """A dimension in words for a sentence, with the project's unit."""
    symbol = ways().system.symbol_of(dimension)
    return re.sub(r"\(.*\)$", f"({symbol})", kind_of(dimension)) if symbol else kind_of(dimension)


@dataclass(frozen=True)
class _Amount:
    """A value in SI with its dimension; ``bare`` while no unit has been seen."""

    value: float
    dimension: UnitsContainer
    bare: bool


@lru_cache(maxsize=50_000)  # a project's entries are mostly the same few hundred
def read_entry(text: str, symbol: str, *, field: str = "value", minimum: float | None = None) -> float:
    """The value in SI of what was typed into a field of a given unit.

    Accepts ``2.5``, ``2,5``, ``2½``, ``2500mm``, ``8ft 2in``, ``17'-8"``, ``1/2in``, ``1.2+0.35``,
    ``2*0.9``. A number without a unit takes the field's unit. Of a length or an area, ``2.4 to 3`` is the
    mean of both ends, and ``12 at 1 in 40`` (``at 1:40``, ``at 2.5%``, ``at 30°``) what is 12 on plan, on its
    slope.

    Args:
        text: what was typed.
        symbol: the field's unit.
        field: the field's name, for the sentence.
        minimum: the least value allowed, in SI.

    Returns:
        The value in SI (m, m², m³, kg, h), or a plain number.

    Raises:
        BadEntry: it can't be read, has another dimension, or is out of bounds; the sentence says which.
    """
    target = unit(symbol)
    # Most entries are plain numbers; they are read without the grammar, to the same value.
    known = _PLAIN.fullmatch(text)
    value = float(text) * target.size if known else _Sum(text, symbol, field).value(target)
    if not math.isfinite(value) or abs(value) > LARGEST:
        raise BadEntry(
            f"“{text.strip()}” is too large for {called(field)}.",
            field=field,
            remedy="Check the unit and the zeros.",
            code="too-large",
            numbers={"most": LARGEST},
        )
    if minimum is not None and value < minimum:
        here = unit(ways().system.symbol(target.symbol))
        bound = "not below zero" if minimum == 0 else f"at least {minimum / here.size:.4g} {here}".strip()
        says = f"{called(field).capitalize()} must be {bound}; “{text.strip()}” is below it."
        raise BadEntry(says, field=field, code="too-small", numbers={"value": value, "least": minimum})
    return value


def called(field: str) -> str:
    """What a field is called in a sentence: ``layers.0.step_height`` is a step height."""
    return field if " " in field else field.rpartition(".")[2].replace("_", " ")


def kept(text: str, symbol: str, *, field: str = "value") -> str:
    """What was typed, as it is kept: written plainly, with its unit where the project's isn't the field's.

    ``12,5`` is kept as 12.5, and days as hours of the project's working day; in a US customary project a
    length of ``12.5`` as 12.5 ft, and ``2*6.25`` as 2*6.25 [ft].

    Raises:
        BadEntry: it can't be read, or could be read in two ways.
    """
    plainly = plain(text.strip(), field)
    if not plainly:
        return ""
    if bare := _BRACKETED.fullmatch(plainly):
        raise BadEntry(
            f"“{text.strip()}” can be {bare['number']}, or as accounts write it −{bare['number']}.",
            field=field,
            remedy=f"Type {bare['number']}, or -{bare['number']}.",
            code="two-readings",
        )
    if unit(symbol).dimension == _TIME and ways().day != WORKING_DAY:
        plainly = _DAYS.sub(f"*{ways().day:g} h", plainly)
    if (dashed := _DASHED.fullmatch(plainly)) and unit(symbol).dimension == _LENGTH:
        feet, inches = dashed["feet"], dashed["inches"]
        if _plain(inches) < 12:
            raise BadEntry(
                f"“{plainly}” can be {feet} ft {inches} in, or {feet} less {inches}.",
                field=field,
                remedy=f"Type {feet}'-{inches}\" for feet and inches, or {feet} - {inches} to subtract.",
                code="two-readings",
            )
    here = ways().system.symbol(symbol)
    if here == symbol:
        return plainly
    if _PLAIN.fullmatch(plainly):
        return f"{plainly} {here}"
    same = read_entry(plainly, symbol, field=field) == read_entry(plainly, here, field=field)
    return plainly if same else f"{plainly} [{here}]"


def typed(fields: Mapping[str, Any], *names: str) -> dict[str, Any]:
    """Those of some fields that were typed as plain numbers or in units of their own, as they are kept."""
    return {name: kept(fields[name], "", field=name) for name in names if isinstance(fields.get(name), str)}


def as_typed(entry: str, symbol: str) -> str:
    """What was kept, as it is typed here: without a unit where it is the project's own, with one where it
    isn't."""
    own = unit(symbol).symbol
    here = ways().system.symbol(own)
    if _PLAIN.fullmatch(entry):
        return written(entry) if here == own or not float(entry) else f"{written(entry)} {own}"
    if (bare := _UNIT_OF_BARE.fullmatch(entry)) or (bare := _WITH_UNIT.fullmatch(entry)):
        text, given = (bare["entry"] if "entry" in bare.groupdict() else bare["number"]), bare["unit"]
        if is_unit(given) and unit(given).symbol == here:
            return written(text)
    return written(entry)


def read_times(text: str, *, field: str = "times") -> float:
    """The product of nested timesing: ``3/4/`` is 12, ``2+1/4`` is (2 + 1) × 4. Nothing typed is once.

    Raises:
        BadEntry: a part can't be read or is negative.
    """
    product = 1.0
    for part in text.strip().strip("/").split("/"):
        if part.strip():
            product *= read_entry(part, "", field=field, minimum=0)
    return product


class _Sum:
    """A small sum read by recursive descent: + − × ÷ and brackets over amounts."""

    def __init__(self, text: str, symbol: str, field: str) -> None:
        self.typed, self.field, self.target = text, field, unit(symbol)
        if (bare := _UNIT_OF_BARE.fullmatch(text)) and is_unit(bare["unit"]):
            text, self.target = bare["entry"], unit(bare["unit"])
        self.text = plain(text, field, _AS_KEPT) if len(text) <= _LONGEST else text
        self.amount = self._whole(self.text) if self._is_measured() else self._sum(self.text)

    def _is_measured(self) -> bool:
        """Whether it is of something that has two ends, or can lie on a slope."""
        return len(self.text) <= _LONGEST and self.target.dimension in (_LENGTH, _LENGTH**2)

    def _whole(self, text: str) -> _Amount:
        """A sum, the mean of two, or one on a slope."""
        if ends := _FROM_TO.fullmatch(text.strip()):
            start, end = self._alike(self._whole(ends["start"]), self._whole(ends["end"]))
            return _Amount((start.value + end.value) / 2, start.dimension, start.bare)
        if on := _ON_SLOPE.fullmatch(text.strip()):
            amount, gradient = self._sum(on["plan"]), self._gradient(on)
            return _Amount(amount.value * math.hypot(1, gradient), amount.dimension, amount.bare)
        return self._sum(text)

    def _gradient(self, on: re.Match[str]) -> float:
        """The rise of a slope in 1 along."""
        given = {name: _plain(number) for name, number in on.groupdict().items() if number and name != "plan"}
        if "degrees" in given and given["degrees"] <= _STEEPEST:
            return math.tan(math.radians(given["degrees"]))
        if "percent" in given:
            return given["percent"] / 100
        along, rise = given.get("run", given.get("over", 0.0)), given.get("rise", 1.0)
        if "degrees" in given or not along:
            raise BadEntry(
                f"“{self.typed.strip()}” stands upright: it has no size on plan.",
                field=self.field,
                remedy="Measure its face instead.",
            )
        return rise / along

    def _sum(self, text: str) -> _Amount:
        self.text = text
        self.tokens: list[_Amount | str] = self._tokens()
        self.at = 0
        return self.read()

    def value(self, wanted: Unit) -> float:
        """The sum in SI, if it has the wanted dimension."""
        amount = self.amount
        dimension = self.target.dimension if amount.bare else amount.dimension
        if dimension != wanted.dimension:
            here = ways().system.symbol(wanted.symbol)
            raise BadEntry(
                f"“{self.typed.strip()}” is {_kind(dimension)}; "
                f"{called(self.field)} takes {_kind(wanted.dimension)}.",
                field=self.field,
                remedy=f"Type it in {here or 'plain numbers'}.",
                code="wrong-unit",
            )
        return amount.value * self.target.size if amount.bare else amount.value

    def read(self) -> _Amount:
        result = self._terms()
        if self.at < len(self.tokens):
            raise self._unreadable()
        return result

    def _unreadable(self, why: str = "") -> BadEntry:
        shown = self.text.strip()[:40]
        here = ways().system.symbol(self.target.symbol)
        example = _EXAMPLES.get(here, f"{written('12.5')} or {written('2*6.25')}")
        return BadEntry(
            why or f"“{shown}” can't be read as {called(self.field)}.",
            field=self.field,
            remedy=f"Type something like {example}.",
        )

    def _tokens(self) -> list[_Amount | str]:
        text = self.text.strip()
        if not text:
            raise self._unreadable(f"{called(self.field).capitalize()} is empty.")
        if len(text) > _LONGEST:
            what = f"What is typed into {called(self.field)}"
            raise self._unreadable(f"{what} is longer than {_LONGEST} characters.")
        tokens: list[_Amount | str] = []
        at = 0
        while at < len(text):
            match = _TOKEN.match(text, at)
            if not match or match.end() == at:
                raise self._unreadable()
            tokens.append(self._token(match))
            at = match.end()
        return tokens

    def _token(self, match: re.Match[str]) -> _Amount | str:
        if match["feet"]:
            feet, inches = _plain(match["feet"]), _plain(match["inches"])
            return _Amount(feet * unit("ft").size + inches * unit("in").size, unit("ft").dimension, False)
        if match["fraction"]:
            return self._with_unit(_plain(match["fraction"]), match["fraction_unit"])
        if match["number"]:
            symbol = match["number_unit"]
            return (
                self._with_unit(_plain(match["number"]), symbol)
                if symbol
                else _Amount(_plain(match["number"]), NUMBER, True)
            )
        return _SIGNS.get(match["sign"], match["sign"])

    def _with_unit(self, value: float, symbol: str) -> _Amount:
        if not is_unit(symbol):
            raise self._unreadable(f"“{symbol}” in “{self.text.strip()[:40]}” is not a unit we know.")
        found = unit(symbol)
        return _Amount(value * found.size, found.dimension, False)

    def _next(self, *signs: str) -> str:
        if self.at < len(self.tokens) and self.tokens[self.at] in signs:
            self.at += 1
            return str(self.tokens[self.at - 1])
        return ""

    def _terms(self) -> _Amount:
        left = self._factors()
        while sign := self._next("+", "-"):
            right = self._factors()
            left, right = self._alike(left, right)
            left = _Amount(
                left.value + (right.value if sign == "+" else -right.value), left.dimension, left.bare
            )
        return left

    def _alike(self, left: _Amount, right: _Amount) -> tuple[_Amount, _Amount]:
        if left.bare != right.bare:
            left, right = (self._in_field_unit(side) if side.bare else side for side in (left, right))
        if left.dimension != right.dimension:
            raise BadEntry(
                f"“{self.text.strip()}” adds {_kind(left.dimension)} to {_kind(right.dimension)}.",
                field=self.field,
                remedy="Only like can be added to like.",
            )
        return left, right

    def _in_field_unit(self, amount: _Amount) -> _Amount:
        return _Amount(amount.value * self.target.size, self.target.dimension, False)

    def _factors(self) -> _Amount:
        left = self._signed()
        while sign := self._next("*", "/"):
            right = self._signed()
            if sign == "*":
                left = _Amount(
                    left.value * right.value, left.dimension * right.dimension, left.bare and right.bare
                )
            elif right.value == 0:
                raise BadEntry(
                    f"“{self.text.strip()}” divides by zero.", field=self.field, code="divides-by-zero"
                )
            else:
                left = _Amount(
                    left.value / right.value, left.dimension / right.dimension, left.bare and right.bare
                )
        return left

    def _signed(self) -> _Amount:
        if self._next("-"):
            inner = self._signed()
            return _Amount(-inner.value, inner.dimension, inner.bare)
        if self._next("("):
            inner = self._terms()
            if not self._next(")"):
                raise self._unreadable(f"A bracket in “{self.text.strip()}” is not closed.")
            return inner
        if self.at < len(self.tokens) and isinstance(token := self.tokens[self.at], _Amount):
            self.at += 1
            return token
        raise self._unreadable()


def _plain(digits: str) -> float:
    """A number, a fraction or a mixed fraction (``5 1/2``) without unit."""
    if "/" in digits:
        *whole, fraction = re.split(r"[ -]+", digits.strip())
        above, below = fraction.split("/")
        if float(below) == 0:
            raise BadEntry(f"“{digits}” divides by zero.", code="divides-by-zero")
        return (float(whole[0]) if whole else 0.0) + float(above) / float(below)
    return float(re.sub(r"[ \u00a0\u202f]", "", digits))
