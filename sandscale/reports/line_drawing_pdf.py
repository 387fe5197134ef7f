"""A drawing made of lines as a PDF of one page, each of its layers one that can be hidden."""

from __future__ import annotations

import io
import math
from collections.abc import Iterable, Iterator
from itertools import groupby

from pypdf import PdfWriter
from pypdf.generic import ArrayObject, DictionaryObject, NameObject, TextStringObject
from reportlab.lib.colors import HexColor
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from ..core.figures.line_drawing import Fill, LineDrawing, Look, Path, Stroke, Text
from ..typefaces import SANS
from .paper import fonts

_CAPITAL = 0.698  # of the font's size, how high its capitals are


def write(drawing: LineDrawing) -> bytes:
    """The drawing as PDF; words stay words, so that they are found."""
    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, (drawing.width, drawing.height), pageCompression=1, invariant=1)
    for layer, parts in groupby(drawing.parts, key=lambda part: part.layer):
        canvas.addLiteral(f"/OC /L{layer} BDC")
        _parts(canvas, parts)
        canvas.addLiteral("EMC")
    canvas.showPage()
    canvas.save()
    return _with_layers(out.getvalue(), [layer.name for layer in drawing.layers])


def _with_layers(content: bytes, names: list[str]) -> bytes:
    """Tells a PDF's reader of the layers its page is drawn on."""
    writer = PdfWriter(clone_from=io.BytesIO(content))
    groups = [
        writer._add_object(
            DictionaryObject(
                {NameObject("/Type"): NameObject("/OCG"), NameObject("/Name"): TextStringObject(name)}
            )
        )
        for name in names
    ]
    resources = writer.pages[0]["/Resources"]
    properties = {NameObject(f"/L{at}"): group for at, group in enumerate(groups)}
    resources[NameObject("/Properties")] = DictionaryObject(properties)
    shown = DictionaryObject({NameObject("/OFF"): ArrayObject(), NameObject("/Order"): ArrayObject(groups)})
    writer.root_object[NameObject("/OCProperties")] = DictionaryObject(
        {NameObject("/OCGs"): ArrayObject(groups), NameObject("/D"): shown}
    )
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def _parts(canvas: Canvas, parts: Iterable[Stroke | Fill | Text]) -> None:
    for look, some in groupby(parts, key=_look):
        if look is not None:
            _strokes(canvas, look, (part for part in some if isinstance(part, Stroke)))
        else:
            for part in some:
                if isinstance(part, Fill):
                    _fill(canvas, part)
                elif isinstance(part, Text):
                    _text(canvas, part)


def _look(part: Stroke | Fill | Text) -> Look | None:
    return part.look if isinstance(part, Stroke) else None


def _strokes(canvas: Canvas, look: Look, strokes: Iterator[Stroke]) -> None:
    canvas.setStrokeColor(HexColor(look.colour))
    canvas.setLineWidth(look.weight)
    canvas.setDash(list(look.dashes))
    canvas.addLiteral("\n".join(_operators(stroke.path) + " S" for stroke in strokes))


def _operators(path: Path) -> str:
    """A line as a PDF draws it."""
    (x, y), *rest = path.tolist()
    return f"{x:.2f} {y:.2f} m " + " ".join(f"{x:.2f} {y:.2f} l" for x, y in rest)


def _fill(canvas: Canvas, fill: Fill) -> None:
    canvas.setFillColor(HexColor(fill.colour))
    canvas.addLiteral(" h ".join(_operators(path) for path in fill.paths) + " h f*")


def _text(canvas: Canvas, text: Text) -> None:
    size = text.height / _CAPITAL
    own = pdfmetrics.stringWidth(text.text, SANS, size)
    if size < 0.2 or not own:
        return
    line = canvas.beginText()
    cos, sin = math.cos(text.angle), math.sin(text.angle)
    line.setTextTransform(cos, sin, -sin, cos, *text.at)
    line.setFillColor(HexColor(text.colour))
    line.setFont(SANS, size)
    line.setHorizScale(100 * text.width / own)
    line.textOut(text.text)
    canvas.drawText(line)
