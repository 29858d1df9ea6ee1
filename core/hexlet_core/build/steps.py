"""Build steps of a design in order: place, link, check, each check possible with what is there by then.

A step hangs on a block and a part ("b2.switch.place"), not on a reference, so that it stays done when others
come.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ..circuit.devices import CurrentSource, Resistor
from ..circuit.netlist import GROUND, Netlist
from ..circuit.solve import operating_point
from ..design.circuit import device_of
from ..design.study import Study
from ..quantity import show
from ..stages.contract import Corner, Demand, Open, Placed, Site, Step, Switch
from ..stages.contract.stage import ROLES, Behaving, Stepped

FULL = {
    "g": "gate",
    "d": "drain",
    "s": "source",
    "b": "base",
    "c": "collector",
    "e": "emitter",
    "a": "anode",
    "k": "cathode",
    "com": "common",
    "no": "NO",
    "nc": "NC",
}
COIL = {"a": "coil", "b": "coil"}
PLAIN = ("resistor", "load", "capacitor", "fuse")
PROBING = 1e-6  # the meter's current on ohms [A]
OPEN_OHMS = 2e7  # what it shows as OL
METER_WAYS: dict[str, str] = {
    "npn": (
        "Diode mode. The base is the leg that conducts to both others with red on it; of those two the "
        "emitter reads slightly higher. Parts with built-in resistors defeat this test."
    ),
    "n_mosfet": (
        "Diode mode. Red on the source and black on the drain shows the body diode. Then touch the gate with "
        "red while black is on the source: drain to source now conducts, until gate and source are joined."
    ),
    "pnp": (
        "Diode mode. The base is the leg that conducts to both others with black on it; of those two the "
        "emitter reads slightly higher."
    ),
    "p_mosfet": (
        "Diode mode. Red on the drain and black on the source shows the body diode. Then touch the gate with "
        "black while red is on the source: source to drain now conducts, until gate and source are joined."
    ),
    "led": "Diode mode. Red on the long leg: it glows faintly.",
    "optocoupler": (
        "Diode mode. The LED pair reads about 1.1 V one way and OL the other; the transistor pair reads OL "
        "both ways in the dark."
    ),
    "bridge": "Diode mode. Red on −, black on either ~: a junction; the + leg the other way about.",
    "fuse": "Ohms: near 0.",
    "button": "Ohms. The pair that changes when pressed is the contact.",
    "capacitor": "Capacitance mode, or ohms: it climbs and ends at OL. An electrolytic's stripe is minus.",
    "diode": "Diode mode. It conducts with black on the banded end, and not the other way round.",
    "zener": (
        "Diode mode. It conducts with black on the banded end; in the circuit it works the other way round, "
        "band to the positive side."
    ),
    "relay": (
        "Ohms. The coil is the pair that reads tens to hundreds of ohms. COM and NC read 0 at rest; NO joins "
        "COM when the coil clicks."
    ),
    "resistor": "Ohms, before it goes in. Either way round.",
    "load": "Ohms, power off.",
}


# A dual timer's legs: each half's own, by pin.
HALF = ("discharge", "threshold", "control", "reset", "output", "trigger")
FIRST_HALF, SECOND_HALF = (1, 2, 3, 4, 5, 6), (13, 12, 11, 10, 9, 8)
STRIP_LIMIT = 1.0  # what a breadboard's springs carry [A]
LEAST_LIMIT, LEAST_FUSE = 0.05, 0.5  # the lowest current limit and fuse worth setting [A]


class Plan:
    """The steps of one design, put together from its blocks' parts."""

    def __init__(self, here: Study) -> None:
        self.here = here

    def steps(self) -> Iterator[Step]:
        """Rails first, then the blocks from the signals on, then power."""
        yield Step(
            id="rails",
            action="link",
            title="Bridge the rails",
            detail="Top 0 V rail to the bottom one, top + rail to the bottom one. Nothing is powered yet.",
        )
        yield Step(
            id="rails_apart",
            action="check",
            title="Rails apart",
            detail="Ohms between + and 0 V: nothing may join them.",
            expect="OL",
        )
        yield from self._duals()
        here = self.here
        for role in ROLES:
            for _, site in here.of_role(role):
                parts = here.flow.parts(site.id)
                if role == "drive":
                    # Its resistors first, so that they can be measured before a transistor lies across them.
                    first = [p for p in parts if p.kind == "resistor"]
                    for part in first:
                        yield from self.placed(site.id, part)
                    yield from self._through(site.id, first)
                    parts = tuple(p for p in parts if p not in first)
                for part in parts:
                    if part.listed:
                        yield from self.placed(site.id, part)
                if role == "drive":
                    yield from self._heavy(site)
                yield from self._own(site.id)
        yield from self._power()

    def _duals(self) -> Iterator[Step]:
        """Two timers of one kind on one rail fit one dual package."""
        by: dict[tuple[str, str], list[str]] = {}
        for block, ref, part in self.here.placed:
            if part.kind == "timer" and part.card is not None:
                by.setdefault((part.card.id, self.here.flow.net(block, "plus")), []).append(ref)
        for refs in by.values():
            for first, second in zip(refs[::2], refs[1::2], strict=False):
                halves = (
                    f"{ref}: " + ", ".join(f"{name} {pin}" for name, pin in zip(HALF, pins, strict=True))
                    for ref, pins in ((first, FIRST_HALF), (second, SECOND_HALF))
                )
                yield Step(
                    id=f"dual.{first}",
                    action="link",
                    title=f"{first} and {second}: two chips, or one dual",
                    detail=(
                        "Both are alike and on one rail. As one dual package of 14 legs: "
                        f"{'. '.join(halves)}. 0 V is pin 7 and + is pin 14 of both; one capacitor at its "
                        "supply does. Yours may differ: check its sheet."
                    ),
                )

    def _heavy(self, site: Site) -> Iterator[Step]:
        """What flows is more than a strip carries: then the load's path stays off the board."""
        amps = self._taken(site)
        if amps > STRIP_LIMIT:
            yield Step(
                id=f"{site.id}.heavy.place",
                action="link",
                title=f"{show(amps, 'A', 2)}: leads of their own for the load's path",
                detail=(
                    f"A breadboard's springs carry about {show(STRIP_LIMIT, 'A')}. Wire supply, load and "
                    f"{self.here.flow.ref(site.id, 'switch')} at the parts themselves; only what controls it "
                    "goes through strips."
                ),
            )

    def _own(self, block: str) -> Iterator[Step]:
        """What a block adds to placing its parts."""
        stage, site = self.here.flow.stage(block), self.here.flow.sites[block]
        if isinstance(stage, Stepped):
            try:
                own = stage.steps(site)
            except Open:
                return
            for step in own:
                yield step.model_copy(update={"id": f"{block}.{step.id}"})

    def placed(self, block: str, part: Placed) -> Iterator[Step]:
        """Which leg of a part goes where; and a check by the meter where it has one."""
        here, ref = self.here, self.here.flow.ref(block, part.local)
        legs = part.card.legs if part.card is not None else ()
        words = {t: here.word(block, net) for t, net in part.legs.items()}
        if len(words) == 2 and part.kind in PLAIN:
            title = f"{ref}, {part.value}: {' to '.join(_short(w) for w in words.values())}"
            where = " to ".join(words.values())
        elif set(words) == {"a", "k"}:
            title = f"{ref}: band to {_short(words['k'])}"
            where = f"its band (cathode) to {words['k']}, the other end to {words['a']}"
        else:
            named = FULL | (COIL if part.kind == "relay" else {})
            where = ", ".join(f"{named.get(t, t)} to {word}" for t, word in words.items())
            order = ", ".join(named.get(leg, leg) for leg in legs or words)
            title = f"{ref}: {order if part.on_board else _short(where)}"
        marked = (
            " Marked face as the leg order shows, each leg in a strip of its own. Yours may differ: check "
            "its sheet or find the legs with the meter."
        )
        off = "" if part.on_board else " It stays off the board, on leads of its own."
        action: Literal["place", "link"] = "place" if part.on_board else "link"
        check: tuple[Step, ...] = ()
        if part.check is not None:
            check = (
                Step(
                    id=f"{block}.{part.local}.check",
                    action="check",
                    title=f"{ref}, by the meter",
                    part=ref,
                    detail=part.check[0],
                    expect=part.check[1],
                ),
            )
        if not part.on_board:
            yield from check  # off the board it is tried before it is wired
        yield Step(
            id=f"{block}.{part.local}.place",
            action=action,
            title=title[:90],
            part=ref,
            detail=part.wiring
            or f"{part.title}: {where}.{marked if len(legs) > 2 and part.on_board else ''}{off}",
        )
        if part.on_board:
            yield from check

    def _through(self, block: str, resistors: list[Placed]) -> Iterator[Step]:
        """A check in ohms from the command's strip to 0 V, by what resistors are there; none where nothing
        leads there.
        """
        here = self.here
        node = here.flow.net(block, "signal")
        devices = [device_of(here.flow, block, p, Corner(supply=0.0)) for p in resistors]
        nodes = {n for d in devices for n in d.nodes().values()}
        if node not in nodes or node == GROUND:
            return
        probe = CurrentSource(name="OHMS", a=GROUND, b=node, value=PROBING)
        tie = [
            Resistor(name=f"LEAK{k}", a=n, b=GROUND, resistance=1e9)
            for k, n in enumerate(sorted(nodes - {GROUND}))
        ]
        ohms = operating_point(Netlist.of([*devices, *tie, probe]))[node] / PROBING
        strip = here.word(block, "signal")
        yield Step(
            id=f"{block}.signal.check",
            action="check",
            title=f"{strip[4:].capitalize()} to 0 V",
            detail=f"Ohms from {strip} to the 0 V rail, before any transistor is in: the resistors alone.",
            expect="OL" if ohms > OPEN_OHMS else f"{show(ohms * 0.98, 'Ω')} to {show(ohms * 1.02, 'Ω')}",
        )

    def _power(self) -> Iterator[Step]:
        """Power comes on, and the load runs for the first time."""
        if self.here.design.supply.ac:
            yield from AC_POWER
            return
        supply = self.here.design.supply
        taken = sum(self._taken(site) for _, site in self.here.of_role("drive"))
        limit, fuse = max(LEAST_LIMIT, 2 * taken), max(LEAST_FUSE, 2 * taken)
        yield Step(
            id="current_limit",
            action="link",
            title="Supply on, its current limit low",
            detail=(
                f"Limit at {show(limit, 'A', 1)}, twice what the load takes, or a {show(fuse, 'A', 1)} fuse. "
                "+ to the + rail, − to the 0 V rail. Every signal is held at rest by a jumper for now."
            ),
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
        yield Step(
            id=f"{site.id}.command.place",
            action="link",
            title=f"The {name} in place of the jumper",
            detail=f"The {name}'s output to the signal's strip, its 0 V to the 0 V rail.",
        )

    def _taken(self, site: Site) -> float:
        """The most that a drive's loads take for good [A]."""
        rail = self.here.design.supply.as_rail()
        try:
            return sum(
                f.most(rail.high) for f in self.here.flow.seen(site.id, "out") if isinstance(f, Demand)
            )
        except Open:
            return 0.0


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


def _short(word: str) -> str:
    """A strip's name as it stands in a step's title."""
    return word.removeprefix("the ").removesuffix(" strip")


def steps(here: Study) -> tuple[Step, ...]:
    """All steps; none where the design lies above 30 V AC or 60 V DC, or something is not joined yet."""
    if here.design.supply.walled or here.open:
        return ()
    return tuple(Plan(here).steps())
