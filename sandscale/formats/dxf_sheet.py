"""A DXF drawing's model space as a sheet, laid on paper at a usual ratio, its layers told apart.

It is drawn by ezdxf's own front end, blocks, dimensions and hatches taken apart; words stay words. Nothing a
drawing refers to outside itself (pictures, other drawings) is looked for.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Generator, Iterable, Iterator, Sequence
from typing import Any, NamedTuple

import numpy as np
from ezdxf.addons.drawing.backend import Backend
from ezdxf.addons.drawing.config import BackgroundPolicy, Configuration, HatchPolicy, ImagePolicy, LinePolicy
from ezdxf.addons.drawing.frontend import UniversalFrontend
from ezdxf.addons.drawing.pipeline import RenderPipeline2d, prepare_string_for_rendering
from ezdxf.addons.drawing.properties import RenderContext
from ezdxf.fonts.font_manager import DEFAULT_FONTS
from ezdxf.fonts.fonts import font_manager

from ..core.figures.line_drawing import Fill, Layer, LineDrawing, Look, Path, Stroke, Text
from ..core.figures.scale import from_ratio
from ..typefaces import FOLDER, SANS
from .dxf_file import BROKEN, UNITS, is_cut_off, opened
from .page import UnreadableDrawing

LARGEST_FILE = 80 * 1024 * 1024
MOST_ENTITIES, MOST_PARTS, MOST_POINTS = 200_000, 400_000, 4_000_000
_METRIC = (1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000, 1250, 2000, 2500, 5000, 10_000, 25_000, 50_000)
_FEET = (1, 2, 4, 8, 12, 16, 24, 32, 48, 64, 96, 128, 192, 240, 360, 480, 600, 720, 1200, 2400, 4800, 12_000)
_LARGEST_RATIO = 1_000_000
_FEET_UNITS = (1, 2, 10, 21)
_PAPER = (1189.0, 841.0)  # mm: the largest drawings are made on
_MARGIN = 30.0  # sheet units
_FLAT = 0.05  # sheet units a chord may be off its arc
_SHARE_READ = 0.5  # of the whole work, what reading the file takes
_STRAY = 50.0  # times as far out as three in four of what is drawn

# Words are measured by the typeface they are written in here, whatever typefaces the machine has or hasn't.
font_manager.clear()
font_manager.build([str(FOLDER)], support_dirs=False)
font_manager.add_synonyms({f"{SANS}.ttf": DEFAULT_FONTS[0]}, reverse=False)


class _Part(NamedTuple):
    """A thing drawn, still in the drawing's own units: its paths, or its words with their own place."""

    kind: str  # line, hatch, fill or words
    layer: str
    colour: str
    weight: float
    dashes: Sequence[float]
    paths: Sequence[Any]
    text: str = ""


def read(content: bytes, name: str) -> Generator[float, None, LineDrawing]:
    """What a DXF's model space holds, as a drawing on a sheet; tells on the way how far it is.

    The paper is as large as the drawing at the largest usual ratio at which it fits A0. Where the file names
    no unit the scale isn't known.

    Raises:
        UnreadableDrawing: it is too large, broken, cut off, or has nothing in its model space.
    """
    bounded(content, name)
    try:
        document, auditor, _ = opened(content)
        space = document.modelspace()
        if not len(space):
            raise _nothing(document, name)
        if len(space) > MOST_ENTITIES:
            raise _too_much(name, f"{len(space):,} entities")
        yield _SHARE_READ
        backend = _Gathering(name)
        front = _FrontEnd(_all_layers(document, space), _Pipeline(backend), _DRAWN)
        front.set_background("#ffffff")
        entities = list(space.entities_in_redraw_order())
        for number, some in enumerate(_batches(entities, 1000), start=1):
            front.draw_entities(some)
            yield _SHARE_READ + (1 - _SHARE_READ) * min(number * 1000 / len(entities), 1.0)
        left_out = Counter(front.left_out)
        if auditor.has_errors:
            left_out["broken entities"] += len(auditor.errors)
        return _on_paper(backend, document, left_out, name)
    except BROKEN:
        raise UnreadableDrawing(
            f"“{name}” is broken or no DXF.", field="file", remedy="Save it as DXF again."
        ) from None


def bounded(content: bytes, name: str) -> None:
    """Refuse a DXF that is too large to be taken, or that ends in the middle.

    Raises:
        UnreadableDrawing: it is.
    """
    if len(content) > LARGEST_FILE:
        raise UnreadableDrawing(
            f"“{name}” is larger than {LARGEST_FILE // 2**20} MB.", field="file",
            remedy="Save it without what isn't needed, or split it.",
        )  # fmt: skip
    if is_cut_off(content):
        raise UnreadableDrawing(
            f"“{name}” ends in the middle: it was cut off.", field="file", remedy="Ask for it again."
        )


def _too_much(name: str, what: str) -> UnreadableDrawing:
    return UnreadableDrawing(
        f"“{name}” has {what}, more than a sheet can hold.", field="file",
        remedy="Save it without what isn't needed, or split it.",
    )  # fmt: skip


def _nothing(document: Any, name: str) -> UnreadableDrawing:
    papers = [layout.name for layout in document.layouts if layout.name != "Model" and len(layout)]
    on_paper = f" What it has is on its paper {', '.join(papers[:5])}." if papers else ""
    return UnreadableDrawing(
        f"“{name}” has nothing in its model space.{on_paper}", field="file",
        remedy="Save its lines into the model space, or print it to a PDF.",
    )  # fmt: skip


def _batches(entities: list[Any], size: int) -> Iterator[list[Any]]:
    return (entities[at : at + size] for at in range(0, len(entities), size))


def _all_layers(document: Any, space: Any) -> RenderContext:
    """What tells an entity's colour and weight, every layer shown: those that are off are drawn and
    hidden."""
    context = RenderContext(document)

    def show(layers: Sequence[Any]) -> None:
        for layer in layers:
            layer.is_visible = True

    context.set_layer_properties_override(show)
    context.set_current_layout(space)
    return context


_DRAWN = Configuration(
    background_policy=BackgroundPolicy.WHITE,
    line_policy=LinePolicy.SOLID,
    hatch_policy=HatchPolicy.NORMAL,
    image_policy=ImagePolicy.IGNORE,
    hatching_timeout=1.0,
    pdmode=0,
)


class _FrontEnd(UniversalFrontend):
    """Takes entities apart; what lies outside the file is left out and counted."""

    def __init__(self, *given: Any) -> None:
        super().__init__(*given)
        self.left_out: Counter[str] = Counter()

    def draw_image_entity(self, entity: Any, properties: Any) -> None:
        self.left_out["pictures"] += 1

    def draw_ole2frame_entity(self, entity: Any, properties: Any) -> None:
        self.left_out["embedded objects"] += 1

    def skip_entity(self, entity: Any, msg: str) -> None:
        self.left_out[f"{entity.dxftype()} entities"] += 1


class _Pipeline(RenderPipeline2d):
    """Hands words on as words, with the place and width the front end worked out for them."""

    def draw_text(
        self, text: str, transform: Any, properties: Any, cap_height: float, dxftype: str = "TEXT"
    ) -> None:
        if text := prepare_string_for_rendering(text, dxftype).strip():
            face = properties.font or self.default_font_face
            width = self.text_engine.get_text_line_width(text, face, cap_height)
            corners = ((0, 0, 0), (width, 0, 0), (0, cap_height, 0))
            self.backend.add_words(text, list(transform.transform_vertices(corners)), properties)


class _Gathering(Backend):
    """Gathers what is drawn."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name = name
        self.parts: list[_Part] = []

    def _add(self, kind: str, paths: Sequence[Any], properties: Any) -> None:
        if len(self.parts) >= MOST_PARTS:
            raise _too_much(self.name, f"more than {MOST_PARTS:,} lines")
        within = {entity.dxftype() for entity, _ in self.entity_stack}
        if kind == "line" and within & {"HATCH", "MPOLYGON"}:
            kind = "hatch"
        of = self.entity_stack[-1][1]
        # What stands on layer 0 in a block or dimension is on the layer that this was put on.
        layer = self.entity_stack[0][1].layer if of.layer == "0" else of.layer
        dashes = [length * of.linetype_scale for length in of.linetype_pattern]
        part = _Part(kind, layer, properties.color, properties.lineweight, dashes, paths)
        self.parts.append(part)

    def add_words(self, text: str, corners: Sequence[Any], properties: Any) -> None:
        """Words whose line begins at the first corner, ends at the second and is as high as the third."""
        places = [(corner.x, corner.y) for corner in corners]
        self._add("words", [np.array(places)], properties)
        self.parts[-1] = self.parts[-1]._replace(text=text)

    def set_background(self, color: str) -> None:
        pass

    def clear(self) -> None:
        self.parts.clear()

    def draw_point(self, pos: Any, properties: Any) -> None:
        pass

    def draw_image(self, image_data: Any, properties: Any) -> None:
        pass

    def draw_line(self, start: Any, end: Any, properties: Any) -> None:
        self._add("line", [np.array(((start.x, start.y), (end.x, end.y)))], properties)

    def draw_path(self, path: Any, properties: Any) -> None:
        if len(path):
            self._add("line", [path], properties)

    def draw_filled_paths(self, paths: Iterable[Any], properties: Any) -> None:
        self._add("fill", [path for path in paths if len(path)], properties)

    def draw_filled_polygon(self, points: Any, properties: Any) -> None:
        self._add("fill", [np.array([(p.x, p.y) for p in points.vertices()])], properties)


def _on_paper(backend: _Gathering, document: Any, left_out: Counter[str], name: str) -> LineDrawing:
    """The drawing laid on paper."""
    parts = [part for part in backend.parts if part.paths]
    boxes = np.array([_box(part) for part in parts]).reshape(-1, 4)
    sound = np.isfinite(boxes).all(axis=1)
    if not sound.any():
        raise _nothing(document, name)
    left, bottom, right, top = _frame(boxes[sound])
    inside = sound & (boxes[:, 0] <= right) & (boxes[:, 2] >= left)
    inside &= (boxes[:, 1] <= top) & (boxes[:, 3] >= bottom)
    parts = [part for part, is_in in zip(parts, inside, strict=True) if is_in]
    if away := int((~inside).sum()):
        left_out["lines and words far off the drawing"] += away
    unit = document.header.get("$INSUNITS", 0)
    metres = UNITS.get(unit) if unit else None
    per_unit, ratio = _ratio(max(right - left, 1e-9), max(top - bottom, 1e-9), unit, metres)
    is_known = metres is not None and ratio <= _LARGEST_RATIO
    lay = _Lay((left, bottom), per_unit)
    layers = list(dict.fromkeys(part.layer for part in parts))
    order = {layer: at for at, layer in enumerate(layers)}
    drawn = [each for part in parts if (each := lay.laid(part, order[part.layer])) is not None]
    if lay.points > MOST_POINTS:
        raise _too_much(name, f"more than {MOST_POINTS:,} points")
    said = ", ".join(f"{number} {what}" for what, number in left_out.items())
    return LineDrawing(
        width=(right - left) * per_unit + 2 * _MARGIN,
        height=(top - bottom) * per_unit + 2 * _MARGIN,
        metres_per_unit=from_ratio(ratio) if is_known else None,
        scale_source="the drawing's unit" if is_known else "",
        layers=[Layer(layer, _is_shown(document, layer)) for layer in layers],
        parts=drawn,
        said=f"Not drawn: {said}." if said else "",
    )


def _is_shown(document: Any, name: str) -> bool:
    if name not in document.layers:
        return True
    layer = document.layers.get(name)
    return bool(layer.is_on() and not layer.is_frozen())


def _box(part: _Part) -> tuple[float, float, float, float]:
    corners = np.vstack([_corners(path) for path in part.paths])
    return (*corners.min(axis=0), *corners.max(axis=0))


def _corners(path: Any) -> Path:
    """A path's corners, those that steer its curves among them."""
    if isinstance(path, np.ndarray):
        return path
    return np.array([(vertex.x, vertex.y) for vertex in path.control_vertices()])


def _frame(boxes: Any) -> tuple[float, float, float, float]:
    """The box of a drawing: of everything, but for what lies far off all the rest."""
    middles = (boxes[:, :2] + boxes[:, 2:]) / 2
    out = np.hypot(*(middles - np.median(middles, axis=0)).T)
    large = np.hypot(*(boxes[:, 2:] - boxes[:, :2]).T)
    near = out <= _STRAY * max(np.quantile(out, 0.75), np.median(large), 1e-9)
    (left, bottom), (right, top) = boxes[near][:, :2].min(axis=0), boxes[near][:, 2:].max(axis=0)
    return float(left), float(bottom), float(right), float(top)


def _ratio(width: float, height: float, unit: int, metres: float | None) -> tuple[float, float]:
    """Sheet units to a drawing unit, and the ratio that is: the largest at which the drawing fits the
    paper."""
    mm = 1000 * metres if metres else 1.0
    wide, high = max(width, height) * mm, min(width, height) * mm
    usual = _FEET if unit in _FEET_UNITS else _METRIC
    needed = max(wide / _PAPER[0], high / _PAPER[1])
    ratio = next((each for each in usual if each >= needed), needed)
    return mm / 1000 / from_ratio(1.0) / ratio, ratio


class _Lay:
    """Lays what was drawn on the paper: from the drawing's units to sheet units."""

    def __init__(self, corner: tuple[float, float], per_unit: float) -> None:
        self.corner, self.per_unit, self.points = np.array(corner), per_unit, 0

    def _path(self, path: Any) -> Path:
        if not isinstance(path, np.ndarray):
            flat = path.flattening(_FLAT / self.per_unit, segments=4)
            path = np.array([(vertex.x, vertex.y) for vertex in flat])
        self.points += len(path)
        return (path - self.corner) * self.per_unit + _MARGIN

    def laid(self, part: _Part, layer: int) -> Stroke | Fill | Text | None:
        """A part on the paper; None where nothing is left of it."""
        paths = [path for path in map(self._path, part.paths) if len(path) > 1]
        if not paths:
            return None
        colour = _readable(part.colour)
        if part.kind == "fill":
            return Fill(layer, colour, paths)
        if part.kind == "words":
            at, end, top = paths[0]
            angle = math.atan2(end[1] - at[1], end[0] - at[0])
            return Text(
                layer, colour, part.text, (float(at[0]), float(at[1])), angle,
                math.dist(at, end), math.dist(at, top),
            )  # fmt: skip
        weight = min(max(part.weight * 72 / 25.4, 0.4), 4.0)
        return Stroke(layer, Look(colour, weight, self._dashes(part.dashes)), paths[0], part.kind == "hatch")

    def _dashes(self, pattern: Sequence[float]) -> tuple[float, ...]:
        """Dashes on paper; none where they would run together."""
        lengths = tuple(max(abs(length) * self.per_unit, 0.6) for length in pattern)
        if not all(map(math.isfinite, lengths)):
            return ()
        return lengths if lengths and sum(lengths) > 2.5 * len(lengths) / 2 else ()


def _readable(colour: str) -> str:
    """A colour that is seen on white paper: the light ones are darkened."""
    red, green, blue = (int(colour[at : at + 2], 16) for at in (1, 3, 5))
    light = (0.3 * red + 0.59 * green + 0.11 * blue) / 255
    share = min(1.0, 0.42 / light) if light else 1.0
    return "#" + "".join(f"{round(each * share):02x}" for each in (red, green, blue))
