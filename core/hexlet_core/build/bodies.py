"""What a board has to carry: each part as a body with legs on nets, what stays off the board, and how that is
wired.

Loads, relays, switches and the supply stand beside the board and come in by leads. What carries more than a
strip may, and the circuit of a relay's contact, is wired at the parts themselves and touches no strip.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

from ..circuit.netlist import GROUND
from ..design.document import SUPPLY
from ..design.study import Study
from ..errors import Problem
from ..quantity import show
from ..stages.contract import Demand, Open, Placed, Site, Switch

STRIP_LIMIT = 1.0  # what a board's springs carry [A]
WIDEST = 20  # legs of a chip whose rows are three pitches apart

Shape = Literal["chip", "button", "inline", "two", "leads"]
SHAPES: dict[str, Shape] = {
    **dict.fromkeys(("timer", "counter", "comparator", "optocoupler"), "chip"),
    **dict.fromkeys(("npn", "pnp", "n_mosfet", "p_mosfet", "thyristor", "potentiometer", "bridge"), "inline"),
    **dict.fromkeys(("resistor", "capacitor", "diode", "zener", "led"), "two"),
    "button": "button",
}
LOOSE = ("barrier",)  # no part at all
TRIMMED = ("a", "w", "b")  # a trimmer's legs, from the left
# What a card calls a leg, where the circuit calls it otherwise: a second one of a name follows the first.
CALLED: dict[str, dict[str, tuple[str, ...]]] = {
    "bridge": {"+": ("p",), "-": ("n",), "~": ("a", "b")},
    "capacitor": {"+": ("a",), "-": ("b",)},
}
CONTACTS = ("com", "no", "nc")
CONTROLS = ("g", "b")  # of a switch: they carry no load
HELD = ("diode", "zener", "n_mosfet", "p_mosfet", "fuse")  # guards' parts that carry a load's current


@dataclass(frozen=True)
class Reach:
    """How far apart two legs may sit [pitches]: lying from `low` to `high`, standing from `least`."""

    least: int
    low: int
    high: int


REACH: dict[str, Reach] = {
    "resistor": Reach(2, 4, 7),
    "diode": Reach(3, 3, 7),
    "zener": Reach(3, 3, 7),
    "led": Reach(1, 1, 3),
    "capacitor": Reach(1, 1, 3),
}


@dataclass(frozen=True)
class Leg:
    """One leg: its name, and the net it belongs to; none where it stays unconnected."""

    name: str
    net: str = ""


@dataclass(frozen=True)
class BoardPart:
    """One part as the board sees it.

    `legs` run as the part lies: a chip's by pin, a row's from the left of its marked face, a button's as the
    pair of its first contact and the pair of its second.
    """

    key: str
    ref: str
    block: str
    kind: str
    shape: Shape
    legs: tuple[Leg, ...]
    label: str = ""
    path: str = ""

    @property
    def reach(self) -> Reach:
        return REACH[self.kind]

    @property
    def nets(self) -> frozenset[str]:
        return frozenset(leg.net for leg in self.legs if leg.net)


@dataclass(frozen=True)
class LooseNet:
    """Leads that meet off the board: a net, and the legs on it."""

    net: str
    ends: tuple[tuple[str, str], ...]  # a body's key and its leg


@dataclass(frozen=True)
class Wanted:
    """All that a plan has to do: bodies in the order they are built, rails by polarity, what meets off the
    board.
    """

    bodies: tuple[BoardPart, ...]
    rails: Mapping[str, str]  # "+" and "0" to their nets
    joints: tuple[LooseNet, ...] = ()
    heavy: frozenset[str] = frozenset()  # keys of parts whose current no strip may carry
    problems: tuple[Problem, ...] = field(default=())
    refs: Mapping[str, str] = field(default_factory=dict)  # of every part, by key

    @cached_property
    def of(self) -> dict[str, BoardPart]:
        return {body.key: body for body in self.bodies}

    @cached_property
    def polarity(self) -> dict[str, str]:
        """A rail's net to "+" or "0"."""
        return {net: sign for sign, net in self.rails.items()}

    @cached_property
    def nets(self) -> tuple[str, ...]:
        """Every net that the board carries, in the order in which the bodies need them."""
        return tuple(dict.fromkeys(leg.net for body in self.bodies for leg in body.legs if leg.net))


class _Gathering:
    """One study's parts turned into bodies."""

    def __init__(self, here: Study) -> None:
        self.here = here
        rail = here.design.rail.partition(".")[0]
        plus = here.flow.net(rail, "plus")
        self.rails = {} if here.design.supply.ac else {"0": GROUND, "+": plus}
        self.rail_nets = frozenset(self.rails.values())
        self.supply = {"+": here.flow.net(SUPPLY, "plus"), "-": here.flow.net(SUPPLY, "zero")}
        self.problems: list[Problem] = []
        self.loaded: set[str] = set()  # the nets of loads that take more than a strip carries
        self.heavy = self._heavy()

    # --- parts ----------------------------------------------------------------------------------------
    def bodies(self) -> Iterator[BoardPart]:
        """Every part, a string of several as so many."""
        for block, ref, part in self.here.placed:
            if part.kind in LOOSE:
                continue
            body = self._body(block, ref, part)
            if body is not None:
                yield from _string(body, part.count)

    def _body(self, block: str, ref: str, part: Placed) -> BoardPart | None:
        key, flow = f"{block}.{part.local}", self.here.flow
        nets = {name: flow.net(block, net) for name, net in part.legs.items()}
        shape: Shape = SHAPES.get(part.kind, "leads")
        if not part.on_board or not part.listed or key in self.heavy or {"nc"} & set(nets):
            shape = "leads"
        path = f"blocks.{block}.{part.field or part.local}"
        legs = tuple(Leg(name, net) for name, net in nets.items())
        if shape == "button":
            legs = tuple(leg for leg in legs for _ in range(2))
        elif shape in ("chip", "inline"):
            found = self._ordered(ref, path, part, nets)
            if found is None:
                return None
            legs = found
        return BoardPart(
            key=key,
            ref=ref,
            block=block,
            kind=part.kind,
            shape=shape,
            legs=legs,
            label=part.mark or part.value,
            path=path,
        )

    def _ordered(self, ref: str, path: str, part: Placed, nets: dict[str, str]) -> tuple[Leg, ...] | None:
        """The legs in their card's order."""
        order = part.card.legs if part.card is not None and part.card.legs else ()
        if part.kind == "potentiometer" and not order:
            order = TRIMMED
        if not order:
            self._refuse(path, f"{ref}: its card gives no leg order. Add the legs to the card in the drawer.")
            return None
        called = {name: list(own) for name, own in CALLED.get(part.kind, {}).items()}
        names = [called[name].pop(0) if called.get(name) else name for name in order]
        missing = sorted(set(nets) - set(names))
        if missing:
            self._refuse(
                path,
                f"{ref}: the circuit uses its leg “{missing[0]}”, which is not among the {len(order)} legs "
                f"of its card ({', '.join(order)}). Mend the card's leg order.",
            )
            return None
        if SHAPES[part.kind] == "chip" and (len(order) % 2 or len(order) > WIDEST):
            self._refuse(
                path,
                f"{ref}: a chip of {len(order)} legs does not straddle the gap, which takes two rows of up "
                f"to {WIDEST // 2}. Use an adapter, or another part.",
            )
            return None
        return tuple(Leg(name, nets.get(name, "")) for name in names)

    def _refuse(self, path: str, text: str) -> None:
        self.problems.append(Problem(path, text))

    # --- what a strip may not carry ---------------------------------------------------------------------
    def _heavy(self) -> frozenset[str]:
        """The parts that carry more than a strip may."""
        drives = (site for _, site in self.here.of_role("drive") if taken(self.here, site) > STRIP_LIMIT)
        return frozenset(key for site in drives for key in self._path(site))

    def _path(self, site: Site) -> set[str]:
        """The load, its switch, and the guards' parts that lie in its path or across it."""
        here = self.here
        try:
            switch = here.flow.leaving((site.id, "out"))
        except Open:
            return set()
        ref = switch.ref if isinstance(switch, Switch) else ""
        behind = here.behind(site.id)
        of = {(block, part.local): (r, part) for block, r, part in here.placed}
        own = {k for k, (r, _) in of.items() if r == ref}
        loads = {k for k, _ in of.items() if k[0] in behind and here.flow.stage(k[0]).role == "load"}
        self.loaded |= {n for k in loads for n in self._carrying(k[0], of[k][1])} - self.rail_nets
        nets = {n for k in own | loads for n in self._carrying(k[0], of[k][1])} | self.rail_nets
        nets |= {self.supply["+"]}
        guards = {
            k
            for k, (_, part) in of.items()
            if here.flow.stage(k[0]).role == "guard"
            and part.kind in HELD
            and set(self._carrying(k[0], part)) <= nets
        }
        return {f"{block}.{local}" for block, local in own | loads | guards}

    def _carrying(self, block: str, part: Placed) -> Iterator[str]:
        """The nets of the legs that a load's current runs through."""
        control = CONTROLS if part.kind.endswith("mosfet") or part.kind in ("npn", "pnp") else ()
        for name, net in part.legs.items():
            coil = part.kind == "relay" and not name.startswith(CONTACTS)
            if name not in control and not coil:
                yield self.here.flow.net(block, net)

    # --- what comes in by leads -------------------------------------------------------------------------
    def wanted(self) -> Wanted:
        """The bodies, those off the board with only the legs that have a lead to it."""
        bodies = [*self.bodies(), self._supply()]
        nets = {n for b in bodies if b.shape != "leads" for n in b.nets}
        fed = set(nets)  # what the board has, and so the supply has to bring to it
        kept: list[BoardPart] = []
        ends: dict[str, list[tuple[str, str]]] = {}
        for body in bodies:
            if body.shape != "leads":
                kept.append(body)
                continue
            legs: list[Leg] = []
            for group in _groups(body):
                inside = self._inside(body, group, nets)
                for leg in group:
                    if inside and (leg.net in fed or (leg.net in self.rail_nets and body.key != SUPPLY)):
                        legs.append(leg)
                        fed.add(leg.net)
                    else:
                        ends.setdefault(leg.net, []).append((body.key, leg.name))
            kept.append(replace(body, legs=tuple(legs)))
        joints = self._joints(kept, bodies, ends, fed)
        return Wanted(
            bodies=tuple(b for b in joints[1] if b.legs),
            rails=self.rails,
            joints=joints[0],
            heavy=self.heavy,
            problems=tuple(self.problems),
            refs={b.key: b.ref for b in bodies},
        )

    def _inside(self, body: BoardPart, group: list[Leg], nets: set[str]) -> bool:
        """Whether a part's path has to do with the board at all."""
        if body.key == SUPPLY:
            return True
        if body.key in self.heavy and self._carries(body, group):
            return False
        return any(leg.net in nets and leg.net not in self.rail_nets for leg in group)

    def _carries(self, body: BoardPart, group: list[Leg]) -> bool:
        """Whether a heavy load's current runs through this path of a part: a relay's coil has none of it."""
        if body.kind == "relay":
            return any(leg.net in self.loaded for leg in group)
        return not (SHAPES.get(body.kind) == "inline" and all(leg.name in CONTROLS for leg in group))

    def _joints(
        self,
        kept: list[BoardPart],
        every: list[BoardPart],
        ends: dict[str, list[tuple[str, str]]],
        fed: set[str],
    ) -> tuple[tuple[LooseNet, ...], list[BoardPart]]:
        """What meets off the board; where the board is on the same net, one of its legs has a lead to it."""
        joints: list[LooseNet] = []
        for net, found in ends.items():
            led = [(b.key, leg.name) for b in kept if b.shape == "leads" for leg in b.legs if leg.net == net]
            led.sort(key=lambda e: e[0] != SUPPLY)
            ahead: list[tuple[str, str]] = led[:1]
            if not led and net in fed:
                kept = [_with_lead(b, found[0], net) for b in kept]
                if not any(b.key == found[0][0] for b in kept):
                    kept.append(replace(_by_key(every, found[0][0]), legs=(Leg(found[0][1], net),)))
            if len({*ahead, *found}) > 1:
                joints.append(LooseNet(net, (*ahead, *(e for e in found if e not in ahead))))
        return tuple(joints), kept

    def _supply(self) -> BoardPart:
        supply = self.here.design.supply
        legs = tuple(Leg(sign, net) for sign, net in self.supply.items())
        word = "AC" if supply.ac else f"{show(supply.typical, 'V')}"
        kind = "transformer" if supply.ac else "supply"
        return BoardPart(SUPPLY, supply.word.capitalize(), SUPPLY, kind, "leads", legs, label=word)


def _by_key(bodies: Iterable[BoardPart], key: str) -> BoardPart:
    return next(b for b in bodies if b.key == key)


def _with_lead(body: BoardPart, end: tuple[str, str], net: str) -> BoardPart:
    return replace(body, legs=(*body.legs, Leg(end[1], net))) if body.key == end[0] else body


def _groups(body: BoardPart) -> Iterator[list[Leg]]:
    """A part's legs by path: a relay's coil and each of its contacts, a switch's control."""
    by: dict[str, list[Leg]] = {}
    for leg in body.legs:
        name = leg.name.rstrip("0123456789")
        path = ""
        if body.kind == "relay" and name in CONTACTS:
            path = f"contact{leg.name[len(name) :]}"
        elif SHAPES.get(body.kind) == "inline" and leg.name in CONTROLS:
            path = "control"
        by.setdefault(path, []).append(leg)
    yield from by.values()


def _string(body: BoardPart, count: int) -> Iterator[BoardPart]:
    """So many of a part in a row, each on to the next."""
    if count == 1:
        yield body
        return
    first, last = body.legs
    nets = [first.net, *(f"{body.key}~{k}" for k in range(1, count)), last.net]
    for k in range(count):
        yield replace(
            body,
            key=f"{body.key}.{k + 1}",
            ref=f"{body.ref}.{k + 1}",
            legs=(Leg(first.name, nets[k]), Leg(last.name, nets[k + 1])),
        )


def taken(here: Study, site: Site) -> float:
    """The most that a drive's loads take for good [A]."""
    rail = here.design.supply.as_rail()
    try:
        return sum(f.most(rail.high) for f in here.flow.seen(site.id, "out") if isinstance(f, Demand))
    except Open:
        return 0.0


def wanted(here: Study) -> Wanted:
    """What a design's board has to carry. Above the wall, or while something is not joined, nothing."""
    if here.design.supply.walled or here.open:
        return Wanted((), {})
    return _Gathering(here).wanted()
