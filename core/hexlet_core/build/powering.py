"""The board comes on: the supply with its limit low, what a switch reads at rest, the first try."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ..design.document import SUPPLY
from ..design.study import Study
from ..quantity import show
from ..stages.contract import Open, Site, Step, Switch
from ..stages.contract.stage import Behaving
from .bodies import taken
from .layout import Placing
from .lying import names, seats_of

LEAST_LIMIT, LEAST_FUSE = 0.05, 0.5  # the lowest current limit and fuse worth setting [A]


AC_POWER = (
    Step(
        id="ac_power",
        action="link",
        title="Transformer on, through a fuse",
        detail=(
            "A transformer with its own isolated winding, never the line itself. The pin is held low by a "
            "jumper to its own 0 V."
        ),
    ),
    Step(
        id="ac_check",
        action="check",
        title="Gate's supply to bridge −",
        detail="Meter on DC volts: black on the bridge's minus, red on the gate supply's strip.",
        expect="the zener's volts",
    ),
    Step(
        id="pin",
        action="link",
        title="The pin in place of the jumper",
        detail=(
            "The controller's pin and its own 0 V to the optocoupler's LED side. Nothing else joins the two "
            "sides."
        ),
    ),
)


class PowerUp:
    """The last steps of a design; with a plan of its board they name the leads' seats."""

    def __init__(self, here: Study, placings: Mapping[str, Placing]) -> None:
        self.here, self.placings = here, placings

    def steps(self) -> Iterator[Step]:
        """Power comes on, and the load runs for the first time."""
        if self.here.design.supply.ac:
            yield from AC_POWER
            return
        supply = self.here.design.supply
        amps = sum(taken(self.here, site) for _, site in self.here.of_role("drive"))
        limit, fuse = max(LEAST_LIMIT, 2 * amps), max(LEAST_FUSE, 2 * amps)
        yield Step(
            id="current_limit",
            action="link",
            title="Supply on, its current limit low",
            detail=(
                f"Limit at {show(limit, 'A', 1)}, twice what the load takes, or a {show(fuse, 'A', 1)} fuse. "
                f"{self._supply_leads()} Every signal is held at rest by a jumper for now."
            ),
            key=SUPPLY if SUPPLY in self.placings else "",
            seats=seats_of(self.placings[SUPPLY], None) if SUPPLY in self.placings else (),
        )
        for _, site in self.here.of_role("behaviour"):
            if not any(p.listed for b, _ in site.joined("command") for p in self.here.flow.parts(b)):
                yield from self._command(site)
        for _, site in self.here.of_role("drive"):
            try:
                switch = self.here.flow.leaving((site.id, "out"))
            except Open:
                continue
            if not isinstance(switch, Switch):
                continue
            low_side = switch.side == "low"
            rest = "low" if switch.on == "high" else "high"
            held = f"signal {rest}" if site.seen("command") else "nothing pressed"
            volts = f"{show(supply.low, 'V')} to {show(supply.high, 'V')}" if low_side else "under 0.5 V"
            near = "Near the supply" if low_side else "Near 0 V"
            out = switch.output
            yield Step(
                id=f"{site.id}.powered.check",
                action="check",
                title=f"Powered, {held}: {out} to 0 V",
                detail=f"Black on the 0 V rail, red on the {out}'s strip. {near}: the switch is off.",
                expect=volts,
            )
            trial = self._trial(site)
            if trial is not None:
                title, detail, expect = trial
                yield Step(
                    id=f"{site.id}.trial.check", action="check", title=title, detail=detail, expect=expect
                )
                continue
            if not site.seen("command"):
                yield Step(
                    id=f"{site.id}.press.check",
                    action="check",
                    title="Press, and let go",
                    detail="The load must come on, and go off as the contact is let go.",
                    expect="on, then off",
                )
                continue
            yield Step(
                id=f"{site.id}.jumper.check",
                action="check",
                title=f"Jumper to {switch.on}",
                detail=(
                    f"Move the jumper so that the signal is {switch.on}. The load must come on, and go off "
                    "with the jumper back."
                ),
                expect="on, then off",
            )
            yield from self._command(site)

    def _trial(self, site: Site) -> tuple[str, str, str] | None:
        """How a drive that behaves, or that a behaviour commands, is tried for the first time."""
        flow = self.here.flow
        for block in (site.id, *(b for b, _ in site.joined("command"))):
            stage = flow.stage(block)
            if isinstance(stage, Behaving):
                return (f"{stage.title}, the first time", *stage.trial(flow.sites[block]))
        return None

    def _command(self, site: Site) -> Iterator[Step]:
        """A signal in place of the jumper that held a block's command."""
        if not site.seen("command"):
            return
        name = site.command.name
        before = {b for b, _ in site.joined("command")}
        leads = [p for p in self.placings.values() if p.kind == "pin" and p.part.partition(".")[0] in before]
        ends = ", ".join(f"{names('pin').get(x.leg, x.leg)} in {x.seat.word}" for p in leads for x in p.legs)
        yield Step(
            id=f"{site.id}.command.place",
            action="link",
            title=f"The {name} in place of the jumper",
            detail=f"The {name}'s leads: {ends}."
            if ends
            else f"The {name}'s output to the signal's strip, its 0 V to the 0 V rail.",
            key=leads[0].part if leads else "",
            seats=tuple(s for p in leads for s in seats_of(p, None)),
        )

    def _supply_leads(self) -> str:
        placing = self.placings.get(SUPPLY)
        if placing is None:
            return "+ to the + rail, − to the 0 V rail."
        return (
            ", ".join(f"{names('')[x.leg] if x.leg == '-' else x.leg} in {x.seat.word}" for x in placing.legs)
            + "."
        )
