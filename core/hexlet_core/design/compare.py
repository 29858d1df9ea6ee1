"""Two designs field by field: what differs, in words and values a person knows."""

from __future__ import annotations

from typing import Any

from ..fields import Document
from ..quantity import show, show_part
from .document import Design


class Difference(Document):
    """One field that differs."""

    path: str
    title: str
    mine: str
    theirs: str


def _flat(data: Any, path: str = "") -> dict[str, Any]:
    if isinstance(data, dict):
        return {
            k: v for key, value in data.items() for k, v in _flat(value, f"{path}.{key}".lstrip(".")).items()
        }
    if isinstance(data, list):
        return {
            k: v for n, value in enumerate(data) for k, v in _flat(value, f"{path}.{n}".lstrip(".")).items()
        }
    return {path: data}


def _text(path: str, value: Any) -> str:
    if value is None:
        return "none"
    if isinstance(value, float):
        return show_part(value) if path.rsplit(".", 1)[-1].startswith("r_") else show(value, "")
    return str(value)


def _title(path: str, design: Design) -> str:
    parts = path.split(".")
    if parts[0] == "blocks" and len(parts) > 2 and parts[1] in design.blocks:
        return f"{design.blocks[parts[1]].title}, {parts[2].replace('_', ' ')}"
    return " ".join(parts).replace("_", " ")


def differences(mine: Design, theirs: Design) -> tuple[Difference, ...]:
    """Fields whose values differ, in document order; what was set aside is left out."""
    a, b = (_flat(d.model_dump(mode="json", exclude={"set_aside"})) for d in (mine, theirs))
    return tuple(
        Difference(
            path=p,
            title=_title(p, mine if p in a else theirs),
            mine=_text(p, a.get(p)),
            theirs=_text(p, b.get(p)),
        )
        for p in dict.fromkeys([*a, *b])
        if a.get(p) != b.get(p)
    )


def summary(before: Design, after: Design) -> str:
    """A label for the revision that turned one into the other."""
    found = [d for d in differences(after, before) if not d.path.startswith("origins")]
    if not found:
        return "No change"
    kinds = [d for d in found if d.path.endswith(".kind")]
    if kinds:
        mine, theirs = (text.replace("_", " ") for text in (kinds[0].mine, kinds[0].theirs))
        if theirs == "none":
            return f"{mine.capitalize()} added"
        return f"{theirs.capitalize()} taken out" if mine == "none" else f"{theirs} became {mine}"
    first = f"{found[0].title} {found[0].mine}"
    return first if len(found) == 1 else f"{first} and {len(found) - 1} more"
