"""The interface between a command and the drive behind it, row by row; and what the design does in each
scene.

Each row points at the verdict that judges it; polarity is judged here, because it belongs to neither of the
two.
"""

from __future__ import annotations

from collections.abc import Iterator

from ..fields import Document
from ..quantity import show
from ..stages.contract import Act, Command, Open, Scene, Site, Switch
from ..stages.contract.scenes import UPSTREAM
from ..stages.contract.stage import Behaving
from ..stages.say.checks import RANK, About, Standing, Verdict
from .insert import by_itself
from .study import Study, ready

ROWS: tuple[tuple[str, About], ...] = (
    ("Level that turns it on", "turns on"),
    ("Level that turns it off", "turns off"),
    ("Current it takes", "taken"),
    ("What happens at rest", "at rest"),
)


class Joint(Document):
    """One row: what is compared, in words, how it stands, and the verdict that says why."""

    title: str
    text: str
    standing: Standing
    verdict: str | None


class Does(Document):
    """One line of what the design does: the command's state, the load's, and why; `standing` where one judges
    it.
    """

    state: str
    load: str
    why: str
    standing: Standing | None


def _worst(here: Study, block: str, about: About) -> Verdict | None:
    own = [v for v in here.verdicts if v.block == block and v.about == about]
    return min(own, key=lambda v: (RANK[v.standing], v.left), default=None)


def _drive(here: Study) -> tuple[Site, Command, Switch] | None:
    """The first drive with a command and a load."""
    for _, site in here.of_role("drive"):
        try:
            switch = here.flow.leaving((site.id, "out"))
            if isinstance(switch, Switch):
                return site, site.command, switch
        except Open:
            continue
    return None


def interface(here: Study) -> tuple[Joint, ...]:
    """The rows that apply between the command and its drive."""
    found = _drive(here)
    return tuple(_joints(here, *found)) if found is not None else ()


def _joints(here: Study, site: Site, command: Command, switch: Switch) -> Iterator[Joint]:
    for title, about in ROWS:
        judged = _worst(here, site.id, about)
        if judged is not None:
            yield Joint(title=title, text=judged.sentence, standing=judged.standing, verdict=judged.id)
    meant = f"When the {command.name} is meant, it is {command.sense}"
    runs = site.demand().energised
    yield Joint(
        title="Polarity",
        standing="fits" if switch.active else "fails",
        verdict=None,
        text=f"{meant}: {runs}." if switch.active else f"{meant}, and the load stops: the sense is inverted.",
    )
    ohms = f"{show(command.high.ohms, 'Ω')} when high, {show(command.low.ohms, 'Ω')} when low"
    yield Joint(
        title="Source resistance",
        standing="fits",
        verdict=None,
        text=f"{ohms}; both are counted in every level above.",
    )


def pressed(here: Study) -> bool:
    """Whether somebody presses what a behaviour makes something of."""
    return any(
        here.acted_by(site.id, Scene("press", "", (Act(UPSTREAM, "active"),))).acts
        for stage, site in here.pairs
        if isinstance(stage, Behaving) and not by_itself(stage)
    )


def truth(here: Study) -> tuple[Does, ...]:
    """What the design does: what its behaviours make of what happens, then the load in each state."""
    told = (
        Does(state=s.state, load=s.load, why=s.why, standing=None)
        for stage, site in here.pairs
        if isinstance(stage, Behaving)
        for s in ready(stage.states, site)
    )
    found = _drive(here)
    return (*told, *(_states(here, *found) if found is not None else ()))


def _states(here: Study, site: Site, command: Command, switch: Switch) -> Iterator[Does]:
    runs = site.demand().energised
    for state in ("high", "low"):
        on = state == switch.on
        judged = _worst(here, site.id, "turns on" if on else "turns off")
        bad = judged is not None and judged.standing == "fails"
        works = f"{runs}, not fully" if bad else runs
        yield Does(
            state=f"{command.name} {state}",
            load=works if on else ("stays on" if bad else "off"),
            why=judged.sentence if judged is not None else "the control is held at its rail",
            standing=judged.standing if judged is not None else "fits",
        )
    rests: tuple[tuple[str, About], ...] = (
        (command.rest.when, "at rest"),
        (f"{command.name} unplugged", "unplugged"),
    )
    for words, about in rests:
        judged = _worst(here, site.id, about)
        if judged is not None:
            yield Does(
                state=words,
                load="may come on" if judged.standing == "fails" else "off",
                why=judged.sentence,
                standing=judged.standing,
            )
