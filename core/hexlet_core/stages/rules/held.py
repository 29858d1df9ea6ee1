"""What holds a switch on once it is: an NPN whose base its own output feeds, or a pilot of it.

Used by every latch of transistors. The loop holds with the weakest transistor; what holds it wastes little;
and where it closes over the load, it lets go only once the load's own capacitor has let its volts fall.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from ...cards.card import BipolarCard
from ...circuit.devices import Bipolar
from ...quantity import show
from ..contract.site import Site
from ..say.checks import Check, check, high, low, when
from ..say.windows import Bound, bound
from .timing import takes

JUNCTION, OFF_BELOW = 0.65, 0.4  # a base's volts on, and below which it is off when hot [V]
SHORT = 0.04  # a quick press [s]
WASTE = 1e-3  # what holding may take [A]
C_CB = float(Bipolar.model_fields["c_bc"].default)  # of a small transistor, assumed [F]
KEPT_DOWN = "Until the output is up nothing holds it: a load that keeps it down is never turned on."
OVERDRIVE = 3.0  # how much more base current than the least gain asks for


def keeps(r_hold: float, r_bleed: float) -> float:
    """The output's volts under which it surely lets go [V]: a hot base still conducts above."""
    return OFF_BELOW * (1 + r_hold / r_bleed)


def empties(site: Site, least: float, r_hold: float) -> float:
    """How long the load's own capacitor keeps the output above some volts [s]."""
    rail, demand = site.rail, site.demand()
    if demand.farads <= 0.0 or rail.high <= least:
        return 0.0
    between = min(max(demand.idles, least), rail.high)

    def drained(begin: float, end: float, amps: Callable[[float], float]) -> float:
        return takes(demand.farads, begin, end, lambda v: -amps(v) - v / r_hold)

    return drained(rail.high, between, demand.amps) + drained(between, least, lambda v: 0.0)


def falls_check(site: Site, least: float, empties: float, cure: str) -> Check:
    """Whether the output has fallen before a quick press is over."""
    return check(
        "output_falls",
        "Output is down before the button is let go",
        "need",
        "time",
        unit="s",
        nominal=empties,
        worst=1.2 * empties,
        most=SHORT,
        at=when("a quick press, the load's capacitor full"),
        says=f"Down to {show(least, 'V')} after {show(empties, 's')}; a quick press lasts "
        f"{show(SHORT, 's')}.",
        formula="t = C_{load} · ∫ dv / i(v), down to V_{keeps}",
        numbers=f"V_{{keeps}} = 0.4 V · (1 + R_{{hold}} / R_{{bleed}}) = {show(least, 'V')}",
        because="Let go before, what the load still has turns it on again.",
        cure=cure,
    )


def holds_check(
    site: Site,
    pulled: Callable[[float], float],
    held: Callable[[float], float],
    because: str,
    *,
    card: str = "npn",
    holder: str = "puller",
    through: str = "hold",
) -> Check:
    """Whether it holds itself on: what the transistor in the loop carries, over the base current it then has;
    by which of the block's own parts, through which resistor.
    """
    rail, gain = site.rail, site.card(card, BipolarCard).gain_min
    q, r = site.ref(holder), site.ref(through)
    wanted = pulled(rail.low) / max(held(rail.low), 1e-12)
    return check(
        "holds",
        "Holds itself on",
        "need",
        "turns on",
        unit="",
        nominal=pulled(rail.typical) / max(held(rail.typical), 1e-12),
        worst=wanted,
        most=gain / OVERDRIVE,
        at=low("the weakest transistor"),
        says=f"{q} wants a gain of {wanted:.2g}; it has {gain:.0f} at least.",
        formula="I_{C} / I_{B} ≤ h_{FE,min} / 3",
        numbers=f"{show(pulled(rail.low), 'A')} / {show(held(rail.low), 'A')} = {wanted:.2g}",
        because=because,
        cure=f"Make {r} smaller.",
    )


def waste_bound(site: Site, most: float = WASTE) -> Bound:
    """The least of the resistor that holds it on."""
    return bound(
        "low",
        site.rail.high / most,
        "does not waste current",
        detail=show(most, "A"),
        guards="holds",
        formula="R ≥ V / I",
        because="What holds the loop flows as long as the load is on.",
    )


def starts_check(
    site: Site, surge: float, usual: float, least: float, because: str, cure: str
) -> Iterator[Check]:
    """Whether a latch of bipolar transistors starts a load that begins with a gulp: what it carries, as a
    rule and at least, against the first moment's current [A]. A capacitor that is empty only takes longer.
    """
    rush = site.demand().inrush
    if rush is None or rush.farads:
        return
    who = f"{rush.words[0].upper()}{rush.words[1:]}"
    yield check(
        "starts",
        "Starts its load",
        "need",
        "turns on",
        unit="A",
        nominal=usual,
        worst=least,
        least=surge,
        at=low("the weakest transistor"),
        says=f"{who} takes {show(surge, 'A')} at first; it carries {show(least, 'A')}.",
        formula="h_{FE} · I_{B} ≥ I_{first}",
        numbers=f"{show(least, 'A')} against {show(surge, 'A')}",
        because=because,
        cure=cure,
    )


def pulled_charge(site: Site, volts: float) -> float:
    """What the pulling NPN takes at most as its collector jumps by volts and lifts its base: h_FE · C_cb · V
    [C]; half of it as a rule.
    """
    return site.card("npn", BipolarCard).gain * C_CB * volts


def lag_check(
    site: Site, switched: float, across: float, volts: float, begins: float, cure: str, what: str = "gate"
) -> Check:
    """Whether the switch stays off as the supply comes at once.

    Its control lags the supply: by the charge [C] that its own output takes from it, and by what the pulling
    NPN does meanwhile; over what lies `across` control and rail [F].
    """
    pulls = pulled_charge(site, volts)
    usual, worst = (switched + pulls / 2) / across, (switched + pulls) / across
    return check(
        "plugged",
        "Stays off when the supply is plugged in",
        "need",
        "plugged in",
        unit="V",
        nominal=usual,
        worst=worst,
        most=begins,
        at=high("the supply comes at once"),
        says=f"The {what} lags the supply by up to {show(worst, 'V')}; it may begin at {show(begins, 'V')}.",
        formula="(Q_{out} + h_{FE} · C_{cb} · V) / C ≤ V_{begins}",
        numbers=f"({show(switched, 'C')} + {show(pulls, 'C')}) / {show(across, 'F')} = {show(worst, 'V')}",
        because="The jump couples into the NPN's base, and through the switch itself.",
        cure=cure,
    )
