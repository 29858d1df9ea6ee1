"""The strip map: a plan as shapes on the boards' own pitch, for screen, paper and file alike.

One outline a joined strip. Lengths are pitches of 2.54 mm; x runs along the boards, y down.
"""

from __future__ import annotations

from collections.abc import Iterator

from .boards import ACROSS, BETWEEN, LOWER, UPPER, Bench, Seat
from .layout import BoardPlan, BoardWire, Placing
from .lying import names
from .outlines import button, chip, inline, two
from .proof import shadow
from .shapes import (
    ColumnLabel,
    Dot,
    Frame,
    PartShape,
    RowLabel,
    SeatShape,
    Sheet,
    StripShape,
    TagShape,
    WireShape,
)

APART = 3  # between two boards as drawn [pitches]
NEAR = 8  # positions within which the leads of a part share a tag
EITHER = ("load", "fuse", "transformer")  # parts whose leads may be swapped
LEAST = 16  # positions that are shown at least
LEVEL = 1.2  # between two levels of tags
LETTER = 0.62  # width of a letter of a tag


class _Drawing:
    def __init__(self, plan: BoardPlan) -> None:
        self.plan, self.bench = plan, Bench(plan.boards)
        self.nets = _nets(plan, self.bench)
        self.used = {
            (round(self.x(s), 1), s.across) for p in plan.placings for leg in p.legs for s in [leg.seat]
        } | {(round(self.x(s), 1), s.across) for link in plan.links for s in (link.a, link.b)}

    def x(self, seat: Seat) -> float:
        return self.along(self.bench.column(seat))

    def along(self, column: int) -> float:
        board = max(k for k, start in enumerate(self.bench.starts) if start < column)
        return float(column - board * (BETWEEN - APART))

    def sheet(self) -> Sheet:
        tags = tuple(self._tags())
        last = self.along(self.bench.length)
        left = min([t.x - t.width / 2 for t in tags], default=0.0) - 0.4
        right = max([t.x + t.width / 2 for t in tags], default=0.0) + 0.4
        top = min([t.y for t in tags], default=0.0) - 0.9
        bottom = max([t.y for t in tags], default=0.0) + 0.9
        ends = any(link.a.rail and link.b.rail for link in self.plan.links)
        frame = Frame(
            left=min(left, -1.0),
            top=min(top, -0.8),
            right=max(right, last + (2.2 if ends else 0.9)),
            bottom=max(bottom, ACROSS["+bottom"] + 0.8),
        )
        return Sheet(
            frame=frame,
            used=self._used(frame, right),
            strips=tuple(self._strips()),
            columns=tuple(self._columns()),
            rows=tuple(self._rows()),
            parts=tuple(self._part(p) for p in self.plan.placings if p.shape != "leads"),
            wires=tuple(self._wire(k, link) for k, link in enumerate(self.plan.links)),
            tags=tags,
        )

    def _used(self, frame: Frame, tags: float) -> Frame:
        """The whole height, and along the board no more than is taken; a bridge at the far end may be
        outside.
        """
        columns = [x for x, _ in self.used if x < self.along(self.bench.length) - 1] or [1.0]
        return frame.model_copy(update={"right": min(frame.right, max(*columns, tags - 1.0, LEAST) + 2.5)})

    # --- the board ------------------------------------------------------------------------------------
    def _strips(self) -> Iterator[StripShape]:
        for k, (first, last) in enumerate(self.bench.stretches):
            board = f"board {k + 1}, " if k else ""
            for column in range(first, last + 1):
                for side, rows in ((0, UPPER), (1, LOWER)):
                    x = self.along(column)
                    ys = [float(ACROSS[r]) for r in rows]
                    at = self.bench.seat(column, rows[0])
                    yield StripShape(
                        id=f"s{side}.{column}",
                        kind="strip",
                        x=x - 0.42,
                        y=ys[0] - 0.42,
                        width=0.84,
                        height=ys[-1] - ys[0] + 0.84,
                        seats=tuple(Dot(x=x, y=y) for y in ys),
                        word=f"{board}strip {at.column} {rows[0]} to {rows[-1]}",
                        net=self.nets.get(("strip", side, column), ""),
                    )
        for k, piece in enumerate(self.bench.segments):
            for sign in "+0":
                row = f"{sign}{'top' if piece.side == 0 else 'bottom'}"
                x, y, end = self.along(piece.first), float(ACROSS[row]), self.along(piece.last)
                yield StripShape(
                    id=f"r{sign}{k}",
                    kind="rail",
                    x=x - 0.42,
                    y=y - 0.42,
                    width=end - x + 0.84,
                    height=0.84,
                    seats=tuple(Dot(x=x + i, y=y) for i in range(piece.last - piece.first + 1)),
                    word=f"{'top' if piece.side == 0 else 'bottom'} {'+' if sign == '+' else '0 V'} rail",
                    net=self.nets.get(("rail", sign, k), ""),
                )

    def _columns(self) -> Iterator[ColumnLabel]:
        for k, (first, last) in enumerate(self.bench.stretches):
            for column in range(first, last + 1):
                for y in (2.75, 17.0):
                    yield ColumnLabel(x=self.along(column), y=y, text=str(column - first + 1), board=k + 1)

    def _rows(self) -> Iterator[RowLabel]:
        for first, _ in self.bench.stretches:
            x = self.along(first) - 0.95
            for row in (*UPPER, *LOWER):
                yield RowLabel(x=x, y=float(ACROSS[row]), text=row)
            for row in ("+top", "0top", "0bottom", "+bottom"):
                yield RowLabel(x=x, y=float(ACROSS[row]), text="+" if row[0] == "+" else "0 V")

    # --- parts ----------------------------------------------------------------------------------------
    def _seats(self, placing: Placing) -> tuple[SeatShape, ...]:
        return tuple(self._seat(leg.leg, leg.seat, leg.net) for leg in placing.legs)

    def _seat(self, leg: str, seat: Seat, net: str) -> SeatShape:
        return SeatShape(leg=leg, x=self.x(seat), y=float(seat.across), word=seat.word, net=net)

    def _part(self, placing: Placing) -> PartShape:
        seats = self._seats(placing)
        draw = {"two": two, "inline": inline, "chip": chip, "button": button}[placing.shape]
        shape = draw(placing, seats)
        return self._named_beside(placing, shape) if placing.shape == "inline" else shape

    def _named_beside(self, placing: Placing, shape: PartShape) -> PartShape:
        """A row of legs leaves no room for a name between them: it stands at the end, or the edge, that is
        free.
        """
        left, right = min(s.x for s in shape.seats), max(s.x for s in shape.seats)
        y, middle = shape.y, (left + right) / 2
        choices = [(left - 1, y), (right + 1, y), (middle, y - 1), (middle, y + 1)]
        free = [c for c in choices if not self._near(c, placing)]
        x, y = free[0] if free else (left + 0.5, y)
        return shape.model_copy(update={"x": x, "y": y})

    def _near(self, at: tuple[float, float], placing: Placing) -> bool:
        """Whether something sits at or lies over a place."""
        if (round(at[0], 1), at[1]) in self.used or at[1] not in ACROSS.values() or at[0] < 1:
            return True
        return any(
            (round(self.along(self.bench.starts[board - 1] + column), 1), across) == at
            for p in self.plan.placings
            if p is not placing
            for board, column, across in shadow(p)
        )

    # --- wires ----------------------------------------------------------------------------------------
    def _wire(self, k: int, link: BoardWire) -> WireShape:
        a, b = self._seat("", link.a, link.net), self._seat("", link.b, link.net)
        return WireShape(id=f"w{k}", net=link.net, d=self._path(link, a, b), seats=(a, b))

    def _path(self, link: BoardWire, a: SeatShape, b: SeatShape) -> str:
        if link.a.rail and link.b.rail and link.a.side != link.b.side:  # round the board's end
            far = self.along(self.bench.length) + (1.2 if link.a.rail == "0" else 1.8)
            return f"M{a.x:g} {a.y:g}H{far:g}V{b.y:g}H{b.x:g}"
        straight = a.x == b.x or a.y == b.y
        if straight and not self._between(a, b):
            return f"M{a.x:g} {a.y:g}L{b.x:g} {b.y:g}"
        # An arc, to the right of what stands between, or above it.
        if a.x == b.x:
            out = 0.55
            return f"M{a.x:g} {a.y:g}C{a.x + out:g} {a.y:g} {b.x + out:g} {b.y:g} {b.x:g} {b.y:g}"
        if a.y == b.y:
            out = 0.62
            return f"M{a.x:g} {a.y:g}C{a.x:g} {a.y - out:g} {b.x:g} {b.y - out:g} {b.x:g} {b.y:g}"
        middle = (a.y + b.y) / 2
        return f"M{a.x:g} {a.y:g}C{a.x:g} {middle:g} {b.x:g} {middle:g} {b.x:g} {b.y:g}"

    def _between(self, a: SeatShape, b: SeatShape) -> bool:
        """Whether something sits between two seats in one line."""
        if a.x == b.x:
            low, high = sorted((a.y, b.y))
            return any(x == a.x and low < y < high for x, y in self.used)
        low, high = sorted((a.x, b.x))
        return any(y == a.y and low < x < high for x, y in self.used)

    # --- beside the board -------------------------------------------------------------------------------
    def _tags(self) -> Iterator[TagShape]:
        """One tag for the leads of a part, above or below the board, on the nearest level with room."""
        groups: list[tuple[Placing, int, list[SeatShape]]] = []
        for placing in self.plan.placings:
            for leg in placing.legs if placing.shape == "leads" else ():
                seat, side = self._seat(leg.leg, leg.seat, leg.net), leg.seat.side
                known = next(
                    (g for p, s, g in groups if p is placing and s == side and _close(g, seat)), None
                )
                if known is not None:
                    known.append(seat)
                else:
                    groups.append((placing, side, [seat]))
        # A flag begins at its lead and points away from the board's nearer end, the outermost highest:
        # so no lead runs through another's flag.
        middle = self.along(self.bench.length) / 2
        taken: dict[tuple[int, int], list[tuple[float, float]]] = {}
        left = [g for g in groups if _first(g[2]) <= middle]
        right = [g for g in groups if _first(g[2]) > middle]
        order = [*sorted(left, key=lambda g: -_first(g[2])), *sorted(right, key=lambda g: _first(g[2]))]
        for placing, side, seats in order:
            text, x = self._text(placing, seats), _first(seats)
            width = max(LETTER * len(text) + 0.6, max(s.x for s in seats) - x + 1.0)
            first = x - 0.5 if x <= middle else max(s.x for s in seats) + 0.5 - width
            level = 0
            while any(first < b and a < first + width for a, b in taken.get((side, level), ())):
                level += 1
            taken.setdefault((side, level), []).append((first - 0.2, first + width + 0.2))
            y = -1.4 - LEVEL * level if side == 0 else ACROSS["+bottom"] + 1.4 + LEVEL * level
            edge = y + 0.5 if side == 0 else y - 0.5
            d = "".join(f"M{s.x:g} {s.y:g}V{edge:g}" for s in seats)
            yield self._tag(placing, text, (first + width / 2, y), width, d, seats)

    @staticmethod
    def _tag(
        placing: Placing, text: str, at: tuple[float, float], width: float, d: str, seats: list[SeatShape]
    ) -> TagShape:
        return TagShape(
            part=placing.part,
            ref=placing.ref,
            text=text,
            x=at[0],
            y=at[1],
            width=width,
            d=d,
            seats=tuple(seats),
        )

    @staticmethod
    def _text(placing: Placing, seats: list[SeatShape]) -> str:
        """A part with the legs that lead to it, where it matters which is which."""
        if placing.kind in EITHER:
            return f"{placing.ref} {placing.label}".strip()
        called = [names(placing.kind).get(s.leg.rstrip("0123456789"), s.leg) for s in seats]
        return f"{placing.ref} {', '.join(dict.fromkeys(called))}"


def _first(seats: list[SeatShape]) -> float:
    return min(s.x for s in seats)


def _close(group: list[SeatShape], seat: SeatShape) -> bool:
    return min(abs(s.x - seat.x) for s in group) < NEAR


def _nets(plan: BoardPlan, bench: Bench) -> dict[tuple[str | int, ...], str]:
    """What each strip and rail in use is joined to, as the plan means it."""
    found: dict[tuple[str | int, ...], str] = {}
    spots = [(leg.seat, leg.net) for p in plan.placings for leg in p.legs]
    spots += [(s, link.net) for link in plan.links for s in (link.a, link.b)]
    for seat, net in spots:
        column = bench.column(seat)
        key = (
            ("rail", seat.rail, bench.segment(seat.side, column))
            if seat.rail
            else ("strip", seat.side, column)
        )
        found.setdefault(key, net)
    return found


def sheet(plan: BoardPlan) -> Sheet:
    """A plan as shapes."""
    return _Drawing(plan).sheet()
