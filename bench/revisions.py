"""A revision of an A0 sheet of 20,000 lines laid over the one before, wherever it lies; and a DXF of 50,000
entities drawn as a sheet, beside ezdxf reading it alone.

    python -m bench.revisions"""

from __future__ import annotations

import io
import random
import time
from collections.abc import Callable
from typing import TypeVar

import ezdxf
import numpy as np

from sandscale.core.figures.differences import differences
from sandscale.core.figures.lay import lay_over
from sandscale.formats import dxf_sheet
from sandscale.formats.dxf_file import opened
from sandscale.reports import line_drawing_pdf
from tests.core.test_revisions import LAYS, SPOTS, drawing, redrawn

ENTITIES = 50_000
T = TypeVar("T")


def main() -> None:
    """Measure and print."""
    lines, words = drawing(11)
    planted = np.array([(x, y, x + 9 + k, y + 7) for k, (x, y) in enumerate(SPOTS)])
    for name, lay in LAYS.items():
        for what, more in (("nothing changed", lines), ("40 places changed", np.vstack((lines, planted)))):
            after, said = redrawn(more, words, lay, 5)
            laid, laying = timed(lambda after=after: lay_over(lines, after))
            assert laid is not None
            found, comparing = timed(
                lambda after=after, said=said, laid=laid: differences(lines, after, words, said, laid)
            )
            print(
                f"{name}, {what}: laid in {laying:.2f} s, compared in {comparing:.2f} s, "
                f"{laying + comparing:.2f} s in all; {len(found)} places found"
            )
    content = plan()
    _, reading = timed(lambda: opened(content))
    drawn, drawing_it = timed(lambda: whole(content))
    _, writing = timed(lambda: line_drawing_pdf.write(drawn))
    print(f"DXF of {ENTITIES:,} entities, {len(content) / 1e6:.1f} MB: read alone {reading:.1f} s, read and")
    print(f"drawn {drawing_it:.1f} s, written as PDF {writing:.1f} s", end="")
    print(f"; ratio {(drawing_it + writing) / reading:.1f}")


def timed(task: Callable[[], T]) -> tuple[T, float]:
    """What a task makes, and the seconds it takes."""
    begun = time.perf_counter()
    made = task()
    return made, time.perf_counter() - begun


def whole(content: bytes) -> dxf_sheet.LineDrawing:
    """A DXF drawn to its end."""
    reading = dxf_sheet.read(content, "plan.dxf")
    while True:
        try:
            next(reading)
        except StopIteration as end:
            return end.value  # type: ignore[no-any-return]


def plan() -> bytes:
    """A DXF of lines, blocks, words, dashed outlines and arcs on five layers."""
    dice = random.Random(1)
    document = ezdxf.new("R2010", setup=True, units=4)
    space = document.modelspace()
    column = document.blocks.new("column")
    column.add_lwpolyline([(-200, -200), (200, -200), (200, 200), (-200, 200)], close=True)
    column.add_circle((0, 0), 100)
    for number in range(ENTITIES):
        x, y, kind = dice.uniform(0, 80_000), dice.uniform(0, 50_000), number % 10
        if kind < 6:
            space.add_line((x, y), (x + dice.uniform(-2e3, 2e3), y + 900), {"layer": f"walls {kind % 3}"})
        elif kind == 6:
            space.add_blockref("column", (x, y), {"layer": "grid"})
        elif kind == 7:
            space.add_text(f"F{number} 300", height=180, dxfattribs={"layer": "words", "insert": (x, y)})
        elif kind == 8:
            looks = {"layer": "walls 1", "linetype": "DASHED"}
            space.add_lwpolyline([(x, y), (x + 900, y), (x + 900, y + 700)], dxfattribs=looks)
        else:
            space.add_arc((x, y), 500, 0, 120, {"layer": "grid"})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


if __name__ == "__main__":
    main()
