"""Another stage's output: a timer, comparator or transistor stage on the same supply, known by its levels."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Annotated, Literal

from ...fields import Q
from ...quantity import Interval
from ..contract.descriptions import Measure
from ..contract.facts import Command, Level, Rest
from ..contract.parts import Corner, Placed, Pose, pin
from ..contract.ports import Port, rail_in
from ..contract.scenes import Watch
from ..contract.site import Site
from ..say.wording import Say, Sentence, Word
from .given import GivenSignal

STAGES = (
    ("bipolar timer", "bipolar timer"),
    ("CMOS timer", "CMOS timer"),
    ("transistor", "transistor with a collector resistor"),
    ("own", "output of its own"),
)
# What each gives: drop below the supply [V], resistance [Ω], low level [V], current [A].
GIVES: dict[str, tuple[float, float, float, float]] = {
    "bipolar timer": (1.5, 5.0, 0.1, 0.1),
    "CMOS timer": (0.1, 60.0, 0.05, 0.01),
    "transistor": (0.0, 1000.0, 0.2, 0.012),
}


class StageOutput(GivenSignal):
    title = "Another stage"
    purpose = "A timer, comparator or transistor stage on the same supply gives the command."
    choose = "The circuit before this one is built already, or is worked out elsewhere."
    avoid = "Its output is not known: measure it high and low under load first."
    picture = "stage"
    noun = "stage"

    kind: Literal["stage_output"] = "stage_output"
    what: Literal["bipolar timer", "CMOS timer", "transistor", "own"] = "bipolar timer"
    drop: Annotated[float, Q("V", 0.0, 10.0)] = 1.5
    resistance: Annotated[float, Q("Ω", 0.1, 1e6)] = 5.0
    level_low: Annotated[float, Q("V", 0.0, 3.0)] = 0.1
    steady: Annotated[float, Q("A", 1e-6, 2.0)] = 0.1

    @property
    def summary(self) -> str:
        return self.what if self.what != "own" else "stage"

    def ports(self) -> tuple[Port, ...]:
        return (rail_in(), Port("out", "command", "out", {"out": "signal", "ref": "zero"}))

    def _gives(self) -> tuple[float, float, float, float]:
        return GIVES.get(self.what, (self.drop, self.resistance, self.level_low, self.steady))

    def gives(self, site: Site) -> Command:
        drop, r, low, amps = self._gives()
        rail = site.rail
        volts = Interval(rail.low - drop - 0.2 * (drop > 0), rail.typical - drop, rail.high - 0.8 * drop)
        return Command(
            high=Level(volts, r),
            low=Level(Interval.spread(low, 0.0), r),
            rest=Rest(low, r, "is low until it is triggered", "the stage before it rests", True),
            steady=amps,
            burst=2 * amps,
            name=self.noun,
            follows=True,
        )

    def make(self, site: Site) -> Iterable[Placed]:
        drop, r, low, _ = self._gives()

        def poses(corner: Corner) -> Mapping[str, Pose]:
            high = corner.supply - drop * {"min": 1.1, "typ": 1.0, "max": 0.8}[corner.signal]
            down, up = (low, r), (high, r)
            return {
                "low": down,
                "high": up,
                "floating": (0.0, 1e10),
                "boot": down,
                "idle": down,
                "active": up,
            }

        yield pin("pin", "Output of the stage before", {"out": "signal", "ref": "zero"}, poses)

    def phrase(self, say: Say, site: Site) -> Sentence:
        own = (Word(text="that stays"), say.field("drop", note="below the supply"))
        return (
            say.field("what", note="the stage before", choices=STAGES),
            *(own if self.what == "own" else ()),
        )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        own = (
            Word(text="which gives"),
            say.field("steady"),
            Word(text="behind"),
            say.field("resistance"),
            Word(text="and"),
            say.field("level_low", note="low"),
        )
        return {
            "behave": (
                Word(text="The load follows the"),
                say.field("what", note="the stage before", choices=STAGES),
                *(own if self.what == "own" else ()),
            )
        }

    def measures(self, site: Site) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Output high and low, loaded",
                mode="volts",
                red="its output",
                black="0 V rail",
                means=(
                    "With what it will drive connected. A bipolar timer stays 1.2 V to 1.7 V below the "
                    "supply: that is no fault."
                ),
                path=site.path("drop"),
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (Watch(id="signal", title="Stage", unit="V", signal="signal", place=0),)
