"""The interface between the signal and the drive, row by row: levels, current, source resistance, polarity,
what happens at rest.

Each row points at the verdict that judges it; polarity is judged here, because it belongs to neither of
the two.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..fields import Document
from ..quantity import show
from ..stages.contract import View
from ..stages.findings import Standing, Verdict

ROWS: tuple[tuple[str, tuple[str, ...]], ...] = (
    (
        "Level that turns it on",
        ("shift_fully_on", "first_fully_on", "opto_transfer", "transfer", "fully_on", "resting"),
    ),
    ("Level that turns it off", ("off_level",)),
    ("Current it takes", ("shift_pin_steady", "first_pin_steady", "pin_steady")),
    ("What happens at rest", ("shift_boot", "boot")),
)


class Joint(Document):
    """One row: what is compared, in words, how it stands, and the verdict that says why."""

    title: str
    text: str
    standing: Standing
    verdict: str | None


def _first(verdicts: Sequence[Verdict], ids: Sequence[str]) -> Verdict | None:
    """The verdict of the first of some ids that is there."""
    every = {v.id: v for v in verdicts}
    return next((every[i] for i in ids if i in every), None)


def interface(view: View, verdicts: Sequence[Verdict]) -> tuple[Joint, ...]:
    """The rows that apply between this signal and this drive."""
    offer = view.offer
    if offer is None:
        return ()
    found = []
    for title, ids in ROWS:
        judged = _first(verdicts, ids)
        if judged is not None:
            found.append(
                Joint(title=title, text=judged.sentence, standing=judged.standing, verdict=judged.id)
            )
    meant = offer.active == view.on
    runs = view.demand.energised if view.demand else "the load runs"
    found.append(
        Joint(
            title="Polarity",
            standing="fits" if meant else "fails",
            verdict=None,
            text=f"When the {offer.name} is meant, it is {offer.active}: {runs}."
            if meant
            else (
                f"When the {offer.name} is meant, it is {offer.active}, and the load stops: the sense is "
                "inverted."
            ),
        )
    )
    low = offer.low_resistance if offer.low_resistance is not None else offer.resistance
    found.append(
        Joint(
            title="Source resistance",
            standing="fits",
            verdict=None,
            text=(
                f"{show(offer.resistance, 'Ω')} when high, {show(low, 'Ω')} when low; both are counted in "
                "every level above."
            ),
        )
    )
    return tuple(found)


class Does(Document):
    """One line of what the design does: the signal's state, the load's, and why; `verdict` judges it where
    one does.
    """

    state: str
    load: str
    why: str
    standing: Standing | None


def truth(view: View, verdicts: Sequence[Verdict]) -> tuple[Does, ...]:
    """What the load does in each state of the signal."""
    offer = view.offer
    if offer is None:
        return ()
    runs = view.demand.energised if view.demand else "on"
    turns = _first(verdicts, ("fully_on", "transfer", "resting"))
    stays = _first(verdicts, ("off_level",))

    def driven(state: str) -> Does:
        on = state == view.on
        judged = turns if on else stays
        bad = judged is not None and judged.standing == "fails"
        return Does(
            state=f"{offer.name} {state}",
            load=(f"{runs}, not fully" if bad else runs) if on else ("stays on" if bad else "off"),
            why=judged.sentence if judged is not None else "the control is held at its rail",
            standing=judged.standing if judged is not None else "fits",
        )

    found = [driven("high"), driven("low")]
    boot = _first(verdicts, ("shift_boot", "boot"))
    if boot is not None:
        found.append(
            Does(
                state=offer.rest.when,
                load="may come on" if boot.standing == "fails" else "off",
                why=boot.sentence,
                standing=boot.standing,
            )
        )
    loose = _first(verdicts, ("shift_unplugged", "unplugged"))
    if loose is not None:
        found.append(
            Does(
                state=f"{offer.name} unplugged",
                load="may come on" if loose.standing == "fails" else "off",
                why=loose.sentence,
                standing=loose.standing,
            )
        )
    return tuple(found)
