"""What went and what came between two revisions of a sheet, place by place.

Lines are held against one another as what they cover, not one by one: a line drawn in two halves, the other
way round or as other chords of the same arc is the same.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from .lay import Laid, Lay, Lines

Box = tuple[float, float, float, float]  # left, bottom, right, top
Word = tuple[str, float, float, float, float]  # text, left, bottom, width, height

APART = 18.0  # sheet units between two places
_SURE, _COARSE = 0.15, 0.8  # sheet units within which lines coincide, at least and at most
_SHORTEST = 3  # times that: what is left of a line and is no difference
_ASKEW = 0.5  # the sine of the angle between lines that can't coincide
_WORD_OFF = 4.0  # sheet units a word may stand off


@dataclass(frozen=True)
class Place:
    """A place where the revisions differ, on the new sheet; in sheet units.

    Attributes:
        size: the length of the lines that went and came there, words with the length around them.
        gone: lines (n × 4) of the former revision.
        came: lines of the new one.
        words_gone: words with their boxes.
    """

    box: Box
    size: float
    gone: Lines
    came: Lines
    words_gone: Sequence[Word]
    words_came: Sequence[Word]


def differences(
    before: Lines, after: Lines, words_before: Sequence[Word], words_after: Sequence[Word], laid: Laid
) -> list[Place]:
    """The places where a sheet differs from its former revision, largest first.

    What stands at the very same place of the paper (a frame, a title block) is the same also where the
    drawing inside it moved.

    Args:
        laid: how the former one lies over the new one.
    """
    within = min(max(4 * laid.off, _SURE), _COARSE)
    old = laid.lay.lines(before.astype(float))
    new = after.astype(float)
    stay = _twins(before, new, within) if not laid.lay.is_as_it_is else np.zeros(len(before), bool)
    stayed = _twins(new, before, within) if not laid.lay.is_as_it_is else np.zeros(len(new), bool)
    gone = _left(old, new, ~stay, within)
    came = _left(new, old, ~stayed, within)
    lost, won = _words_apart(words_before, words_after, laid.lay)
    return _places(gone, came, lost, won)


def _twins(lines: Lines, others: Lines, within: float) -> NDArray[np.bool_]:
    """Which lines have one among others with the same ends."""
    if not len(lines) or not len(others):
        return np.zeros(len(lines), bool)
    ends = np.vstack((others, others[:, [2, 3, 0, 1]]))
    apart, _ = cKDTree(ends).query(lines, distance_upper_bound=within)
    found: NDArray[np.bool_] = np.isfinite(apart)
    return found


def _left(lines: Lines, others: Lines, asked: NDArray[np.bool_], within: float) -> Lines:
    """What of some lines no other covers."""
    mine = lines[asked & ~_twins(lines, others, within)]
    if not len(mine):
        return mine
    start, along = mine[:, :2], mine[:, 2:] - mine[:, :2]
    length = np.hypot(*along.T)
    mine, start, along, length = (each[length > 0] for each in (mine, start, along, length))
    along = along / length[:, None]
    covered = _covered(mine, start, along, others, within)
    pieces = []
    for at in range(len(mine)):
        reached = 0.0
        for begin, end in [*covered[at], (length[at] + within, 0.0)]:
            if min(begin - within, length[at]) - reached > _SHORTEST * within:
                a, b = reached, min(begin - within, length[at])
                pieces.append((*(start[at] + along[at] * a), *(start[at] + along[at] * b)))
            reached = max(reached, end + within)
    return np.array(pieces).reshape(-1, 4)


def _covered(
    mine: Lines, start: Lines, along: Lines, others: Lines, within: float
) -> dict[int, list[tuple[float, float]]]:
    """From where to where other lines run along each line, in its direction, in order."""
    tree = shapely.STRtree(shapely.linestrings(others.reshape(-1, 2, 2)))
    at, other = tree.query(shapely.linestrings(mine.reshape(-1, 2, 2)), predicate="dwithin", distance=within)
    direction, origin = along[at], start[at]
    ends = others[other].reshape(-1, 2, 2) - origin[:, None, :]
    run = np.einsum("nij,nj->ni", ends, direction)
    off = ends[:, :, 1] * direction[:, None, 0] - ends[:, :, 0] * direction[:, None, 1]
    length = np.hypot(*(mine[at, 2:] - mine[at, :2]).T)
    low, high = run.min(axis=1), run.max(axis=1)
    begin, end = np.maximum(low, 0.0), np.minimum(high, length)
    lean = np.divide(off[:, 1] - off[:, 0], run[:, 1] - run[:, 0], out=np.full(len(at), np.inf),
                     where=np.abs(run[:, 1] - run[:, 0]) > 1e-9)  # fmt: skip
    with np.errstate(invalid="ignore"):
        at_begin, at_end = (off[:, 0] + lean * (place - run[:, 0]) for place in (begin, end))
        fits = (np.abs(lean) < _ASKEW) & (np.abs(at_begin) <= within) & (np.abs(at_end) <= within)
    fits &= end >= begin
    found: dict[int, list[tuple[float, float]]] = defaultdict(list)
    order = np.lexsort((begin, at))
    for line, a, b, is_fit in zip(at[order], begin[order], end[order], fits[order], strict=True):
        if is_fit:
            found[int(line)].append((float(a), float(b)))
    return found


def _words_apart(before: Sequence[Word], after: Sequence[Word], lay: Lay) -> tuple[list[Word], list[Word]]:
    """The words that went, on the new sheet, and those that came."""
    standing: dict[str, list[tuple[complex, int]]] = defaultdict(list)
    for at, word in enumerate(after):
        standing[word[0]].append((_middle(word), at))
    found: set[int] = set()
    gone = []
    for word in before:
        places = (lay.turn * _middle(word) + lay.shift, _middle(word))
        near = [
            (abs(place - middle), at)
            for middle, at in standing.get(word[0], ())
            for place in places
            if at not in found and abs(place - middle) <= _WORD_OFF
        ]
        if near:
            found.add(min(near)[1])
        else:
            gone.append(_moved(word, lay))
    return gone, [tuple(word[:5]) for at, word in enumerate(after) if at not in found]  # type: ignore[misc]


def _middle(word: Word) -> complex:
    return complex(word[1] + word[3] / 2, word[2] + word[4] / 2)


def _moved(word: Word, lay: Lay) -> Word:
    text, left, bottom, width, height = word[:5]
    corners = np.array(
        ((left, bottom), (left + width, bottom), (left, bottom + height), (left + width, bottom + height))
    )
    (x1, y1), (x2, y2) = (each(lay.points(corners), axis=0) for each in (np.min, np.max))
    return text, float(x1), float(y1), float(x2 - x1), float(y2 - y1)


def _places(gone: Lines, came: Lines, lost: Sequence[Word], won: Sequence[Word]) -> list[Place]:
    """Differences that lie together, as places."""
    lines = np.vstack((gone, came))
    words = [*lost, *won]
    boxes = np.vstack((_boxes(lines), np.array([_box(word) for word in words]).reshape(-1, 4)))
    if not len(boxes):
        return []
    wide = boxes + np.array((-1, -1, 1, 1)) * APART / 2
    shapes = shapely.box(*wide.T)
    one, other = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    together = coo_array((np.ones(len(one)), (one, other)), shape=(len(boxes), len(boxes)))
    count, of = connected_components(together, directed=False)
    held: list[list[int]] = [[] for _ in range(count)]
    for at, place in enumerate(of):
        held[place].append(at)
    places = [_place(members, boxes, lines, words, len(gone), len(lost)) for members in held]
    return sorted(places, key=lambda place: -place.size)


def _place(
    members: list[int], boxes: Lines, lines: Lines, words: Sequence[Word], gone: int, lost: int
) -> Place:
    those = boxes[members]
    of_lines = np.array([at for at in members if at < len(lines)], dtype=int)
    of_words = [at - len(lines) for at in members if at >= len(lines)]
    around = sum(2 * (words[at][3] + words[at][4]) for at in of_words)
    size = float(np.hypot(*(lines[of_lines, 2:] - lines[of_lines, :2]).T).sum()) + around
    (left, bottom), (right, top) = those[:, :2].min(axis=0), those[:, 2:].max(axis=0)
    return Place(
        box=(float(left), float(bottom), float(right), float(top)), size=size,
        gone=lines[of_lines[of_lines < gone]], came=lines[of_lines[of_lines >= gone]],
        words_gone=[words[at] for at in of_words if at < lost],
        words_came=[words[at] for at in of_words if at >= lost],
    )  # fmt: skip


def _boxes(lines: Lines) -> Lines:
    return np.hstack((np.minimum(lines[:, :2], lines[:, 2:]), np.maximum(lines[:, :2], lines[:, 2:])))


def _box(word: Word) -> Box:
    return (word[1], word[2], word[1] + word[3], word[2] + word[4])


def near(shape: shapely.Geometry, places: Iterable[Place], within: float) -> bool:
    """Whether what went or came lies within a distance of a shape, or in it."""
    for place in places:
        if shape.distance(shapely.box(*place.box)) > within:
            continue
        lines = np.vstack((place.gone, place.came)).reshape(-1, 2, 2)
        if len(lines) and shapely.dwithin(shapely.linestrings(lines), shape, within).any():
            return True
        words = [shapely.box(*_box(word)) for word in (*place.words_gone, *place.words_came)]
        if any(shape.distance(word) <= within for word in words):
            return True
    return False
