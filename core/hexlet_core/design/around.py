"""What surrounds a design: the supply's real range, what lies above the wall, what can hurt, what can be
measured.
"""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress

from ..errors import DocumentError, Problem
from ..fields import Document, quantity_of
from ..quantity import show
from ..stages.contract import Demand, Finder, Ladder, Measure, Open, Switch
from ..stages.contract.descriptions import Calibration, TurnMap
from ..stages.contract.stage import Calibrated, Cautious, Findable, Laddered, Load, Measured, Turned
from ..stages.rules.contact import WALL_AC, WALL_DC, above_wall, wall_cautions
from ..stages.say.checks import Standing
from .study import Study


class WallItem(Document):
    """One rating of the side that is not built here."""

    title: str
    text: str
    standing: Standing
    margin: str


class Wall(Document):
    """What lies above the wall: why nothing is built there, and the ratings for information."""

    limit: str
    volts: str
    above: bool
    says: tuple[str, ...]
    ratings: tuple[WallItem, ...]


class Range(Document):
    """What the supply really does, against what the load needs and may get [V]."""

    low: float
    typical: float
    high: float
    needs: float | None
    needs_words: str
    cold_needs: float | None
    most: float | None
    most_words: str
    battery: bool


class Measuring(Document):
    """A measurement of a part by itself, and what it settles: the value in use, and the rated one where both
    are known.

    `typable` says whether a reading can be typed as the value.
    """

    block: str
    role: str
    measure: Measure
    value: str
    measured: bool
    rated: str
    typable: bool


def demands(here: Study) -> tuple[Demand, ...]:
    """What every load takes."""
    found: list[Demand] = []
    for stage, site in here.of_role("load"):
        if isinstance(stage, Load):
            with suppress(Open):  # one that waits for its switch
                found.append(stage.takes(site))
    return tuple(found)


def taken_in_all(here: Study) -> float:
    """What all loads take together, each on the full rail it is switched to [A]."""
    amps = 0.0
    for _, site in here.of_role("drive"):
        with suppress(Open):
            outs = [p.name for p in site.stage.ports() if p.kind == "load" and p.way == "out"]
            for port in outs:
                switch = here.flow.leaving((site.id, port))
                if isinstance(switch, Switch):
                    amps += site.demand(port).amps(switch.rail.high)
    return amps


def finder(here: Study) -> Finder | None:
    """Values that would do what the first block that can look for them is asked for."""
    for stage, site in here.pairs:
        if isinstance(stage, Findable):
            try:
                return stage.finds(site)
            except Open:
                continue
    return None


def turns(here: Study) -> tuple[TurnMap, ...]:
    """Every potentiometer across its turn."""
    found = []
    for stage, site in here.pairs:
        if isinstance(stage, Turned):
            with suppress(Open):
                found.append(stage.across_turn(site))
    return tuple(told for told in found if told is not None)


def calibration(here: Study, readings: Sequence[float]) -> Calibration:
    """What readings of its level say of a design's trimmer.

    Raises:
        DocumentError: nothing in the design is set by such readings.
    """
    for stage, site in here.pairs:
        if isinstance(stage, Calibrated):
            with suppress(Open):
                return stage.calibrated(site, readings)
    raise DocumentError(Problem("blocks", "No trimmer here is set by the volts at which it acts."))


def ladder(here: Study) -> Ladder | None:
    """The contact ladder of the first block that has a contact."""
    for stage, site in here.pairs:
        if isinstance(stage, Laddered):
            try:
                found = stage.ladder(site)
            except Open:
                continue
            if found is not None:
                return found
    return None


def cautions(here: Study) -> tuple[str, ...]:
    """What can hurt someone, the supply's first."""
    supply, found = here.design.supply, list[str]()
    if not supply.ac:
        found += wall_cautions(supply.high, False, "The supply")
    if supply.word == "battery":
        found.append(
            "A battery drives hundreds of amps through a slip of the screwdriver. Put a fuse at its + pole "
            "before anything else."
        )
    if any(d.winding is not None for d in demands(here)):
        found.append("A coil kicks when it lets go: fit the freewheel part before the first power-up.")
    return tuple(dict.fromkeys([*found, *_said(here)]))


def _said(here: Study) -> list[str]:
    found: list[str] = []
    for stage, site in here.pairs:
        if isinstance(stage, Cautious):
            try:
                found += stage.cautions(site)
            except Open:
                continue
    return found


def wall(here: Study) -> Wall | None:
    """The wall, where the design or a contact comes near alternating current or high volts."""
    supply, contact = here.design.supply, ladder(here)
    apart = contact is not None and (contact.ac or above_wall(contact.volts, False))
    if not (supply.ac or apart or supply.walled):
        return None
    volts, ac = (contact.volts, contact.ac) if contact is not None and apart else (supply.high, supply.ac)
    about = ("contact",) if apart else ("wall",)
    limit = WALL_AC if ac else WALL_DC
    kind = "AC" if ac else "DC"
    return Wall(
        limit=f"{limit:g} V {kind}",
        volts=f"{show(volts, 'V')} {kind}",
        above=above_wall(volts, ac),
        says=tuple(_said(here)),
        ratings=tuple(
            WallItem(title=v.title, text=v.figures, standing=v.standing, margin=v.margin)
            for v in here.verdicts
            if v.about in about
        ),
    )


def supply_range(here: Study) -> Range:
    """The supply's range beside the load's limits, from the load's own verdicts in volts."""
    own = [v for v in here.verdicts if v.facet == "load" and v.unit == "V"]
    needs = next((v for v in own if v.about == "gets its volts"), None)
    most = next((v for v in own if v.about == "supply high"), None)
    cold = next((d.winding.cold_volts for d in demands(here) if d.winding is not None), None)
    s = here.design.supply
    return Range(
        low=s.low,
        typical=s.typical,
        high=s.high,
        needs=needs.limit if needs else None,
        needs_words=needs.title.lower() if needs else "",
        cold_needs=cold,
        most=most.limit if most else None,
        most_words="the most it may get" if most else "",
        battery=s.word == "battery",
    )


def measured_load(here: Study) -> bool:
    """Whether something about a load was measured."""
    return any(
        origin == "measured"
        and path.startswith(f"blocks.{id}.")
        and hasattr(here.design.blocks[id], path.split(".")[-1])
        for id in here.design.of_role("load")
        for path, origin in here.design.origins.items()
    )


def measures(here: Study) -> tuple[Measuring, ...]:
    """Every measurement of a part by itself; above the wall only of what has a supply of its own."""
    design, found = here.design, []
    for stage, site in here.pairs:
        if not isinstance(stage, Measured) or (design.supply.walled and stage.role != "signal"):
            continue
        for measure in stage.measures(site):
            value = rated = ""
            typable = False
            name = (measure.path or "").removeprefix(f"blocks.{site.id}.")
            if measure.path is not None and name in type(stage).model_fields:
                number, quantity = getattr(stage, name), quantity_of(type(stage), name)
                typable = quantity is not None
                unit = quantity.unit if quantity else ""
                value = show(number, unit) if isinstance(number, float) else str(number)
                kept = design.rated.get(measure.path)
                rated = show(kept, unit) if kept is not None else ""
            found.append(
                Measuring(
                    block=site.id,
                    role=stage.role,
                    measure=measure,
                    value=value,
                    measured=design.origins.get(measure.path or "") == "measured",
                    rated=rated,
                    typable=typable,
                )
            )
    return tuple(found)
