"""Every verdict on a design: what the stages say, and what no single stage can see."""

from __future__ import annotations

from ..cards import Drawer
from ..quantity import show
from ..stages.contract import View
from ..stages.findings import RANK, Remedy, Verdict, Working, judge
from ..stages.freewheel import Freewheel
from .circuit import views
from .document import Design

STRIP_LIMIT = 1.0  # what a breadboard's tie point carries [A]


def verdicts_of(design: Design, drawer: Drawer) -> list[Verdict]:
    """Every stage's verdicts and the design's own, worst first."""
    all_views = views(design, drawer)
    found = [v for stage, view in zip(design.stages, all_views, strict=True) for v in stage.verdicts(view)]
    found += _design_verdicts(design, all_views)
    return sorted(found, key=lambda v: (RANK[v.standing], v.left))


def _design_verdicts(design: Design, all_views: list[View]) -> list[Verdict]:
    view = all_views[-1]
    demand, switch = view.demand, view.switch
    found: list[Verdict] = []
    drive = next(s for s in design.stages if s.role == "drive")
    if (
        demand is not None
        and demand.inductive
        and switch is not None
        and "freewheel" not in view.guarded
        and not drive.isolates
    ):
        found += Freewheel(school="none").verdicts(view)
    if demand is not None:
        amps = design.supply.high / demand.cold
        found.append(
            judge(
                "strip",
                "build",
                "Strip current",
                nominal=amps,
                worst=amps,
                limit=STRIP_LIMIT,
                unit="A",
                sense="at most",
                corner="supply high, load cold",
                sentence=f"{show(amps, 'A')} of {show(STRIP_LIMIT, 'A')} through a strip.",
                working=Working(
                    formula="I = V_{high} / R_{cold}",
                    substituted=f"= {design.supply.high:.3g} / {show(demand.cold, 'Ω')} = {show(amps, 'A')}",
                    reason=(
                        "A breadboard's contact springs carry about an amp. What draws more is wired at "
                        "the part, never through a strip."
                    ),
                ),
                remedy=Remedy(text="Wire the load's path off the board, with leads of its own."),
            )
        )
    if demand is not None and design.supply.spare is not None:
        amps = max(design.supply.high / demand.cold, demand.surge)
        found.append(
            judge(
                "rail_spare",
                "load",
                "Rail can spare it",
                nominal=amps,
                worst=amps,
                limit=design.supply.spare,
                unit="A",
                sense="at most",
                corner="supply high, load cold, first moment counted",
                sentence=f"Takes {show(amps, 'A')}; {show(design.supply.spare, 'A')} are spare.",
                working=Working(
                    formula="I ≤ I_{rail} − I_{already}",
                    substituted=f"{show(amps, 'A')} ≤ {show(design.supply.spare, 'A')}",
                    reason=(
                        "A borrowed rail feeds something already, and browns it out when it is asked for "
                        "more."
                    ),
                ),
                remedy=Remedy(text="Feed the load from a supply of its own, with the 0 V joined."),
            )
        )
    if design.supply.ac and not drive.isolates:
        found.append(
            judge(
                "supply_kind",
                "drive",
                "Supply is direct current",
                nominal=1.0,
                worst=1.0,
                limit=0.5,
                unit="",
                sense="at most",
                corner="kind of supply",
                sentence="A transistor switches one way only; this supply turns round every half wave.",
                working=Working(
                    formula="drive ↔ supply",
                    substituted="transformer",
                    reason=(
                        "On alternating current the body diode or the base junction conducts every second "
                        "half wave."
                    ),
                ),
                remedy=Remedy(text="Take the bridge with one MOSFET, or a supply of direct current."),
            )
        )
    return found
