"""The cut-out around a block: the part of a design that a check of that block needs, as a study of its own.

It is the block, what its outputs lead to and what it is joined to by load, control or contact, with the rails
that feed them. Where a command comes in from beyond, a level behind a resistance stands for what gives it.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from ..stages.contract import Command, Corner, Placed, Port, Signal, Site, Stage
from ..stages.contract.parts import Pose, pin
from ..stages.contract.ports import rail_in
from ..stages.drawing.pen import Pen
from ..stages.say.wording import Say, Sentence
from .document import SUPPLY, Design
from .study import Study

FLOATS = 1e10  # what a level that nobody gives stands behind, at most [Ω]
ENDS = {"min": "low", "typ": "typical", "max": "high"}


class Border(Signal):
    """Whatever gives a command, by its levels alone."""

    title = "Command"
    purpose = "Stands for all that gives a command."
    choose = avoid = ""

    model_config = {**Signal.model_config, "arbitrary_types_allowed": True}
    command: Command

    @property
    def summary(self) -> str:
        return self.command.name

    def ports(self) -> tuple[Port, ...]:
        ref = "ref" if self.command.own else "zero"
        return (rail_in(), Port("out", "command", "out", {"out": "out", "ref": ref}))

    def gives(self, site: Site) -> Command:
        return self.command

    def make(self, site: Site) -> Iterable[Placed]:
        command, rail = self.command, site.rail

        def poses(corner: Corner) -> Mapping[str, Pose]:
            end = ENDS[corner.signal]
            # A level that moves with the supply stays as far below it as it does at that end.
            moved = corner.supply - float(getattr(rail, end)) if command.follows else 0.0
            high = (float(getattr(command.high.volts, end)) + moved, command.high.ohms)
            low = (float(getattr(command.low.volts, end)), command.low.ohms)
            active, idle = (high, low) if command.sense == "high" else (low, high)
            boot = (command.rest.volts, min(command.rest.ohms, FLOATS))
            return {"active": active, "idle": idle, "floating": (0.0, FLOATS), "boot": boot}

        ref = "ref" if command.own else "zero"
        yield pin("pin", "Command", {"out": "out", "ref": ref}, poses)

    def phrase(self, say: Say, site: Site) -> Sentence:
        return ()

    def draw(self, pen: Pen, site: Site) -> None:
        raise NotImplementedError("A cut-out is not drawn.")


def cutout(here: Study, block: str) -> Study:
    """The cut-out around a block of a study; the same study where nothing is cut.

    Raises:
        Open: a command that comes in is not known yet.
    """
    kept = _around(here, block)
    blocks: dict[str, Stage] = {id: s for id, s in here.design.blocks.items() if id in kept}
    joins: list[tuple[str, str]] = []
    borders: dict[str, str] = {}
    for begin, end in here.design.joins:
        source, into = begin.partition(".")[0], end.partition(".")[0]
        if into not in kept:
            continue
        if source not in kept and source != SUPPLY:
            command = here.flow.leaving((source, begin.partition(".")[2]))
            assert isinstance(command, Command), f"a cut-out cuts commands alone, not {begin}"
            id = borders.setdefault(begin, f"x{len(borders) + 1}")
            blocks[id], begin = Border(command=command), f"{id}.out"
        joins.append((begin, end))
    if blocks.keys() == here.design.blocks.keys():
        return here
    whole = dict(here.design) | {"blocks": blocks, "joins": tuple(joins)}
    return Study(Design.model_construct(**whole), here.drawer)


def _around(here: Study, block: str) -> set[str]:
    """The blocks of the cut-out: all that is joined to the block by anything but a command that comes in."""
    ports = here.flow.stage(block).ports()
    if any(p.way == "out" for p in ports if p.kind == "rail") or all(p.kind == "rail" for p in ports):
        return set(here.design.blocks)  # it is about all that its rail feeds
    kept, waiting = {block}, [block]
    while waiting:
        id = waiting.pop()
        for port in here.flow.stage(id).ports():
            beyond = (port.kind, port.way) in (("command", "in"), ("rail", "out"))
            for other, _ in () if beyond else here.flow.joined(id, port.name):
                if other != SUPPLY and other not in kept:
                    kept.add(other)
                    waiting.append(other)
    return kept
