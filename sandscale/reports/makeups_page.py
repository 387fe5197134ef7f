"""The make-ups as pages of the documentation: what each counts, what it leaves to others, and its picture,
drawn from the make-ups themselves. ``python -m sandscale.reports.makeups_page docs`` writes them.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from xml.sax.saxutils import escape

from ..core.makeups.makeup import MakeUp, built_in
from ..core.makeups.run import Drawn, Line, Sketch, drawn
from .sheet_pdf import LOOKS

HEAD = """# What each make-up counts, and what it leaves to others

Drawn from the make-ups (`sandscale/core/makeups/library/`) by the command `python -m
sandscale.reports.makeups_page docs`; a test fails when it is out of date. A quantity that comes to nothing
isn't shown on the desk; those with an item go into the bill, the others are materials to buy.
"""
# Sizes that show a make-up well; the rest are drawn at a line of 2.40 × 1.20 × 0.50.
_SIZES = {
    "beam": (5.0, 0.3, 0.5), "blockwork": (2.4, None, 1.2), "brickwork-cavity": (2.4, None, 1.2),
    "column": (0.4, 0.3, 1.2), "column-round": (None, 0.5, 1.2), "ground-slab": (6.0, 4.0, 0.2),
    "retaining-wall": (6.0, None, 2.4), "pipe-trench": (20.0, 1.2, 2.4), "pile": (4.0, None, None),
    "suspended-slab": (6.0, 4.0, 0.22), "stair": (None, 1.2, None), "wall": (5.0, None, 1.5),
}  # fmt: skip
_WIDE, _HIGH, _EDGE = 300.0, 150.0, 14.0


def page() -> str:
    """The page, as Markdown."""
    lines = [HEAD]
    for key, makeup in sorted(built_in().items(), key=lambda each: each[1].name):
        lines += [f"## {makeup.name}", "", makeup.document.about, ""]
        if makeup.sketch:
            lines += [f"![{makeup.name}](make-ups/{key}.svg)", ""]
        billed = [o for o, _ in makeup.outputs if o.item]
        bought = [o for o, _ in makeup.outputs if not o.item]
        rest = "Comes to, once" if makeup.is_allowance else "To buy"
        for title, outputs in (("Counts", billed), (rest, bought)):
            if outputs:
                lines += [
                    f"- **{title}**: " + ", ".join(f"{_low(o.label)} ({o.unit})" for o in outputs) + "."
                ]
        lines += [f"- **Left to others**: {_low(makeup.document.leaves)}", ""]
    return "\n".join(lines)


def pictures() -> Iterator[tuple[str, str]]:
    """Of each make-up that is drawn, its key and its picture as SVG."""
    for key, makeup in built_in().items():
        if makeup.sketch:
            yield key, _picture(makeup)


def _low(words: str) -> str:
    return words[:1].lower() + words[1:]


def _picture(makeup: MakeUp) -> str:
    length, width, height = _SIZES.get(makeup.key, (2.4, 1.2, 0.5))
    sketch = drawn(makeup, {}, Line(length=length, width=width, height=height))
    left, top, scale = _fitted(sketch)

    def at(x: float, y: float) -> str:
        return f"{(x - left) * scale + _EDGE:.1f},{(top - y) * scale + _EDGE:.1f}"

    shapes = "".join(_shape(part, at, scale) for part in sketch.parts)
    names = ", ".join(dict.fromkeys(_low(part.label) for part in sketch.parts))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {_WIDE:g} {_HIGH + 18:g}" width="{_WIDE:g}">\n'
        f"<title>{escape(makeup.name)}</title>\n{shapes}"
        f'<text x="{_EDGE:g}" y="{_HIGH + 12:g}" font-family="sans-serif" font-size="9" fill="#6A645A">'
        f"{escape(names)}</text>\n</svg>\n"
    )


def _shape(part: Drawn, at: Callable[[float, float], str], scale: float) -> str:
    color = LOOKS.get(part.family, LOOKS["concrete"])[0]
    filled = "none" if part.hollow or len(part.points) == 2 else color
    look = f'fill="{filled}" fill-opacity="0.18" stroke="{color}" stroke-width="1.2"'
    if part.radius is not None:
        x, y = at(*part.points[0]).split(",")
        return f'<circle cx="{x}" cy="{y}" r="{part.radius * scale:.1f}" {look}/>\n'
    points = " ".join(at(x, y) for x, y in part.points)
    name = "polyline" if part.family == "bars" else "polygon"
    return f'<{name} points="{points}" {look}/>\n'


def _fitted(sketch: Sketch) -> tuple[float, float, float]:
    """Where the picture begins, at its left and its top in m, and how many units of it are a metre."""
    across = [
        x + side for p in sketch.parts for x, _ in p.points for side in (-(p.radius or 0), p.radius or 0)
    ]
    up = [y + side for p in sketch.parts for _, y in p.points for side in (-(p.radius or 0), p.radius or 0)]
    wide, high = max(across) - min(across), max(up) - min(up)
    scale = min((_WIDE - 2 * _EDGE) / (wide or 1), (_HIGH - 2 * _EDGE) / (high or 1))
    beside = (_WIDE - 2 * _EDGE) / scale - wide
    return min(across) - beside / 2, max(up), scale


def main() -> None:
    folder = Path(sys.argv[1])
    (folder / "make-ups").mkdir(exist_ok=True)
    (folder / "make-ups.md").write_text(page(), "utf-8")
    for key, picture in pictures():
        (folder / "make-ups" / f"{key}.svg").write_text(picture, "utf-8")


if __name__ == "__main__":
    main()
