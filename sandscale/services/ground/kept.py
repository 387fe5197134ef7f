"""Levels, surfaces and earthworks as they are kept: packed, and read again."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import shapely

from ...core.ground.classes import Dig
from ...core.ground.decided import Doubted, Looked, Taken
from ...core.ground.earthwork import Laid
from ...core.ground.pieces import Pieces
from ...core.ground.surface import Surface
from ...core.ground.survey import Survey, SurveyLine
from ...core.refusals import Refusal
from ...formats.packed import pack, unpack

_LINE_KINDS = ("breakline", "boundary", "hole", "contour")


def taken_packed(taken: Taken) -> bytes:
    """Levels as they were taken in, with their lines and triangles."""
    arrays, words = _survey_packed(taken.survey)
    return pack({**arrays, "triangles": taken.triangles.astype("<i4")}, words)


def taken_of(content: bytes) -> Taken:
    """What was packed of levels.

    Raises:
        Refusal: it can't be what was packed.
    """
    arrays, words = unpack(content)
    try:
        survey = _survey_of(arrays, words)
        triangles = arrays["triangles"].astype(np.int64)
        if triangles.ndim != 2 or triangles.shape[1] != 3 or not _within(triangles, len(survey.points)):
            raise ValueError
        return Taken(survey, triangles)
    except (KeyError, ValueError, IndexError, TypeError):
        raise Refusal("Levels that were kept can't be read again.", field="levels") from None


def _within(index: Any, number: int) -> bool:
    return bool(((index >= 0) & (index < number)).all())


def _survey_packed(survey: Survey) -> tuple[dict[str, Any], dict[str, Any]]:
    names, which = np.unique(np.array(survey.codes or ("",) * len(survey.points)), return_inverse=True)
    rows = survey.rows if len(survey.rows) else np.arange(1, len(survey.points) + 1)
    corners = [line.corners for line in survey.lines]
    arrays = {
        "points": survey.points.astype("<f8").reshape(-1, 3), "rows": rows.astype("<i8"),
        "codes": which.astype("<i4"),
        "corners": np.concatenate(corners).astype("<f8") if corners else np.zeros((0, 3)),
    }  # fmt: skip
    lines = [[line.kind, line.layer, len(line.corners)] for line in survey.lines]
    return arrays, {"codes": names.tolist(), "lines": lines}


def _survey_of(arrays: Mapping[str, Any], words: Mapping[str, Any]) -> Survey:
    points, rows, which, corners = (arrays[name] for name in ("points", "rows", "codes", "corners"))
    names = [str(name) for name in words["codes"]]
    sound = points.ndim == 2 and points.shape[1] == 3 and len(rows) == len(which) == len(points)
    if not sound or not _within(which, max(len(names), 1)) or corners.shape[1:] != (3,):
        raise ValueError
    lines, at = list[SurveyLine](), 0
    for kind, layer, size in words["lines"]:
        if kind not in _LINE_KINDS or type(size) is not int or size < 2 or at + size > len(corners):
            raise ValueError
        lines.append(SurveyLine(kind, corners[at : at + size], str(layer)))
        at += size
    codes = tuple(names[n] for n in which.tolist()) if any(names) else ()
    return Survey(points, codes, rows.astype(np.int64), tuple(lines))


def looked_packed(looked: Looked, triangles: Any) -> bytes:
    """A survey looked through, with its triangles."""
    arrays, words = _survey_packed(looked.survey)
    for doubt in looked.doubts:
        arrays[f"which {doubt.kind}"] = doubt.which.astype("<i8")
        arrays[f"undecided {doubt.kind}"] = doubt.undecided.astype("<i8")
    words["doubts"] = [[doubt.kind, doubt.says] for doubt in looked.doubts]
    words["told"] = list(looked.told)
    arrays |= {"usable": looked.usable.astype("|u1"), "triangles": np.asarray(triangles).astype("<i4")}
    return pack(arrays, words)


def looked_of(content: bytes) -> tuple[Looked, Any]:
    """A survey looked through, and its triangles."""
    arrays, words = unpack(content)
    doubts = tuple(
        Doubted(kind, arrays[f"which {kind}"], arrays[f"undecided {kind}"], says)
        for kind, says in words["doubts"]
    )
    looked = Looked(_survey_of(arrays, words), arrays["usable"].astype(bool), doubts, tuple(words["told"]))
    return looked, arrays["triangles"].astype(np.int64)


def surface_packed(surface: Surface) -> bytes:
    """A surface."""
    return pack(
        {
            "points": surface.points.astype("<f8"), "triangles": surface.triangles.astype("<i4"),
            "edges": surface.edges.astype("<i4").reshape(-1, 2),
        }
    )  # fmt: skip


def surface_of(content: bytes) -> Surface:
    """A surface again; its findings stand beside it."""
    arrays, _ = unpack(content)
    return Surface(arrays["points"], arrays["triangles"].astype(np.int64), arrays["edges"].astype(np.int64))


def laid_packed(work: Laid) -> bytes:
    """An earthwork as it lies."""
    pieces = work.dig.pieces
    arrays = {"plan": pieces.plan.astype("<f8"), "values": pieces.values.astype("<f8")}
    for name, region in (("footprint", work.footprint), ("floor", work.floor)):
        arrays[name] = np.frombuffer(shapely.to_wkb(region), dtype="|u1")
    words: dict[str, Sequence[str] | str] = {
        "names": pieces.names, "classes": work.dig.classes, "stripped": work.stripped,
    }  # fmt: skip
    return pack(arrays, words)


def laid_of(content: bytes) -> Laid:
    """An earthwork as it lay."""
    arrays, words = unpack(content)
    plan = arrays["plan"]
    pieces = Pieces(plan, tuple(words["names"]), arrays["values"], np.arange(len(plan)))
    footprint, floor = (shapely.from_wkb(arrays[name].tobytes()) for name in ("footprint", "floor"))
    return Laid(Dig(pieces, tuple(words["classes"]), ()), words["stripped"], footprint, floor)
