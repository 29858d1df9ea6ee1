"""What each event of a script does to a netlist, and how it is told."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..circuit.devices import (
    Button,
    ContactSwitch,
    Device,
    Meter,
    Pin,
    PinStep,
    Potentiometer,
    Press,
    VoltageSource,
)
from ..circuit.netlist import Netlist
from ..design.script import (
    Event,
    LiftPart,
    PressButton,
    ProbeNode,
    RefitPart,
    SetPin,
    SetSupply,
    SweepInput,
    TurnPot,
)
from ..errors import DocumentError, Problem
from ..fields import Document
from ..quantity import show

TOUCH = 1e-3  # resistance of a lead that is fitted [Ω]
GAP = 1e12  # and of one that is lifted [Ω]


class Happening(Document):
    """An event as it is told: whose it is, when, and in words. `index` is its place in the script."""

    index: int
    actor: str
    at: float
    text: str


LEVELS = {
    "low": "low",
    "high": "high",
    "floating": "unplugged",
    "boot": "boots",
    "active": "active",
    "idle": "idle",
}


def told(
    events: Sequence[Event], supply: str, names: Mapping[str | None, str] | None = None
) -> tuple[Happening, ...]:
    """Every event in words, in order of time; `supply` is what the supply is called, `names` what the actors
    are, under None the first of them.
    """
    names = names or {}
    found = []
    for k, event in enumerate(events):
        match event:
            case SetPin():
                actor, text = names.get(event.who, event.who or "Pin"), LEVELS[event.level]
            case SweepInput():
                actor, text = (
                    names.get(event.source, event.source or "Pin"),
                    f"slowly to {show(event.volts, 'V')} in {show(event.over, 's')}",
                )
            case SetSupply():
                actor, text = (
                    event.source or supply,
                    f"to {show(event.volts, 'V')} in {show(event.ramp, 's')}",
                )
            case PressButton():
                bounce = f", bounces {show(event.bounce.duration, 's')}" if event.bounce else ""
                actor, text = names.get(event.button, event.button), f"{show(event.hold, 's')}{bounce}"
            case TurnPot():
                actor, text = event.pot, f"to {event.to * 100:.0f} % in {show(event.over, 's')}"
            case LiftPart():
                actor, text = "Bench", f"{event.part} out"
            case RefitPart():
                actor, text = "Bench", f"{event.part} back"
            case ProbeNode():
                actor, text = (
                    "Bench",
                    f"meter on {names.get(event.red, event.red)} for {show(event.until - event.at, 's')}",
                )
        found.append(Happening(index=k, actor=actor, at=event.at, text=text))
    return tuple(sorted(found, key=lambda h: h.at))


def _named(devices: dict[str, Device], name: str, kind: type[Device], field: str) -> Device:
    found = devices.get(name)
    if not isinstance(found, kind):
        raise DocumentError(
            Problem(field, f"There is no {kind.__name__.lower()} of that name in this circuit.", got=name)
        )
    return found


def _lifted(device: Device, times: list[float]) -> list[Device]:
    """A device whose leads, all but one, go through switches that open and close in turn."""
    found: list[Device] = []
    leads = list(device.nodes().items())
    inner = {}
    for terminal, node in leads[: max(len(leads) - 1, 1)]:
        inner[terminal] = f"{device.name}:{terminal}"
        found.append(
            ContactSwitch(
                name=f"{device.name}.lift-{terminal}",
                a=node,
                b=inner[terminal],
                closed=times[0] > 0.0,
                times=[t for t in times if t > 0.0],
                on_resistance=TOUCH,
                off_resistance=GAP,
            )
        )
    return [device.model_copy(update=inner), *found]


class _Bench:
    """A netlist under way: what the events so far have done to it."""

    def __init__(self, netlist: Netlist) -> None:
        self.devices = {d.name: d for d in netlist.devices}
        self.nodes = {n for d in netlist.devices for n in d.nodes().values()}
        self.lifts: dict[str, list[float]] = {}
        self.added: list[Device] = []

    def do(self, event: Event, where: str, number: int) -> None:
        match event:
            case PressButton():
                self._press(event, where)
            case TurnPot():
                self._turn(event, where)
            case SetSupply() | SweepInput() if event.source is not None:
                over = event.ramp if isinstance(event, SetSupply) else event.over
                self._move(event.source, event.at, event.volts, over, where)
            case LiftPart() | RefitPart():
                self._lift(event, where)
            case ProbeNode():
                self._probe(event, where, f"PROBE{number}")
            case _:
                pass

    def _press(self, event: PressButton, where: str) -> None:
        button = _named(self.devices, event.button, Button, f"{where}.button")
        assert isinstance(button, Button)
        presses = [*button.presses, Press(at=event.at, hold=event.hold)]
        if len(presses) > 1 and presses[-2].at + presses[-2].hold >= event.at:
            text = "The button is still held from the press before. Move this one later."
            raise DocumentError(Problem(f"{where}.at", text))
        done = {"presses": presses, "bounce": event.bounce or button.bounce}
        self.devices[button.name] = button.model_copy(update=done)

    def _turn(self, event: TurnPot, where: str) -> None:
        pot = _named(self.devices, event.pot, Potentiometer, f"{where}.pot")
        assert isinstance(pot, Potentiometer)
        begin = pot.turns[-1][1] if pot.turns else pot.turn
        turns = [*(pot.turns or [(0.0, pot.turn)]), (event.at, begin), (event.at + event.over, event.to)]
        self.devices[pot.name] = pot.model_copy(update={"turns": turns})

    def _move(self, name: str, at: float, volts: float, over: float, where: str) -> None:
        """A source, or a pin's level, on its way to other volts."""
        owner = self.devices.get(name)
        if isinstance(owner, Pin):
            swept = PinStep(time=at, level=volts, resistance=owner.steps[-1].resistance, ramp=over)
            steps = sorted([*owner.steps, swept], key=lambda step: step.time)
            self.devices[owner.name] = owner.model_copy(update={"steps": steps})
            return
        source = _named(self.devices, name, VoltageSource, f"{where}.source")
        assert isinstance(source, VoltageSource)
        points = list(source.points) or [(0.0, source.value)]
        begin = max(at, points[-1][0])
        points += [(begin, points[-1][1]), (begin + over, volts)]
        self.devices[source.name] = source.model_copy(update={"points": points})

    def _lift(self, event: LiftPart | RefitPart, where: str) -> None:
        _named(self.devices, event.part, Device, f"{where}.part")
        times = self.lifts.setdefault(event.part, [])
        out = len(times) % 2 == 1
        if out == isinstance(event, LiftPart):
            text = f"At that time the part is {'already out' if out else 'not out'}."
            raise DocumentError(Problem(f"{where}.part", text, got=event.part))
        times.append(event.at)

    def _probe(self, event: ProbeNode, where: str, name: str) -> None:
        for field, node in (("red", event.red), ("black", event.black)):
            if node not in self.nodes:
                text = "There is no node of that name in this circuit."
                raise DocumentError(Problem(f"{where}.{field}", text, got=node))
        tip = f"{name}:tip"
        times = [t for t in (event.at, event.until) if t > 0.0]
        touch = ContactSwitch(
            name=f"{name}.touch",
            a=event.red,
            b=tip,
            closed=event.at == 0.0,
            times=times,
            on_resistance=1.0,
            off_resistance=GAP,
        )
        self.added += [touch, Meter(name=name, red=tip, black=event.black, resistance=event.resistance)]

    def netlist(self) -> Netlist:
        """Everything that was done."""
        found: list[Device] = []
        for device in self.devices.values():
            lifted = self.lifts.get(device.name)
            found += _lifted(device, lifted) if lifted is not None else [device]
        return Netlist.of([*found, *self.added])


def apply(netlist: Netlist, events: Sequence[Event]) -> Netlist:
    """The netlist with what the events do to it; `set` belongs to a design's own signal and is left alone.

    Raises:
        DocumentError: an event names a part that is not there, or lifts what is not fitted.
    """
    bench = _Bench(netlist)
    for k, event in sorted(enumerate(events), key=lambda pair: pair[1].at):
        bench.do(event, f"events[{k}]", k + 1)
    return bench.netlist()
