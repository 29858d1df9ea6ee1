"""What both low-side switches share: the verdicts on the signal, the load current, heat and the default state.

Each takes plain numbers, so that a switch's own file stays the place where its formulas are.
"""

from __future__ import annotations

from ..quantity import show, show_part
from .contract import Demand, Offer, Part, Step, View, Watch
from .findings import Remedy, Verdict, Working, judge


def pin_verdicts(offer: Offer, view: View, *, steady: tuple[float, float], burst: tuple[float, float] | None,
                 formula: str, substituted: str, reason: str, fix: Remedy) -> list[Verdict]:  # fmt: skip
    """Steady and burst current taken from the signal; each pair is (nominal, worst) in amps."""
    found = [
        judge(
            "pin_steady", "drive", "Pin, steady", nominal=steady[0], worst=steady[1], limit=offer.steady, unit="A",
            sense="at most", corner="pin at its highest, resistor at its lowest",
            sentence=f"{show(steady[1], 'A')} of {show(offer.steady, 'A')} while it is on.",
            working=Working(formula=formula, substituted=substituted, reason=reason), remedy=fix,
        )
    ]  # fmt: skip
    if burst is not None:
        found.append(
            judge(
                "pin_burst", "drive", "Pin burst at switch-on", nominal=burst[0], worst=burst[1], limit=offer.burst, unit="A",
                sense="at most", corner="pin at its highest, resistor at its lowest",
                sentence=f"{show(burst[1], 'A')} of {show(offer.burst, 'A')}, for a moment.",
                working=Working(
                    formula="I = V_{pin,max} / R", substituted=f"= {show(offer.high.high, 'V')} / R = {show(burst[1], 'A')}",
                    reason="An empty gate is a short at first. Only the series resistor limits what the pin gives.",
                ),
                remedy=fix,
            )
        )  # fmt: skip
    return found


def load_current(demand: Demand, view: View, limit: float, limit_words: str, peak: float, peak_words: str) -> list[Verdict]:
    """The load's current at the high supply, steady and at the first moment, against what the switch may carry."""
    found = [_steady(demand, view, limit, limit_words)]
    if demand.surge > 0:
        found.append(
            judge(
                "surge", "drive", "Inrush through the switch", nominal=demand.surge, worst=demand.surge, limit=peak, unit="A", sense="at most",
                corner="supply high, load cold", sentence=f"{show(demand.surge, 'A')} at the first moment, of {show(peak, 'A')}.",
                working=Working(
                    formula="I = V_{high} / R_{cold}", substituted=f"through {demand.surge_words}: {show(demand.surge, 'A')} ≤ {show(peak, 'A')}",
                    reason=f"It lasts tens of milliseconds. {peak_words}",
                ),
                remedy=Remedy(text="Take a switch for more current, or let the load come up gently."),
            )
        )  # fmt: skip
    return found


def _steady(demand: Demand, view: View, limit: float, limit_words: str) -> Verdict:
    nominal, worst = view.high / demand.typical, view.high / demand.cold
    return judge(
        "switch_current", "drive", "Switch current", nominal=nominal, worst=worst, limit=limit, unit="A", sense="at most",
        corner="supply high, load cold", sentence=f"{show(worst, 'A')} of {show(limit, 'A')} {limit_words}.",
        working=Working(
            formula="I = V_{high} / R_{cold}", substituted=f"= {view.high:.3g} / {show(demand.cold, 'Ω')} = {show(worst, 'A')}",
            reason="The full supply and the cold load draw the most.",
        ),
        remedy=Remedy(text="Take a switch for more current."),
    )  # fmt: skip


def heat_verdicts(
    view: View, *, nominal: float, worst: float, r_th: float, t_max: float, power: float, how: str, numbers: str
) -> list[Verdict]:
    """Dissipation against what the surroundings leave of the rating, and the junction's temperature."""
    allowed = min(power, (t_max - view.hot) / r_th)
    t_nominal, t_worst = view.hot + nominal * r_th, view.hot + worst * r_th
    fix = Remedy(text="Take a part with less drop or a bigger body, or give it a heatsink.")
    return [
        judge(
            "heat", "drive", "Heat in the switch", nominal=nominal, worst=worst, limit=allowed, unit="W", sense="at most",
            corner=f"supply high, {show(view.hot, '°C')} around it", sentence=f"{show(worst, 'W')} of {show(allowed, 'W')} at {show(view.hot, '°C')}.",
            working=Working(formula=how, substituted=numbers, reason="What is left of the rating when the surroundings are hot: (T_{max} − T_{a}) / R_{θ}."),
            remedy=fix,
        ),
        judge(
            "junction", "drive", "Junction temperature", nominal=t_nominal, worst=t_worst, limit=t_max, unit="°C", sense="at most",
            corner=f"supply high, {show(view.hot, '°C')} around it", sentence=f"{show(t_worst, '°C')} of {show(t_max, '°C')}.",
            working=Working(
                formula="T_{j} = T_{a} + P · R_{θ}", substituted=f"= {view.hot:.3g} + {show(worst, 'W')} · {r_th:g} = {show(t_worst, '°C')}",
                reason="Steady current; no heatsink counted.",
            ),
            remedy=fix,
        ),
    ]  # fmt: skip


def boot_source(offer: Offer) -> tuple[float, float, str]:
    """Level [V] and resistance [Ω] of the pin while nobody drives it, at its worst, and in words."""
    if offer.boot == "pull-up":
        return offer.high.high, offer.boot_resistance, f"a pull-up of {show(offer.boot_resistance, 'Ω')} while it boots"
    if offer.boot == "pull-down":
        return 0.0, offer.boot_resistance, f"a pull-down of {show(offer.boot_resistance, 'Ω')} while it boots"
    return 0.0, float("inf"), "floats while it boots"


def resistor_part(view: View, ref: str, title: str, value: float, path: str, power: float) -> Part:
    """A resistor's line in the parts list."""
    stock = view.stock()
    return Part(
        ref=ref, title=title, value=f"{show_part(value)} Ω", kind="resistor", path=path, legs=("either", "either"),
        rating=f"{show(max(power, 0.0), 'W')} in it, 0.25 W is enough" if power < 0.125 else f"{show(power, 'W')} in it: take 0.5 W or more",
        stock=stock.get(value, 0), price=0.02,
    )  # fmt: skip


def low_side_watches(view: View, control: str) -> tuple[Watch, ...]:
    """The output, and the control, which is shown when asked for."""
    out = view.nodes["out"]
    return (
        Watch(id=out, title=out.capitalize(), unit="V", signal=out, place=3, peak=True),
        Watch(id=control, title=control.capitalize(), unit="V", signal=control, place=5, shown=False),
    )


def switch_steps(
    view: View,
    ref: str,
    series: str,
    pull: str | None,
    order: tuple[str, ...],
    control: str,
    out: str,
    diode_check: str,
    pull_value: float | None,
    series_value: float,
) -> tuple[Step, ...]:
    """Build steps of a low-side switch on the board, each check possible with what is there by then."""
    legs = ", ".join({"g": "gate", "d": "drain", "s": "source", "b": "base", "c": "collector", "e": "emitter"}[leg] for leg in order)
    steps = [
        Step(
            id="rails",
            action="link",
            title="Bridge the rails",
            detail="Top 0 V rail to the bottom one, top + rail to the bottom one. Nothing is powered yet.",
        ),
        Step(id="rails_apart", action="check", title="Rails apart", detail="Ohms between + and 0 V: nothing may join them.", expect="OL"),
        Step(
            id="place_series",
            action="place",
            title=f"{series}, pin side to {control}",
            part=series,
            detail=f"{series} from a free strip (the pin's) to the {control}'s strip.",
        ),
    ]
    if pull is not None and pull_value is not None:
        total = series_value + pull_value
        steps += [
            Step(
                id="place_pull",
                action="place",
                title=f"{pull}, {control} to 0 V",
                part=pull,
                detail=f"{pull} from the {control}'s strip to the 0 V rail.",
            ),
            Step(
                id="pull_check",
                action="check",
                title="Pin strip to 0 V",
                detail=f"Ohms from the pin's strip to the 0 V rail: {series} and {pull} in series.",
                expect=f"{show(total * 0.98, 'Ω')} to {show(total * 1.02, 'Ω')}",
            ),
        ]
    steps += [
        Step(
            id="place_switch",
            action="place",
            title=f"{ref}: {legs}",
            part=ref,
            detail=f"Marked face as the leg order shows: {legs}, each in a strip of its own. Yours may differ: check its sheet or find the legs with the meter.",
        ),
        Step(id="switch_check", action="check", title=f"{ref}, diode mode", part=ref, detail=diode_check, expect="0.40 V to 0.75 V"),
        Step(
            id="ground_switch",
            action="link",
            title=f"{ref} to 0 V",
            part=ref,
            detail=f"Link from the strip of the {'source' if out == 'drain' else 'emitter'} to the 0 V rail.",
        ),
    ]
    return tuple(steps)
