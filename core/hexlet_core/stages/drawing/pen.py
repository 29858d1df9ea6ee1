"""A schematic as data: symbols on a grid and wires between their pins.

The + rail lies at y = 0, the 0 V rail at y = `HEIGHT`. Stages draw from left to right with a `Pen`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from importlib.resources import files
from itertools import pairwise
from typing import TYPE_CHECKING, Any, Literal

from ...fields import Document, read_json
from .labels import Words, fits_in, frame, place_tags, with_words

if TYPE_CHECKING:
    from ..contract.site import Site

Point = tuple[float, float]
Turn = Literal[0, 90, 180, 270]
Beside = Literal["left", "right", "above", "below"]
HEIGHT = 30.0
SUPPLY_REF = "BAT"
SIGNAL_Y = 16.0  # the signal path's height
OUTPUT_Y = 9.5  # a low-side switch's output
FOLD_EDGE, FOLD_GAP, FOLD_MOST = 2.5, 0.8, 8.5  # of folded channels: to the rails, between, and their height
HIGH_Y = HEIGHT - OUTPUT_Y  # a high-side switch's output


class Shape(Document):
    """One stroke of a symbol as SVG path data in grid units: `body` is filled with paper, `solid`
    with ink.
    """

    d: str
    body: bool = False
    solid: bool = False
    bold: bool = False


class Name(Document):
    """What one pin of a chip is called, written beside it inside the symbol."""

    text: str
    x: float
    y: float
    anchor: Literal["start", "middle", "end"] = "start"


class Glyph(Document):
    """A symbol's pins and shapes; `inside` is a letter drawn in it, `names` those of its pins.

    `holds` is what of its part is written in it, at `holds_at`, if it is no wider than `room`.
    """

    pins: dict[str, Point]
    shapes: tuple[Shape, ...]
    inside: str = ""
    names: tuple[Name, ...] = ()
    holds: Literal["", "label", "value"] = ""
    holds_at: Point = (0.0, 0.0)
    room: float = 5.0


SYMBOLS: dict[str, Glyph] = {
    name: Glyph.model_validate(data)
    for name, data in read_json(files(__package__).joinpath("symbols.json").read_text("utf-8")).items()
}
VARIANTS = {"resistor": ("resistor_us",), "contact": ("contact_closed",)}  # drawn in place of another


class Symbol(Document):
    """A part's symbol: `pins` maps the device's terminals to points."""

    ref: str
    symbol: str
    x: float
    y: float
    turn: Turn = 0
    label: str = ""
    value: str = ""
    path: str | None = None
    facet: str = ""  # the side of the design where that is set
    side: Beside = "right"
    pins: dict[str, Point]
    inside: str = ""  # what is written in it
    lines: tuple[str, ...] = ()  # and beside it
    words: Words | None = None  # where those lines stand


class Wire(Document):
    """A polyline. `load` marks the path the load's current takes."""

    points: tuple[Point, ...]
    load: bool = False
    net: str = ""
    part: str | None = None


class Tag(Document):
    """Where a value at the cursor's moment may stand: a node's volts or a branch's amps."""

    lane: str
    unit: Literal["V", "A"]
    x: float
    y: float


class Link(Document):
    """A mechanical link between two symbols, dashed."""

    points: tuple[Point, ...]


class Fold(Document):
    """A channel that is not open: its load and number in a box between the rails; `lane` is its current."""

    number: int
    title: str
    value: str
    lane: str
    x: float = 0.0
    y: float = 0.0
    width: float = 7.6
    height: float = 0.0


class Drawing(Document):
    """A whole schematic in grid units."""

    width: float
    height: float
    frame: tuple[float, float, float, float]  # left, top, right, bottom of all that is drawn
    symbols: tuple[Symbol, ...]
    wires: tuple[Wire, ...]
    dots: tuple[Point, ...]
    tags: tuple[Tag, ...]
    links: tuple[Link, ...]
    folds: tuple[Fold, ...] = ()
    glyphs: dict[str, Glyph]


class Pen:
    """Collects what the stages draw; `x` is where the next stage begins."""

    def __init__(self) -> None:
        self.x = 0.0
        self.symbols: list[Symbol] = []
        self.wires: list[Wire] = []
        self.tags: list[Tag] = []
        self.links: list[Link] = []
        self.folds: list[Fold] = []
        self.folded: Mapping[str, Fold] = {}  # of the block that is drawn, its outputs that are not open
        self.output: Point = (0.0, SIGNAL_Y)
        self.outs: dict[str, Point] = {}  # of a block with several outputs, where each can be reached
        self.rail_x = 0.0  # where the + rail begins: what guards the supply lies before it
        self.rail_part = SUPPLY_REF  # whose current it carries
        self.main_x: float | None = None  # where the first one began, once another took its place
        self.returning: frozenset[str] = frozenset()  # the drawn block's inputs that later blocks give
        self.stubs: dict[str, Point] = {}  # where those can be reached, by port
        self.control: Point | None = None  # where the switch's base or gate can be reached
        self.at_control = 0  # parts put there so far
        self.return_at: Point | None = None  # where an alternating supply returns
        self.lifted = False  # whether the lower rail is a block's own, and 0 V only a terminal

    def place(
        self,
        ref: str,
        symbol: str,
        x: float,
        y: float,
        *,
        turn: Turn = 0,
        label: str = "",
        value: str = "",
        path: str | None = None,
        facet: str = "",
        side: Beside = "right",
        pins: Sequence[str] | None = None,
        named: Mapping[str, str] | None = None,
    ) -> dict[str, Point]:
        """Put a symbol down; returns where its pins are, which `named` calls otherwise."""
        at = {
            (named or {}).get(name, name): _turned(p, turn, x, y)
            for name, p in SYMBOLS[symbol].pins.items()
            if pins is None or name in pins
        }
        glyph = SYMBOLS[symbol]
        held = {"": glyph.inside, "label": label, "value": value}[glyph.holds]
        held = held if fits_in(held, glyph.room) else ""
        self.symbols.append(
            Symbol(
                inside=held,
                lines=tuple(text for text in (label, value) if text and text != held),
                ref=ref,
                symbol=symbol,
                x=x,
                y=y,
                turn=turn,
                label=label,
                value=value,
                path=path,
                facet=facet,
                side=side,
                pins=at,
            )
        )
        return at

    def part(
        self, site: Site, local: str, symbol: str, x: float, y: float, turn: Turn = 0, **shown: Any
    ) -> dict[str, Point]:
        """Put one of a block's parts down, with its reference and value beside it unless `shown` says
        otherwise.
        """
        placed, ref = site.part(local), site.ref(local)
        described = {
            "label": ref,
            "value": placed.mark,
            "path": site.path(placed.field) if placed.field else None,
            "facet": site.stage.facet,
        }
        return self.place(ref, symbol, x, y, turn=turn, **(described | shown))

    def wire(self, *points: Point, load: bool = False, part: str | None = None) -> None:
        """Join points by straight runs. `part` names the part whose current it carries."""
        if any(a[0] != b[0] and a[1] != b[1] for a, b in chain_points(points)):
            raise ValueError("wires run straight")
        self.wires.append(Wire(points=tuple(points), load=load, part=part))

    def hang(
        self,
        site: Site,
        local: str,
        symbol: str,
        x: float,
        *,
        label: str = "",
        where: Beside = "right",
        lane: str = "current",
    ) -> dict[str, Point]:
        """A load's symbol between its rail and the switch's output, joined to both."""
        low, ref = site.side == "low", site.ref(local)
        rail, middle, level = (0.0, 4.5, OUTPUT_Y) if low else (HEIGHT, HEIGHT - 4.5, HIGH_Y)
        at = self.part(site, local, symbol, x, middle, label=label or ref, side=where, pins=("a", "b"))
        near, far = (at["a"], at["b"]) if low else (at["b"], at["a"])
        self.wire((x, rail), near, load=True, part=ref)
        self.wire(far, (x, level), load=True, part=ref)
        self.wire(self.output, (x, level), load=True, part=ref)
        self.tag(site.lane(lane), "A", x, level + (2.2 if low else -2.2))
        return at

    def ground(self, point: Point, *, load: bool = False, part: str | None = None) -> None:
        """Join a point to 0 V: down to the lower rail, or where that is a block's own to a terminal."""
        x, y = point
        if not self.lifted:
            self.wire(point, (x, HEIGHT), load=load, part=part)
            return
        below = (x, min(y + 1.4, HEIGHT - 1.0))
        if below != point:
            self.wire(point, below, load=load, part=part)
        self.place(SUPPLY_REF, "terminal", *below, label="~ return", side="right")

    def tag(self, lane: str, unit: Literal["V", "A"], x: float, y: float) -> None:
        self.tags.append(Tag(lane=lane, unit=unit, x=x, y=y))

    def fold(self, folds: Sequence[Fold], x: float) -> None:
        """Put folded channels down, one over the other between the rails, their middle at x."""
        room = (HEIGHT - 2 * FOLD_EDGE - (len(folds) - 1) * FOLD_GAP) / len(folds)
        height = min(room, FOLD_MOST)
        top = (HEIGHT - len(folds) * height - (len(folds) - 1) * FOLD_GAP) / 2
        for k, fold in enumerate(folds):
            at = {"x": x - fold.width / 2, "y": top + k * (height + FOLD_GAP), "height": height}
            self.folds.append(fold.model_copy(update=at))

    def switched_rail(self, end: float, begin: Point, x: float, part: str) -> None:
        """The + rail ends, and another one begins at `x`, reached from a point: for all that follows."""
        self.wire((self.rail_x, 0.0), (end, 0.0), load=True, part=self.rail_part)
        self.wire(begin, (x, begin[1]), (x, 0.0), load=True, part=part)
        self.main_x = self.rail_x if self.main_x is None else self.main_x
        self.rail_x, self.rail_part = x, part

    def back(self, begin: Point, end: Point, part: str) -> None:
        """A wire back to an earlier block, under everything."""
        low, x = HEIGHT - 1.1, begin[0] + 1.2
        self.wire(begin, (x, begin[1]), (x, low), (end[0], low), end, part=part)
        self.x = max(self.x, x)

    def done(self, width: float) -> Drawing:
        """The finished drawing, rails run out to `width`, dots where three or more ways meet."""
        self.wire((self.rail_x, 0.0), (width, 0.0), load=True, part=self.rail_part)
        self.wire((0.0, HEIGHT), (width, HEIGHT), load=True, part=SUPPLY_REF)
        glyphs = self._glyphs()
        tags = place_tags(self.symbols, self.tags, glyphs)
        links = [Wire(points=link.points) for link in self.links] + [_outline(f) for f in self.folds]
        symbols = with_words(self.symbols, [*self.wires, *links], tags, glyphs)
        return Drawing(
            width=width,
            height=HEIGHT,
            frame=self._frame(symbols, tags, glyphs),
            symbols=symbols,
            wires=tuple(self.wires),
            dots=_dots(self.wires),
            tags=tags,
            links=tuple(self.links),
            folds=tuple(self.folds),
            glyphs=glyphs,
        )

    def _frame(
        self, symbols: tuple[Symbol, ...], tags: tuple[Tag, ...], glyphs: dict[str, Glyph]
    ) -> tuple[float, float, float, float]:
        left, top, right, bottom = frame(symbols, self.wires, tags, glyphs)
        return left, top, max([right, *(f.x + f.width + 0.4 for f in self.folds)]), bottom

    def _glyphs(self) -> dict[str, Glyph]:
        used = {s.symbol for s in self.symbols}
        return {name: SYMBOLS[name] for u in used for name in (u, *VARIANTS.get(u, ()))}


def _outline(fold: Fold) -> Wire:
    """A folded channel's box as a line that words keep off."""
    left, top, right, bottom = fold.x, fold.y, fold.x + fold.width, fold.y + fold.height
    return Wire(points=((left, top), (right, top), (right, bottom), (left, bottom), (left, top)))


def chain_points(points: Sequence[Point]) -> list[tuple[Point, Point]]:
    """Neighbouring pairs of points."""
    return list(pairwise(points))


def _turned(p: Point, turn: int, x: float, y: float) -> Point:
    dx, dy = p
    for _ in range(turn // 90):
        dx, dy = -dy, dx
    return (x + dx, y + dy)


def on_run(point: Point, a: Point, b: Point) -> bool:
    """Whether a point lies on the run from a to b, ends included."""
    (x, y), (x0, y0), (x1, y1) = point, a, b
    if x0 == x1:
        return abs(x - x0) < 1e-9 and min(y0, y1) - 1e-9 <= y <= max(y0, y1) + 1e-9
    return abs(y - y0) < 1e-9 and min(x0, x1) - 1e-9 <= x <= max(x0, x1) + 1e-9


def _dots(wires: Sequence[Wire]) -> tuple[Point, ...]:
    """Ends of one wire that lie inside a run of another: the joints to mark. Crossings get none."""
    found = []
    for wire in wires:
        for end in (wire.points[0], wire.points[-1]):
            for other in wires:
                if other is not wire and any(
                    on_run(end, a, b) and end not in (a, b) for a, b in chain_points(other.points)
                ):
                    found.append(end)
    return tuple(dict.fromkeys(found))
