"""A make-up as it is written: the parts of its document, each a line or a table of a readable file."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

Key = Annotated[str, StringConstraints(pattern=r"^[A-Za-z][A-Za-z0-9_]{0,39}$")]
Words = Annotated[str, StringConstraints(min_length=1, max_length=200, strip_whitespace=True)]


Entry = Annotated[str, StringConstraints(max_length=80)]
Expression = Annotated[str, StringConstraints(max_length=4000)]


class _Data(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class Choice(_Data):
    """One row of a choice table: its label, and every value that picking it sets (entries with units)."""

    label: Words
    sets: Annotated[dict[Key, Entry], Field(max_length=24)] = {}


class Input(_Data):
    """A question the make-up asks: a value with a unit, a pick from a choice table, or words for the bill.

    ``group`` is the heading it stands under, with those next to it that name the same. ``table`` takes the
    choices from the detailing rules (``bars``, ``concrete``), their values named with ``prefix`` before
    them; ``rule`` takes the default from them (``cut_step``, ``cover:XC2``)."""

    key: Key
    label: Words
    unit: str = ""
    default: str = ""
    rule: str = ""
    table: str = ""
    prefix: str = ""
    minimum: float | None = None
    group: str = Field(default="", max_length=60)
    hint: str = ""
    words: bool = False
    choices: Annotated[tuple[Choice, ...], Field(max_length=120)] = ()

    @property
    def is_number(self) -> bool:
        """Whether a number with a unit is entered, rather than words or a choice."""
        return not (self.words or self.choices or self.table)


class Derived(_Data):
    """A value worked out on the way to the outputs, shown in the working."""

    key: Key
    label: Words
    unit: str = ""
    formula: Expression


class Band(_Data):
    """One row: bounds and what it sets, as entries with units (``1.5 m``)."""

    from_: Entry = Field(alias="from")
    below: Entry
    sets: Annotated[dict[Key, Entry], Field(max_length=24)]


class Bands(_Data):
    """A table read by a value: each row holds from a lower bound to below an upper one and sets values.

    A value outside every row, or in two, is found and counts nothing.
    """

    key: Key
    label: Words
    by: Key
    rows: Annotated[tuple[Band, ...], Field(min_length=1, max_length=40)]


class Purchase(_Data):
    """How the material of an output is bought: in whole packs of a size, which is a formula over the
    inputs."""

    pack: Words
    holds: Expression


class Output(_Data):
    """One quantity the make-up gives: its formula for one dimension line, and the bill item it belongs to.

    ``deducts`` says what a ddt line does to it: taken away (``subtract``), left as it is (``ignore``), put on
    as the edge of a void is (``add``), or the only lines that count, as reveals are of openings (``only``).
    ``item``, ``section`` and ``family`` are words in which ``{input}`` is replaced by what was entered; an
    output without an item is a material, for the order and not the bill. An ``optional`` output is not shown
    while it is zero. A number of things is had whole, unless ``parts`` says that it can be had in parts."""

    key: Key
    label: Words
    unit: str
    family: str
    formula: Expression
    waste: float = Field(default=0, ge=0, le=100)
    deducts: Literal["subtract", "ignore", "add", "only"] = "subtract"
    item: str = Field(default="", max_length=200)
    section: str = Field(default="", max_length=200)
    optional: bool = False
    parts: bool = False
    purchase: Purchase | None = None

    @property
    def had_whole(self) -> bool:
        """Whether it is a number of things of which a part can't be had; what is bought in packs is rounded
        there."""
        return self.unit == "nr" and not self.parts and self.purchase is None

    def takes(self, deduct: bool) -> bool:
        """Whether a line counts in it, by whether it is a ddt one."""
        return self.deducts in ("subtract", "add") or deduct == (self.deducts == "only")

    @model_validator(mode="after")
    def _billed_whole(self) -> Output:
        if bool(self.item.strip()) != bool(self.section.strip()):
            raise ValueError("an output has both an item and a section, or neither")
        return self


# Shapes whose first leg may be nothing: which of their legs the straight bar is then.
STRAIGHT = {"11": 1, "21": 1}


class Bar(_Data):
    """Bars of one line that stand in the bending schedule alike: ``number`` of a diameter ``d``.

    They are bent to the ``legs`` of a shape, and then ``<key>_cut`` is the cut length for other formulas; or
    each is a ``run`` made up from stock, laps in it; or they are ``laid``, a length with laps that is cut
    from stock where it is laid. ``output`` is the quantity they are part of, whose rule for ddt lines they
    follow; ``r`` the former radius, by the name of ``d`` where it isn't given. An ``exact`` cut length isn't
    rounded."""

    key: Key
    label: Words
    output: Key
    d: Expression
    number: Expression = "1"
    shape: Annotated[str, StringConstraints(pattern=r"^[0-9]{2}$")] = ""
    legs: Annotated[tuple[Expression, ...], Field(max_length=8)] = ()
    r: Expression = ""
    exact: bool = False
    run: Expression = ""
    laid: Expression = ""

    @property
    def former(self) -> str:
        """The formula of the former radius."""
        return self.r or re.sub(r"d$", "r", self.d)

    @property
    def cut(self) -> str:
        """The formula of the cut length of a bent or a straight bar."""
        bent = f"shape_{self.shape}({', '.join(self.legs)}, {self.former}, {self.d})"
        if (straight := STRAIGHT.get(self.shape)) is not None:
            bent = f"({bent} if {self.legs[0]} > 0*m else {self.legs[straight]})"
        return f"max(0*m, {bent})" if self.exact else f"up_to_step(max(0*m, {bent}), cut_step)"

    @model_validator(mode="after")
    def _one_way(self) -> Bar:
        if sum(map(bool, (self.shape, self.run, self.laid))) != 1:
            raise ValueError("bars have a shape, or are a run, or are laid")
        if bool(self.shape) != bool(self.legs):
            raise ValueError("bars of a shape have legs")
        return self


class Caution(_Data):
    """A condition on one dimension line that is legal but suspect, and what to say of it."""

    when: Expression
    says: Words
    on: Literal["adds", "ddts"] = "adds"


class Part(_Data):
    """One outline of the make-up's sketch: points as pairs of formulas, in m; a single point with a radius
    is a circle."""

    label: Words
    family: str
    view: Literal["section", "plan", "elevation"] = "section"
    points: Annotated[tuple[tuple[Expression, Expression], ...], Field(min_length=1, max_length=24)]
    radius: Expression = ""
    hollow: bool = False


class Shared(_Data):
    """What several make-ups ask, work out and give alike; written like a make-up, in a file of its own."""

    inputs: Annotated[tuple[Input, ...], Field(max_length=100)] = ()
    derived: Annotated[tuple[Derived, ...], Field(max_length=200)] = ()
    outputs: Annotated[tuple[Output, ...], Field(max_length=60)] = ()
    cautions: Annotated[tuple[Caution, ...], Field(max_length=60)] = ()
    bars: Annotated[tuple[Bar, ...], Field(max_length=24)] = ()


Kind = Literal["make-up", "allowance"]


class Document(Shared):
    """A whole make-up, or an allowance: a rule of thumb that counts once by what it asks, without dimension
    lines.

    Attributes:
        about: what it is for, and what a line of it counts.
        leaves: what it doesn't count, since others do.
        headline: the output shown first.
        needs: the dimensions a line must have before it counts.
        bands: tables read by a value.
        sketch: its outlines, drawn to the sizes of a line.
        uses: shared parts whose inputs, derived values, outputs, cautions and bars it takes over, after its
            own.
        figures: the kinds of figure it is measured with, its own first.
        steel: the kind of element whose usual steel ratio it is held against; empty for none.
    """

    key: Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
    name: Words
    kind: Kind = "make-up"
    about: str = ""
    leaves: Annotated[str, Field(max_length=400)] = ""
    headline: Key
    needs: tuple[Literal["length", "width", "height", "area"], ...] = ()
    bands: Annotated[tuple[Bands, ...], Field(max_length=8)] = ()
    sketch: Annotated[tuple[Part, ...], Field(max_length=60)] = ()
    uses: Annotated[tuple[str, ...], Field(max_length=12)] = ()
    figures: tuple[Literal["count", "run", "area"], ...] = ()
    steel: str = ""

    @model_validator(mode="after")
    def _counts_once(self) -> Document:
        if self.kind == "allowance" and (self.needs or self.bars or self.figures or self.steel):
            raise ValueError("an allowance has no dimension lines, figures or bars")
        return self
