"""Arcs laid through the chords of a curve: fewer moves, and a machine that need not slow down at each of them.

A spline or an ellipse is drawn in hundreds of short lines. Where an arc runs as near to them as a drawing is ever exact, the arc is
what was meant. Straight sides and corners stay what they are: an arc takes at least four lines that turn the same way.
"""

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from orthotome.core.path.paths import Arc, Line, Move, Point
from orthotome.core.path.rings import Ring

WITHIN_MM = 0.005
"""Farthest that an arc may run from the lines that it takes the place of."""

_LEAST_LINES = 4
_CORNER_RAD = math.radians(30)  # a sharper turn was drawn as one. Assumption
_MOST_TURN_RAD = math.radians(170)  # of one arc: its ends still tell which way it goes round
_LARGEST_RADIUS_MM = 20_000.0
_STRAIGHT_MM = 0.001

Array = NDArray[np.float64]


def arcs_fitted(ring: Ring) -> Ring:
    """The ring with arcs in place of lines that follow one, nowhere farther off than WITHIN_MM."""
    begun = ring.begun_at(_sharpest(ring.moves))
    moves: list[Move] = []
    lines: list[Line] = []
    for move in begun.moves:
        if isinstance(move, Line):
            lines.append(move)
            continue
        moves += [*_fitted(lines), move]
        lines = []
    return Ring(tuple([*moves, *_fitted(lines)]))


def _sharpest(moves: Sequence[Move]) -> int:
    """The move that begins at the sharpest turn between lines, or that follows an arc: no curve runs on through there."""
    turns = []
    for i, move in enumerate(moves):
        before = moves[i - 1]
        lines = isinstance(move, Line) and isinstance(before, Line)
        turns.append(
            abs(_turns(np.array([before.start, before.end, move.end]))[0]) if lines else math.inf
        )
    return int(np.argmax(turns))


def _turns(points: Array) -> Array:
    """The turn at each point between the first and the last, positive to the left."""
    steps = np.diff(points, axis=0)
    ways = np.arctan2(steps[:, 1], steps[:, 0])
    return np.asarray((np.diff(ways) + math.pi) % (2 * math.pi) - math.pi)


def _fitted(lines: Sequence[Line]) -> list[Move]:
    """A chain of lines with arcs in place of those that follow one: from each place the longest that fits."""
    if len(lines) < _LEAST_LINES:
        return list(lines)
    points = np.array([lines[0].start, *(line.end for line in lines)])
    turns = _turns(points)
    moves: list[Move] = []
    at = 0
    while at < len(lines):
        end, move = _longest(points, turns, at)
        moves += [move] if move is not None else lines[at:end]
        at = end
    return moves


def _longest(points: Array, turns: Array, begin: int) -> tuple[int, Move | None]:
    """How far one move reaches from there, and that move; the next line alone where none of enough lines fits."""
    last = len(points) - 1
    reaches, found = begin + 1, None
    step = _LEAST_LINES
    while begin + step <= last:
        move = _through(points, turns, begin, begin + step)
        if move is None:
            break
        reaches, found = begin + step, move
        step *= 2
    if found is None:
        return begin + 1, None
    fails = min(begin + step, last + 1)
    while fails - reaches > 1:
        middle = (reaches + fails) // 2
        move = _through(points, turns, begin, middle)
        if move is None:
            fails = middle
        else:
            reaches, found = middle, move
    return reaches, found


def _through(points: Array, turns: Array, begin: int, end: int) -> Move | None:
    """The move from one point to another that runs within WITHIN_MM of all between them and of the lines' middles; None
    where there is none. An arc's centre lies on the bisector of its ends, by least squares of the points between."""
    bends = turns[begin : end - 1]
    if np.abs(bends).max() > _CORNER_RAD or abs(bends.sum()) > _MOST_TURN_RAD:
        return None
    held = points[begin : end + 1]
    start, stop = held[0], held[-1]
    chord = float(np.hypot(*(stop - start)))
    if chord <= 0:
        return None
    along = (stop - start) / chord
    across = np.array([-along[1], along[0]])
    off = held[1:-1] - (start + stop) / 2
    u, w = off @ along, off @ across
    if float(np.abs(w).max()) < _STRAIGHT_MM:
        return Line(_place(start), _place(stop)) if np.abs(u).max() < chord / 2 else None
    height = float((w * (u**2 + w**2 - chord**2 / 4)).sum() / (2 * (w**2).sum()))
    radius = math.hypot(chord / 2, height)
    if radius > _LARGEST_RADIUS_MM or bends.min() * bends.max() < -1e-12:
        return None
    centre = (start + stop) / 2 + height * across
    looked = np.concatenate([held, (held[1:] + held[:-1]) / 2])
    if float(np.abs(np.hypot(*(looked - centre).T) - radius).max()) > WITHIN_MM:
        return None
    return Arc(_place(start), _place(stop), _place(centre), clockwise=bool(bends.sum() < 0))


def _place(p: Array) -> Point:
    return float(p[0]), float(p[1])
