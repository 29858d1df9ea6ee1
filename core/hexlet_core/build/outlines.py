"""How each shape of part is drawn on the map: its leads, its body, and the marks that tell its ends apart."""

from __future__ import annotations

from typing import Any

from .layout import Placing
from .shapes import PartShape, SeatShape

BODY = {"resistor": 2.5, "diode": 1.8, "zener": 1.8, "capacitor": 1.5, "led": 1.6}  # lengths
THICK = 0.84
FACELESS = ("potentiometer", "bridge")
EDGE = 0.2  # of a transistor's back


def _drawn(placing: Placing, seats: tuple[SeatShape, ...], **shape: Any) -> PartShape:
    """A part with what is drawn of it."""
    named = {k: getattr(placing, k) for k in ("part", "ref", "label", "kind", "shape")}
    return PartShape(seats=seats, **named, **shape)


def _box(x: float, y: float, width: float, height: float) -> str:
    return f"M{x:g} {y:g}h{width:g}v{height:g}h{-width:g}z"


def two(placing: Placing, seats: tuple[SeatShape, ...]) -> PartShape:
    """A body in the middle of its leads; where it stands, a round end over its first leg."""
    a, b = seats
    upright = a.x == b.x
    span = abs(a.y - b.y) if upright else abs(a.x - b.x)
    length = min(BODY[placing.kind], max(0.9, span - 0.5))
    middle = ((a.x + b.x) / 2, (a.y + b.y) / 2)
    half, thick = length / 2, THICK / 2
    x, y = (middle[0] - thick, middle[1] - half) if upright else (middle[0] - half, middle[1] - thick)
    width, height = (THICK, length) if upright else (length, THICK)
    marks = ""
    if placing.kind in ("diode", "zener") or (placing.kind == "capacitor" and "+" in placing.label):
        band = next(s for s in seats if s.leg == "k")
        towards = 1 if (band.y if upright else band.x) > (middle[1] if upright else middle[0]) else -1
        edge = (middle[1] if upright else middle[0]) + towards * (half - 0.34) - 0.14
        marks = _box(x, edge, THICK, 0.28) if upright else _box(edge, y, 0.28, THICK)
    if placing.kind == "led":
        flat = next(s for s in seats if s.leg == "k")
        side = -1 if (flat.y if upright else flat.x) < (middle[1] if upright else middle[0]) else 1
        marks = (
            _box(x, middle[1] + side * half - 0.09, width, 0.18)
            if upright
            else _box(middle[0] + side * half - 0.09, y, 0.18, height)
        )
    return _drawn(
        placing,
        seats,
        leads=f"M{a.x:g} {a.y:g}L{b.x:g} {b.y:g}",
        body=_box(x, y, width, height),
        marks=marks,
        x=middle[0],
        y=middle[1],
        upright=upright and height > width,
        room=length,
    )


def inline(placing: Placing, seats: tuple[SeatShape, ...]) -> PartShape:
    """A body over its row of legs, its back as a thick edge: away from the reader, where the marked face is
    towards him.
    """
    left, right, y = min(s.x for s in seats), max(s.x for s in seats), seats[0].y
    faces = seats[0].x < seats[-1].x
    x, width = left - 0.45, right - left + 0.9
    back = y - 0.45 if faces else y + 0.45 - EDGE
    return _drawn(
        placing,
        seats,
        leads="",
        body=_box(x, y - 0.45, width, 0.9),
        marks=_box(x, back, width, EDGE) if placing.kind not in FACELESS else "",
        x=left + 0.5,
        y=y,
        room=0.9,
    )


def chip(placing: Placing, seats: tuple[SeatShape, ...]) -> PartShape:
    """A body between its two rows, its notch where pin 1 is."""
    left, right = min(s.x for s in seats), max(s.x for s in seats)
    top, bottom = min(s.y for s in seats), max(s.y for s in seats)
    x, y, width, height = left - 0.45, top + 0.4, right - left + 0.9, bottom - top - 0.8
    middle = (top + bottom) / 2
    turned = seats[0].y == top
    notch = (
        f"M{x + width:g} {middle - 0.35:g}a0.35 0.35 0 0 0 0 0.7z"
        if turned
        else f"M{x:g} {middle - 0.35:g}a0.35 0.35 0 0 1 0 0.7z"
    )
    return _drawn(
        placing,
        seats,
        leads="".join(f"M{s.x:g} {s.y:g}V{y if s.y == top else y + height:g}" for s in seats),
        body=_box(x, y, width, height),
        marks=notch,
        x=(left + right) / 2,
        y=middle,
        room=width - 1,
    )


def button(placing: Placing, seats: tuple[SeatShape, ...]) -> PartShape:
    """A square body over the gap with its round cap."""
    left, right = min(s.x for s in seats), max(s.x for s in seats)
    top, bottom = min(s.y for s in seats), max(s.y for s in seats)
    middle = (left + right) / 2, (top + bottom) / 2
    return _drawn(
        placing,
        seats,
        leads="".join(f"M{s.x:g} {s.y:g}V{middle[1]:g}" for s in seats),
        body=_box(left - 0.3, top + 0.35, right - left + 0.6, bottom - top - 0.7)
        + f"M{middle[0] - 0.75:g} {middle[1]:g}a0.75 0.75 0 0 0 1.5 0a0.75 0.75 0 0 0 -1.5 0z",
        x=middle[0],
        y=middle[1],
        room=1.3,
    )
