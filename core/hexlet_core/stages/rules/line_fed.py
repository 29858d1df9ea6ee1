"""A gate's supply taken from an alternating line: a diode, a resistor, a zener and a capacitor that holds it
up.

Feed current over a half wave: i(t) = (V·√2·sin − V_Z − V_D)/R while positive; its mean charges the capacitor,
its square heats R. One half wave in two feeds it from the line, both behind a bridge.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ...cards.card import CapacitorCard, MosfetCard, ZenerCard
from ...quantity import show
from ..contract.facts import Rail
from ..say.checks import Check, check, high, low, when

KEEP_ALIVE = 1e-4  # what the zener wants at least to hold its voltage [A]
JUNCTION = 0.7  # of the feed's diode and of each of the bridge's in the feed's way [V]


@dataclass(frozen=True)
class LineFed:
    """The supply of `mosfet`'s gate, which takes V_Z/`r_pull` through an optocoupler that keeps `sat` [V]."""

    rail: Rail
    mosfet: MosfetCard
    zener: ZenerCard
    hold: CapacitorCard
    r_feed: float
    r_pull: float
    sat: float
    tolerance: float
    feed_watts: float
    feed_volts: float
    start_within: float
    halves: int = 1  # half waves of two that feed it

    def through(self, volts: float, held: float) -> tuple[float, float]:
        """Mean current [A] and mean heat [W] of the feed resistor at a line of `volts` rms, into `held`
        [V].
        """
        angle = np.linspace(0.0, math.pi, 2001)
        i = np.maximum(volts * math.sqrt(2) * np.sin(angle) - held - self._junctions, 0.0) / self.r_feed
        share = self.halves / (2 * math.pi)
        return float(np.trapezoid(i, angle) * share), float(np.trapezoid(i * i, angle) * share * self.r_feed)

    @property
    def _junctions(self) -> float:
        """What its own diode and one of the bridge's for each side it goes through keep [V]."""
        return JUNCTION * (1 + self.halves)

    @property
    def needs(self) -> float:
        """Volts of the supply at which the gate has what it is promised at [V]."""
        return self.mosfet.lowest_on.v_gs + self.sat

    @property
    def top(self) -> float:
        """Its highest [V]."""
        return self.zener.voltage * (1 + self.zener.tolerance)

    @property
    def takes(self) -> float:
        """What the gate's side takes while it is on [A]."""
        return self.zener.voltage / self.r_pull

    def lasts(self) -> float:
        """How long the capacitor alone keeps the gate up [s]."""
        farads = self.hold.value * (1 - self.hold.tolerance)
        return farads * max(self.zener.voltage - self.needs, 0.0) / self.takes

    def checks(self) -> Iterator[Check]:
        """Level, current, heat, volts, ripple and start."""
        zener, mosfet, hold = self.zener, self.mosfet, self.hold
        frequency = self.rail.frequency or 50.0
        droop = self.takes / (self.halves * frequency) / hold.value
        level = zener.voltage - self.sat
        need = mosfet.lowest_on.v_gs
        yield check(
            "fully_on",
            "Gate voltage",
            "need",
            "turns on",
            unit="V",
            nominal=level - droop,
            worst=level * (1 - zener.tolerance) - droop,
            least=need,
            digits=4,
            at=when("zener at its lowest, between two charges"),
            says=f"Needs {show(need, 'V')}, gets {show(level - droop, 'V')}.",
            formula="V_{gate} = V_{Z} − V_{CE,sat} − droop",
            numbers=f"= {zener.voltage:.3g} − {self.sat:.3g} − {show(droop, 'V')}",
            because="Below the promised gate voltage the MOSFET heats at every crest.",
            cure="Take a higher zener, or a MOSFET promised at a lower gate voltage.",
        )
        yield check(
            "gate_max",
            "Gate voltage, highest",
            "limit",
            "level",
            unit="V",
            nominal=zener.voltage,
            worst=self.top,
            most=mosfet.v_gs_max,
            at=when("zener at its highest"),
            says=f"{show(self.top, 'V')} of {show(mosfet.v_gs_max, 'V')} across the gate.",
            formula="V_{Z,max} ≤ V_{GS,max}",
            numbers=f"{self.top:.3g} ≤ {mosfet.v_gs_max:.3g}",
            because="A gate's oxide breaks down once and for all.",
            cure="Take a lower zener.",
        )
        yield from self._feed_checks()
        left = max(zener.voltage * (1 - zener.tolerance) - self.needs, 0.01)
        yield check(
            "gate_ripple",
            "Ripple of the gate's supply",
            "need",
            "level",
            unit="V",
            nominal=droop,
            worst=droop / (1 - hold.tolerance),
            most=left,
            at=when("between two charges"),
            says=f"Falls {show(droop, 'V')} each period.",
            formula="ΔV = I / (f · C)",
            numbers=f"= {show(self.takes, 'A')} / ({self.halves * frequency:g} Hz · {show(hold.value, 'F')})",
            because="It is charged " + ("twice" if self.halves == 2 else "once") + " a period.",
            cure="Take a bigger capacitor, or a higher pull-down.",
        )
        mean = self.through(self.rail.low, self.needs / 2)[0]
        starts = hold.value * self.needs / mean if mean > 0 else 1e3
        yield check(
            "gate_start",
            "Gate's supply is up in",
            "wish",
            "time",
            unit="s",
            nominal=starts,
            worst=starts * (1 + hold.tolerance),
            most=self.start_within,
            at=low("just plugged in"),
            says=f"{show(starts, 's')} of {show(self.start_within, 's')}; until then it cannot switch on.",
            formula="t = C · V / I",
            numbers=f"= {show(hold.value, 'F')} · {self.needs:.3g} / {show(mean, 'A')}",
            because="An empty capacitor is filled by the feed's mean current.",
            cure="Lower the feed resistor, or take a smaller capacitor.",
            wish="start_within",
        )
        yield check(
            "hold_volts",
            "Gate capacitor's volts",
            "limit",
            "volts",
            unit="V",
            nominal=self.top,
            most=hold.voltage,
            at=when("zener at its highest"),
            says=f"{show(self.top, 'V')} of {show(hold.voltage, 'V')}. Stripe to the bridge's minus.",
            formula="V_{Z,max} ≤ V_{rated}",
            numbers=f"{self.top:.3g} ≤ {hold.voltage:.3g}",
            because="An electrolytic over its volts bursts.",
            cure="Take a capacitor for more volts.",
        )

    def _feed_checks(self) -> Iterator[Check]:
        """The feed resistor and the zener it charges."""
        zener, rail = self.zener, self.rail
        comes = self.through(rail.low, zener.voltage)[0]
        most, heat = self.through(rail.high, zener.voltage)
        yield check(
            "feed_current",
            "Feed covers what the gate takes",
            "need",
            "turns on",
            unit="A",
            nominal=comes,
            worst=comes / (1 + self.tolerance),
            least=self.takes + KEEP_ALIVE,
            at=low("both half waves" if self.halves == 2 else "one half wave of two"),
            says=f"{show(comes, 'A')} come in, {show(self.takes + KEEP_ALIVE, 'A')} are taken.",
            formula="mean of (V·√2·sin − V_{Z})/R over a half wave ≥ V_{Z}/R_{pull} + I_{Z}",
            numbers=f"R = {show(self.r_feed, 'Ω')}: {show(comes, 'A')}",
            because=(
                "Both half waves feed it, but only while the line is above the zener."
                if self.halves == 2
                else "Only one half wave feeds it, and only while the line is above the zener."
            ),
            cure="Lower the feed resistor, or raise the pull-down.",
        )
        yield check(
            "feed_heat",
            "Heat in the feed resistor",
            "limit",
            "wall",
            unit="W",
            nominal=heat,
            worst=heat / (1 - self.tolerance),
            most=self.feed_watts,
            at=high("resistor at its lowest"),
            says=f"{show(heat, 'W')} of {show(self.feed_watts, 'W')}.",
            formula="P = mean of i^2·R",
            numbers=f"= {show(heat, 'W')}",
            because="The resistor drops almost the whole line.",
            cure="Raise the feed resistor, or take one for more watts.",
        )
        across = rail.high * math.sqrt(2) - zener.voltage
        yield check(
            "feed_volts",
            "Volts across the feed resistor",
            "limit",
            "wall",
            unit="V",
            nominal=across,
            worst=1.1 * across,
            most=self.feed_volts,
            at=high("line's crest, a tenth more"),
            says=f"{show(1.1 * across, 'V')} of {show(self.feed_volts, 'V')}.",
            formula="V = √2·V_{rms} − V_{Z}",
            numbers=f"= {rail.high * math.sqrt(2):.3g} − {zener.voltage:.3g}",
            because="A resistor has a voltage rating of its own, whatever its watts: a small body arcs over.",
            cure="Put two or three resistors in series, or take one rated for the volts.",
        )
        watts = max(most - self.takes, 0.0) * zener.voltage
        yield check(
            "zener_heat",
            "Heat in the zener",
            "limit",
            "heat",
            unit="W",
            nominal=watts,
            most=zener.power,
            at=high("gate off"),
            says=f"{show(watts, 'W')} of {show(zener.power, 'W')}.",
            formula="P = V_{Z} · (I_{feed} − I_{gate})",
            numbers=f"= {zener.voltage:.3g} · {show(most, 'A')}",
            because="What the gate does not take, the zener does.",
            cure="Raise the feed resistor.",
        )
