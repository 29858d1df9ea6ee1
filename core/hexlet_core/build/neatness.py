"""What makes one plan pleasanter than another with as many wires: what the second search makes small."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import Any

from .strips import Model

WEIGHTS = {"spread": 2, "gap": 3, "standing": 6, "order": 3, "width": 1, "beside": 2, "span": 1}


def neat(model: Model) -> Any:
    """What makes a plan pleasant: nets close together, parts lying, signals from left to right."""
    terms = [WEIGHTS["standing"] * s for s in model.standing]
    terms += [WEIGHTS["gap"] * c for c in model.crossing]
    terms += [WEIGHTS["span"] * s for s in model.spans]
    last = max(model.ground.columns)
    left, right = (model.m.new_int_var(1, last, n) for n in ("left", "right"))
    terms.append(WEIGHTS["width"] * (right - left))
    for net, own in model.slots.items():
        for slot in own:
            model.m.add(slot.column >= left).only_enforce_if(slot.active)
            model.m.add(slot.column <= right).only_enforce_if(slot.active)
        if len(own) < 2 or net in model.rails:
            continue
        low, high = (model.m.new_int_var(1, last, f"{net} {n}") for n in ("low", "high"))
        both = model.flag(f"{net} both")
        for slot in own:
            model.m.add(slot.column >= low).only_enforce_if(slot.active)
            model.m.add(slot.column <= high).only_enforce_if(slot.active)
        for one in own:
            for two in own:
                if one is not two:
                    model.m.add_bool_or(
                        one.active.negated(), two.active.negated(), one.below.negated(), two.below, both
                    )
        terms += [WEIGHTS["spread"] * (high - low), WEIGHTS["gap"] * both]
    wide = [b for b in model.wanted.bodies if b.shape in ("chip", "button", "inline")]
    for before, after in pairwise(wide):
        back = model.m.new_int_var(0, last, f"{after.key} back")
        model.m.add(back >= model.base[before.key] - model.base[after.key])
        terms.append(WEIGHTS["order"] * back)
    terms += _decoupled(model, last)
    return sum(terms)


def _decoupled(model: Model, last: int) -> Iterator[Any]:
    """A capacitor between the rails stays by the chip of its block."""
    chips = {b.block: b for b in model.wanted.bodies if b.shape == "chip"}
    for body in model.wanted.bodies:
        if body.kind != "capacitor" or body.block not in chips or not body.nets <= set(model.rails):
            continue
        chip = chips[body.block]
        below = model.flag(f"{body.key} below")
        column = model.column_of(model.ends[body.key, 0].pos, below, f"{body.key} column")
        away = model.m.new_int_var(0, last, f"{body.key} away")
        middle = model.base[chip.key] + len(chip.legs) // 4
        model.m.add(away >= column - middle)
        model.m.add(away >= middle - column)
        yield WEIGHTS["beside"] * away
