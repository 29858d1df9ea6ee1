"""Where the words of a drawing go: beside their symbols, off everything else.

A drawing is shown at `SMALLEST` pixels a grid unit or more, its words always at the same size; what is clear
of everything there is clear at every size above.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, partial
from typing import TYPE_CHECKING, Literal, TypeVar

import numpy as np

from ...fields import Document

if TYPE_CHECKING:
    from .pen import Drawing, Glyph, Link, Symbol, Tag, Wire

SMALLEST = 7.5  # pixels a grid unit
LETTER = 8.0 / SMALLEST  # width of a letter
LINE = 16.0 / SMALLEST  # height of a line
TAG = (7 * 7.9 + 24) / SMALLEST / 2, 12.0 / SMALLEST  # half of a tag's width and height
GAP = 0.35  # between a symbol and its words
STEPS = (0.0, 0.9, -0.9, 1.8, -1.8, 2.7, -2.7, 3.6, -3.6)  # how far words are moved along their side
FAR = (0.0, 0.6, 1.2, 1.9, 2.6, 3.3, 4.0, 5.0)  # and away from it
TOUCH = 1e-9  # boxes that touch share nothing
WIRE = 0.12  # half of a wire's width
NUMBER = re.compile(r"[MLHVAhvalz]|-?\d*\.?\d+")
NUDGES = sorted(  # how far a tag may be moved, the near places first
    ((0.8 * x, 0.8 * y) for x in range(-12, 13) for y in range(-9, 10)),
    key=lambda d: abs(d[0]) + 1.5 * abs(d[1]),
)
Anchor = Literal["start", "middle", "end"]
Level = Literal["top", "middle", "bottom"]
Spot = tuple[float, float, Anchor, Level]
P = TypeVar("P")
Side = Literal["right", "left", "above", "below"]
SIDES: tuple[Side, ...] = ("right", "left", "above", "below")


class Words(Document):
    """Lines of text at a point: how they stand to it, across and along."""

    x: float
    y: float
    anchor: Anchor
    level: Level
    lines: tuple[str, ...]


@dataclass(frozen=True)
class Box:
    """A rectangle in grid units."""

    left: float
    top: float
    right: float
    bottom: float

    def shared(self, other: Box) -> float:
        """The area that two boxes share."""
        across = min(self.right, other.right) - max(self.left, other.left)
        along = min(self.bottom, other.bottom) - max(self.top, other.top)
        return across * along if across > TOUCH and along > TOUCH else 0.0

    def moved(self, x: float, y: float) -> Box:
        return Box(self.left + x, self.top + y, self.right + x, self.bottom + y)

    def by(self, way: tuple[float, float]) -> Box:
        return self.moved(*way)

    @classmethod
    def around(cls, boxes: Iterable[Box]) -> Box:
        found = list(boxes)
        return cls(
            min(b.left for b in found),
            min(b.top for b in found),
            max(b.right for b in found),
            max(b.bottom for b in found),
        )


def fits_in(text: str, width: float) -> bool:
    """Whether a text can be written in something of a width."""
    return len(text) * LETTER <= width


def path_points(d: str) -> Iterator[tuple[float, float]]:
    """The corners of a symbol's path, arcs by their ends and radii."""
    marks = NUMBER.findall(d)
    x = y = 0.0
    k, verb = 0, "M"
    while k < len(marks):
        if marks[k].isalpha():
            verb = marks[k]
            k += 1
            if verb in "z":
                continue
        near = verb.islower()
        if verb in "Hh":
            x = float(marks[k]) + (x if near else 0.0)
            k += 1
        elif verb in "Vv":
            y = float(marks[k]) + (y if near else 0.0)
            k += 1
        elif verb in "Aa":
            r = float(marks[k])
            yield from ((x - r, y - r), (x + r, y + r)) if near else ()
            x = float(marks[k + 5]) + (x if near else 0.0)
            y = float(marks[k + 6]) + (y if near else 0.0)
            k += 7
        else:
            x = float(marks[k]) + (x if near else 0.0)
            y = float(marks[k + 1]) + (y if near else 0.0)
            k += 2
        yield x, y


@cache
def _boxes(d: str, turn: int) -> tuple[Box, ...]:
    """A rectangle for each stroke of a path as it is turned."""
    found = []
    for stroke in d.split("M")[1:]:
        points = [_turn(p, turn) for p in path_points(f"M{stroke}")]
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        found.append(Box(min(xs) - WIRE, min(ys) - WIRE, max(xs) + WIRE, max(ys) + WIRE))
    return tuple(found)


def strokes(symbol: Symbol, glyph: Glyph) -> list[Box]:
    """A symbol as it is turned: a rectangle a stroke, so that beside a thin lead there is room."""
    found = [b.moved(symbol.x, symbol.y) for s in glyph.shapes for b in _boxes(s.d, symbol.turn)]
    return found or [Box(symbol.x, symbol.y, symbol.x, symbol.y)]


def symbol_box(symbol: Symbol, glyph: Glyph) -> Box:
    """All of a symbol."""
    return Box.around(strokes(symbol, glyph))


def _turn(point: tuple[float, float], turn: int) -> tuple[float, float]:
    x, y = point
    return {0: (x, y), 90: (-y, x), 180: (-x, -y), 270: (y, -x)}[turn]


def size(lines: Sequence[str]) -> tuple[float, float]:
    """Width and height of some lines."""
    return (max(len(line) for line in lines) + 0.3) * LETTER, len(lines) * LINE


def words_box(words: Words) -> Box:
    """The rectangle that words take."""
    return _box_at((words.x, words.y, words.anchor, words.level), size(words.lines))


def _box_at(spot: Spot, size: tuple[float, float]) -> Box:
    (x, y, anchor, level), (w, h) = spot, size
    left = x + {"start": 0.0, "middle": -w / 2, "end": -w}[anchor]
    top = y + {"top": 0.0, "middle": -h / 2, "bottom": -h}[level]
    return Box(left, top, left + w, top + h)


def tag_box(tag: Tag) -> Box:
    """The rectangle that a tag takes."""
    half, high = TAG
    return Box(-half, -high, half, high).moved(tag.x, tag.y)


def place_tags(
    symbols: Sequence[Symbol], tags: Sequence[Tag], glyphs: Mapping[str, Glyph]
) -> tuple[Tag, ...]:
    """The tags, each moved off symbols and other tags, no farther than it must."""
    taken = [box for s in symbols for box in strokes(s, glyphs[s.symbol])]
    found = []
    for tag in tags:
        home = tag_box(tag)
        x, y = least_hidden(NUDGES, home.by, taken)
        taken.append(home.moved(x, y))
        found.append(tag.model_copy(update={"x": tag.x + x, "y": tag.y + y}))
    return tuple(found)


def least_hidden(places: Iterable[P], box_of: Callable[[P], Box], taken: Sequence[Box]) -> P:
    """The first place whose box is clear of what is taken, else the one that hides least of it."""
    best: tuple[float, P] | None = None
    left, top, right, bottom = np.array([(b.left, b.top, b.right, b.bottom) for b in taken]).T
    for place in places:
        box = box_of(place)
        across = np.minimum(box.right, right) - np.maximum(box.left, left)
        along = np.minimum(box.bottom, bottom) - np.maximum(box.top, top)
        hidden = float(np.sum(across * along, where=(across > TOUCH) & (along > TOUCH)))
        if best is None or hidden < best[0]:
            best = (hidden, place)
        if hidden == 0.0:
            break
    assert best is not None
    return best[1]


def wire_boxes(wires: Sequence[Wire | Link]) -> list[Box]:
    """Every straight run as a thin rectangle."""
    return [
        Box(min(a[0], b[0]) - WIRE, min(a[1], b[1]) - WIRE, max(a[0], b[0]) + WIRE, max(a[1], b[1]) + WIRE)
        for wire in wires
        for a, b in zip(wire.points, wire.points[1:], strict=False)
    ]


def _spots(body: Box, wanted: Side) -> Iterator[Spot]:
    """Every place beside a symbol where its words could stand, the wanted and the near ones first."""
    x, y = (body.left + body.right) / 2, (body.top + body.bottom) / 2
    for far in FAR:
        off = GAP + far
        for step in STEPS:
            at: dict[Side, Spot] = {
                "right": (body.right + off, y + step, "start", "middle"),
                "left": (body.left - off, y + step, "end", "middle"),
                "above": (x + step, body.top - off, "middle", "bottom"),
                "below": (x + step, body.bottom + off, "middle", "top"),
            }
            yield at[wanted]
            yield from (at[side] for side in SIDES if side != wanted)


def place_words(
    symbols: Sequence[Symbol], wires: Sequence[Wire], tags: Sequence[Tag], glyphs: Mapping[str, Glyph]
) -> list[Words | None]:
    """For each symbol the place of its words: the first that is clear, else the one that hides least."""
    drawn = [box for s in symbols for box in strokes(s, glyphs[s.symbol])]
    taken = [*drawn, *wire_boxes(wires), *(tag_box(t) for t in tags)]
    found: list[Words | None] = []
    for symbol in symbols:
        if not symbol.lines:
            found.append(None)
            continue
        extent = size(symbol.lines)
        spots = _spots(symbol_box(symbol, glyphs[symbol.symbol]), symbol.side)
        spot = least_hidden(spots, partial(_box_at, size=extent), taken)
        taken.append(_box_at(spot, extent))
        found.append(Words(x=spot[0], y=spot[1], anchor=spot[2], level=spot[3], lines=symbol.lines))
    return found


def with_words(
    symbols: Sequence[Symbol], wires: Sequence[Wire], tags: Sequence[Tag], glyphs: Mapping[str, Glyph]
) -> tuple[Symbol, ...]:
    """The symbols, each with the place of its words."""
    spots = place_words(symbols, wires, tags, glyphs)
    return tuple(s.model_copy(update={"words": w}) for s, w in zip(symbols, spots, strict=True))


def frame(
    symbols: Sequence[Symbol], wires: Sequence[Wire], tags: Sequence[Tag], glyphs: Mapping[str, Glyph]
) -> tuple[float, float, float, float]:
    """The rectangle around all that is drawn."""
    words = [words_box(s.words) for s in symbols if s.words is not None]
    bodies = [symbol_box(s, glyphs[s.symbol]) for s in symbols]
    all_of_it = Box.around([*bodies, *wire_boxes(wires), *(tag_box(t) for t in tags), *words])
    return (all_of_it.left, all_of_it.top, all_of_it.right, all_of_it.bottom)


def hidden_words(drawing: Drawing) -> list[str]:
    """The words and tags that lie on something else, by what they say; none in a clean drawing."""
    symbols, glyphs = drawing.symbols, drawing.glyphs
    boxes = [(s, words_box(s.words)) for s in symbols if s.words is not None]
    bodies = [box for s in symbols for box in strokes(s, glyphs[s.symbol])]
    lines: list[Wire | Link] = [*drawing.wires, *drawing.links]
    fixed = [*bodies, *wire_boxes(lines), *(tag_box(t) for t in drawing.tags)]
    found = []
    for k, (symbol, box) in enumerate(boxes):
        others = [b for j, (_, b) in enumerate(boxes) if j != k]
        if any(box.shared(o) > 0.05 for o in (*fixed, *others)):
            found.append(" ".join(symbol.words.lines) if symbol.words else "")
    for k, tag in enumerate(drawing.tags):
        beside = (*bodies, *(tag_box(t) for t in drawing.tags[:k]))
        if any(tag_box(tag).shared(o) > 0.05 for o in beside):
            found.append(tag.lane)
    return found
