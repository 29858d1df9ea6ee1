"""How a part lies on the board, in words: its seats, its legs in order, which way it faces."""

from __future__ import annotations

from ..stages.contract import Placed
from ..stages.contract.descriptions import StepSeat
from .boards import Seat
from .layout import BoardWire, Placing

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
    "w": "wiper",
    "p": "+ input",
    "m": "− input",
    "vee": "0 V",
    "vcc": "supply",
    "-": "−",
}
COIL = {"a": "coil", "b": "coil"}
ENDS = {"a": "one lead", "b": "the other lead"}
TRIMMER = {"a": "one end", "w": "wiper", "b": "other end"}
PIN = {"out": "output", "ref": "0 V"}
BRIDGE = {"p": "+", "n": "−", "a": "~", "b": "~"}
MINUS = 1e-6  # a capacitor from this size on is taken to have a plus and a minus [F]


def names(kind: str) -> dict[str, str]:
    """What the legs of a kind of part are called."""
    plain = dict.fromkeys(("load", "fuse", "board"), ENDS) | {
        "transformer": {"+": "one end", "-": "the other"}
    }
    own = {"relay": COIL, "potentiometer": TRIMMER, "bridge": BRIDGE, "pin": PIN, **plain}.get(kind, {})
    return FULL | own


def seats_of(placing: Placing, part: Placed | None) -> tuple[StepSeat, ...]:
    """Each leg by its name, with its seat."""
    if placing.shape == "chip":
        return tuple(
            StepSeat(leg=f"{k}", seat=leg.seat.word) for k, leg in enumerate(placing.legs, 1) if leg.net
        )
    if placing.kind in ("resistor", "load", "fuse", "button", "capacitor") and not _polar(placing, part):
        return tuple(StepSeat(leg="", seat=leg.seat.word) for leg in placing.legs)
    called = names(placing.kind) | ({"a": "+", "b": "−"} if placing.kind == "capacitor" else {})
    return tuple(StepSeat(leg=called.get(leg.leg, leg.leg), seat=leg.seat.word) for leg in placing.legs)


def _polar(placing: Placing, part: Placed | None) -> bool:
    return placing.kind == "capacitor" and part is not None and bool(part.card and part.card.legs)


def lies(placing: Placing, part: Placed) -> tuple[str, str]:
    """A step's title and what to do, for a part that has its seats."""
    seats = [leg.seat for leg in placing.legs]
    if placing.shape == "two":
        return _two(placing, part, seats)
    if placing.shape == "chip":
        return _chip(placing, part, seats)
    if placing.shape == "button":
        pairs = f"{seats[0].word} and {seats[1].word}, and {seats[2].word} and {seats[3].word}"
        return (
            f"{placing.ref}, over the gap at {seats[0].column} and {seats[2].column}",
            f"{part.title}: its pairs in {pairs}. The two legs of a pair are joined inside for good: find "
            "them with the meter first.",
        )
    if placing.shape == "leads":
        ends = ", ".join(
            f"{names(placing.kind).get(leg.leg, leg.leg)} to {leg.seat.word}" for leg in placing.legs
        )
        words = ", ".join(dict.fromkeys(s.word for s in seats))
        return f"{placing.ref}, leads to {words}", f"{part.title}: {ends}. It stays off the board."
    return _row(placing, part, seats)


def _two(placing: Placing, part: Placed, seats: list[Seat]) -> tuple[str, str]:
    a, b = seats
    value = f", {placing.label}" if placing.label and placing.kind in ("resistor", "capacitor") else ""
    if {leg.leg for leg in placing.legs} == {"a", "k"}:
        by = {leg.leg: leg.seat for leg in placing.legs}
        long = "long leg" if placing.kind == "led" else "other end"
        mark = "flat side" if placing.kind == "led" else "band"
        return (
            f"{placing.ref}: {mark} at {by['k'].word}, {long} at {by['a'].word}",
            f"{part.title}: its {mark} (cathode) in {by['k'].word}, its {long} (anode) in {by['a'].word}.",
        )
    more = f" {part.wiring}" if part.wiring else ""
    if _polar(placing, part):
        more = f" Its striped side is minus and goes in {b.word}."
    return (
        f"{placing.ref}{value}: {a.word} to {b.word}",
        f"{part.title}: {a.word} to {b.word}.{more or ' Either way round.'}",
    )


def _row(placing: Placing, part: Placed, seats: list[Seat]) -> tuple[str, str]:
    called = names(placing.kind)
    order = ", ".join(f"{called.get(leg.leg, leg.leg)} in {leg.seat.word}" for leg in placing.legs)
    face = part.card.face if part.card is not None and part.card.face else ""
    if face and seats[0].column > seats[-1].column:
        face = face.replace("towards you", "away from you")
    facing = f"{face[0].upper()}{face[1:]}: " if face else ""
    warn = " Yours may differ: check its sheet or find the legs with the meter." if part.card else ""
    title = ", ".join(called.get(leg.leg, leg.leg) for leg in placing.legs)
    return (
        f"{placing.ref}: {title} in {seats[0].word} to {seats[-1].word}",
        f"{part.title}. {facing}{order}.{warn}",
    )


def _chip(placing: Placing, part: Placed, seats: list[Seat]) -> tuple[str, str]:
    half = len(seats) // 2
    where = "to the right" if seats[0].row == "e" else "to the left"
    return (
        f"{placing.ref}, over the gap: pin 1 in {seats[0].word}",
        f"{part.title}. Notch {where}: pins 1 to {half} in {seats[0].word} to {seats[half - 1].word}, pins "
        f"{half + 1} to {2 * half} in {seats[half].word} to {seats[-1].word}. Yours may differ: check its "
        "sheet.",
    )


def short(seat: Seat) -> str:
    """A seat within an id: "14d", "2.14d", "top+14"."""
    board = f"{seat.board}." if seat.board > 1 else ""
    if seat.rail:
        return f"{board}{'top' if seat.side == 0 else 'bottom'}{seat.rail}{seat.column}"
    return f"{board}{seat.column}{seat.row}"


def placed_step(part: str) -> str:
    """The step that puts a part on the board."""
    return f"{part}.place"


def out_step(what: str) -> str:
    """The step that takes a part or a wire out again."""
    return f"out.{what}"[:60]


def wire_id(link: BoardWire) -> str:
    """A wire's step: where it ends is what it is."""
    return f"wire.{short(link.a)}-{short(link.b)}"
