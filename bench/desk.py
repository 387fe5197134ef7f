"""How fast the measuring desk answers in large projects: an edit, the screens, tiles, the workbook.

    SANDSCALE_DATABASE=… python -m bench.desk

Each figure stands beside another of the same run: the small project beside the large, the workbook beside
LibreOffice Calc.
"""

from __future__ import annotations

import gc
import io
import statistics
import subprocess
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from reportlab.pdfgen.canvas import Canvas

from sandscale.formats import pdf
from sandscale.services.bill import reading as bill_reading
from sandscale.services.issue import documents as issue
from sandscale.services.keeping import checking
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure import reading as measure_reading
from sandscale.services.measure.actions import dimension_lines
from sandscale.store.database import connect, connected, migrate
from sandscale.store.models import DimensionLine

from . import large_project

SIZES = ((5_000, 500), (50_000, 5_000))
EDITS = 60


def timed(task: Callable[[], Any]) -> float:
    """Seconds a task takes."""
    begun = time.perf_counter()
    task()
    return time.perf_counter() - begun


def edits(places: list[tuple[Actor, list[int]]]) -> list[list[float]]:
    """Edits spread over each project, in turn, so that a noisy machine is as noisy for one as for the
    other."""
    found: list[list[float]] = [[] for _ in places]
    for n in range(EDITS + 3):
        for (actor, lines), times in zip(places, found, strict=True):
            row = DimensionLine.get_by_id(lines[n * (len(lines) // (EDITS + 3))])
            width = {"width": f"{0.4 + n / 100:.2f}"}
            times.append(timed(partial(dimension_lines.change_line, actor, row.id, row.version, width)))
    return [times[3:] for times in found]


def a0() -> bytes:
    """An A0 sheet with 20,000 lines."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(3370, 2384), invariant=1)
    for n in range(20_000):
        x, y = (n % 200) * 16.5 + 20, (n // 200) * 23 + 20
        canvas.line(x, y, x + 12, y + (n % 7))
    canvas.save()
    return out.getvalue()


def tiles() -> None:
    content = a0()
    pdf.read_pages(content, "A0")
    cold = [timed(lambda n=n: pdf.tile(content, f"cold {n}", 1, 2, 3, 3)) for n in range(5)]
    warm = [
        timed(lambda c=c, r=r: pdf.tile(content, "warm", 1, 2, c, r)) for c in range(12) for r in range(8)
    ][5:]
    print(
        f"tiles of an A0 sheet of 20,000 lines: cold {statistics.median(cold) * 1000:.0f} ms, warm "
        f"{statistics.median(warm) * 1000:.1f} ms (median)"
    )
    print(f"its lines and words read: {timed(lambda: pdf.page_content(content, 'A0', 1)):.2f} s")


def calc(content: bytes) -> float:
    """LibreOffice Calc opening the workbook, working it out anew and writing it."""
    with tempfile.TemporaryDirectory() as folder:
        (Path(folder) / "in.xlsx").write_bytes(content)
        command = [
            "soffice",
            "--headless",
            f"-env:UserInstallation=file://{folder}/profile",
            "--convert-to",
            "csv",
            "--outdir",
            folder,
            f"{folder}/in.xlsx",
        ]
        subprocess.run(command, check=True, capture_output=True, timeout=900)
        return timed(lambda: subprocess.run(command, check=True, capture_output=True, timeout=900))


def screens(actor: Actor) -> None:
    """What the larger screens read, and the workbook beside the same in LibreOffice Calc."""
    for name, task in (
        ("bill", bill_reading.bill_view),
        ("list of elements", measure_reading.locations),
        ("checks", checking.checks),
    ):
        print(f"    {name}: {timed(lambda task=task: task(actor)) * 1000:.0f} ms")
    begun = time.perf_counter()
    content = issue.bill_workbook(actor)[1]
    print(f"    workbook: {time.perf_counter() - begun:.1f} s, {len(content) / 2**20:.1f} MB")
    print(
        "    the same bill in LibreOffice Calc, headless: opened and worked "
        f"out anew in {calc(content):.1f} s"
    )


def main() -> None:
    gc.set_threshold(200_000, 20, 20)  # as the worker has it
    connect()
    migrate()
    with connected():
        tiles()
        places = [large_project.make(lines, items) for lines, items in SIZES]
        medians = []
        for (lines, items), (actor, _), times in zip(SIZES, places, edits(places), strict=True):
            medians.append(statistics.median(times))
            print(
                f"{lines:,} lines, {items:,} items: an edit to the new total {medians[-1] * 1000:.0f} "
                f"ms (median), {max(times) * 1000:.0f} ms (most)"
            )
            screens(actor)
        print(f"ratio of an edit, large to small: {medians[1] / medians[0]:.2f}")


if __name__ == "__main__":
    main()
