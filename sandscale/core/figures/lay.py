"""A drawing laid over its former revision by their own lines: moved, turned and sized until most of them
coincide."""

from __future__ import annotations

import cmath
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

Lines = NDArray[np.float64]  # n × 4: x1, y1, x2, y2 in sheet units
Points = NDArray[np.float64]  # n × 2

FEWEST_LINES = 8  # a page with fewer can't be laid by them
SHORTEST = 3.0  # sheet units; shorter lines tell little of where a drawing lies
_HELD_AGAINST = 4000  # lines
_VOTING = 350  # lines of each drawing
_TRIED = 40  # of the places most votes fall on
_AS_IT_IS = 0.5  # of the lines; where so many coincide unmoved, nothing else is tried
_NEAR = (2.0, 0.8, 0.4)  # sheet units between ends that are one, closer each time
_UNMOVED = 0.02  # sheet units over the whole sheet


@dataclass(frozen=True)
class Lay:
    """What leads from a former sheet to the one that follows it: z → ``turn`` · z + ``shift``, points as
    complex numbers in sheet units."""

    turn: complex = 1 + 0j
    shift: complex = 0j

    @property
    def is_as_it_is(self) -> bool:
        """Whether nothing moved."""
        return self.turn == 1 and self.shift == 0

    @property
    def size(self) -> float:
        """How many times as large the drawing is on the sheet."""
        return abs(self.turn)

    @property
    def angle(self) -> float:
        """How far it is turned, anticlockwise, in radians."""
        return cmath.phase(self.turn)

    def points(self, points: Points) -> Points:
        """Places of the former sheet on the one that follows it."""
        found = self.turn * (points[:, 0] + 1j * points[:, 1]) + self.shift
        return np.column_stack((found.real, found.imag))

    def lines(self, lines: Lines) -> Lines:
        """Lines of the former sheet on the one that follows it."""
        if self.is_as_it_is:
            return lines
        return np.hstack((self.points(lines[:, :2]), self.points(lines[:, 2:])))


@dataclass(frozen=True)
class Laid:
    """How a drawing was laid over its former one.

    Attributes:
        share: of the former one's lines, by number, those that coincide with one of the new.
        off: how far the ends of those are apart, in sheet units: 95 of 100 lie closer.
    """

    lay: Lay
    share: float
    off: float


def by_two_points(first: complex, second: complex, to_first: complex, to_second: complex) -> Lay:
    """The lay that takes two points of the former sheet to two of the new one.

    Raises:
        ZeroDivisionError: the two are one.
    """
    turn = (to_second - to_first) / (second - first)
    return Lay(turn, to_first - turn * first)


def lay_over(before: Lines, after: Lines) -> Laid | None:
    """The lay at which most lines of a former drawing coincide with lines of the new one; None where either
    has too few lines to tell.

    Lines coincide when both their ends do. Where the drawing lies as it did, that is found first; otherwise
    each of the longest lines of one drawing is laid on each of the other's, both ways round, and the places
    where many of these agree are tried.
    """
    before, after = _telling(before), _telling(after)
    if min(len(before), len(after)) < FEWEST_LINES:
        return None
    ends = _Ends(after)
    best = ends.laid(before, Lay())
    if best.share < _AS_IT_IS:
        for lay in _voted(before, after):
            found = ends.laid(before, lay)
            if found.share > best.share:
                best = found
    return best


def _telling(lines: Lines) -> Lines:
    """The longest lines."""
    length = _length(lines)
    lines, length = lines[length > SHORTEST], length[length > SHORTEST]
    if len(lines) > _HELD_AGAINST:
        lines = lines[np.argpartition(-length, _HELD_AGAINST)[:_HELD_AGAINST]]
    return lines.astype(float)


def _length(lines: Lines) -> NDArray[np.float64]:
    return np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])


class _Ends:
    """The ends of a drawing's lines, each line both ways round."""

    def __init__(self, lines: Lines) -> None:
        self.ends = np.vstack((lines, lines[:, [2, 3, 0, 1]]))
        self.tree = cKDTree(self.ends)

    def laid(self, before: Lines, lay: Lay) -> Laid:
        """A lay put right by the lines that coincide at it, and how many do then."""
        for near in _NEAR:
            apart, at = self.tree.query(lay.lines(before), distance_upper_bound=2 * near)
            hit = np.isfinite(apart)
            if hit.sum() < FEWEST_LINES / 2:
                return Laid(lay, float(hit.mean()), near)
            lay = _fitted(before[hit], self.ends[at[hit]], lay)
        apart, _ = self.tree.query(lay.lines(before), distance_upper_bound=2 * _NEAR[-1])
        hit = np.isfinite(apart)
        off = float(np.quantile(apart[hit], 0.95)) if hit.any() else _NEAR[-1]
        return Laid(lay, float(hit.mean()), off)


def _complex(points: Points) -> NDArray[np.complex128]:
    return points[:, 0] + 1j * points[:, 1]


def _fitted(before: Lines, after: Lines, lay: Lay) -> Lay:
    """The lay that takes the ends of lines closest to those of others; none, or moved only, where that does
    as well."""
    old = np.concatenate((_complex(before[:, :2]), _complex(before[:, 2:])))
    new = np.concatenate((_complex(after[:, :2]), _complex(after[:, 2:])))
    reach = float(np.abs(old - old.mean()).max())
    spread = old - old.mean()
    if not np.abs(spread).any():
        return lay
    turn = complex((spread.conj() * (new - new.mean())).sum() / (np.abs(spread) ** 2).sum())
    turn = _plain(turn, _UNMOVED / reach)
    shift = complex((new - turn * old).mean())
    if turn == 1 and abs(shift) < _UNMOVED:
        shift = 0j
    return Lay(turn, shift)


def _plain(turn: complex, within: float) -> complex:
    """A turn without what is no more than the roundness of numbers: of size 1, by whole quarters."""
    size, angle = abs(turn), cmath.phase(turn)
    if abs(size - 1) < within:
        size = 1.0
    quarters = round(angle / (cmath.pi / 2))
    if abs(angle - quarters * cmath.pi / 2) < within:
        return size * (1 + 0j, 1j, -1 + 0j, -1j)[quarters % 4]
    return cmath.rect(size, angle)


def _voted(before: Lines, after: Lines) -> list[Lay]:
    """The lays that most pairs of long lines agree on."""
    old, new = _longest(before), _longest(after)
    first, second = (_complex(old[:, at : at + 2])[:, None] for at in (0, 2))
    to_first = np.concatenate([_complex(new[:, at : at + 2]) for at in (0, 2)])
    to_second = np.concatenate([_complex(new[:, at : at + 2]) for at in (2, 0)])
    turn = (to_second - to_first)[None, :] / (second - first)
    middle = complex(_complex((before[:, :2] + before[:, 2:]) / 2).mean())
    to_middle = turn * (middle - (first + second) / 2) + (to_first + to_second)[None, :] / 2
    fits = np.abs(np.log(np.abs(turn))) < np.log(12)
    turn, to_middle = turn[fits], to_middle[fits]
    votes = np.column_stack(
        (np.log(np.abs(turn)) / 0.01, np.angle(turn) / 0.01, to_middle.real / 6, to_middle.imag / 6)
    )
    found: dict[tuple[int, ...], tuple[int, Lay]] = {}
    for offset in (0.0, 0.5):
        boxes = np.floor(votes + offset).astype(np.int64)
        key = ((boxes[:, 0] * 1_000 + boxes[:, 1]) * 100_000 + boxes[:, 2]) * 100_000 + boxes[:, 3]
        _, start, inverse, count = np.unique(key, return_index=True, return_inverse=True, return_counts=True)
        for at in np.argsort(-count)[:_TRIED]:
            here = inverse == at
            mean = complex(turn[here].mean())
            lay = Lay(mean, complex(to_middle[here].mean()) - mean * middle)
            found[(int(offset * 2), *boxes[start[at]].tolist())] = (int(count[at]), lay)
    ranked = sorted(found.values(), key=lambda each: -each[0])
    return [lay for _, lay in ranked[:_TRIED]]


def _longest(lines: Lines) -> Lines:
    length = _length(lines)
    return lines[np.argsort(-length)[:_VOTING]]
