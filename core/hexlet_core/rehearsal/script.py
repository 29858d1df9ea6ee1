"""A script in a design: the circuit it runs on, what of it fits, and the scripts to choose from."""

from __future__ import annotations

import math
from typing import Literal

from ..circuit.netlist import Netlist
from ..design.around import demands
from ..design.script import Event, Script, SetPin, SetSupply, SweepInput
from ..design.study import Study, ready
from ..errors import DocumentError, Problem
from ..quantity import show
from ..stages.contract import Act, Command, Corner, Open, Signal, Switch
from ..stages.contract.scenes import Play
from ..stages.contract.stage import Played
from ..stages.drawing import SUPPLY_REF
from .events import apply

PLUGGED = 1e-3  # how fast a supply comes up that is switched on [s]
Level = Literal["low", "high", "floating", "boot", "active", "idle"]


def who_of(here: Study, name: str | None) -> str | None:
    """The block of an actor, named by its block or by a part's reference; the first signal when not named."""
    refs = {ref: block for block, ref, _ in here.placed if ref in here.actors}
    if name is None:
        signals = [site.id for _, site in here.of_role("signal") if site.id in refs.values()]
        return next(iter([*signals, *refs.values()]), None)
    return refs.get(name) or (name if name in refs.values() else None)


def acts_of(here: Study, script: Script) -> list[Act]:
    """What the script's levels ask of the actors.

    Raises:
        DocumentError: an event names an actor that the design does not have.
    """
    found = []
    for k, event in enumerate(script.events):
        if isinstance(event, SetPin):
            who = who_of(here, event.who)
            if who is None:
                text = "There is nothing of that name to set in this design."
                raise DocumentError(Problem(f"events[{k}].who", text, got=event.who or ""))
            found.append(Act(who, event.level, event.at))
    return found


def circuit(here: Study, script: Script, corner: Corner | None = None) -> Netlist:
    """The design's netlist at one corner, with everything the script does to it.

    Raises:
        DocumentError: an event names a part or node that the design does not have, or the design is
            not whole.
    """
    if here.open:
        raise DocumentError(
            Problem(here.open[0], "Nothing is joined here yet. A design is run when it is whole.")
        )
    supply = here.design.supply
    corner = corner or Corner(supply=supply.typical)
    begin = script.start_volts if script.start_volts is not None else supply.typical
    found = here.acted(corner, acts_of(here, script))
    events: list[Event] = []
    pin = next((ref for ref, p in here.actors.items() if p.poses is not None), None)
    for event in script.events:
        if isinstance(event, SetSupply) and event.source is None:
            if not supply.ac:
                events.append(event.model_copy(update={"source": SUPPLY_REF}))
        elif isinstance(event, SweepInput) and event.source is None:
            if pin is not None:
                events.append(event.model_copy(update={"source": pin}))
        else:
            events.append(event)
    if not supply.ac:
        devices = [
            d.model_copy(update={"value": 0.0, "points": [(0.0, begin)]}) if d.name == SUPPLY_REF else d
            for d in found.devices
        ]
        found = Netlist.of(devices)
    return apply(found, events)


def fitted(here: Study, script: Script) -> tuple[Script, tuple[Problem, ...]]:
    """A script without the events that name what the design does not have any more, and what was left out."""
    try:
        circuit(here, script)
        return script, ()
    except DocumentError:
        pass
    kept: tuple[Event, ...] = ()
    left_out: tuple[Problem, ...] = ()
    for event in sorted(script.events, key=lambda event: event.at):
        try:
            circuit(here, script.model_copy(update={"events": (*kept, event)}))
            kept = (*kept, event)
        except DocumentError as error:
            left_out += error.problems
    return script.model_copy(update={"events": kept}), left_out


def script_of(here: Study, asked: Script | None = None) -> tuple[Script, tuple[Problem, ...]]:
    """What is rehearsed: what is asked for, else what is kept with the design as far as it fits, else the
    first of the usual ones; with what of a kept one was left out.
    """
    if asked is not None or here.design.script is None or here.open:
        return asked or presets(here)[0], ()
    return fitted(here, here.design.script)


def presets(here: Study) -> tuple[Script, ...]:
    """Scripts to choose from; the first is the default. A kind that brings its own comes first."""
    own = [
        _as_script(here.acted_by(site.id, play), here.design.supply.typical)
        for stage, site in here.pairs
        if isinstance(stage, Played)
        for play in ready(stage.plays, site)
    ]
    return (*own, *_usual(here))


def _as_script(play: Play, volts: float) -> Script:
    events: list[Event] = []
    for act in play.acts:
        events.append(SetPin(at=act.at, level="active" if act.state == "active" else "idle", who=act.who))
        if act.hold is not None:
            events.append(SetPin(at=act.at + act.hold, level="idle", who=act.who))
    events += [SetSupply(at=at, volts=to, ramp=within) for at, to, within in play.supply]
    if play.plugged is None:
        return Script(title=play.title, stop=play.stop, events=tuple(events))
    on = SetSupply(at=play.plugged, volts=volts, ramp=PLUGGED)
    return Script(title=play.title, stop=play.stop, start_volts=0.0, events=(on, *events))


def _usual(here: Study) -> tuple[Script, ...]:
    """What any design is tried with: on and off, a sag, a boot, a bounce, a slow sweep, plugged in."""
    command, on = _commanded(here)
    if command is None:
        return (Script(title="Just running", stop=0.13),)
    off: Level = "high" if on == "low" else "low"
    noun = command.name.capitalize()
    supply = here.design.supply
    low, typical, high = supply.low, supply.typical, supply.high
    slow = max((d.brief(supply.as_rail()) for d in demands(here)), default=0.0)
    n = 1e-3 * max(1.0, min(round(slow / 0.02), 40)) if slow > 0.03 else 1e-3
    begin = SetPin(at=0.0, level=off)
    word, top = supply.word, math.ceil(command.high.volts.high)
    if supply.ac:
        return (
            Script(
                title=f"{noun} on, {typical:g} V AC at {supply.frequency:g} Hz",
                stop=0.4,
                events=(begin, SetPin(at=0.14, level=on), SetPin(at=0.32, level=off)),
            ),
            Script(title="Just plugged in, signal on", stop=0.4, events=(SetPin(at=0.0, level=on),)),
        )
    pulse = (begin, SetPin(at=10 * n, level=on), SetPin(at=92 * n, level=off))
    sag = (SetSupply(at=50 * n, volts=low), SetSupply(at=70 * n, volts=typical, ramp=2 * n))
    bounces = zip((10, 10.6, 11.1, 11.9, 12.2, 40, 40.4, 40.9), (on, off) * 4, strict=True)
    return (
        Script(
            title=f"{noun} on {show(82 * n, 's')}, {word} sags to {low:g} V",
            stop=130 * n,
            events=(*pulse[:2], *sag, pulse[2]),
        ),
        Script(
            title=f"{noun} drops, {word} full",
            stop=60 * n,
            start_volts=high,
            events=(SetPin(at=0.0, level=on), SetPin(at=20 * n, level=off)),
        ),
        Script(
            title=f"{noun} boots, then drives",
            stop=130 * n,
            events=(
                SetPin(at=0.0, level="boot"),
                SetPin(at=40 * n, level=off),
                SetPin(at=60 * n, level=on),
                SetPin(at=100 * n, level=off),
            ),
        ),
        Script(title=f"{noun} plain on and off", stop=130 * n, events=pulse),
        Script(
            title=f"{noun}'s source bounces as it switches",
            stop=60 * n,
            events=(begin, *(SetPin(at=t * n, level=level) for t, level in bounces)),
        ),
        Script(
            title="Input swept slowly up and down",
            stop=4.0,
            events=(SweepInput(at=0.1, volts=top, over=1.8), SweepInput(at=2.1, volts=0.0, over=1.8)),
        ),
        Script(
            title=f"{word.capitalize()} plugged in, {noun.lower()} on",
            stop=100 * n,
            start_volts=0.0,
            events=(SetPin(at=0.0, level=on), SetSupply(at=5 * n, volts=typical, ramp=n)),
        ),
    )


def _commanded(here: Study) -> tuple[Command | None, Level]:
    """The first signal's command, and the level of it at which its load runs."""
    for stage, site in here.of_role("signal"):
        if isinstance(stage, Signal):
            try:
                command = stage.gives(site)
            except Open:
                continue
            return command, _on(here, command)
    return None, "high"


def _on(here: Study, command: Command) -> Level:
    for _, site in here.of_role("drive"):
        try:
            switch = here.flow.leaving((site.id, "out"))
            if isinstance(switch, Switch) and site.command == command:
                return switch.on
        except Open:
            continue
    return command.sense


def dip(at: float, volts: float, seconds: float, back: float) -> tuple[SetSupply, SetSupply]:
    """The supply's going down to some volts for a while [s], and back up."""
    ramp = min(PLUGGED, seconds / 10)
    return SetSupply(at=at, volts=volts, ramp=ramp), SetSupply(at=at + seconds, volts=back, ramp=ramp)
