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
from ..design.document import SUPPLY
from ..design.study import Study
from ..quantity import show
from ..stages.contract import Corner, Open, Placed, Site, Step
from ..stages.contract.descriptions import StepSeat
from ..stages.contract.stage import ROLES, Stepped
from .boards import Seat
from .bodies import STRIP_LIMIT, taken
from .joined import Metal
from .layout import BoardPlan, BoardWire
from .lying import COIL, FULL, lies, names, out_step, placed_step, seats_of, wire_id
from .powering import PowerUp
from .standins import alone, driven

PLAIN = ("resistor", "load", "capacitor", "fuse")
PROBING = 1e-6  # the meter's current on ohms [A]
OPEN_OHMS = 2e7  # what it shows as OL


# A dual timer's legs: each half's own, by pin.
HALF = ("discharge", "threshold", "control", "reset", "output", "trigger")
FIRST_HALF, SECOND_HALF = (1, 2, 3, 4, 5, 6), (13, 12, 11, 10, 9, 8)


class Building:
    """The steps of one design, put together from its blocks' parts; with a plan of its board, each names its
    seats.
    """

    def __init__(self, here: Study, plan: BoardPlan | None) -> None:
        self.here, self.plan = here, plan
        self.placings = plan.of if plan else {}
        self.links = list(enumerate(plan.links)) if plan else []
        self.reached: set[Metal] = set()  # strips and rails that something is on
        self.wired: set[str] = {SUPPLY}  # blocks whose own steps say how they are wired beside the board

    def steps(self) -> Iterator[Step]:
        """Rails first, then the blocks from the signals on, then power."""
        yield from self._rails()
        yield from self._duals()
        titles = [stage.title for role in ROLES for stage, _ in self.here.of_role(role)]
        counted: dict[str, int] = {}
        for role in ROLES:
            for stage, site in self.here.of_role(role):
                counted[stage.title] = counted.get(stage.title, 0) + 1
                of = titles.count(stage.title)
                group = f"{stage.title}, {counted[stage.title]} of {of}" if of > 1 else stage.title
                for step in self._block(site):
                    yield step.model_copy(update={"group": group})
        yield from self._wires(every=True)
        yield from self._meetings()
        yield from PowerUp(self.here, self.placings).steps()

    def _block(self, site: Site) -> Iterator[Step]:
        """One sub-circuit: its resistors first, to be measured before a transistor lies across them."""
        drives = self.here.flow.stage(site.id).role == "drive"
        amps = taken(self.here, site)
        parts = [p for p in self.here.flow.parts(site.id) if p.listed]
        first = [p for p in parts if p.kind == "resistor"]
        for part in first:
            yield from self.placed(site.id, part)
        yield from self._wires()
        if drives:
            yield from self._through(site.id, first)
        for part in parts:
            if part not in first:
                yield from self.placed(site.id, part)
        yield from self._wires()
        if drives and amps > STRIP_LIMIT:
            yield self._heavy(site, amps)
        yield from self._own(site.id)
        check = alone(self.here, site)
        if check is None and amps <= STRIP_LIMIT:  # above it its switch is not on the board
            check = driven(self.here, site)
        if check is not None:
            yield check

    # --- wires ------------------------------------------------------------------------------------------
    def _rails(self) -> Iterator[Step]:
        """The rails joined, and nothing between them."""
        if self.plan is None:
            yield Step(
                id="rails",
                action="link",
                title="Bridge the rails",
                detail=(
                    "Top 0 V rail to the bottom one, top + rail to the bottom one. Nothing is powered yet."
                ),
            )
        else:
            for placing in self.plan.out:
                yield Step(
                    id=out_step(placing.part),
                    action="out",
                    title=f"Take {placing.ref} out",
                    detail=f"It is not needed any more: {', '.join(leg.seat.word for leg in placing.legs)}.",
                )
            for link in self.plan.out_links:
                yield Step(
                    id=out_step(wire_id(link)),
                    action="out",
                    title=f"Take out the wire {link.a.word} to {link.b.word}",
                    detail="It is not needed any more.",
                )
            for k, link in self.links:
                if link.a.rail and link.b.rail:
                    yield self._wire(k, link)
            self.links = [(k, link) for k, link in self.links if not (link.a.rail and link.b.rail)]
        if self.plan is None or not self.here.design.supply.ac:  # an alternating supply has none
            yield Step(
                id="rails_apart",
                action="check",
                title="Rails apart",
                detail="Ohms between + and 0 V: nothing may join them.",
                expect="OL",
            )

    def _wires(self, every: bool = False) -> Iterator[Step]:
        """The wires whose two ends have come to something; or all that are left."""
        later = []
        for k, link in self.links:
            if every or all(s.rail or _metal(s) in self.reached for s in (link.a, link.b)):
                yield self._wire(k, link)
            else:
                later.append((k, link))
        self.links = later

    def _wire(self, k: int, link: BoardWire) -> Step:
        word = self.here.called(link.net)
        return Step(
            id=wire_id(link),
            action="link",
            title=f"Wire: {link.a.word} to {link.b.word}",
            detail=f"A wire from {link.a.word} to {link.b.word}. Both are {word}.",
            wire=f"w{k}",
            seats=(StepSeat(leg="", seat=link.a.word), StepSeat(leg="", seat=link.b.word)),
        )

    def _meetings(self) -> Iterator[Step]:
        """What is joined beside the board, and was not said by a block itself."""
        for meeting in self.plan.meetings if self.plan else ():
            if {e.part.partition(".")[0] for e in meeting.ends} <= self.wired:
                continue
            kinds = {
                p.ref: part.kind for _, ref, part in self.here.placed for p in meeting.ends if p.ref == ref
            }
            ends = [
                f"{e.ref} {names(kinds.get(e.ref, '')).get(e.leg.rstrip('0123456789'), e.leg)}"
                for e in meeting.ends
            ]
            heavy = self.plan is not None and any(e.part in self.plan.heavy for e in meeting.ends)
            thick = " It carries the load's current: take a wire thick enough." if heavy else ""
            yield Step(
                id=f"meet.{meeting.net}"[:60],
                action="link",
                title=f"Off the board: {' to '.join(ends)}"[:90],
                detail=f"Joined at the parts themselves, with wires of their own, through no strip.{thick}",
            )

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

    def _heavy(self, site: Site, amps: float) -> Step:
        """What flows is more than a strip carries: then the load's path stays off the board."""
        return Step(
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
            if any(step.action == "link" for step in own):
                self.wired.add(block)
            for step in own:
                yield step.model_copy(update={"id": f"{block}.{step.id}"})

    def placed(self, block: str, part: Placed) -> Iterator[Step]:
        """Which leg of a part goes where; and a check by the meter where it has one."""
        key = f"{block}.{part.local}"
        own = [p for k, p in self.placings.items() if k == key or k.startswith(f"{key}.")]
        if not own:
            yield from self._unplanned(block, part)
            return
        check = [self._check(block, part)] if part.check is not None else []
        if own[0].shape == "leads":
            yield from check  # off the board it is tried before it is wired
        for placing in own:
            self.reached |= {_metal(leg.seat) for leg in placing.legs if not leg.seat.rail}
            title, detail = lies(placing, part)
            moved = bool(placing.was) and tuple(leg.seat for leg in placing.legs) != placing.was
            if moved:
                detail = f"Move it from {', '.join(s.word for s in placing.was)}. {detail}"
            action: Literal["place", "link", "move"] = (
                "move" if moved else "link" if placing.shape == "leads" else "place"
            )
            yield Step(
                id=placed_step(placing.part),
                action=action,
                title=f"Move {title}"[:90] if moved else title[:90],
                part=self.here.flow.ref(block, part.local),
                detail=detail,
                key=placing.part,
                seats=seats_of(placing, part),
            )
        if own[0].shape != "leads":
            yield from check

    def _check(self, block: str, part: Placed) -> Step:
        """A part by the meter."""
        assert part.check is not None
        ref = self.here.flow.ref(block, part.local)
        return Step(
            id=f"{block}.{part.local}.check",
            action="check",
            title=f"{ref}, by the meter",
            part=ref,
            detail=part.check[0],
            expect=part.check[1],
            key=f"{block}.{part.local}",
        )

    def _unplanned(self, block: str, part: Placed) -> Iterator[Step]:
        """The same by strips, where there is no plan; where there is, the part has no lead to the board."""
        if self.plan is not None:
            ref = self.here.flow.ref(block, part.local)
            if part.check is not None:
                yield self._check(block, part)
            yield Step(
                id=placed_step(f"{block}.{part.local}"),
                action="link",
                title=f"{ref}: beside the board",
                part=ref,
                detail=f"{part.title}. It touches no strip: it is wired at its own leads, further on.",
                key=f"{block}.{part.local}",
            )
            return
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
        check = [self._check(block, part)] if part.check is not None else []
        if not part.on_board:
            yield from check  # off the board it is tried before it is wired
        yield Step(
            id=placed_step(f"{block}.{part.local}"),
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


def _short(word: str) -> str:
    """A strip's name as it stands in a step's title."""
    return word.removeprefix("the ").removesuffix(" strip")


def _metal(seat: Seat) -> Metal:
    return ("strip", seat.board, seat.side, seat.column)


def steps(here: Study, plan: BoardPlan | None = None) -> tuple[Step, ...]:
    """All steps; none where the design lies above 30 V AC or 60 V DC, or something is not joined yet."""
    if here.design.supply.walled or here.open:
        return ()
    return tuple(Building(here, plan).steps())
