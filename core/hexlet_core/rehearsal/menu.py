"""What can be done to a design in a script: each verb with the fields it asks for and what it begins with."""

from __future__ import annotations

from typing import Any

from ..design.study import Study
from ..fields import Document
from .events import LEVELS
from .rehearse import Actor, Rehearsal, actors_of, node_word

HELD = 0.1  # how long a press lasts when nobody says [s]


class AskedFor(Document):
    """One field of a verb; typed in shorthand, or chosen where there are choices (value and words)."""

    name: str
    label: str
    unit: str = ""
    choices: tuple[tuple[str, str], ...] = ()


class Verb(Document):
    """One thing an event can do. `event` is what a new one begins with, its time apart."""

    do: str
    title: str
    fields: tuple[AskedFor, ...]
    event: dict[str, Any]


def _verb(do: str, title: str, *fields: AskedFor, **event: Any) -> Verb:
    at = AskedFor(name="at", label="at", unit="s")
    return Verb(do=do, title=title, fields=(at, *fields), event={"do": do, **event})


def menu(here: Study, run: Rehearsal) -> tuple[Verb, ...]:
    """Every verb for this design: its actors first, then the supply, then what a hand does at the bench."""
    return (*_by_actor(here), *_at_supply(here), *_at_bench(here, run))


def _by_actor(here: Study) -> tuple[Verb, ...]:
    actors = actors_of(here)
    by: dict[str, list[Actor]] = {}
    for actor in actors:
        by.setdefault(actor.does, []).append(actor)

    def who(name: str, does: str, label: str) -> AskedFor:
        own = by[does]
        return AskedFor(name=name, label=label, choices=tuple((a.ref, a.title) for a in own))

    found = []
    if pins := by.get("set"):
        levels = AskedFor(name="level", label="level", choices=tuple(LEVELS.items()))
        found.append(
            _verb("set", "Pin changes", who("who", "set", "which"), levels, who=pins[0].ref, level="high")
        )
        found.append(
            _verb(
                "sweep",
                "Input swept slowly",
                AskedFor(name="volts", label="to", unit="V"),
                AskedFor(name="over", label="within", unit="s"),
                volts=5.0,
                over=1.0,
            )
        )
    if buttons := by.get("press"):
        held = AskedFor(name="hold", label="held for", unit="s")
        found.append(
            _verb(
                "press",
                "Button pressed",
                who("button", "press", "which"),
                held,
                button=buttons[0].ref,
                hold=HELD,
            )
        )
    if knobs := by.get("turn"):
        found.append(
            _verb(
                "turn",
                "Trimmer turned",
                who("pot", "turn", "which"),
                AskedFor(name="to", label="to (0 to 1)"),
                AskedFor(name="over", label="within", unit="s"),
                pot=knobs[0].ref,
                to=0.5,
                over=0.2,
            )
        )
    return tuple(found)


def _at_supply(here: Study) -> tuple[Verb, ...]:
    supply = here.design.supply
    if supply.ac:
        return ()
    volts = AskedFor(name="volts", label="to", unit="V")
    ramp = AskedFor(name="ramp", label="within", unit="s")
    return (_verb("supply", f"{supply.word.capitalize()} changes", volts, ramp, volts=supply.low, ramp=1e-3),)


def _at_bench(here: Study, run: Rehearsal) -> tuple[Verb, ...]:
    part = AskedFor(name="part", label="part", choices=tuple((p, p) for p in run.parts))
    nodes = tuple((node, node_word(here, node)) for node in run.nodes)
    found = []
    if run.parts:
        found += [
            _verb("lift", "Part taken out", part, part=run.parts[0]),
            _verb("refit", "Part put back", part, part=run.parts[0]),
        ]
    if run.nodes:
        found.append(
            _verb(
                "probe",
                "Meter put on",
                AskedFor(name="red", label="red lead", choices=nodes),
                AskedFor(name="black", label="black lead", choices=(("0", "the 0 V rail"), *nodes)),
                AskedFor(name="until", label="until", unit="s"),
                AskedFor(name="resistance", label="resistance", unit="Ω"),
                red=run.nodes[0],
                black="0",
                until=run.stop,
                resistance=1e7,
            )
        )
    return tuple(found)
