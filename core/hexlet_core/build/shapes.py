"""The shapes of a strip map. Lengths are pitches of 2.54 mm; x runs along the boards, y down."""

from __future__ import annotations

from typing import Literal

from ..fields import Document
from .boards import PITCH


class Frame(Document):
    """What the whole map takes."""

    left: float
    top: float
    right: float
    bottom: float


class Dot(Document):
    """A place on the map."""

    x: float
    y: float


class StripShape(Document):
    """One outline: a strip of five seats, or a piece of rail."""

    id: str
    kind: Literal["strip", "rail"]
    x: float
    y: float
    width: float
    height: float
    seats: tuple[Dot, ...]
    word: str
    net: str = ""  # what the plan joins it to; nothing where it is free


class SeatShape(Document):
    """A leg's seat as drawn."""

    leg: str
    x: float
    y: float
    word: str
    net: str


class PartShape(Document):
    """One part: its leads, its body, the marks on it, and where its name stands."""

    part: str
    ref: str
    label: str
    kind: str
    shape: str
    leads: str
    body: str = ""
    marks: str = ""
    x: float
    y: float
    upright: bool = False
    room: float  # for its name [pitches]
    seats: tuple[SeatShape, ...]


class WireShape(Document):
    """One wire between two seats."""

    id: str
    net: str
    d: str
    seats: tuple[SeatShape, ...]


class TagShape(Document):
    """A part beside the board, at the end of its leads."""

    part: str
    ref: str
    text: str
    x: float
    y: float
    width: float
    d: str
    seats: tuple[SeatShape, ...]


class ColumnLabel(Document):
    """A position's number along the board."""

    x: float
    y: float
    text: str
    board: int


class RowLabel(Document):
    """A row's letter, or a rail's sign, at the board's edge."""

    x: float
    y: float
    text: str


class Sheet(Document):
    """The whole map."""

    pitch: float = PITCH
    frame: Frame
    used: Frame  # what of it parts and wires take, with a little around
    strips: tuple[StripShape, ...]
    columns: tuple[ColumnLabel, ...]
    rows: tuple[RowLabel, ...]
    parts: tuple[PartShape, ...]
    wires: tuple[WireShape, ...]
    tags: tuple[TagShape, ...]
