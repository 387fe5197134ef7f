"""Surfaces, alignments with their long sections, and cross-sections in LandXML 1.2: read and written. Its
points are north, east, level."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Any

import numpy as np
from lxml import etree

from ..core.findings import Finding
from ..core.ground.pieces import Floats
from ..core.ground.route.centreline import Centreline, Element, LongSection
from ..core.ground.route.imported import SectionLines
from ..core.ground.surface import Surface, of_triangles
from ..core.ground.survey import Survey, SurveyLine
from ..core.refusals import Refusal
from .level_file import FARTHEST, MOST_LEVELS, Told, UnreadableLevels, bounded

NAMESPACE = "http://www.landxml.org/schema/LandXML-1.2"
_LENGTHS = {
    "meter": 1.0,
    "metre": 1.0,
    "millimeter": 0.001,
    "centimeter": 0.01,
    "kilometer": 1000.0,
    "foot": 0.3048,
    "inch": 0.0254,
}
_LENGTHS["ussurveyfoot"] = 1200 / 3937
_GROUPS = {"boundary": "Boundaries", "hole": "Boundaries", "breakline": "Breaklines", "contour": "Contours"}
_PARALLEL = 1e-9
_STRAIGHTEST = 1e9  # m: the largest radius that is written
_GAP = 0.05  # m by which an element may begin away from where the one before it ended


@dataclass(frozen=True)
class Alignment:
    """A route as a file holds it.

    Attributes:
        centreline: its elements.
        long_section: where it has one.
        sections: where it has any.
    """

    centreline: Centreline
    long_section: LongSection | None = None
    sections: tuple[SectionLines, ...] = ()


@dataclass
class LandXml:
    """What a LandXML file holds.

    Attributes:
        surfaces: name → surface, from faces as they are in the file.
        surveys: name → the levels and lines a surface was made from, and under an empty name the file's own
            points.
        alignments: name → alignment.
        findings: what couldn't be read, with the line of the file (from 0).
    """

    surfaces: dict[str, Surface] = field(default_factory=dict)
    surveys: dict[str, Survey] = field(default_factory=dict)
    alignments: dict[str, Alignment] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)


def read_landxml(content: bytes, name: str) -> LandXml:
    """What a LandXML file holds, in m.

    Raises:
        UnreadableLevels: it is too large, no well-formed LandXML, names entities of its own, or holds nothing
        that is read.
    """
    bounded(content, name)
    if b"<!DOCTYPE" in content[:4096] or b"<!ENTITY" in content:
        raise UnreadableLevels(
            f"“{name}” defines entities, which are not taken.",
            field="file",
            remedy="Export it again as plain LandXML.",
        )
    try:
        root = etree.fromstring(
            content,
            etree.XMLParser(
                resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False, remove_comments=True
            ),
        )
    except (etree.XMLSyntaxError, ValueError):
        raise UnreadableLevels(
            f"“{name}” is broken or no LandXML.", field="file", remedy="Export it again."
        ) from None
    if _tag(root) != "LandXML":
        raise UnreadableLevels(f"“{name}” is XML, but no LandXML.", field="file")
    reader = _Reader(name, _factor(root))
    reader.read(root)
    found = reader.found
    if not (found.surfaces or found.surveys or found.alignments):
        raise UnreadableLevels(
            f"“{name}” holds no surface, points or alignment that can be read.",
            field="file",
            remedy=found.findings[0].says if found.findings else "Export it with its surfaces.",
        )
    return found


class _Names:
    """Names in one part of a file: one that is taken gets a number behind it."""

    def __init__(self) -> None:
        self.taken, self.times = set[str](), Counter[str]()

    def own(self, wanted: str) -> str:
        given = wanted
        while given in self.taken:
            self.times[wanted] += 1
            given = f"{wanted} ({self.times[wanted] + 1})"
        self.taken.add(given)
        return given


class _Reader:
    def __init__(self, name: str, factor: float) -> None:
        self.name, self.factor, self.found, self.told = name, factor, LandXml(), Told()
        self.surface_names, self.alignment_names = _Names(), _Names()

    def read(self, root: Any) -> None:
        for element in _children(root, "Surfaces", "Surface"):
            self._safely(element, "Surface", self._surface)
        for element in _children(root, "Alignments", "Alignment"):
            self._safely(element, "Alignment", self._alignment)
        points = [point for point in _children(root, "CgPoints", "CgPoint") if point.text]
        if points:
            self._own_points(points)
        self.found.findings.extend(self.told.findings())

    def _safely(self, element: Any, what: str, read: Any) -> None:
        """A part that can't be read is told and left out; the rest of the file is kept."""
        try:
            read(element)
        except Refusal as refusal:
            self.find(f"{what} “{element.get('name', '')}” can't be read: {refusal.sentence}", element)
        except (ValueError, IndexError, KeyError, TypeError, ZeroDivisionError, OverflowError):
            self.find(f"{what} “{element.get('name', '')}” is broken and left out.", element)

    def find(self, says: str, element: Any) -> None:
        self.told.add(says, (element.sourceline or 1) - 1, _tag(element), wrong=True)

    def _surface(self, element: Any) -> None:
        name = self.surface_names.own(element.get("name") or "surface")
        definition = next(iter(_children(element, "Definition")), None)
        if definition is not None:
            surface = self._faces(definition)
            if surface is not None:
                self.found.surfaces[name] = surface
        survey = self._source(element)
        if len(survey.points) or survey.lines:
            self.found.surveys[name] = survey

    def _faces(self, definition: Any) -> Surface | None:
        at, points = dict[str, int](), list[list[float]]()
        for point in _children(definition, "Pnts", "P"):
            place = self._places(point, 3)
            if len(place) == 1:
                at[point.get("id", "")] = len(points)
                points.append(place[0])
            if len(points) > MOST_LEVELS:
                raise UnreadableLevels(f"It has more than {MOST_LEVELS:,} levels.", field="file")
        triangles, unknown = list[list[int]](), 0
        for face in _children(definition, "Faces", "F"):
            corners = (face.text or "").split()
            if face.get("i") == "1":
                continue  # a face that is marked invisible is no part of the surface
            if not all(corner in at for corner in corners) or len(set(corners)) < 3:
                unknown += 1
                continue
            index = [at[corner] for corner in corners]
            triangles += [[index[0], index[n], index[n + 1]] for n in range(1, len(index) - 1)]
        if unknown:
            self.find(f"{unknown} faces name points that there aren't and are left out.", definition)
        if not triangles:
            return None
        surface = of_triangles(np.array(points, dtype=float), np.array(triangles, dtype=np.int64))
        for finding in surface.findings:
            self.find(finding.says, definition)
        return surface

    def _source(self, element: Any) -> Survey:
        points, lines = list[list[float]](), list[SurveyLine]()
        for data in _children(element, "SourceData"):
            for block in _children(data, "DataPoints"):
                points += self._list(block)
            for tag, kind in (("Breaklines", "breakline"), ("Contours", "contour")):
                for line in _children(data, tag, tag[:-1]):
                    self._add_line(line, kind, lines)
            for ring in _children(data, "Boundaries", "Boundary"):
                self._add_line(ring, "boundary" if ring.get("bndType", "outer") == "outer" else "hole", lines)
        found = np.array(points, dtype=float).reshape(-1, 3)
        return Survey(found, ("",) * len(found), np.arange(1, len(found) + 1), tuple(lines))

    def _add_line(self, element: Any, kind: Any, lines: list[SurveyLine]) -> None:
        corners = self._list(element, element.get("elev"))
        if len(corners) < 2:
            self.find(f"A {kind} has fewer than two points and is left out.", element)
            return
        lines.append(SurveyLine(kind, np.array(corners, dtype=float), element.get("name") or ""))

    def _list(self, element: Any, level: str | None = None) -> list[list[float]]:
        """The points of an element's lists, east, north, level; the level NaN where a list has none and
        nothing tells it."""
        found = list[list[float]]()
        for part in _children(element, "PntList3D"):
            found += self._places(part, 3)
        for part in _children(element, "PntList2D"):
            flat = float(level) * self.factor if level else math.nan
            found += [[*place, flat] for place in self._places(part, 2)]
        return found

    def _places(self, element: Any, size: int) -> list[list[float]]:
        """The numbers of an element's text as east, north(, level) in m."""
        numbers = [float(word) * self.factor for word in (element.text or "").split()]
        if len(numbers) % size or not all(math.isfinite(n) and abs(n) < FARTHEST for n in numbers):
            self.find(f"{_tag(element)} doesn't hold {size} sound numbers a point and is left out.", element)
            return []
        return [
            [numbers[n + 1], numbers[n], *numbers[n + 2 : n + size]] for n in range(0, len(numbers), size)
        ]

    def _own_points(self, points: Iterable[Any]) -> None:
        found, codes, rows = list[list[float]](), list[str](), list[int]()
        for point in points:
            try:
                words = (point.text or "").split()
                place = self._places(point, 3 if len(words) > 2 else 2)
            except ValueError:
                self.find("A CgPoint is broken and left out.", point)
                continue
            for each in place:
                found.append(each if len(each) == 3 else [*each, math.nan])
                codes.append(point.get("code") or point.get("desc") or "")
                rows.append(point.sourceline or 1)
        if found:
            self.found.surveys[""] = Survey(
                np.array(found, dtype=float), tuple(codes), np.array(rows, dtype=np.int64)
            )

    # Alignments

    def _alignment(self, element: Any) -> None:
        name = self.alignment_names.own(element.get("name") or "alignment")
        elements = [made for part in _children(element, "CoordGeom") for made in self._geometry(part)]
        begin = float(element.get("staStart", "0")) * self.factor
        centreline = Centreline(tuple(elements), begin)
        for before, after in pairwise(elements):
            apart = math.dist(before.places(np.array([before.length]))[0], after.start)
            if apart > _GAP:
                self.find(
                    f"Alignment “{name}” has a gap of {apart:.3f} m at {after.start[0]:.2f}, "
                    f"{after.start[1]:.2f}.",
                    element,
                )
        profile = next(iter(_children(element, "Profile", "ProfAlign")), None)
        long_section = self._long_section(profile) if profile is not None else None
        sections = tuple(
            section
            for part in _children(element, "CrossSects", "CrossSect")
            if (section := self._section(part)) is not None
        )
        self.found.alignments[name] = Alignment(centreline, long_section, sections)

    def _geometry(self, geometry: Any) -> Iterable[Element]:
        for part in geometry:
            if not isinstance(part.tag, str):
                continue
            kind = _tag(part)
            if kind not in ("Line", "Curve", "Spiral"):
                self.find(f"{kind} is no kind of element that is read; it is left out.", part)
                continue
            ends = {
                _tag(child): self._places(child, 2 if len((child.text or "").split()) < 3 else 3)
                for child in part
            }
            start, end = ends["Start"][0][:2], ends["End"][0][:2]
            turn = {"cw": -1.0, "ccw": 1.0}.get(part.get("rot", "ccw"), 1.0)
            if kind == "Line":
                yield Element(
                    (start[0], start[1]),
                    math.atan2(end[1] - start[1], end[0] - start[0]),
                    math.dist(start, end),
                )
            elif kind == "Curve":
                yield _arc(start, end, ends["Center"][0], turn, float(part.get("length", "0")) * self.factor)
            else:
                yield self._spiral(part, start, ends["PI"][0], turn)

    def _spiral(
        self, part: Any, start: Sequence[float], intersection: Sequence[float], turn: float
    ) -> Element:
        if part.get("spiType", "clothoid") != "clothoid":
            self.find(f"A spiral of type {part.get('spiType')} is read as a clothoid.", part)
        radii = [
            math.inf if part.get(key, "INF").upper() == "INF" else float(part.get(key)) * self.factor
            for key in ("radiusStart", "radiusEnd")
        ]
        curvatures = [turn / radius if math.isfinite(radius) and radius else 0.0 for radius in radii]
        direction = math.atan2(intersection[1] - start[1], intersection[0] - start[0])
        return Element((start[0], start[1]), direction, float(part.get("length")) * self.factor, *curvatures)

    def _long_section(self, profile: Any) -> LongSection | None:
        points = list[tuple[float, float, float]]()
        for part in profile:
            if not isinstance(part.tag, str) or _tag(part) not in (
                "PVI",
                "ParaCurve",
                "CircCurve",
                "UnsymParaCurve",
            ):
                continue
            kind = _tag(part)
            chainage, level = (float(word) * self.factor for word in (part.text or "").split())
            curve = (
                float(part.get("length", "0")) * self.factor
                if kind != "UnsymParaCurve"
                else float(part.get("lengthIn")) * 2 * self.factor
            )
            if kind in ("CircCurve", "UnsymParaCurve"):
                self.find(f"A {kind} of the long section is read as a parabola of the same length.", part)
            points.append((chainage, level, curve))
        return LongSection(tuple(points)) if len(points) > 1 else None

    def _section(self, part: Any) -> SectionLines | None:
        lines, names = dict[str, Floats](), _Names()
        for surface in (*_children(part, "CrossSectSurf"), *_children(part, "DesignCrossSectSurf")):
            words = [
                word
                for child in (*_children(surface, "PntList2D"), *_children(surface, "CrossSectPnt"))
                for word in (child.text or "").split()
            ]
            numbers = [float(word) * self.factor for word in words]
            name = names.own(surface.get("name") or surface.get("desc") or "line")
            pairs = np.array(numbers[: len(numbers) // 2 * 2]).reshape(-1, 2)
            if len(pairs) < 2 or len(numbers) % 2 or not np.isfinite(pairs).all():
                self.find(
                    f"The line of {name} at {part.get('sta')} doesn't hold two "
                    "offsets and levels and is left out.",
                    surface,
                )
                continue
            lines[name] = pairs[np.argsort(pairs[:, 0], kind="stable")]
        return SectionLines(float(part.get("sta")) * self.factor, lines) if lines else None


def _arc(
    start: Sequence[float], end: Sequence[float], centre: Sequence[float], turn: float, length: float
) -> Element:
    """An arc by its places; its length, where the file has one, tells how often it goes right round."""
    radius = math.dist(start, centre)
    first, last = (math.atan2(place[1] - centre[1], place[0] - centre[0]) for place in (start, end))
    angle = (last - first) * turn % (2 * math.pi)
    angle += (
        max(round((length / radius - angle) / (2 * math.pi)), 0) * 2 * math.pi
        if radius > 0 and math.isfinite(length)
        else 0.0
    )
    return Element(
        (start[0], start[1]), first + turn * math.pi / 2, radius * angle, turn / radius, turn / radius
    )


def write_landxml(
    surfaces: Mapping[str, Surface] | None = None,
    alignments: Mapping[str, Alignment] | None = None,
    surveys: Mapping[str, Survey] | None = None,
) -> bytes:
    """A LandXML 1.2 file in m: surfaces with their faces and breaklines, surveys as source data,
    alignments."""
    root = etree.Element(
        f"{{{NAMESPACE}}}LandXML", nsmap={None: NAMESPACE}, version="1.2", date="1970-01-01", time="00:00:00"
    )
    units = etree.SubElement(root, f"{{{NAMESPACE}}}Units")
    _put(
        units,
        "Metric",
        areaUnit="squareMeter",
        linearUnit="meter",
        volumeUnit="cubicMeter",
        temperatureUnit="celsius",
        pressureUnit="milliBars",
    )
    if surfaces or surveys:
        group = _put(root, "Surfaces")
        for name in dict.fromkeys([*(surfaces or {}), *(surveys or {})]):
            element = _put(group, "Surface", name=name)
            _put_source(element, (surfaces or {}).get(name), (surveys or {}).get(name))
            if surfaces and name in surfaces:
                _put_faces(element, surfaces[name])
    if alignments:
        group = _put(root, "Alignments")
        for name, alignment in alignments.items():
            _put_alignment(group, name, alignment)
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8"))


def _put(parent: Any, tag: str, text: str | None = None, **attributes: str) -> Any:
    element = etree.SubElement(parent, f"{{{NAMESPACE}}}{tag}", **attributes)
    element.text = text
    return element


def _words(places: Floats) -> str:
    """Places as LandXML writes them: north, east(, level)."""
    return " ".join(repr(float(value)) for place in places for value in (place[1], place[0], *place[2:]))


def _put_source(element: Any, surface: Surface | None, survey: Survey | None) -> None:
    lines = [] if survey is None else list(survey.lines)
    if surface is not None:
        lines += [SurveyLine("breakline", surface.points[edge]) for edge in surface.edges]
    if not lines and (survey is None or not len(survey.points)):
        return
    data = _put(element, "SourceData")
    made = dict[str, Any]()
    for line in lines:
        group = _GROUPS[line.kind]
        if group not in made:
            made[group] = _put(data, group)
        own = (
            {"bndType": "outer" if line.kind == "boundary" else "void", "edgeTrim": "true"}
            if group == "Boundaries"
            else {}
        )
        if line.kind == "contour":
            own["elev"] = repr(float(line.corners[0, 2]))
        flat = line.kind == "contour" or not np.isfinite(line.corners).all()
        _put(
            _put(made[group], "Boundary" if group == "Boundaries" else group[:-1], **own),
            "PntList2D" if flat else "PntList3D",
            _words(line.corners[:, :2] if flat else line.corners),
        )
    if survey is not None and len(survey.points):
        known = survey.points[np.isfinite(survey.points).all(axis=1)]
        _put(_put(data, "DataPoints"), "PntList3D", _words(known))


def _put_faces(element: Any, surface: Surface) -> None:
    definition = _put(element, "Definition", surfType="TIN")
    points, faces = _put(definition, "Pnts"), _put(definition, "Faces")
    for number, (x, y, z) in enumerate(surface.points.tolist(), start=1):
        _put(points, "P", f"{y!r} {x!r} {z!r}", id=str(number))
    for a, b, c in (surface.triangles + 1).tolist():
        _put(faces, "F", f"{a} {b} {c}")


def _put_alignment(group: Any, name: str, alignment: Alignment) -> None:
    line = alignment.centreline
    element = _put(
        group,
        "Alignment",
        name=name,
        length=repr(float(line.end - line.begin)),
        staStart=repr(float(line.begin)),
    )
    geometry = _put(element, "CoordGeom")
    for part in line.elements:
        for piece in _turning_one_way(part):
            _put_element(geometry, piece)
    if alignment.long_section:
        profile = _put(_put(element, "Profile", name=name), "ProfAlign", name=name)
        for chainage, level, curve in alignment.long_section.points:
            tag, own = ("ParaCurve", {"length": repr(float(curve))}) if curve else ("PVI", {})
            _put(profile, tag, f"{float(chainage)!r} {float(level)!r}", **own)
    if alignment.sections:
        sections = _put(element, "CrossSects")
        for section in alignment.sections:
            own = _put(sections, "CrossSect", sta=repr(float(section.chainage)))
            for layer, corners in section.lines.items():
                text = " ".join(repr(float(value)) for corner in corners for value in corner)
                _put(_put(own, "CrossSectSurf", name=layer), "PntList2D", text)


def _turning_one_way(part: Element) -> list[Element]:
    """A transition that turns back as two: a spiral of the format turns one way. What hardly turns is
    straight."""
    first, last = (0.0 if abs(k) < 1 / _STRAIGHTEST else k for k in (part.curvature, part.end_curvature))
    part = replace(part, curvature=first, end_curvature=last)
    if part.curvature * part.end_curvature >= 0:
        return [part]
    before = part.length * part.curvature / (part.curvature - part.end_curvature)
    along = np.array([before])
    (x, y), (direction,) = part.places(along)[0].tolist(), part.directions(along).tolist()
    return [
        Element(part.start, part.direction, before, part.curvature, 0.0),
        Element((x, y), direction, part.length - before, 0.0, part.end_curvature),
    ]


def _put_element(geometry: Any, part: Element) -> None:
    ends = part.places(np.array([0.0, part.length]))
    turn = part.curvature or part.end_curvature
    rot = "ccw" if turn > 0 else "cw"
    if part.curvature == part.end_curvature:
        if not turn:
            made = _put(geometry, "Line", length=repr(float(part.length)))
            extra = []
        else:
            radius = 1 / turn
            centre = ends[0] + radius * np.array([-math.sin(part.direction), math.cos(part.direction)])
            made = _put(
                geometry,
                "Curve",
                rot=rot,
                crvType="arc",
                radius=repr(abs(radius)),
                length=repr(float(part.length)),
            )
            extra = [("Center", centre)]
    else:
        radii = ["INF" if not k else repr(abs(1 / k)) for k in (part.curvature, part.end_curvature)]
        made = _put(
            geometry,
            "Spiral",
            rot=rot,
            spiType="clothoid",
            length=repr(float(part.length)),
            radiusStart=radii[0],
            radiusEnd=radii[1],
        )
        extra = [("PI", _tangents_meet(part, ends))]
    for tag, place in (("Start", ends[0]), *extra, ("End", ends[1])):
        _put(made, tag, _words(place[None]))


def _tangents_meet(part: Element, ends: Floats) -> Floats:
    first, last = part.directions(np.array([0.0, part.length]))
    u, v = np.array([math.cos(first), math.sin(first)]), np.array([math.cos(last), math.sin(last)])
    away, across = ends[1] - ends[0], u[0] * v[1] - u[1] * v[0]
    ahead = (away[0] * v[1] - away[1] * v[0]) / across if abs(across) > _PARALLEL else 0.0
    # Tangents that don't meet ahead, as of a curve turning back: a place on the first still tells its
    # direction.
    return np.asarray(ends[0] + u * (ahead if 0 < ahead < 10 * part.length else part.length / 2))


def _factor(root: Any) -> float:
    for units in _children(root, "Units"):
        for system in units:
            unit = (system.get("linearUnit") or "meter").lower() if isinstance(system.tag, str) else "meter"
            if unit not in _LENGTHS:
                raise UnreadableLevels(
                    f"The file's lengths are in “{unit}”, which is not known here.", field="unit"
                )
            return _LENGTHS[unit]
    return 1.0


def _tag(element: Any) -> str:
    return str(etree.QName(element).localname)


def _children(parent: Any, *path: str) -> list[Any]:
    """The elements down a path of names, in any namespace."""
    found = [parent]
    for name in path:
        found = [
            child
            for element in found
            for child in element
            if isinstance(child.tag, str) and _tag(child) == name
        ]
    return found
