"""Older documents made new, one function a version; each works on plain data and leaves what it does not know
alone.

Version 1 kept its stages in a line, `stages`, and everything about them by their place in it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..stages.contract import Stage
from ..stages.contract.ports import row
from ..stages.registry import kind_of

Data = dict[str, Any]


def _ports(stage: Any) -> Any:
    """The ports of a stage's kind; none where its kind is not known, which reading then says."""
    kind = kind_of(str(stage.get("kind"))) if isinstance(stage, dict) else None
    return kind().ports() if kind is not None else ()


def _moved(path: str) -> str:
    """A path of version 1 as one of version 2."""
    root, _, rest = path.partition(".")
    place, _, field = rest.partition(".")
    return f"blocks.b{int(place) + 1}.{field}" if root == "stages" and place.isdigit() else path


def one_to_two(data: Data) -> Data:
    """Stages in a line become blocks with ids and joins; what was known by place is known by id."""
    stages = data.get("stages")
    if not isinstance(stages, list):
        return {**data, "version": 2}
    new = {k: v for k, v in data.items() if k not in ("stages", "set_aside", "origins", "rated")}
    blocks: Data = {f"b{k}": stage for k, stage in enumerate(stages, 1)}
    high_side = any(
        isinstance(s, dict)
        and (kind := kind_of(str(s.get("kind"))))
        and getattr(kind(), "side", "low") == "high"
        for s in stages
    )
    for id, stage in blocks.items():
        if isinstance(stage, dict) and stage.get("kind") == "back_feed":
            blocks[id] = {**stage, "line": "upper" if high_side else "lower"}
    joins, rail = row({id: _ports(s) for id, s in blocks.items()}, "s.out")
    aside: Data = {}
    free = len(stages) + 1
    kept = data.get("set_aside")
    for name, stage in (kept if isinstance(kept, dict) else {}).items():
        kind = kind_of(name)
        own = next((id for id, s in blocks.items() if kind and _role(s) == kind.role != "guard"), None)
        if own is None:
            own, free = f"b{free}", free + 1
        aside.setdefault(own, {})[name] = stage
    new |= {
        "version": 2,
        "blocks": blocks,
        "joins": [list(j) for j in joins],
        "rail": rail,
        "set_aside": aside,
    }
    for table in ("origins", "rated"):
        known = data.get(table)
        if isinstance(known, dict):
            new[table] = {_moved(path): value for path, value in known.items()}
    return new


def _role(stage: Any) -> str:
    kind: type[Stage] | None = kind_of(str(stage.get("kind"))) if isinstance(stage, dict) else None
    return kind.role if kind is not None else ""


UPGRADES: dict[int, Callable[[Data], Data]] = {1: one_to_two}


def upgraded(data: Data, version: int) -> Data:
    """A document as `version` writes it."""
    while isinstance(data.get("version"), int) and data["version"] in UPGRADES and data["version"] < version:
        data = UPGRADES[data["version"]](data)
    return data
