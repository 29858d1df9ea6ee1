"""Schematics: the pen, symbols, helpers for what kinds draw alike, and the netlist read back."""

from .pen import (
    HEIGHT,
    HIGH_Y,
    OUTPUT_Y,
    SIGNAL_Y,
    SUPPLY_REF,
    SYMBOLS,
    Drawing,
    Fold,
    Link,
    Name,
    Pen,
    Point,
    Shape,
    Symbol,
    Tag,
    Wire,
)
from .readback import connections, drawn_part

__all__ = [
    "HEIGHT",
    "HIGH_Y",
    "OUTPUT_Y",
    "SIGNAL_Y",
    "SUPPLY_REF",
    "SYMBOLS",
    "Drawing",
    "Fold",
    "Link",
    "Name",
    "Pen",
    "Point",
    "Shape",
    "Symbol",
    "Tag",
    "Wire",
    "connections",
    "drawn_part",
]
