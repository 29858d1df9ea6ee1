"""CSV: parts list and waveforms. Comma, point, quotes where needed, one header row, SI units."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING

import numpy as np

from ..circuit.waves import Waves
from .analysis import Answer

if TYPE_CHECKING:
    from ..build.buying import ShoppingList
    from ..stages.contract import Part


def _csv(header: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header)
    writer.writerows([_safe(cell) for cell in row] for row in rows)
    return out.getvalue()


def _safe(cell: object) -> object:
    """Text that a spreadsheet would run as a formula gets a quote in front; numbers stay as they are."""
    if not isinstance(cell, str) or cell[:1] not in ("=", "+", "-", "@", "\t"):
        return cell
    try:
        float(cell)
    except ValueError:
        return f"'{cell}"
    return cell


def parts_csv(parts: Iterable[Part]) -> str:
    """The parts list: reference, title, value, rating, card, package, how many, in the drawer, price, on the
    board.
    """
    return _csv(
        ("ref", "title", "value", "rating", "card", "package", "count", "in_drawer", "price", "on_board"),
        (
            (
                p.ref,
                p.title,
                p.value,
                p.rating,
                p.card or "",
                p.package,
                p.count,
                p.stock,
                p.price,
                "yes" if p.on_board else "no",
            )
            for p in parts
        ),
    )


def shopping_csv(found: ShoppingList) -> str:
    """A shopping list: what, how many are needed, in the drawer, to buy, price of one, cost, where it is
    used.
    """
    return _csv(
        ("title", "value", "package", "need", "in_drawer", "buy", "price", "cost", "used"),
        (
            (r.title, r.value, r.package, r.need, r.stock, r.buy, r.price, r.cost, "; ".join(r.used))
            for r in found.rows
        ),
    )


def answer_csv(answer: Answer) -> str:
    """An analysis's table; a missing value is an empty cell."""
    names = list(answer.columns)
    rows = zip(*answer.columns.values(), strict=True)
    return _csv(names, (["" if v is None else f"{v:.9g}" for v in row] for row in rows)).rstrip("\n")


def waves_csv(waves: Waves) -> str:
    """Every unknown at every accepted step: time [s], node voltages [V], branch currents [A]."""
    names = [n for n in waves.netlist.packed.unknowns if "#" not in n]
    table = np.column_stack([waves.time, *(waves[n] for n in names)])
    return _csv(("time", *names), ([f"{v:.9g}" for v in row] for row in table))
