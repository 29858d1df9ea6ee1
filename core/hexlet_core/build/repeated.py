"""Parts that channels repeat: what stands once for each channel is laid out alike, channel beside channel."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

from ..design.channels import lines
from ..design.study import Study
from .bodies import BoardPart, Wanted
from .layout import Placing
from .rough import MARGIN, Ground

# A kind that makes several channels names its parts after them: "diode_1", and "guard_1_2" for what channel 1
# has on behalf of channel 2.
NUMBERED = re.compile(r"^(?P<what>.+?)_(?P<own>[1-9])(?:_(?P<other>[1-9]))?$")

Channels = tuple[tuple[str, ...], ...]  # of each channel, the same parts in the same order


def repeated(here: Study, bodies: Iterable[BoardPart]) -> tuple[Channels, ...]:
    """Every group of channels whose parts correspond, by key; one channel alone is none."""
    on_board = {b.key: b for b in bodies if b.shape != "leads"}
    return (*_numbered(here, on_board), *_lined(here, on_board))


def _numbered(here: Study, bodies: dict[str, BoardPart]) -> list[Channels]:
    """Channels within one block: as many as it has outputs for loads."""
    by: dict[str, dict[int, dict[tuple[str, int], str]]] = {}
    for key in bodies:
        block, _, local = key.partition(".")
        found = NUMBERED.match(local)
        if found:
            own, other = int(found["own"]), int(found["other"] or 0)
            rank = other - (other > own) if other else 0  # the first other one, the second
            by.setdefault(block, {}).setdefault(own, {})[found["what"], rank] = key
    outputs = {
        block: sum(p.way == "out" and p.kind == "load" for p in here.flow.stage(block).ports())
        for block in by
    }
    many = [list(parts.values()) for block, parts in by.items() if len(parts) == outputs[block]]
    return [c for parts in many if (c := _matched(parts, bodies))]


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


def side_by_side(
    alike: Sequence[Channels], ones: Sequence[tuple[dict[str, Placing], int]], what: Wanted, ground: Ground
) -> dict[str, Placing] | None:
    """Every channel where the one before it ends, none over two boards; None where there is no room."""
    pins: dict[str, Placing] = {}
    stretches = list(ground.bench.stretches)
    at, last = stretches.pop(0)
    for channels, (first, width) in zip(alike, ones, strict=False):
        for keys in channels:
            while at + width - 1 > last:
                if not stretches:
                    return None
                at, last = stretches.pop(0)
            for key, model in zip(keys, channels[0], strict=True):
                pins[key] = stamped(first[model], what.of[key], at - MARGIN, ground)
            at += width
    return pins


def stamped(placing: Placing, part: BoardPart, by: int, ground: Ground) -> Placing:
    """One part laid as another is on the first board, so many positions further along."""
    legs = tuple(
        x.model_copy(update={"seat": ground.bench.seat(x.seat.column + by, x.seat.row)}) for x in placing.legs
    )
    return placing.of_part(part).model_copy(update={"legs": legs})
