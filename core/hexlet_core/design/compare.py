"""Two designs field by field: what differs, in words and values a person knows, and what comes of it."""

from __future__ import annotations

from typing import Any

from ..fields import Document
from ..quantity import show, show_part
from ..stages.say.checks import Standing
from .document import Design
from .script import Script
from .study import Study

TOLD = 3  # outcomes that are told, the weightiest first


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


def _fields(design: Design) -> dict[str, Any]:
    plain = design.model_dump(mode="json", exclude={"set_aside", "script"})
    return _flat(plain) | {"script": design.script}


def _text(path: str, value: Any) -> str:
    if value is None:
        return "none"
    if isinstance(value, Script):
        return f"{len(value.events)} events in {show(value.stop, 's')}"
    if isinstance(value, float):
        return show_part(value) if path.rsplit(".", 1)[-1].startswith("r_") else show(value, "")
    return str(value)


def _title(path: str, design: Design) -> str:
    parts = path.split(".")
    if parts[0] == "blocks" and len(parts) > 2 and parts[1] in design.blocks:
        return f"{design.blocks[parts[1]].title}, {parts[2].replace('_', ' ')}"
    return " ".join(parts).replace("_", " ")


def differences(mine: Design, theirs: Design) -> tuple[Difference, ...]:
    """Fields whose values differ, in document order; what was set aside is left out, a script is one."""
    a, b = (_fields(d) for d in (mine, theirs))
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


class Outcome(Document):
    """A check that comes out otherwise in one of two designs: its figures and standing in each."""

    title: str
    mine: str
    theirs: str
    mine_standing: Standing
    theirs_standing: Standing


def outcomes(mine: Study, theirs: Study) -> tuple[Outcome, ...]:
    """What two designs' checks say differently: a change of standing first, then what moves furthest."""
    others = {v.id: v for v in theirs.verdicts}
    both = [(v, others[v.id]) for v in mine.verdicts if v.id in others and v.figures != others[v.id].figures]
    both.sort(key=lambda pair: (pair[0].standing == pair[1].standing, -abs(pair[0].left - pair[1].left)))
    return tuple(
        Outcome(
            title=a.title,
            mine=a.figures,
            theirs=b.figures,
            mine_standing=a.standing,
            theirs_standing=b.standing,
        )
        for a, b in both[:TOLD]
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
