"""A mistake at a step, told electrically: what it joins and leaves apart, what the circuit then does, and
whether something may be harmed.

The plan with the mistake is read back like any other; the circuit is put together anew from what its metal
really joins, and worked out at rest in every state, on the full supply.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from ..circuit.devices import Device, Motor, Relay, Resistor
from ..circuit.netlist import GROUND, Netlist
from ..circuit.solve import operating_point, transient
from ..circuit.waves import Solution
from ..design.circuit import acted, device_of, supply_source
from ..design.document import SUPPLY
from ..design.study import Study
from ..errors import DocumentError, HexletError
from ..fields import Document
from ..quantity import show
from ..stages.contract import Act, Command, Corner, Placed
from ..stages.drawing import SUPPLY_REF
from ..stages.say.checks import RANK, Standing
from .bodies import LOOSE, Wanted, wanted
from .joined import Metal
from .layout import BoardPlan, Placing
from .lying import names
from .moving import moved
from .proof import Finding, Reading, proof

LEAK = 1e12  # from every strip to 0 V: what floats has some level [Ω]
QUARTER = 0.25  # what a usual resistor stands [W]
SHORTED, SHORT_AMPS = 5.0, 1.0  # times its usual current, and at least so much, is a short of the supply [A]
LET_GO, AFTER = 0.1, 0.02  # when a coil is let go, and how long it is then watched [s]
LIT = 0.3  # between an LED that is lit and one that is not [V]
ON = 0.5  # share of the supply from which a load is on
POLAR = ("diode", "zener", "led", "npn", "pnp", "n_mosfet", "p_mosfet", "thyristor", "timer", "counter")


class Mistake(Document):
    """One thing that may have gone wrong at a step, and what comes of it; `standing` is "fails" where
    something may be harmed, "tight" where it does not work, "fits" where nothing comes of it.
    """

    title: str
    standing: Standing
    does: tuple[str, ...]
    harms: tuple[str, ...]


@dataclass(frozen=True)
class _Seen:
    """A circuit at rest in one state."""

    point: Solution
    node: Mapping[tuple[str, str], str]  # of a part's leg


@dataclass(frozen=True)
class _Usual:
    """The circuit as it should be in every state, and the most that anything bears in any."""

    states: Mapping[tuple[Act, ...], _Seen]
    drawn: float  # from the supply [A]
    borne: Mapping[tuple[str, str], float]  # by a part's reference and the words for it
    stressed: frozenset[tuple[str, str]]  # devices past a limit of theirs, and which


def mistakes(here: Study, plan: BoardPlan, key: str) -> tuple[Mistake, ...]:
    """What may go wrong with a part of a plan, or with one of its wires ("w3"), the worst first."""
    what, usual = wanted(here), _usual(here, plan)
    found = [_told(here, title, then, what, usual) for title, then in _tries(plan, key)]
    return tuple(sorted(found, key=lambda m: RANK[m.standing]))


def _tries(plan: BoardPlan, key: str) -> Iterator[tuple[str, BoardPlan]]:
    """Each likely mistake with the plan that it makes."""
    if key.startswith("w") and key[1:].isdigit() and int(key[1:]) < len(plan.links):
        k = int(key[1:])
        yield (
            "The wire is left out",
            plan.model_copy(update={"links": (*plan.links[:k], *plan.links[k + 1 :])}),
        )
        return
    placing = plan.of.get(key)
    if placing is None:
        return
    called = names(placing.kind)
    for k, leg in enumerate(placing.legs):
        if not leg.net or (placing.shape == "button" and k % 2):
            continue
        word = (
            called.get(leg.leg, leg.leg) if placing.kind not in ("resistor", "capacitor") else f"leg {k + 1}"
        )
        its = f"{word[0].upper()}{word[1:]}" if word.startswith(("one ", "the ")) else f"Its {word}"
        yield f"{its} makes no contact", _without(plan, placing, k)
        if placing.shape in ("two", "leads") and not leg.seat.rail:
            for step, side in ((-1, "left"), (1, "right")):
                yield from _moved(plan, key, f"{its} one position to the {side}", along=step, leg=k)
        if leg.seat.rail:
            across = {"+top": 1, "0top": -1, "0bottom": 1, "+bottom": -1}[leg.seat.row]
            yield from _moved(plan, key, f"{its} on the other rail", rows=across, leg=k)
    if placing.shape in ("inline", "chip", "button"):
        for step, side in ((-1, "left"), (1, "right")):
            yield from _moved(plan, key, f"One position to the {side}", along=step)
    if placing.kind in POLAR:
        yield from _moved(plan, key, "The wrong way round", turned=True)


def _moved(plan: BoardPlan, key: str, title: str, **how: Any) -> Iterator[tuple[str, BoardPlan]]:
    try:
        yield title, moved(plan, key, **how)
    except DocumentError:  # it would lie beside the board
        return


def _without(plan: BoardPlan, placing: Placing, leg: int) -> BoardPlan:
    """A plan in which one leg is in the air; a button's pair goes together. What is left counts as leads."""
    pair = {leg, leg + 1} if placing.shape == "button" else {leg}
    legs = tuple(x for k, x in enumerate(placing.legs) if k not in pair)
    then = placing.model_copy(update={"legs": legs, "shape": "leads"})
    return plan.model_copy(update={"placings": tuple(then if p is placing else p for p in plan.placings)})


# --- the circuit as it is built ---------------------------------------------------------------------------
def as_built(here: Study, plan: BoardPlan, corner: Corner) -> tuple[Netlist, dict[tuple[str, str], str]]:
    """The circuit that a plan's metal makes, and the node of every leg; a leg in the air has a node of its
    own.
    """
    reading = Reading(plan)
    metal = {(part, leg): found for part, leg, found in reading.legs()}
    ground = metal.get((SUPPLY, "-"))
    if ground is None:  # the supply's minus meets nothing but the rail
        ground = next((m for (p, leg), m in metal.items() if _net(here, p, leg) == GROUND), ("none",))
    numbers: dict[Metal, str] = {ground: GROUND}

    def node(part: str, leg: str) -> str:
        at = metal.get((part, leg), ("air", part, leg))
        return numbers.setdefault(at, f"m{len(numbers)}")

    of: dict[tuple[str, str], str] = {}
    plus = node(SUPPLY, "+")
    devices: list[Device] = [supply_source(here.design, corner, plus, GROUND)]
    for block, _, part in here.placed:
        key = f"{block}.{part.local}"
        if part.kind not in LOOSE:
            legs = {t: node(*_end(key, part, t)) for t in part.legs}
            of |= {(key, t): n for t, n in legs.items()}
            devices.append(device_of(here.flow, block, part, corner, legs))
    nodes = {n for d in devices for n in d.nodes().values()} - {GROUND}
    devices += [Resistor(name=f"LEAK{n}", a=n, b=GROUND, resistance=LEAK) for n in sorted(nodes)]
    return Netlist.of(devices), of


def _end(key: str, part: Placed, terminal: str) -> tuple[str, str]:
    """Where a terminal is: of a string of parts, at its first or its last."""
    if part.count == 1:
        return key, terminal
    first = terminal == next(iter(part.legs))
    return f"{key}.{1 if first else part.count}", terminal


def _net(here: Study, part: str, leg: str) -> str:
    block, _, local = part.partition(".")
    found = next((p for b, _, p in here.placed if b == block and p.local == local), None)
    return here.flow.net(block, found.legs[leg]) if found is not None and leg in found.legs else ""


def _full(here: Study) -> Corner:
    return Corner(supply=here.design.supply.high)


def _states(here: Study, circuit: Netlist, of: Mapping[tuple[str, str], str]) -> dict[tuple[Act, ...], _Seen]:
    """A circuit at rest, idle and with each actor doing something, on the full supply."""
    found: dict[tuple[Act, ...], _Seen] = {}
    for acts in here.combinations:
        try:
            found[acts] = _Seen(operating_point(acted(circuit, here.flow, _full(here), acts)), of)
        except HexletError:
            continue  # what has no state at rest is not told
    return found


def _usual(here: Study, plan: BoardPlan) -> _Usual:
    states = _states(here, *as_built(here, plan, _full(here)))
    borne: dict[tuple[str, str], float] = {}
    for seen in states.values():
        for ref, words, value, _, _ in _strained(here, seen):
            borne[ref, words] = max(value, borne.get((ref, words), 0.0))
    return _Usual(
        states,
        drawn=max((_drawn(seen) for seen in states.values()), default=0.0),
        borne=borne,
        stressed=frozenset((s.device, s.what) for u in states.values() for s in u.point.waves.stresses()),
    )


# --- what comes of it ---------------------------------------------------------------------------------------
def _told(here: Study, title: str, plan: BoardPlan, what: Wanted, usual: _Usual) -> Mistake:
    joins = [_words(f) for f in proof(plan, what) if f.electrical]
    circuit, of = as_built(here, plan, _full(here))
    now = _states(here, circuit, of)
    harms = list(dict.fromkeys(h for seen in now.values() for h in _harms(here, usual, seen)))
    kicks = _kicks(here, circuit, of) if joins else []
    harms += [text for harmed, text in kicks if harmed]
    does = [text for harmed, text in kicks if not harmed]
    for acts, seen in now.items():
        if acts in usual.states:
            does += _loads(here, acts, usual.states[acts], seen)
    if joins and not does and not harms:
        does.append("The load does the same at rest; what is wrong shows later, or only at the meter.")
    standing: Standing = "fails" if harms else "tight" if joins else "fits"
    return Mistake(
        title=title,
        standing=standing,
        does=(*joins[:2], *dict.fromkeys(does[:3])) or ("Nothing: it is the same circuit.",),
        harms=tuple(harms[:3]),
    )


def _words(finding: Finding) -> str:
    return finding.text.replace(": its leg ", " ").replace("has no seat", "is in the air")


def _kicks(here: Study, circuit: Netlist, of: Mapping[tuple[str, str], str]) -> list[tuple[bool, str]]:
    """Switches that break down when a coil that was on is let go, and whether that harms them."""
    if not any(p.device in (Relay, Motor) for _, _, p in here.placed) or not here.actors:
        return []
    who = next(b for b, ref, _ in here.placed if ref in here.actors)
    acts = (Act(who, "active"), Act(who, "idle", at=LET_GO))
    try:
        waves = transient(acted(circuit, here.flow, _full(here), acts), LET_GO + AFTER)
    except HexletError:
        return []
    found = []
    for block, ref, part in here.placed:
        limit, (a, b) = _breaks(part)
        key = f"{block}.{part.local}"
        if limit is not None and float(abs(waves[of[key, a]] - waves[of[key, b]]).max()) >= limit:
            rated = getattr(part.card, "avalanche_rated", False)
            ends = "which it is rated to take" if rated else "which nothing softens"
            found.append(
                (not rated, f"{ref} breaks down at {show(limit, 'V')} as the coil is let go, {ends}.")
            )
    return found


def _breaks(part: Placed) -> tuple[float | None, tuple[str, str]]:
    """The voltage that a switch stands, and between which of its legs."""
    card: Any = part.card
    if card is not None and part.kind in ("npn", "pnp"):
        return card.v_ceo, ("c", "e")
    if card is not None and part.kind in ("n_mosfet", "p_mosfet"):
        return card.v_ds, ("d", "s")
    return None, ("", "")


def _between(seen: _Seen, key: str, a: str, b: str) -> float:
    return seen.point[seen.node[key, a]] - seen.point[seen.node[key, b]]


def _loads(here: Study, acts: tuple[Act, ...], was: _Seen, seen: _Seen) -> Iterator[str]:
    """Loads that are on where they should be off, or the other way about."""
    for block, ref, part in here.placed:
        key = f"{block}.{part.local}"
        if here.flow.stage(block).role != "load" or part.kind not in ("load", "relay", "led"):
            continue
        ends = list(part.legs)[:2]
        before, after = (abs(_between(s, key, ends[0], ends[1])) for s in (was, seen))
        full = here.design.supply.high
        when = "with its signal given" if acts else "at rest"
        if part.kind == "led" and abs(before - after) > LIT:
            yield f"{ref} is {'lit' if after > before else 'dark'} {when}."
        elif part.kind != "led" and (before > ON * full) != (after > ON * full):
            on, volts = after > ON * full, show(round(after, 1), "V")
            yield f"{ref} is {'on' if on else 'off'} {when}: {volts} at it."


def _harms(here: Study, usual: _Usual, seen: _Seen) -> Iterator[str]:
    """What is driven past what it stands, and is not in any state of the plan as it should be."""
    drawn = _drawn(seen)
    if drawn > max(SHORTED * usual.drawn, SHORT_AMPS):
        yield f"The supply is shorted: {show(drawn, 'A', 2)} until its limit or a fuse acts."
    for ref, words, value, limit, unit in _strained(here, seen):
        if value > limit >= usual.borne.get((ref, words), 0.0):
            yield f"{ref} {words} {show(value, unit, 2)}; it stands {show(limit, unit, 2)}."
    for stress in seen.point.waves.stresses():
        if (stress.device, stress.what) not in usual.stressed:
            stands, reached = show(stress.limit, "V", 2), show(stress.reached, "V", 2)
            ref = stress.device.partition(".")[0]
            yield f"{ref} gets {reached} at its {stress.what}; it stands {stands}."


def _drawn(seen: _Seen) -> float:
    return abs(seen.point.current(SUPPLY_REF, "a"))


def _strained(here: Study, seen: _Seen) -> Iterator[tuple[str, str, float, float, str]]:
    """What each part bears against what it stands: its reference, words, value, limit, unit."""
    for block, ref, part in here.placed:
        if part.kind not in LOOSE:
            for words, value, limit, unit in _bears(here, block, ref, part, seen.point):
                yield ref, words, value, limit, unit


def _bears(
    here: Study, block: str, ref: str, part: Placed, point: Solution
) -> Iterator[tuple[str, float, float, str]]:
    card: Any = part.card
    if part.ohms is not None:
        yield "takes", point.power(ref), QUARTER, "W"
    elif part.kind == "pin":
        command = next((f for f in here.flow.seen(block, "out") if isinstance(f, Command)), None)
        if command is not None:
            yield "carries", abs(point.current(ref, "out")), command.burst, "A"
    elif card is not None and part.kind in ("npn", "pnp", "n_mosfet", "p_mosfet", "zener"):
        yield "takes", abs(point.power(ref)), card.power, "W"
        if part.kind in ("npn", "pnp"):
            yield "has at its base", abs(point.current(ref, "b")), card.base_current, "A"
    elif card is not None and part.kind in ("diode", "led"):
        yield "carries", abs(point.current(ref, "a")), card.current, "A"
