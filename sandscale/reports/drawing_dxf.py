"""What drawings as DXF share: layers, lines and words that any reader takes."""

from __future__ import annotations

import io
import re

import ezdxf
import numpy as np
from ezdxf.document import Drawing
from ezdxf.layouts import Modelspace

from ..core.ground.pieces import Floats


def opened() -> Drawing:
    """A new drawing in m."""
    return ezdxf.new("R2010", units=6)


def content(drawing: Drawing) -> bytes:
    """Its bytes."""
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


def layer_name(name: str) -> str:
    """A name as a layer may be called."""
    return re.sub(r"[<>/\\\":;?*|=`,\x00-\x1f]", " ", name).strip()[:120] or "layer"


def ring(space: Modelspace, corners: Floats, layer: str) -> None:
    """A closed line through corners."""
    space.add_lwpolyline(corners[:, :2].tolist(), close=True, dxfattribs={"layer": layer})


def lines(space: Modelspace, corners: Floats, layer: str) -> None:
    """An open line through corners, apart where one of them isn't known."""
    known = np.isfinite(corners).all(axis=1)
    for part in np.split(np.arange(len(corners)), np.flatnonzero(~known)):
        kept = part[known[part]]
        if len(kept) > 1:
            space.add_lwpolyline(corners[kept, :2].tolist(), dxfattribs={"layer": layer})


def text(space: Modelspace, words: str, place: Floats, size: float, layer: str) -> None:
    """Words at a place, so high."""
    space.add_text(
        re.sub(r"[\x00-\x1f]", " ", words), height=size,
        dxfattribs={"layer": layer, "insert": (float(place[0]), float(place[1]))},
    )  # fmt: skip
