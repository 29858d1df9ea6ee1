"""Parts that channels repeat: what stands once for each channel is laid out alike, channel beside channel."""

from __future__ import annotations

import re
from collections.abc import Iterable

from ..design.channels import lines
from ..design.study import Study
from .bodies import BoardPart

# A kind that makes several channels names its parts after them: "diode_1", and "guard_1_2" for what channel 1
# has on behalf of channel 2.
NUMBERED = re.compile(r"^(?P<what>.+?)_(?P<own>[1-9])(?:_(?P<other>[1-9]))?$")

Channels = tuple[tuple[str, ...], ...]  # of each channel, the same parts in the same order


def repeated(here: Study, bodies: Iterable[BoardPart]) -> tuple[Channels, ...]:
    """Every group of channels whose parts correspond, by key; one channel alone is none."""
    on_board = {b.key: b for b in bodies if b.shape != "leads"}
    return (*_numbered(on_board), *_lined(here, on_board))


def _numbered(bodies: dict[str, BoardPart]) -> list[Channels]:
    """Channels within one block."""
    by: dict[str, dict[int, dict[tuple[str, int], str]]] = {}
    for key in bodies:
        block, _, local = key.partition(".")
        found = NUMBERED.match(local)
        if found:
            own, other = int(found["own"]), int(found["other"] or 0)
            rank = other - (other > own) if other else 0  # the first other one, the second
            by.setdefault(block, {}).setdefault(own, {})[found["what"], rank] = key
    return [c for parts in by.values() if (c := _matched(list(parts.values()), bodies))]


def _lined(here: Study, bodies: dict[str, BoardPart]) -> list[Channels]:
    """Channels that are blocks of their own."""
    lists: dict[tuple[str, ...], list[dict[tuple[str, int], str]]] = {}
    for _, blocks in lines(here.design):
        kinds = tuple(type(here.design.blocks[b]).__name__ for b in blocks)
        own = {
            (key.partition(".")[2], k): key
            for k, b in enumerate(blocks)
            for key in bodies
            if key.startswith(f"{b}.")
        }
        lists.setdefault(kinds, []).append(own)
    return [c for parts in lists.values() if (c := _matched(parts, bodies))]


def _matched(channels: list[dict[tuple[str, int], str]], bodies: dict[str, BoardPart]) -> Channels:
    """The parts that all channels have, of one kind each."""
    if len(channels) < 2:
        return ()
    common = [name for name in channels[0] if all(name in c for c in channels)]
    same = [n for n in common if len({(bodies[c[n]].kind, bodies[c[n]].shape) for c in channels}) == 1]
    return tuple(tuple(c[n] for n in same) for c in channels) if same else ()
