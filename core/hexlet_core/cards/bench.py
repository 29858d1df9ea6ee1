"""A card's model, measured the way a data sheet measures: what the card says against what the model gives
back, and its curve.

Every number comes from the simulated part on a simulated bench: current sources, voltage sources, one
operating point each.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from ..circuit.devices import Bipolar, CurrentSource, Device, Diode, Mosfet, VoltageSource
from ..circuit.netlist import Netlist
from ..circuit.solve import operating_point
from ..circuit.waves import Solution
from ..fields import Document
from ..quantity import show
from ..roots import root
from . import derive
from .card import BipolarCard, Card, DiodeCard, FieldEffectCard, LedCard, ZenerCard

WITHIN = 0.1  # a model gives a card's number back within a tenth


class Back(Document):
    """One number of the card beside what the model gives: `off` is the relative difference."""

    title: str
    says: str
    at: str
    gives: str
    off: float
    within: bool


class CardCurve(Document):
    """A curve of the model, with the card's own points on it. Axes may be logarithmic."""

    title: str
    x_title: str
    x_unit: str
    y_title: str
    y_unit: str
    x_log: bool
    y_log: bool
    lines: tuple[tuple[str, tuple[tuple[float, float], ...]], ...]
    points: tuple[tuple[float, float, str], ...]


def _point(*devices: Device) -> Solution:
    return operating_point(Netlist.of(devices))


def _back(title: str, said: float, got: float, unit: str, at: str) -> Back:
    off = got / said - 1 if said else 0.0
    return Back(
        title=title, says=show(said, unit), at=at, gives=show(got, unit), off=off, within=abs(off) <= WITHIN
    )


def _fed(device: Diode, current: float) -> float:
    """A diode's volts at a current [V]."""
    return _point(CurrentSource(name="I", a="0", b="x", value=current), device)["x"]


def _forward(rule: Callable[[], dict[str, object]]) -> Diode:
    return Diode(name="D", a="x", k="0", **rule())  # type: ignore[arg-type]


def _sat(card: BipolarCard, current: float, gain: float) -> Solution:
    """A transistor with I_C and I_B fed in, turned so that a PNP reads like an NPN."""
    sign = 1.0 if card.kind == "npn" else -1.0
    q = Bipolar(name="Q", c="c", b="b", e="0", **derive.bipolar(card))
    return _point(
        CurrentSource(name="C", a="0", b="c", value=sign * current),
        CurrentSource(name="B", a="0", b="b", value=sign * current / gain),
        q,
    )


def _on(card: FieldEffectCard, v_gs: float, current: float) -> float:
    """On-resistance at a gate voltage and a current [Ω]."""
    sign = 1.0 if card.kind == "n_mosfet" else -1.0
    q = Mosfet(name="Q", g="g", d="d", s="0", **derive.mosfet(card))
    at = _point(
        VoltageSource(name="G", a="g", b="0", value=sign * v_gs),
        CurrentSource(name="D", a="0", b="d", value=sign * current),
        q,
    )
    return abs(at["d"]) / current


def _threshold(card: FieldEffectCard) -> float:
    """The voltage of gate joined to drain at the threshold's current [V]."""
    sign = 1.0 if card.kind == "n_mosfet" else -1.0
    q = Mosfet(name="Q", g="d", d="d", s="0", **derive.mosfet(card))
    return abs(_point(CurrentSource(name="D", a="0", b="d", value=sign * card.threshold_current), q)["d"])


def given_back(card: Card) -> tuple[Back, ...]:
    """The card's numbers, each measured on its model; empty where a kind has nothing to measure."""
    match card:
        case ZenerCard():
            q = Diode(name="D", a="0", k="x", **derive.zener(card))
            volts = _fed(q, card.test_current)
            slope = (_fed(q, card.test_current * 1.05) - _fed(q, card.test_current * 0.95)) / (
                0.1 * card.test_current
            )
            at = f"at {show(card.test_current, 'A')}"
            return (_back("V_{Z}", card.voltage, volts, "V", at), _back("Z", card.impedance, slope, "Ω", at))
        case DiodeCard():
            return tuple(
                _back(
                    "V_{F}",
                    p.voltage,
                    _fed(_forward(lambda: derive.diode(card)), p.current),
                    "V",
                    f"at {show(p.current, 'A')}",
                )
                for p in card.forward
            )
        case LedCard():
            p = card.forward
            return (
                _back(
                    "V_{F}",
                    p.voltage,
                    _fed(_forward(lambda: derive.led(card)), p.current),
                    "V",
                    f"at {show(p.current, 'A')}",
                ),
            )
        case BipolarCard():
            at = f"at {show(card.sat_collector, 'A')} / {show(card.sat_base, 'A')}"
            sat = _sat(card, card.sat_collector, card.sat_collector / card.sat_base)
            return (
                _back("V_{CE(sat)}", card.v_ce_sat, abs(sat["c"]), "V", at),
                _back("V_{BE(sat)}", card.v_be_sat, abs(sat["b"]), "V", at),
                _back(
                    "V_{BE}",
                    card.v_be_on,
                    _active(card, card.v_be_on_at, 1.0)[1],
                    "V",
                    f"at {show(card.v_be_on_at, 'A')}, 1 V",
                ),
                _back(
                    "h_{FE}", card.gain, gain_at(card, card.gain_at), "", f"at {show(card.gain_at, 'A')}, 1 V"
                ),
            )
        case FieldEffectCard():
            body = Diode(
                name="D",
                a="x",
                k="0",
                **{k: v for k, v in derive.mosfet(card).items() if k in ("i_s", "ideality")},
            )
            return (
                _back(
                    "V_{GS(th)}",
                    card.threshold,
                    _threshold(card),
                    "V",
                    f"at {show(card.threshold_current, 'A')}",
                ),
                *(
                    _back(
                        "R_{DS(on)}",
                        p.resistance,
                        _on(card, p.v_gs, p.current),
                        "Ω",
                        f"at {show(p.v_gs, 'V')}, {show(p.current, 'A')}",
                    )
                    for p in card.on
                ),
                _back(
                    "Body diode",
                    card.body.voltage,
                    _fed(body, card.body.current),
                    "V",
                    f"at {show(card.body.current, 'A')}",
                ),
            )
        case _:
            return ()


def _active(card: BipolarCard, current: float, volts: float) -> tuple[float, float]:
    """The base current [A] that makes a collector current flow with some volts across, and V_BE there [V]."""
    sign = 1.0 if card.kind == "npn" else -1.0
    q = Bipolar(name="Q", c="c", b="b", e="0", **derive.bipolar(card))

    def at(log_base: float) -> Solution:
        base = CurrentSource(name="B", a="0", b="b", value=sign * math.exp(log_base))
        return _point(VoltageSource(name="C", a="c", b="0", value=sign * volts), base, q)

    found = root(
        lambda x: abs(at(x).current("Q", "c")) - current,
        math.log(current / 1e5),
        math.log(current),
        share=1e-9,
    )
    return math.exp(found), abs(at(found)["b"])


def gain_at(card: BipolarCard, current: float, volts: float = 1.0) -> float:
    """I_C/I_B with some volts across it."""
    return current / _active(card, current, volts)[0]


def _diode_of(card: DiodeCard | LedCard | ZenerCard) -> tuple[Diode, float, list[tuple[float, float]]]:
    """The model, the largest current, and the card's own points as (V, A)."""
    match card:
        case LedCard():
            return (
                _forward(lambda: derive.led(card)),
                card.current,
                [(card.forward.voltage, card.forward.current)],
            )
        case DiodeCard():
            return (
                _forward(lambda: derive.diode(card)),
                card.current,
                [(p.voltage, p.current) for p in card.forward],
            )
        case ZenerCard():
            return (
                Diode(name="D", a="0", k="x", **derive.zener(card)),
                card.power / card.voltage,
                [(card.voltage, card.test_current)],
            )


def curve(card: Card) -> CardCurve | None:
    """The curve a person looks up for this kind of part, from the model; None for kinds without one."""
    match card:
        case BipolarCard():
            amps = np.geomspace(card.current / 1000, card.current, 25)
            lines = []
            for gain in (10.0, 20.0):
                pairs = [(float(i), abs(_sat(card, float(i), gain)["c"])) for i in amps]
                lines.append((f"gain forced to {gain:g}", tuple(p for p in pairs if p[1] < 5)))
            return CardCurve(
                title="V_{CE(sat)} over I_{C}",
                x_title="I_{C}",
                x_unit="A",
                y_title="V_{CE(sat)}",
                y_unit="V",
                x_log=True,
                y_log=False,
                lines=tuple(lines),
                points=((card.sat_collector, card.v_ce_sat, "card"),),
            )
        case FieldEffectCard():
            volts = np.linspace(card.threshold * 1.15, max(card.lowest_on.v_gs * 1.6, 10.0), 40)
            test = min(card.on[0].current, card.current / 2)
            pairs = [(float(v), _on(card, float(v), test)) for v in volts]
            worst = card.on[0].resistance * 30
            line = tuple(p for p in pairs if p[1] < worst)
            return CardCurve(
                title="R_{DS(on)} over V_{GS}",
                x_title="V_{GS}",
                x_unit="V",
                y_title="R_{DS(on)}",
                y_unit="Ω",
                x_log=False,
                y_log=True,
                lines=(("typical", line),),
                points=tuple((p.v_gs, p.resistance, "card") for p in card.on),
            )
        case DiodeCard() | LedCard() | ZenerCard():
            device, top, marks = _diode_of(card)
            line = tuple((_fed(device, float(i)), float(i)) for i in np.geomspace(top / 1e5, top, 40))
            points = tuple((volts_at, amps_at, "card") for volts_at, amps_at in marks)
            name = "Z" if isinstance(card, ZenerCard) else "F"
            return CardCurve(
                title=f"I_{{{name}}} over V_{{{name}}}",
                x_title=f"V_{{{name}}}",
                x_unit="V",
                y_title=f"I_{{{name}}}",
                y_unit="A",
                x_log=False,
                y_log=True,
                lines=(("typical", line),),
                points=points,
            )
        case _:
            return None
