"""evaluate(study): everything the program says about a design without running it in time, and without trying
others.
"""

from __future__ import annotations

from ..fields import Document
from ..quantity import show
from ..stages.contract import Finder, Ladder, Path
from ..stages.contract.descriptions import TurnMap
from ..stages.contract.stage import Behaving, Calibrated, Pathed, Selecting
from ..stages.drawing import Drawing
from ..stages.say.checks import Facet, Standing, Verdict, worst_of
from ..stages.say.windows import Window
from ..stages.say.wording import Sentence
from .around import (
    Measuring,
    Range,
    Wall,
    cautions,
    finder,
    ladder,
    measured_load,
    measures,
    supply_range,
    taken_in_all,
    turns,
    wall,
)
from .channels import Channel, channels
from .choose import CardUse, uses
from .exchange import NotBuilt, Offered, behaviours, choices, guards, refusals
from .hangs import TIMES
from .interface import Does, Joint, interface, pressed, truth
from .picture import FlowPicture, flow_picture
from .remedies import remedied
from .sentences import sentences
from .study import Study
from .trade import Trade, trade

FACETS: tuple[Facet, ...] = ("load", "drive", "guard", "behave", "build", "prove")


class FacetState(Document):
    """One side of the design: how it stands, in a few words."""

    facet: Facet
    standing: Standing
    summary: str


class OpenPort(Document):
    """A port that something must be joined to, in words."""

    port: str
    text: str


class Evaluation(Document):
    """The answer of `evaluate`."""

    standing: Standing
    facets: tuple[FacetState, ...]
    flow: FlowPicture
    channels: tuple[Channel, ...]  # where there are several
    open: tuple[OpenPort, ...]
    problems: tuple[str, ...]
    sentences: dict[str, Sentence]
    verdicts: tuple[Verdict, ...]
    windows: tuple[Window, ...]
    drawing: Drawing
    trade: Trade | None
    loads: tuple[Offered, ...]
    guards: tuple[Offered, ...]
    behaviours: tuple[Offered, ...]
    refused: tuple[NotBuilt, ...]
    measures: tuple[Measuring, ...]
    contact: Ladder | None
    finder: Finder | None
    turns: tuple[TurnMap, ...]  # potentiometers across their turn
    paths: tuple[Path, ...]
    supply: Range
    wall: Wall | None
    cards: tuple[CardUse, ...]
    joints: tuple[Joint, ...]
    truth: tuple[Does, ...]
    timed: bool  # whether something keeps a time, with a capacitor that spreads
    stateful: bool  # whether a behaviour keeps what was pressed
    calibrated: bool  # whether a trimmer is set by readings of where it acts
    selects: bool  # whether one of several channels is chosen
    pressed: bool  # whether a press decides what a behaviour does
    cautions: tuple[str, ...]


def _summaries(here: Study, verdicts: tuple[Verdict, ...], plane: Trade | None) -> dict[Facet, str]:
    """A few words for each facet."""
    loads = [stage.summary for stage, _ in here.of_role("load")]
    amps = taken_in_all(here)
    taken = show(amps, "A") if loads else ""
    said = ", ".join(loads) or "Nothing to switch yet"
    release = next(
        (v for v in verdicts if plane is not None and v.block == plane.block and v.about == "time"), None
    )
    guard = next((s.summary for s, _ in here.of_role("guard") if s.summary != "None"), "Nothing to catch")
    signal = next((getattr(s, "noun", "signal") for s, _ in here.of_role("signal")), None)
    behaviours = [stage.summary for stage, _ in here.pairs if isinstance(stage, Behaving)]
    follows = f"Follows the {signal}" if signal else "Runs by itself"
    return {
        "load": said if not taken or taken in said else f"{said}, {taken}",
        "drive": ", ".join(dict.fromkeys(s.summary for s, _ in here.of_role("drive"))) or "No drive yet",
        "guard": f"Lets go in {show(release.worst, 's', 2)}" if release else guard,
        "behave": ", ".join(behaviours) or follows,
        "build": "Steps to do",
        "prove": "Readings to take",
    }


def _facets(here: Study, verdicts: tuple[Verdict, ...], plane: Trade | None) -> tuple[FacetState, ...]:
    summaries = _summaries(here, verdicts, plane)
    found = []
    for facet in FACETS:
        judged = [v.standing for v in verdicts if v.facet == facet]
        standing: Standing = worst_of([*judged, "unknown"] if here.open else judged)
        if facet == "load" and standing != "fails" and measured_load(here):
            standing = "proven"
        if facet in ("build", "prove"):
            standing = "fails" if standing == "fails" else "unknown"
        found.append(FacetState(facet=facet, standing=standing, summary=summaries[facet]))
    return tuple(found)


def open_ports(here: Study) -> tuple[OpenPort, ...]:
    """What must be joined before the design is whole."""
    return tuple(OpenPort(port=port, text=here.waiting(port)) for port in here.open)


def evaluate(here: Study, channel: int = 1) -> Evaluation:
    """Windows, workings, verdicts, drawing and parts of a design.

    A poor design is an answer, not an error, and so is an unfinished one. Of several channels one is open:
    the sentences and what is offered are about it, and the others are drawn folded; 0 opens all.

    Raises:
        DocumentError: a part card the design names is unknown or of the wrong kind, or blocks wait for
            each other.
    """
    every = channels(here.design)
    opened = next((c for c in every if c.number == channel), every[0] if every else None)
    loads = [opened.load] if opened is not None else here.design.of_role("load")
    plane = trade(here, opened.blocks if opened is not None else ())
    verdicts = remedied(here, plane)
    standings = [v.standing for v in verdicts]
    return Evaluation(
        standing=worst_of([*standings, "unknown"] if here.open else standings),
        facets=_facets(here, verdicts, plane),
        flow=flow_picture(here),
        channels=every,
        open=open_ports(here),
        problems=tuple(str(p) for p in here.problems),
        sentences=sentences(here, opened),
        verdicts=verdicts,
        windows=here.windows,
        drawing=here.folded(channel),
        trade=plane,
        loads=choices(here.design, loads[0]) if loads else (),
        guards=guards(here, loads[0] if loads else None),
        behaviours=behaviours(here),
        refused=refusals(),
        measures=measures(here),
        contact=ladder(here),
        finder=finder(here),
        turns=turns(here),
        paths=tuple(p for s, site in here.pairs if isinstance(s, Pathed) for p in s.paths(site)),
        supply=supply_range(here),
        wall=wall(here),
        cards=uses(here),
        joints=interface(here),
        truth=truth(here),
        timed=any(v.check in TIMES for v in verdicts),
        stateful=any(stage.stateful for stage, _ in here.pairs) and pressed(here),
        calibrated=any(isinstance(stage, Calibrated) for stage, _ in here.pairs) and not here.open,
        selects=any(isinstance(stage, Selecting) for stage, _ in here.pairs) and not here.open,
        pressed=pressed(here),
        cautions=cautions(here),
    )
