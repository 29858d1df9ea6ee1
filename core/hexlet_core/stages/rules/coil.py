"""A relay's coil: whether it pulls in, holds, and stands the full supply.

Copper rises 0.39 % in resistance a kelvin, and its pull-in voltage with it: it may operate cold and refuse
hot.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from ...cards.card import RelayCard
from ...cards.derive import copper
from ...cards.derive import relay as relay_rule
from ...circuit.devices.heat import COPPER_DRIFT
from ...quantity import show
from ..contract.facts import Demand, Rail, Winding
from ..contract.parts import Corner, Numbers
from ..say.checks import Check, Facet, Shown, check, high, low
from .supplied import Supplied

COLD = 0.0  # the coldest coil considered [°C]
STILL = 0.5  # share of its pull-in current under which an armature surely stays where it rests, assumed


@dataclass(frozen=True)
class Coil:
    """A coil of `resistance` [Ω] as measured at a temperature, `rated` [V], its `hottest` expected [°C]."""

    card: RelayCard
    resistance: float
    rated: float
    measured_at: float
    hottest: float
    time_constant: float

    @property
    def pull_in(self) -> float:
        """Current that pulls in [A]."""
        return self.card.pull_in * self.rated / self.resistance

    @property
    def drop_out(self) -> float:
        """Current at which it has let go [A]."""
        return self.card.must_release * self.rated / self.resistance

    @property
    def inductance(self) -> float:
        return self.time_constant * self.resistance

    def at(self, celsius: float) -> float:
        """Its resistance at a temperature [Ω]."""
        return copper(self.resistance, celsius, self.measured_at)

    @property
    def coldest(self) -> float:
        return self.at(min(COLD, self.measured_at))

    @property
    def warmest(self) -> float:
        return self.at(max(self.hottest, self.measured_at))

    def needs(self) -> float:
        """Volts the hot coil pulls in at [V]."""
        return self.card.pull_in * self.rated * self.warmest / self.resistance

    def _drops(self, volts: float) -> float:
        """The resistor in line that leaves the coil its rated volts of a supply's [Ω]."""
        return self.resistance * max(volts / self.rated - 1, 0.0)

    def demand(self, energised: str) -> Demand:
        """What it asks of a switch."""
        winding = Winding(self.inductance, self.drop_out, self.card.release, self.card.pull_in * self.rated)
        return Demand.ohmic(
            self.coldest,
            self.resistance,
            self.warmest,
            name="coil",
            energised=energised,
            winding=winding,
            rests=STILL * self.card.pull_in * self.rated / self.resistance,
        )

    @property
    def numbers(self) -> Numbers:
        """The relay device's parameters at a corner."""

        def numbers(corner: Corner) -> dict[str, Any]:
            found = relay_rule(self.card, self.resistance, self.rated) | {"inductance": self.inductance}
            warm = self.at(corner.celsius) / self.resistance
            low, high = found["spread"]["resistance"]
            found["spread"] |= {"resistance": (low * warm, high * warm)}
            return found | {"resistance": self.resistance * warm}

        return numbers

    def checks(
        self,
        rail: Rail,
        got: Supplied,
        shown: Shown | None = None,
        tag: str = "",
        who: str = "",
        facet: Facet | None = None,
    ) -> Iterator[Check]:
        """Pull-in, hold and the most it may get; `got` is what reaches it, `shown` where that shows."""
        card, warm = self.card, self.warmest / self.resistance
        needs, holds = self.needs(), card.must_hold * self.rated * warm
        most, rise = card.coil_max * self.rated, self.hottest - self.measured_at
        yield check(
            f"{tag}pull_in",
            f"{who}Pull-in on a low {rail.word}",
            "need",
            "gets its volts",
            unit="V",
            nominal=got.low,
            worst=got.low_worst,
            least=needs,
            facet=facet,
            at=low("coil hot, largest drop"),
            says=f"Hot coil needs {show(needs, 'V')}, gets {show(got.low_worst, 'V')}.",
            formula=f"V_{{pull}} = {100 * card.pull_in:.0f} % · V_{{rated}} · (1 + {COPPER_DRIFT:.4f}·ΔT)",
            numbers=(
                f"= {card.pull_in * self.rated:.3g} · (1 + {COPPER_DRIFT:.4f} · {rise:.3g}) = "
                f"{show(needs, 'V')}; gets {show(rail.low, 'V')} − {show(got.lost_worst, 'V')}"
            ),
            because=(
                "Copper gains 0.39 % a kelvin, so a hot coil needs more volts for the same pull. "
                f"{show(self.hottest, '°C')} is the hottest coil you expect; measuring it would settle this."
            ),
            cure=(
                "Use a coil rated for less, keep it cooler, take a switch with less drop, or cut off before "
                "the battery is this low."
            ),
            shown=shown,
        )
        yield check(
            f"{tag}hold",
            f"{who}Holds on through the deepest sag",
            "need",
            "gets its volts",
            unit="V",
            nominal=got.low,
            worst=got.low_worst,
            least=holds,
            facet=facet,
            at=low("coil hot"),
            says=f"Needs {show(holds, 'V')} to hold, gets {show(got.low_worst, 'V')}.",
            formula="V_{hold} = share · V_{rated} · R_{hot}/R",
            numbers=f"= {card.must_hold} · {self.rated:.3g} · {warm:.3f} = {show(holds, 'V')}",
            because=(
                "Once pulled in, the closed iron needs less. Half the rated voltage is assumed unless the "
                "card says."
            ),
            shown=shown,
        )
        yield check(
            f"{tag}coil_max",
            f"{who}Coil on a full {rail.word}",
            "limit",
            "supply high",
            unit="V",
            nominal=got.high,
            worst=got.highest,
            most=most,
            facet=facet,
            at=high("no drop in the switch"),
            says=f"Gets {show(got.highest, 'V')}, allowed {show(most, 'V')}.",
            formula="V_{max} = share · V_{rated}",
            numbers=f"= {card.coil_max:.3g} · {self.rated:.3g} = {show(most, 'V')}",
            because="Above this the winding runs too hot when it stays on.",
            cure=(
                f"Put a dropping resistor of about {show(self._drops(rail.typical), 'Ω', 2)} in line, or use "
                "a coil rated for more."
            ),
            shown=shown,
        )


def time_to_rise(i: float, i_end: float, tau: float) -> float:
    """Time for a coil's current to reach i on its way to i_end [s]: −τ·ln(1 − i/i_end)."""
    return math.inf if i >= i_end else -tau * math.log(1 - i / i_end)
