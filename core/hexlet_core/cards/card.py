"""Part cards: a part's datasheet numbers, and nothing that is not on the sheet.

A card says what a part is; `derive` computes what the simulation needs from it.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, TypeAdapter, model_validator

from ..circuit.devices.relay import MOST_HENRIES
from ..fields import Document, Q
from ..quantity import show

Volt = Annotated[float, Q("V", 1e-3, 1e5)]
Amp = Annotated[float, Q("A", 1e-12, 1e4)]
Watt = Annotated[float, Q("W", 1e-3, 1e4)]
Ohm = Annotated[float, Q("Ω", 1e-4, 1e9)]
Farad = Annotated[float, Q("F", 1e-14, 10.0)]
Coulomb = Annotated[float, Q("C", 1e-13, 1e-3)]
KelvinPerWatt = Annotated[float, Q("K/W", 0.1, 2000.0)]
Share = Annotated[float, Q("", 0.0, 2.0)]
Tolerance = Annotated[float, Q("", 0.0, 0.9)]
Apart = Annotated[float, Q("V", 0.0, 1.0)]  # between parts of one kind, either way
Gain = Annotated[float, Q("", 1.0, 1e5)]
CardId = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9.\-]{0,59}$")]


class Card(Document):
    """What every card has. `legs` is the order seen from the marked face; `price` is in coins of
    no country.
    """

    id: CardId
    title: Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)]
    legs: tuple[str, ...] = ()
    face: str = ""
    price: Annotated[float, Q("", 0.0, 1e5)] = 0.0
    package: Annotated[str, StringConstraints(max_length=40)] = ""

    @property
    def brief(self) -> str:
        """What it stands, in a few words."""
        return ""


class ResistorCard(Card):
    kind: Literal["resistor"] = "resistor"
    value: Ohm
    tolerance: Tolerance = 0.05
    power: Watt = 0.25


class CapacitorCard(Card):
    kind: Literal["capacitor"] = "capacitor"
    value: Farad
    tolerance: Tolerance = 0.2
    voltage: Volt
    dielectric: Literal["film", "ceramic", "electrolytic", "tantalum"] = "ceramic"
    esr: Ohm | None = None

    @property
    def brief(self) -> str:
        return f"{show(self.value, 'F')}, {show(self.voltage, 'V')}"


class ForwardPoint(Document):
    """A forward voltage [V] at a current [A]."""

    current: Amp
    voltage: Annotated[float, Q("V", 0.05, 10.0)]


class DiodeCard(Card):
    kind: Literal["diode"] = "diode"
    schottky: bool = False
    forward: Annotated[tuple[ForwardPoint, ...], Field(min_length=1, max_length=2)]
    current: Amp
    surge: Amp
    reverse: Volt
    leakage: Amp = 5e-6
    capacitance: Farad = 2e-11
    r_th: KelvinPerWatt = 100.0
    forward_spread: Apart = 0.05

    def volts_near(self, current: float) -> float:
        """The card's forward voltage at the point nearest to a current by ratio [V]."""
        return min(self.forward, key=lambda p: abs(math.log(p.current / max(current, 1e-9)))).voltage

    @property
    def brief(self) -> str:
        return f"{show(self.reverse, 'V')}, {show(self.current, 'A')}"


class ZenerCard(Card):
    kind: Literal["zener"] = "zener"
    voltage: Annotated[float, Q("V", 1.0, 400.0)]
    tolerance: Tolerance = 0.05
    test_current: Amp
    impedance: Ohm
    power: Watt
    forward: ForwardPoint = ForwardPoint(current=0.1, voltage=0.9)
    capacitance: Farad = 1e-10
    drift: Annotated[float, Q("V/K", -0.1, 0.1)] | None = None  # of a reference: as good as none

    @property
    def brief(self) -> str:
        return show(self.voltage, "V")


class GainPoint(Document):
    """A current gain at a collector current [A]."""

    current: Amp
    gain: Gain


class BipolarCard(Card):
    """What NPN and PNP share; voltages and currents without their signs.

    `gain_far` is the typical gain at a high current, `gain_low` that at a low one; `v_be_on` is the
    typical V_BE at a
    small collector current, `v_be_on_at`.
    """

    kind: Literal["npn", "pnp"]
    v_ceo: Volt
    v_ebo: Volt = 5.0
    current: Amp
    base_current: Amp = 0.05
    gain_min: Gain
    gain: Gain
    gain_max: Gain
    gain_at: Amp
    gain_far: GainPoint | None = None
    gain_low: GainPoint | None = None
    v_be_on: Annotated[float, Q("V", 0.3, 1.5)] = 0.65
    v_be_on_at: Amp = 1e-3
    v_ce_sat: Annotated[float, Q("V", 0.02, 5.0)]
    v_be_sat: Annotated[float, Q("V", 0.4, 2.0)]
    v_be_min: Annotated[float, Q("V", 0.3, 1.0)] = 0.6
    sat_collector: Amp
    sat_base: Amp
    leakage: Amp = 1e-7
    power: Watt
    r_th: KelvinPerWatt
    t_j_max: Annotated[float, Q("°C", 60.0, 250.0)] = 150.0

    @property
    def brief(self) -> str:
        return f"{show(self.v_ceo, 'V')}, {show(self.current, 'A')}"

    @model_validator(mode="after")
    def _possible(self) -> BipolarCard:
        if not self.gain_min <= self.gain <= self.gain_max:
            raise ValueError(
                "The gain must rise from minimum over typical to maximum. Check the three numbers."
            )
        if self.v_ce_sat >= self.v_be_sat:
            raise ValueError(
                "A saturated transistor has less voltage across it than at its base. Check VCE(sat) and "
                "VBE(sat)."
            )
        if self.sat_collector / self.sat_base >= self.gain:
            raise ValueError(
                "VCE(sat) is given where this gain would not saturate. Check the two test currents."
            )
        if self.gain_low and (self.gain_low.gain >= self.gain or self.gain_low.current >= self.gain_at):
            raise ValueError("At a lower current the gain is lower. Check the low gain and its current.")
        if self.v_be_on_at >= self.sat_collector:
            raise ValueError(
                "VBE when just on is that at a small current. Make its current less than that of VBE(sat)."
            )
        if self.gain_far and (self.gain_far.gain >= self.gain or self.gain_far.current <= self.gain_at):
            raise ValueError("At a higher current the gain is lower. Check the far gain and its current.")
        return self


class NpnCard(BipolarCard):
    kind: Literal["npn"] = "npn"


class PnpCard(BipolarCard):
    kind: Literal["pnp"] = "pnp"


class OnPoint(Document):
    """An on-resistance [Ω] promised at a gate voltage [V], measured at a current [A]."""

    v_gs: Annotated[float, Q("V", 0.5, 30.0)]
    resistance: Ohm
    current: Amp


class FieldEffectCard(Card):
    """What N- and P-channel share; voltages and currents without their signs."""

    kind: Literal["n_mosfet", "p_mosfet"]
    v_ds: Volt
    v_gs_max: Volt = 20.0
    threshold_min: Annotated[float, Q("V", 0.2, 10.0)]
    threshold: Annotated[float, Q("V", 0.2, 10.0)]
    threshold_max: Annotated[float, Q("V", 0.2, 10.0)]
    threshold_current: Amp = 2.5e-4
    on: Annotated[tuple[OnPoint, ...], Field(min_length=1, max_length=4)]
    current: Amp
    current_hot: Amp
    c_iss: Farad
    c_rss: Farad
    c_oss: Farad
    q_gd: Coulomb
    gate_leakage: Amp = 1e-7
    body: ForwardPoint
    avalanche_rated: bool = False
    avalanche_energy: Annotated[float, Q("J", 0.0, 10.0)] = 0.0
    power: Watt
    r_th: KelvinPerWatt
    t_j_max: Annotated[float, Q("°C", 60.0, 250.0)] = 150.0

    @property
    def brief(self) -> str:
        return f"{show(self.lowest_on.resistance, 'Ω')} at {show(self.lowest_on.v_gs, 'V')}"

    @model_validator(mode="after")
    def _possible(self) -> FieldEffectCard:
        if not self.threshold_min <= self.threshold <= self.threshold_max:
            raise ValueError(
                "The threshold must rise from minimum over typical to maximum. Check the three numbers."
            )
        points = sorted(self.on, key=lambda p: p.v_gs)
        if any(b.resistance > a.resistance for a, b in pairwise(points)):
            raise ValueError("The on-resistance must not rise with the gate voltage. Check the points.")
        if points[0].v_gs <= self.threshold:
            raise ValueError(
                "An on-resistance is given below the threshold. VGS(th) is where it begins, not where it is "
                "on."
            )
        if not self.c_rss < min(self.c_iss, self.c_oss):
            raise ValueError(
                "Crss is part of both Ciss and Coss, so it must be the smallest. Check the three "
                "capacitances."
            )
        return self

    @property
    def lowest_on(self) -> OnPoint:
        """The lowest gate voltage at which an on-resistance is promised."""
        return min(self.on, key=lambda p: p.v_gs)

    def promised_on(self, v_gs: float) -> OnPoint | None:
        """The best promise that holds at a gate voltage, or None below the lowest."""
        reached = [p for p in self.on if p.v_gs <= v_gs * (1 + 1e-9)]
        return max(reached, key=lambda p: p.v_gs) if reached else None


class MosfetCard(FieldEffectCard):
    kind: Literal["n_mosfet"] = "n_mosfet"


class PMosfetCard(FieldEffectCard):
    kind: Literal["p_mosfet"] = "p_mosfet"


class ContactRating(Document):
    """What a contact may carry, make and break for one type of load, and the least that keeps it clean."""

    volts: Volt
    run: Amp
    make: Amp
    least: Amp = 0.1
    volts_ac: Volt | None = None


def coil_henries(time_constant: float, resistance: float) -> float:
    """A coil's inductance [H].

    Raises:
        ValueError: more than a coil can have.
    """
    if time_constant * resistance > MOST_HENRIES:
        most = show(MOST_HENRIES / resistance, "s")
        raise ValueError(
            f"With {show(resistance, 'Ω')} that is a coil of more than {MOST_HENRIES:g} H. Take at most "
            f"{most}, or check the resistance."
        )
    return time_constant * resistance


class RelayCard(Card):
    kind: Literal["relay"] = "relay"
    rated: Annotated[float, Q("V", 1.0, 500.0)]
    coil: Annotated[float, Q("Ω", 1.0, 1e6)]
    coil_tolerance: Tolerance = 0.1
    pull_in: Share = 0.75
    must_hold: Share = 0.5
    must_release: Share = 0.1
    coil_max: Share = 1.3
    time_constant: Annotated[float, Q("s", 1e-5, 1.0)] = 4.7e-3
    operate: Annotated[float, Q("s", 1e-5, 1.0)] = 3e-3
    release: Annotated[float, Q("s", 1e-5, 1.0)] = 1.3e-3
    form: Literal["SPST-NO", "SPST-NC", "SPDT", "DPDT"] = "SPDT"
    contact_resistance: Ohm = 0.05
    ratings: dict[Literal["resistive", "motor", "lamp", "signal"], ContactRating]

    @model_validator(mode="after")
    def _possible(self) -> RelayCard:
        if not 0.0 < self.must_release < self.pull_in:
            raise ValueError(
                "A relay has let go at less than it pulls in at, and not at nothing. Check must-release and "
                "pull-in."
            )
        coil_henries(self.time_constant, self.coil)
        return self

    @property
    def brief(self) -> str:
        return f"{show(self.rated, 'V')}, {show(self.coil, 'Ω')}"


class PotentiometerCard(Card):
    kind: Literal["potentiometer"] = "potentiometer"
    value: Ohm
    tolerance: Tolerance = 0.2
    end_resistance: Ohm = 2.0
    turns: Annotated[int, Field(ge=1, le=40)] = 1
    power: Watt = 0.1


class LedCard(Card):
    kind: Literal["led"] = "led"
    colour: Annotated[str, StringConstraints(max_length=20)]
    forward: ForwardPoint
    current: Amp
    reverse: Volt = 5.0
    forward_spread: Apart = 0.15

    @property
    def brief(self) -> str:
        return self.colour


class ThyristorCard(Card):
    kind: Literal["thyristor"] = "thyristor"
    voltage: Volt
    current: Amp
    gate_current: Amp
    gate_voltage: Annotated[float, Q("V", 0.3, 3.0)] = 0.7
    holding: Amp
    on: ForwardPoint

    @model_validator(mode="after")
    def _possible(self) -> ThyristorCard:
        if self.holding <= 1.2 * self.gate_current:
            raise ValueError("The holding current must be well above the gate current. Check the two.")
        return self


class OptocouplerCard(Card):
    kind: Literal["optocoupler"] = "optocoupler"
    led: ForwardPoint
    led_current: Amp
    transfer_min: Annotated[float, Q("", 0.01, 100.0)]
    transfer: Annotated[float, Q("", 0.01, 100.0)]
    transfer_max: Annotated[float, Q("", 0.01, 100.0)]
    transfer_at: Amp
    saturation: ForwardPoint
    saturation_led: Amp
    speed: Annotated[float, Q("s", 1e-9, 1e-3)] = 4e-6
    v_ceo: Volt = 35.0
    isolation: Volt = 2500.0

    @property
    def brief(self) -> str:
        return f"transfer {self.transfer_min:g} or more"


class FuseCard(Card):
    """`melting` is I²t before it opens; `resistance` cold."""

    kind: Literal["fuse"] = "fuse"
    current: Amp
    volts: Volt = 32.0
    slow: bool = False
    melting: Annotated[float, Q("A²s", 1e-6, 1e6)]
    resistance: Ohm = 0.05

    @property
    def brief(self) -> str:
        return f"{show(self.current, 'A')}{' slow' if self.slow else ''}"


class BridgeCard(Card):
    """Four rectifiers in one body; `forward` is of one of them."""

    kind: Literal["bridge"] = "bridge"
    forward: ForwardPoint
    current: Amp
    surge: Amp
    reverse: Volt
    r_th: KelvinPerWatt = 40.0

    @property
    def brief(self) -> str:
        return f"{show(self.reverse, 'V')}, {show(self.current, 'A')}"


class LampCard(Card):
    kind: Literal["lamp"] = "lamp"
    volts: Volt
    watts: Watt
    cold: Annotated[float, Q("Ω", 1e-3, 1e5)] | None = None  # a tenth of the hot resistance when left out

    @model_validator(mode="after")
    def _possible(self) -> LampCard:
        if self.cold is not None and self.cold > 0.5 * self.volts**2 / self.watts:
            raise ValueError(
                "A cold filament has far less resistance than a hot one. Check the cold resistance."
            )
        return self


class MotorCard(Card):
    kind: Literal["motor"] = "motor"
    volts: Volt
    running: Amp
    stall: Amp
    inductance: Annotated[float, Q("H", 1e-7, 10.0)] = 1e-3
    spin_up: Annotated[float, Q("s", 1e-4, 100.0)] = 0.1


class ModuleCard(Card):
    kind: Literal["module"] = "module"
    volts: Volt
    current: Amp
    capacitance: Farad = 1e-4
    starts: Volt
    stops: Volt


class BuzzerCard(Card):
    kind: Literal["buzzer"] = "buzzer"
    volts: Volt
    current: Amp
    sounds: Volt


class DropPoint(Document):
    """A voltage lost [V] at an output current [A]."""

    current: Annotated[float, Q("A", 0.0, 10.0)]
    drop: Annotated[float, Q("V", 0.0, 10.0)]


class TimerCard(Card):
    kind: Literal["timer"] = "timer"
    cmos: bool = False
    supply_min: Volt
    supply_max: Volt
    high: Annotated[tuple[DropPoint, DropPoint], Field()]
    low: DropPoint
    discharge: DropPoint
    output: Amp
    threshold_tolerance: Tolerance = 0.02
    threshold_bias: Annotated[float, Q("A", 0.0, 1e-4)] = 1e-7
    trigger_bias: Annotated[float, Q("A", 0.0, 1e-4)] = 5e-7
    quiescent: Amp
    spike: Annotated[float, Q("A", 0.0, 2.0)] = 0.0
    shortest_pulse: Annotated[float, Q("s", 0.0, 1e-3)] = 1e-7


class CounterCard(Card):
    kind: Literal["counter"] = "counter"
    supply_min: Volt
    supply_max: Volt
    stages: Annotated[int, Field(ge=1, le=24)]
    taps: tuple[int, ...]
    output: DropPoint
    quiescent: Amp = 1e-6


class ComparatorCard(Card):
    kind: Literal["comparator"] = "comparator"
    open_collector: bool = False
    supply_min: Volt
    supply_max: Volt
    drop_high: DropPoint
    drop_low: DropPoint
    offset: Annotated[float, Q("V", 0.0, 0.1)] = 3e-3
    gain: Annotated[float, Q("", 10.0, 1e7)] = 1e5
    bias: Annotated[float, Q("A", 0.0, 1e-4)] = 5e-8
    response: Annotated[float, Q("s", 1e-9, 1e-3)] = 1e-6
    quiescent: Amp = 1e-3


AnyCard = Annotated[
    ResistorCard
    | CapacitorCard
    | PotentiometerCard
    | DiodeCard
    | ZenerCard
    | LedCard
    | NpnCard
    | PnpCard
    | MosfetCard
    | PMosfetCard
    | FuseCard
    | BridgeCard
    | ThyristorCard
    | OptocouplerCard
    | RelayCard
    | LampCard
    | MotorCard
    | ModuleCard
    | BuzzerCard
    | TimerCard
    | CounterCard
    | ComparatorCard,
    Field(discriminator="kind"),
]
CARD_ADAPTER: TypeAdapter[AnyCard] = TypeAdapter(AnyCard)
