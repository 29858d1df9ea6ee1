"""How the output of a P-MOSFET comes up whose gate is pulled slowly: its two capacitors' charges, integrated.

C_GS·dV_GS/dt + C_rate·dV_out/dt = (V − V_GS)/R_drive − V_GS/R_pull and C_load·dV_out/dt = I_D(V_GS, V_DS) −
V_out/R_load. The steady rate I_gate/C_rate is what it tends to: with a large gate capacitor it never gets
there, for V_GS must rise on the way.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from ...cards.card import FieldEffectCard
from ...cards.points import channel_amps

LEAST = 1e-7  # of a load's capacitor, so that its volts follow within some microseconds [F]
LONG = 12.0  # time constants of the gate after which all is over
BRIEF = 1e-9  # no rise is told shorter [s]
LOW, HIGH = 0.1, 0.9  # of the supply: the rise is told between these, made whole


class Rise(NamedTuple):
    """The most that flows through the switch [A], how long the output rises, and how long before it
    begins [s]; no end of either where it never comes up.
    """

    peak: float
    seconds: float
    delay: float


@lru_cache(256)
def comes_up(
    card: FieldEffectCard,
    volts: float,
    drive: float,
    pull: float,
    c_gate: float,
    c_rate: float,
    c_load: float,
    ohms: float,
    shift: float = 0.0,
) -> Rise:
    """A supply [V], the gate's resistors [Ω] and capacitors [F], the load as a capacitor [F] and a resistance
    [Ω]; the threshold off by `shift` [V]. The card's own capacitances are added.
    """
    from scipy.integrate import solve_ivp  # half a second that only those wait for who start softly

    c_gs, c_gd, farads = c_gate + card.c_iss, c_rate + card.c_rss, max(c_load, LEAST)

    def through(v_gs: float, v_out: float) -> float:
        return channel_amps(card, v_gs, max(volts - v_out, 0.0), shift)

    def slopes(_: float, y: np.ndarray[tuple[int], np.dtype[np.float64]]) -> list[float]:
        v_gs, v_out = float(y[0]), float(y[1])
        rises = (through(v_gs, v_out) - v_out / ohms) / farads
        fed = (volts - v_gs) / drive - v_gs / pull
        return [(fed - c_gd * rises) / c_gs, rises]

    tau = (c_gs + c_gd) * drive * pull / (drive + pull)
    found = solve_ivp(
        slopes, (0.0, LONG * tau), (0.0, 0.0), method="LSODA", rtol=1e-5, atol=1e-6, max_step=tau / 8
    )
    time, v_gs, v_out = found.t, found.y[0], found.y[1]
    flows = [through(g, o) for g, o in zip(v_gs, v_out, strict=True)]
    if v_out[-1] < HIGH * volts:
        return Rise(float(max(flows)), math.inf, math.inf)
    begin, end = (float(np.interp(s * volts, v_out, time)) for s in (LOW, HIGH))
    return Rise(float(max(flows)), max(end - begin, BRIEF) / (HIGH - LOW), begin)
