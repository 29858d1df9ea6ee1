"""Two transistors that hold each other on: an NPN whose collector is a PNP's base, and the other way round.

Formulas: the charge-control equations of `cards.points.junctions` at either transistor, with what the two
resistors across their emitter junctions take. Conduction holds while the current is more than both resistors
take and the gains make up for: β_n·(β_p·I_b − V/R_gk) ≥ I_b + V/R_ag.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ...cards.card import BipolarCard, ThyristorCard
from ...cards.derive import thyristor
from ...cards.points import junctions
from ...circuit.devices.base import thermal_voltage
from ...circuit.devices.heat import ROOM
from ...roots import root

JUNCTION = 0.62  # of a transistor that just conducts [V]
FALLEN = 0.5  # share of its gain that a transistor has at currents as small as those that just hold


@dataclass(frozen=True)
class Pair:
    """An NPN at 0 V and a PNP at the anode; `r_gate` across the first one's emitter junction, `r_anode`
    across the other one's [Ω].
    """

    npn: BipolarCard
    pnp: BipolarCard
    r_gate: float
    r_anode: float

    @property
    def breakdown(self) -> float:
        return min(self.npn.v_ceo, self.pnp.v_ceo)

    @property
    def current(self) -> float:
        """What both stand: all of it leaves by the NPN's emitter [A]."""
        return min(self.npn.current, self.pnp.current)

    def split(self, amps: float) -> tuple[float, float, float]:
        """The PNP's base current, the NPN's base current [A] and the volts across both, ordinary parts."""
        above, below = JUNCTION / self.r_anode, JUNCTION / self.r_gate
        spare = amps - above - below
        if spare <= 0.0:
            return 0.0, 0.0, math.inf

        def volts(i_p: float) -> tuple[float, float]:
            i_n = max(spare - i_p, 1e-12)
            p = junctions(self.pnp, i_n + below, i_p)
            n = junctions(self.npn, i_p + above, i_n)
            return p.v_be + n.v_ce, n.v_be + p.v_ce

        def apart(i_p: float) -> float:
            one, other = volts(i_p)
            return one - other

        low, high = 1e-6 * spare, (1 - 1e-6) * spare
        i_p = root(apart, low, high) if apart(low) < 0.0 < apart(high) else spare / 2
        return i_p, spare - i_p, volts(i_p)[0]

    def volts(self, amps: float) -> float:
        """Across both, ordinary parts [V]."""
        return self.split(amps)[2] if amps > 2 * self.holding else 2 * JUNCTION

    @property
    def worst(self) -> float:
        """The most across both [V]: the cards' saturation volts."""
        return self.pnp.v_be_sat + self.npn.v_ce_sat

    @property
    def holding(self) -> float:
        """The least current that holds, parts of the least gain [A]."""
        n, p = self.npn.gain_min * FALLEN, self.pnp.gain_min * FALLEN
        above, below = JUNCTION / self.r_anode, JUNCTION / self.r_gate
        base = (above + n * below) / max(n * p - 1, 1e-3)
        return above + base * (1 + p)

    @property
    def triggers(self) -> float:
        """The gate current that surely turns it on [A]."""
        return JUNCTION / self.r_gate * 1.2 + 1e-4

    def heat(self, amps: float, volts: float) -> float:
        """The heat of the warmer one at a current and so many volts across both [W]: the NPN, from whose
        emitter all of it leaves.
        """
        i_p, i_n, _ = self.split(amps)
        v_ce = max(volts - self.pnp.v_be_min, 0.05)
        return i_p * v_ce + i_n * self.npn.v_be_sat


@dataclass(frozen=True)
class Single:
    """A thyristor with a resistor from gate to cathode [Ω]."""

    card: ThyristorCard
    r_gate: float

    @property
    def breakdown(self) -> float:
        return self.card.voltage

    @property
    def current(self) -> float:
        return self.card.current

    def volts(self, amps: float) -> float:
        model = thyristor(self.card)
        inner = thermal_voltage(ROOM) * math.log(max(amps, 1e-6) / float(model["i_s"])) + 0.03
        return inner + float(model["r_on"]) * amps

    @property
    def worst(self) -> float:
        return 1.15 * self.card.on.voltage

    @property
    def holding(self) -> float:
        """The card's own, and what the resistor takes of it [A]."""
        return self.card.holding + self.card.gate_voltage / self.r_gate

    @property
    def triggers(self) -> float:
        return self.card.gate_current + self.card.gate_voltage / self.r_gate


Held = Pair | Single
