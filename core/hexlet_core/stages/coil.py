"""A relay's coil: whether it pulls in, holds, and stands the full supply.

Copper rises 0.39 % in resistance a kelvin, and its pull-in voltage with it: it may operate cold and refuse
hot.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..cards.card import RelayCard
from ..cards.derive import copper
from ..cards.derive import relay as relay_rule
from ..circuit.devices.heat import COPPER_DRIFT
from ..quantity import show
from .contract import View
from .findings import Facet, Remedy, Verdict, Working, judge

COLD = 0.0  # the coldest coil considered [°C]


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

    def params(self, celsius: float) -> dict[str, Any]:
        """The relay device's parameters at a temperature."""
        return relay_rule(self.card) | {
            "resistance": self.at(celsius),
            "inductance": self.inductance,
            "pull_in": self.pull_in,
            "drop_out": self.drop_out,
        }

    def verdicts(self, view: View, drop: float, drop_worst: float, facet: Facet = "load") -> list[Verdict]:
        """Pull-in, hold and the most it may get; `drop` is the switch's [V]."""
        card, warm = self.card, self.warmest / self.resistance
        needs, holds = self.needs(), card.must_hold * self.rated * warm
        gets, gets_worst = view.low - drop, view.low - drop_worst
        most, rise = card.coil_max * self.rated, self.hottest - self.measured_at
        return [
            judge(
                "pull_in",
                facet,
                f"Pull-in on a low {view.supply_name}",
                nominal=gets,
                worst=gets_worst,
                limit=needs,
                unit="V",
                sense="at least",
                corner="supply low, coil hot, largest drop",
                sentence=f"Hot coil needs {show(needs, 'V')}, gets {show(gets_worst, 'V')}.",
                working=Working(
                    formula=f"V_{{pull}} = {100 * card.pull_in:.0f} % V_{{rated}} (1 + {COPPER_DRIFT} ΔT)",
                    substituted=f"= {card.pull_in * self.rated:.3g} · (1 + "
                    f"{COPPER_DRIFT:.4f} · {rise:.3g}) = "
                    f"{show(needs, 'V')}; "
                    f"gets {show(view.low, 'V')} − {show(drop_worst, 'V')}",
                    reason="Copper gains 0.39 % a kelvin, so a hot coil needs more volts for the same pull. "
                    f"{show(self.hottest, '°C')} is the hottest coil you expect; measuring it would "
                    "settle this.",
                ),
                remedy=Remedy(
                    text=(
                        "Use a coil rated for less, keep it cooler, take a switch with less drop, or cut "
                        "off before the battery is this low."
                    )
                ),
            ),
            judge(
                "hold",
                facet,
                "Holds on through the deepest sag",
                nominal=gets,
                worst=gets_worst,
                limit=holds,
                unit="V",
                sense="at least",
                corner="supply low, coil hot",
                sentence=f"Needs {show(holds, 'V')} to hold, gets {show(gets_worst, 'V')}.",
                working=Working(
                    formula="V_{hold} = share · V_{rated} · R_{hot}/R",
                    substituted=f"= {card.must_hold} · {self.rated:.3g} · {warm:.3f} = {show(holds, 'V')}",
                    reason=(
                        "Once pulled in, the closed iron needs less. Half the rated voltage is assumed "
                        "unless the card says."
                    ),
                ),
            ),
            judge(
                "coil_max",
                facet,
                f"Coil on a full {view.supply_name}",
                nominal=view.high - drop,
                worst=view.high,
                limit=most,
                unit="V",
                sense="at most",
                corner="supply high, no drop in the switch",
                sentence=f"Gets {show(view.high, 'V')}, allowed {show(most, 'V')}.",
                working=Working(
                    formula="V_{max} = share · V_{rated}",
                    substituted=f"= {card.coil_max:.3g} · {self.rated:.3g} = {show(most, 'V')}",
                    reason="Above this the winding runs too hot when it stays on.",
                ),
                remedy=Remedy(text="Put a resistor in series with the coil, or use a coil rated for more."),
            ),
        ]
