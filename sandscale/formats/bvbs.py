"""Bars in the exchange text of the BVBS guideline (Bundesvereinigung Bausoftware): a line for each bar, BF2D,
with its size, number and the legs and turns it is bent to; the member stands as the number of the drawing.

What is round, such as a ring or a helix, has no legs to write."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Sequence
from itertools import pairwise

from ..core.bars.recognition import recognised
from ..core.bars.schedule import ScheduleLine, shape_of
from ..core.bars.shapes import between
from ..core.numbers.rounding import half_up
from ..core.refusals import BadEntry
from .table import LARGEST, UnreadableTable

MOST_ROWS = 5_002  # lines

_FIELD = re.compile(r"([a-z])([^@]*)@", re.ASCII)
_WHOLE, _NUMBER = re.compile(r"[0-9]{1,9}"), re.compile(r"[0-9]{1,9}(\.[0-9]{0,9})?")
_SIGN = re.compile(r"[@\r\n]")


def is_bvbs(content: bytes) -> bool:
    """Whether a file is of this format, by how it begins."""
    return content.lstrip()[:4] in (b"BF2D", b"BF3D", b"BFWE", b"BFMA", b"BFGT", b"BFAU")


def write_bars(lines: Sequence[ScheduleLine], project: str, revision: str = "") -> bytes:
    """The bars of a schedule as BVBS lines, those that are round left out; in Latin 1, lines end by CR LF."""
    found = [_line(line, project, revision) for line in lines if written(line)]
    return "".join(f"{line}\r\n" for line in found).encode("latin-1", "replace")


def written(line: ScheduleLine) -> bool:
    """Whether a bar can be written: of straight parts, and of some length."""
    return shape_of(line.bar).straight and line.total > 0 and len(line.outline) > 1


def _line(line: ScheduleLine, project: str, revision: str) -> str:
    bar = line.bar
    mass = line.mass / line.total if line.total else 0.0
    head = {
        "j": project, "r": bar.member, "i": revision, "p": bar.mark, "l": f"{line.cut_length * 1000:.0f}",
        "n": f"{line.total:.0f}", "e": f"{mass:.3f}", "d": bar.size, "g": bar.grade or "B",
    }  # fmt: skip
    told = "".join(f"{key}{_SIGN.sub(' ', text)}@" for key, text in head.items())
    bent = "".join(f"l{leg}@w{turn}@" for leg, turn in _bent(line.outline))
    text = f"BF2D@H{told}G{bent}C"
    return f"{text}{_checksum(text)}@"


def _checksum(text: str) -> int:
    """96 less the sum of all signs up to and with the C, by 32."""
    return 96 - sum(text.encode("latin-1", "replace")) % 32


def _bent(outline: Sequence[tuple[float, float]]) -> Iterator[tuple[int, int]]:
    """Every leg in mm with the turn after it in degrees, to the left; 0 after the last."""
    steps = [(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(outline)]
    for at, step in enumerate(steps):
        turn = 0.0
        if at + 1 < len(steps):
            after = steps[at + 1]
            turn = math.remainder(math.atan2(after[1], after[0]) - math.atan2(step[1], step[0]), math.tau)
        yield int(half_up(math.hypot(*step) * 1000, 0)), int(half_up(math.degrees(turn), 0))


def read_bars(content: bytes, name: str) -> Iterator[tuple[int, dict[str, str], str]]:
    """The bars of a file: the line of each, what it says by the names typed bars have, and what is wrong with
    it, if anything.

    Raises:
        UnreadableTable: it is too large.
    """
    if len(content) > LARGEST:
        raise UnreadableTable(f"“{name}” is larger than {LARGEST // 2**20} MB.", field="file")
    lines = content.decode("latin-1").splitlines()
    if len(lines) > MOST_ROWS:
        raise UnreadableTable(f"“{name}” has more than {MOST_ROWS - 2} lines.", field="file")
    for number, line in enumerate(lines, start=1):
        if line.strip():
            fields: dict[str, str] = {}
            try:
                fields = _read(line.strip())
                says = ""
            except BadEntry as error:
                says = error.sentence
            yield number, fields, says


def _read(line: str) -> dict[str, str]:
    kind, _, rest = line.partition("@")
    if kind != "BF2D":
        raise BadEntry(f"A line of the kind {kind[:8]} isn't read: bars bent in a plane are, BF2D.")
    blocks = dict(_blocks("@" + rest))
    said = blocks.get("C", {}).get("", "")
    if _WHOLE.fullmatch(said) and int(said) != _checksum(line[: line.rindex("C") + 1]):
        raise BadEntry("Its check sum isn't that of the line: a sign was lost or changed.")
    head = blocks.get("H", {})
    points = _outline(blocks.get("G list", {}).get("", ""))
    number = head.get("n", "1")
    found = {
        "member": head.get("r", ""),
        "mark": head.get("p", ""),
        "size": head.get("d", ""),
        "members": "1",
        "each": number,
    }
    if _NUMBER.fullmatch(head.get("l", "")):
        found["length"] = f"{float(head['l']) / 1000:.3f} m"
    shape, legs = recognised(points)
    found["shape"] = shape
    if shape == "99":
        between(points)
        found["corners"] = ";".join(f"{round(x * 1000)},{round(y * 1000)}" for x, y in points)
    return found | {letter: f"{round(leg * 1000, 1):g}" for letter, leg in legs.items()}


def _blocks(text: str) -> Iterator[tuple[str, dict[str, str]]]:
    """The blocks of a line, H, G and C; the geometry also as it stands, since its fields repeat."""
    for match in re.finditer(r"@([HGC])(.*?)(?=@[HGC]|$)", text):
        block, body = match[1], match[2]
        if block == "C":
            yield "C", {"": body.strip("@")}
            continue
        yield block, dict(_FIELD.findall(body + "@"))
        if block == "G":
            yield "G list", {"": body + "@"}


def _outline(body: str) -> list[tuple[float, float]]:
    """The corners in m of a bar bent by legs and turns."""
    x = y = angle = 0.0
    points = [(0.0, 0.0)]
    for key, value in _FIELD.findall(body):
        try:
            number = float(value)
        except ValueError:
            raise BadEntry(f"“{value[:20]}” in its geometry is no number.") from None
        if not math.isfinite(number) or abs(number) > 1e6:
            raise BadEntry(f"“{value[:20]}” in its geometry is too large.")
        if key == "l":
            x, y = x + number / 1000 * math.cos(angle), y + number / 1000 * math.sin(angle)
            points.append((x, y))
        elif key == "w":
            angle += math.radians(number)
        elif key == "r":
            raise BadEntry("It has an arc, which isn't read.")
    if len(points) < 2:
        raise BadEntry("It has no geometry.")
    return points
