"""An earthwork as a measurer: cut by class, fill, what is carted, formation and slopes."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from ..ground.earthwork import Asked, Laid, Reckoned, Share, laid, reckoned
from ..numbers.systems import METRIC, System
from ..numbers.units import unit
from ..numbers.working import Working, shown
from ..refusals import BadEntry
from .measurer import Measured, QuantityLine
from .sized import sized

SECTION = "Earthwork"


@dataclass(frozen=True)
class Given:
    """What was entered for an earthwork.

    Attributes:
        print: of all it is reckoned from: the same while that is the same.
        asked: reads it.
        kept: what it last came to, None where it was never worked out.
        system: the unit system its quantities are in.
    """

    print: str
    asked: Callable[[], Asked] = field(repr=False, compare=False)
    kept: Callable[[], Reckoned | None] = field(repr=False, compare=False)
    system: System = METRIC


@dataclass(frozen=True)
class EarthMeasured(Measured):
    """What an earthwork comes to, with how it lies.

    Attributes:
        reckoned: its numbers.
        laid: it laid against its ground.
    """

    reckoned: Reckoned | None = None
    laid: Laid | None = None


class Earthworks:
    """The measurer of earthworks."""

    key = "earthwork"
    slow = True

    def measure(self, given: Given, progress: Callable[[float], None] = lambda _: None) -> EarthMeasured:
        """Reckon it; takes long.

        Raises:
            BadEntry, BadShape: it can't be laid against its ground.
        """
        asked = given.asked()
        progress(0.15)
        work = laid(asked)
        progress(0.3)
        made = reckoned(asked, work, progress)
        lines = tuple(_lines(made, given.system))
        return EarthMeasured(lines, "cut", made.findings, reckoned=made, laid=work)

    def working(self, given: Given, output: str, name: str) -> Working:
        """How one quantity came about, from what the earthwork last came to."""
        made = given.kept()
        if made is None:
            return Working(name, 0.0, "m³", source="not worked out yet")
        line = next((each for each in _lines(made, given.system) if each.output == output), None)
        if line is None:
            raise BadEntry("There is no such quantity.", field="output")
        told = _told(made, output, given.system)
        return Working(name, line.net, line.unit, told.expression, told.figures, (), told.parts, told.source)

    def bar_working(self, given: Given, key: str, name: str) -> Working:
        """It has no bars.

        Raises:
            BadEntry: always.
        """
        raise BadEntry("An earthwork has no bars.", field="key")

    def needs(self, given: Given) -> tuple[str, ...]:
        """It takes no dimension lines."""
        return ()


def _lines(made: Reckoned, system: System) -> Iterable[QuantityLine]:
    """Its quantity lines, the same ones for the same classes."""
    cubic, square = (sized(each, system, SECTION) for each in ("m³", "m²"))
    method = f", by {METHOD_WORDS[made.method]}" if made.method != "exact" else ""
    for share in made.shares:
        if share.taken == "dug" and share.key == "ordinary":
            continue
        label = f"{share.name}, {_TAKEN[share.taken]}"
        key, words = f"class_{share.key}", _ITEM[share.taken].format(share.name)
        yield cubic(key, label, share.volume, words, {"band": share.bands, "stage": share.stages})
        if share.taken != "dug":
            area = f"{share.name}, area {_TAKEN[share.taken]}"
            yield square(f"{key}_area", area, share.area, "", {"stage": share.stage_areas})
    own = next(share for share in made.shares if share.key == "ordinary")
    yield cubic(
        "cut", f"Ordinary digging{method}", own.volume, "Excavate to formation, ordinary material",
        {"band": own.bands, "stage": own.stages},
    )  # fmt: skip
    filled = "Fill to formation, compacted in layers"
    yield cubic("fill", f"Fill{method}", made.fill, filled, {"stage": made.fill_stages})
    haul, soil = made.haul, made.soil
    brought = haul["imported"] * soil.compacted
    yield cubic("imported", "Fill brought in, in place", brought, "Extra for fill brought to the site")
    yield cubic(
        "carted", "Carted away, in place", haul["exported"], "Cart excavated material away, measured in place"
    )
    yield cubic("carted_loose", "Carted away, loose", haul["exported_loose"])
    yield cubic("imported_loose", "Brought in, loose", haul["imported_loose"])
    loads = ("loads_away", "Loads away", haul["export_loads"]), ("loads_in", "Loads in", haul["import_loads"])
    for key, label, number in loads:
        yield QuantityLine(key, label, "nr", "earth", float(number), gross=float(number), always=False)
    yield square("floor", "Formation", made.floor, "Trim and compact formation", {"stage": made.floor_stages})
    yield square("slopes", "Slopes, true area", made.slopes, "Trim slopes of cuttings and fillings")
    yield square("footprint", "Footprint in plan", made.footprint)


_TAKEN = {"stripped": "stripped", "dug": "dug", "below formation": "dug below formation"}
_ITEM = {
    "stripped": "Strip {} and set aside",
    "dug": "Excavate to formation, {}",
    "below formation": "Excavate {} below formation",
}
METHOD_WORDS = {
    "exact": "prisms between the surfaces",
    "square grid": "squares",
    "grid sections": "sections along a grid",
    "contour areas": "contour areas",
}


def _told(made: Reckoned, output: str, system: System) -> Working:
    """The arithmetic behind one of its quantities, in the system's units."""
    cubic, square = unit(system.symbol("m³")).size, unit(system.symbol("m²")).size
    m3 = system.symbol("m³")
    haul, soil = made.haul, made.soil
    shares = {f"class_{s.key}" if s.key != "ordinary" else "cut": s for s in made.shares}
    if output in shares:
        return _share_told(made, shares[output], cubic, m3)
    dug = [Working(s.name, s.volume / cubic, m3) for s in made.shares]
    if output == "fill":
        return _by_method(made, "fill", made.fill, made.fill_exact, cubic, m3)
    if output in ("carted", "carted_loose"):
        figures = f"{shown(sum(s.volume for s in made.shares) / cubic)} − {shown(haul['reused'] / cubic)}"
        if output == "carted":
            return Working("", 0.0, expression="dug − used for the fill", figures=figures, parts=tuple(dug))
        return Working(
            "", 0.0, expression="(dug − used for the fill) × bulking",
            figures=f"({figures}) × {shown(soil.bulking)}", parts=tuple(dug),
        )  # fmt: skip
    if output in ("imported", "imported_loose"):
        needed = made.fill / soil.compacted / cubic
        told = f"{shown(needed)} − {shown(haul['reused'] / cubic)}"
        parts = (
            Working("Needed for the fill", needed, m3, "fill / compacted",
                f"{shown(made.fill / cubic)} / {shown(soil.compacted)}"),
            Working("Used from the cut", haul["reused"] / cubic, m3),
        )  # fmt: skip
        by, word = (soil.compacted, "compacted") if output == "imported" else (soil.bulking, "bulking")
        return Working(
            "", 0.0, expression=f"(needed − used from the cut) × {word}",
            figures=f"({told}) × {shown(by)}", parts=parts,
        )  # fmt: skip
    if output in ("loads_away", "loads_in"):
        loose = haul["exported_loose" if output == "loads_away" else "imported_loose"]
        figures = f"{shown(loose / cubic)} / {shown(soil.lorry / cubic)}" if soil.lorry else "no lorry named"
        return Working("", 0.0, expression="loose / lorry, whole loads", figures=figures)
    area = {
        "floor": "plan area of the formation within its outlines",
        "slopes": "Σ true area of the batters",
        "footprint": "plan area of all that is worked on",
    }
    if output in area:
        return Working("", 0.0, expression=area[output], source="two surfaces")
    share = shares[output.removesuffix("_area")]
    return Working(
        "", 0.0, expression="plan area on which it lies", figures=f"{shown(share.area / square)}",
        parts=tuple(Working(name, value / square, system.symbol("m²")) for name, value in share.stage_areas),
    )  # fmt: skip


def _share_told(made: Reckoned, share: Share, cubic: float, m3: str) -> Working:
    if share.taken == "dug":
        told = _by_method(made, "cut", share.volume, share.exact, cubic, m3)
    else:
        told = Working(
            "", 0.0, expression="Σ plan area × mean thickness of three corners",
            figures=f"over {shown(share.area)} m²", source="prisms",
        )  # fmt: skip
    split = [
        Working(words, value / cubic, m3, source=by)
        for by, values in (("by depth below stripped ground", share.bands), ("by stage", share.stages))
        for words, value in values
    ]
    return Working("", 0.0, "", told.expression, told.figures, (), (*told.parts, *split), told.source)


def _by_method(made: Reckoned, side: str, volume: float, exact: float, cubic: float, m3: str) -> Working:
    methods = tuple(
        Working(f"{side.capitalize()} by {METHOD_WORDS[m.name]}", getattr(m, side) / cubic, m3, source=m.says)
        for m in made.methods
    )
    if made.method == "exact":
        return Working(
            "", 0.0, expression="Σ plan area × mean height of three corners",
            figures=f"over {shown(made.footprint)} m²", parts=methods, source="prisms between two surfaces",
        )  # fmt: skip
    whole = {m.name: shown(getattr(m, side) / cubic) for m in made.methods}
    words = METHOD_WORDS[made.method]
    return Working(
        "", 0.0, expression=f"exact × {side} by {words} / {side} exact",
        figures=f"{shown(exact / cubic)} × {whole[made.method]} / {whole['exact']}",
        parts=methods, source=f"billed by {words}",
    )  # fmt: skip
