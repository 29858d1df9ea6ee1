"""Part cards and stock as CSV and JSON, both ways. docs/card-files.md describes both.

CSV: one row a card, one column a field; fields inside fields are named with points
    ("forward.0.voltage"). JSON: a list of
objects with a card's fields and its `stock`. Reading never raises for a poor row: each row says what is
wrong with it.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterable
from typing import Any, Literal

from ..cards import Drawer, catalogue, read_card
from ..cards.card import AnyCard
from ..errors import DocumentError, Problem
from ..fields import Document, read_json

FIRST = ("id", "kind", "title", "stock", "price", "package", "legs", "face")
MOST_ROWS = 2000
MOST_COLUMNS, LONGEST_NAME, DEEPEST = 200, 80, 5
GUARDED = (
    "=",
    "+",
    "-",
    "@",
    "\t",
    "\r",
    "'",
)  # text that begins so gets a quote in front, and loses it again


class Row(Document):
    """One row of a file: the card as read, or what is wrong with it and where."""

    number: int
    title: str
    kind: str
    stock: int
    status: Literal["new", "changed", "same", "refused"]
    note: str
    card: dict[str, Any] | None
    problems: tuple[dict[str, str], ...] = ()


def _nested(flat: dict[str, str]) -> dict[str, Any]:
    """Fields named with points put back where they belong; lists where the names are numbers."""
    found: dict[str, Any] = {}
    for name, value in flat.items():
        if value == "" or name in ("stock",):
            continue
        steps, target = name.split("."), found
        for step in steps[:-1]:
            target = target.setdefault(step, {})
            if not isinstance(target, dict):
                raise DocumentError(Problem(name, f"“{step}” has a value of its own: clear one of the two."))
        if isinstance(target.get(steps[-1]), dict):
            raise DocumentError(Problem(name, "Fields that lie in this one are given, too: clear one."))
        target[steps[-1]] = value

    def lists(node: Any) -> Any:
        if not isinstance(node, dict):
            return node
        inner = {k: lists(v) for k, v in node.items()}
        return (
            [inner[k] for k in sorted(inner, key=int)]
            if inner and all(k.isascii() and k.isdigit() for k in inner)
            else inner
        )

    found = lists(found)
    if isinstance(found.get("legs"), str):
        found["legs"] = found["legs"].split()
    for name, value in found.items():
        if value in ("true", "false"):
            found[name] = value == "true"
    return found


def _id_from(title: str) -> str:
    return re.sub(r"[^a-z0-9.]+", "-", title.lower()).strip("-.")[:60] or "card"


def _read(
    number: int, data: dict[str, Any], stock: object, drawer: Drawer, wrong: Iterable[Problem] = ()
) -> Row:
    title, kind = str(data.get("title", "")), str(data.get("kind", ""))
    data.setdefault("id", _id_from(title))
    problems = list(wrong)
    count = 0
    try:
        count = int(str(stock or 0).strip())
        if count < 0:
            raise ValueError
    except ValueError:
        problems.append(Problem("stock", "A whole number of parts is wanted.", got=str(stock)))
    card: AnyCard | None = None
    known = drawer.cards.get(str(data["id"]))
    if known is not None and set(data) <= {"id", "kind", "title"}:
        card = known  # only how many there are of a card that is known
    else:
        try:
            card = read_card(data)
        except DocumentError as error:
            problems += error.problems
    if problems or card is None:
        found = tuple(
            {
                "field": re.sub(r"\[(\d+)\]", r".\1", p.field),
                "message": p.message,
                "got": p.got,
                "suggestion": p.suggestion or "",
            }
            for p in problems
        )
        return Row(
            number=number,
            title=title,
            kind=kind,
            stock=count,
            status="refused",
            note=found[0]["message"] if found else "",
            card=None,
            problems=found,
        )
    if card.id in catalogue() and card != catalogue()[card.id]:
        problem = {
            "field": "id",
            "message": "This is an archetype's id. Give your own card an id of its own.",
            "got": card.id,
            "suggestion": f"my-{card.id}",
        }
        return Row(
            number=number,
            title=title,
            kind=kind,
            stock=count,
            status="refused",
            note=problem["message"],
            card=None,
            problems=(problem,),
        )
    same_card, same_stock = known == card, drawer.count(card.id) == count
    status: Literal["new", "changed", "same"] = (
        "new" if known is None else "same" if same_card and same_stock else "changed"
    )
    note = {
        "new": "new card",
        "same": "same as your card",
        "changed": f"{drawer.count(card.id)} become {count}" if same_card else "replaces your card",
    }[status]
    return Row(
        number=number,
        title=card.title,
        kind=card.kind,
        stock=count,
        status=status,
        note=note,
        card=card.model_dump(mode="json"),
    )


def _check_columns(header: list[str], name: str) -> None:
    """Refuse columns that cannot be put back where they belong.

    Raises: DocumentError.
    """

    def refuse(message: str, got: str) -> DocumentError:
        return DocumentError(Problem(name, message, got=got[:LONGEST_NAME]))

    if len(header) > MOST_COLUMNS:
        raise refuse(
            f"{len(header)} columns are more than the {MOST_COLUMNS} that are read.", header[MOST_COLUMNS]
        )
    for column in header:
        if len(column) > LONGEST_NAME or column.count(".") >= DEEPEST:
            raise refuse("No card has a field of such a name.", column)
        if column and header.count(column) > 1:
            raise refuse("Two columns have this name. Take one out.", column)


def _row_of(number: int, flat: dict[str, str], drawer: Drawer) -> Row:
    try:
        return _read(number, _nested(flat), flat.get("stock", "0"), drawer)
    except DocumentError as error:
        plain = {name: flat.get(name, "") for name in ("title", "kind")}
        return _read(number, plain, "0", drawer, error.problems)


def _csv_rows(text: str, name: str, drawer: Drawer) -> list[Row]:
    sample = text.split("\n", 1)[0]
    reader = csv.DictReader(
        io.StringIO(text), delimiter=";" if sample.count(";") > sample.count(",") else ","
    )
    read = []
    try:
        header = [h.strip() for h in reader.fieldnames or []]
        if "title" not in header or "kind" not in header:
            raise DocumentError(
                Problem(
                    name,
                    "The first row must name the columns; “title” and “kind” are needed.",
                    got=sample[:60],
                )
            )
        _check_columns(header, name)
        for k, cells in enumerate(reader, 2):
            flat = {
                str(f).strip(): (v or "").strip().removeprefix("'")
                for f, v in cells.items()
                if f is not None and not isinstance(v, list)
            }
            if any(flat.values()):
                read.append(_row_of(k, flat, drawer))
    except csv.Error as error:
        raise DocumentError(
            Problem(name, f"Reading stopped at line {reader.line_num}: this is not CSV there ({error}).")
        ) from None
    return read


def read_rows(text: str, name: str, drawer: Drawer) -> tuple[Row, ...]:
    """Every row of a file; nothing is kept by reading.

    Raises:
        DocumentError: it is no such file at all: empty, no header, too long, or not JSON.
    """
    text = text.removeprefix("\ufeff")
    if not text.strip():
        raise DocumentError(Problem(name, "The file is empty."))
    if text.lstrip()[:1] in "[{":
        data = read_json(text)
        items = data.get("cards") if isinstance(data, dict) else data
        if isinstance(data, dict) and "blocks" in data:
            raise DocumentError(Problem(name, "This is a design. Bring it in on the shelf, not here."))
        if not isinstance(items, list) or not all(isinstance(i, dict) for i in items):
            raise DocumentError(Problem(name, "A list of cards is wanted, each an object with its fields."))
        read = [
            _read(k, {f: v for f, v in item.items() if f != "stock"}, item.get("stock", 0), drawer)
            for k, item in enumerate(items, 1)
        ]
    else:
        read = _csv_rows(text.replace("\r\n", "\n").replace("\r", "\n"), name, drawer)
    if len(read) > MOST_ROWS:
        raise DocumentError(
            Problem(
                name, f"{len(read)} rows are more than the {MOST_ROWS} that are read at once. Split the file."
            )
        )
    seen: dict[str, int] = {}
    kept: list[Row] = []
    for row in read:
        if row.card is not None and row.card["id"] in seen:
            problem = {
                "field": "id",
                "message": f"Row {seen[row.card['id']]} has this card already.",
                "got": row.card["id"],
                "suggestion": "",
            }
            row = row.model_copy(
                update={"status": "refused", "note": problem["message"], "card": None, "problems": (problem,)}
            )
        elif row.card is not None:
            seen[row.card["id"]] = row.number
        kept.append(row)
    return tuple(kept)


def _flat(data: Any, path: str = "") -> dict[str, Any]:
    if isinstance(data, dict):
        return {
            k: v for key, value in data.items() for k, v in _flat(value, f"{path}.{key}".lstrip(".")).items()
        }
    if isinstance(data, list) and path != "legs":
        return {k: v for n, value in enumerate(data) for k, v in _flat(value, f"{path}.{n}").items()}
    return {path: data}


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, list):
        return " ".join(value)
    text = f"{value:.10g}" if isinstance(value, float) else str(value)
    return f"'{text}" if isinstance(value, str) and text.startswith(GUARDED) else text


def cards_csv(drawer: Drawer, cards: Iterable[AnyCard]) -> str:
    """Cards and stock as CSV."""
    rows = [_flat(c.model_dump(mode="json")) | {"stock": drawer.count(c.id)} for c in cards]
    names = [*FIRST, *sorted({f for r in rows for f in r} - set(FIRST))]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(names)
    writer.writerows([_cell(r.get(n)) for n in names] for r in rows)
    return out.getvalue()


def cards_json(drawer: Drawer, cards: Iterable[AnyCard]) -> str:
    """Cards and stock as JSON."""
    items = [c.model_dump(mode="json") | {"stock": drawer.count(c.id)} for c in cards]
    return (
        json.dumps({"format": "hexlet-cards", "version": 1, "cards": items}, indent=1, ensure_ascii=False)
        + "\n"
    )
