"""Random designs with sensible and silly givens: what verdicts say beside what the simulated circuit does.

Oracle: the operating point and the run of the cut-out at each check's own corner. A fixed seed here; the long
run is part of `make bench`.
"""

import math
import random
import unittest
from collections.abc import Iterator
from dataclasses import dataclass, field

from hexlet_core.design.confirm import confirm
from hexlet_core.design.document import Design, Supply, changed, in_line
from hexlet_core.design.exchange import sized
from hexlet_core.design.study import Study, study
from hexlet_core.errors import HexletError
from hexlet_core.fields import quantity_of
from hexlet_core.stages.contract import Stage
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.registry import of_role
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.sensor_module import SensorModule
from hexlet_core.stages.signals.stage_output import StageOutput

from .circuits import DRAWER

APART = ("ac_bridge", "one_of_n", "soft_latch")  # these want designs of their own


class Givens:
    """Random givens: signals of 1.8 V to 24 V, supplies of 3 V to 60 V, loads of 1 mA to 30 A, coils of 20 Ω
    to 5 kΩ.
    """

    def __init__(self, seed: int) -> None:
        self.draw = random.Random(seed)

    def decades(self, low: float, high: float) -> float:
        """A number, every decade as likely."""
        return math.exp(self.draw.uniform(math.log(low), math.log(high)))

    def supply(self) -> Supply:
        volts = self.decades(3, 60)
        low, high = volts * self.draw.uniform(0.8, 0.98), volts * self.draw.uniform(1.02, 1.25)
        ohms = self.decades(0.01, 1)
        return Supply(kind="bench supply", low=low, typical=volts, high=high, resistance=ohms)

    def signal(self) -> Stage:
        steady = self.decades(1e-3, 50e-3)
        kinds: tuple[tuple[type[Stage], dict[str, object]], ...] = (
            (
                LogicPin,
                {
                    "level": self.draw.choice((1.8, 2.5, 3.3, 5, 12, 24)),
                    "steady": steady,
                    "burst": 2 * steady,
                },
            ),
            (PushButton, {"to": self.draw.choice(("plus", "zero")), "r_pull": self.decades(1e3, 1e5)}),
            (StageOutput, {"what": self.draw.choice(("bipolar timer", "CMOS timer", "transistor"))}),
            (SensorModule, {"form": self.draw.choice(("push-pull", "open collector"))}),
        )
        kind, values = self.draw.choice(kinds)
        return kind.model_validate(values)

    def drive(self, silly: bool) -> Stage:
        kind = self.draw.choice([k for k in of_role("drive") if k().kind not in APART])  # type: ignore[attr-defined]
        made = kind()
        if not silly:
            return made
        values = {}
        for name in kind.model_fields:
            if name.startswith("r_") and getattr(made, name) is not None:
                ohms = self.decades(500, 2e5) if "pull" in name else self.decades(30, 3e4)
                ends = quantity_of(kind, name)
                assert ends is not None
                values[name] = min(max(ohms, ends.low), ends.high)
        return kind.model_validate(made.model_dump() | values)

    def load(self, volts: float) -> tuple[Stage, ...]:
        amps = self.decades(1e-3, self.draw.choice((30.0, 2.0, 2.0)))
        coil = RelayCoil(resistance=self.decades(20, 5e3), rated=self.draw.choice((3, 5, 12, 24, 48)))
        school = self.draw.choice(("diode", "diode_zener", "none"))
        return self.draw.choice(
            (
                (Freewheel.model_validate({"school": school}), coil),
                (Resistive(resistance=max(volts / amps, 0.1), power=100.0),),
                (LedLoad(count=self.draw.randint(1, 4), r_series=self.decades(30, 5e3)),),
            )
        )

    def designs(self, count: int) -> Iterator[Design]:
        """So many designs that are whole, half of them sized by the program and half silly."""
        made = 0
        while made < count:
            supply, silly = self.supply(), self.draw.random() < 0.5
            stages = (self.signal(), self.drive(silly), *self.load(supply.typical))
            try:
                design = in_line(*stages, name="Random", supply=supply)
                design = design if silly else sized(design, "b2", DRAWER)
                here = study(design, DRAWER)
                if here.open or here.problems:
                    continue
            except HexletError:
                continue
            made += 1
            yield design


@dataclass
class Tally:
    """What was found over many designs."""

    designs: int = 0
    compared: int = 0
    differ: int = 0
    contradict: list[str] = field(default_factory=list)

    def add(self, here: Study) -> None:
        self.designs += 1
        kinds = " > ".join(s.kind for s in here.design.blocks.values())  # type: ignore[attr-defined]
        verdicts = {v.id: v for v in here.verdicts}
        for found in confirm(here):
            self.compared += 1
            self.differ += not found.agrees
            if found.contradicts:
                v = verdicts[found.id]
                self.contradict.append(
                    f"{v.check} says {v.nominal:.4g}, shows {found.text}, limit {v.limit:.4g} in {kinds}"
                )

    def __str__(self) -> str:
        return (
            f"{self.designs} designs, {self.compared} verdicts rehearsed: {self.differ} numbers apart, "
            f"{len(self.contradict)} on the other side of their limit"
        )


def tally(seed: int, count: int) -> Tally:
    """Random designs, each verdict beside its circuit."""
    found = Tally()
    for design in Givens(seed).designs(count):
        found.add(study(design, DRAWER))
    return found


class RandomDesigns(unittest.TestCase):
    def test_formulas_rarely_contradict_the_circuit(self) -> None:
        """Where they do, the circuit decides; at most one in two hundred is left to it."""
        found = tally(seed=2026, count=120)
        print(f"\n{found}")
        self.assertLess(len(found.contradict), found.compared / 200, found.contradict)

    def test_where_they_contradict_the_circuit_decides(self) -> None:
        """Oracle: the standing of the circuit's own number."""
        decided = 0
        for design in Givens(7).designs(60):
            here = study(design, DRAWER)
            verdicts = {v.id: v for v in here.verdicts}
            for found in confirm(here):
                v = verdicts[found.id]
                if not found.contradicts or v.sort == "practice" or v.ask:
                    self.assertEqual(found.standing == "fails", v.standing == "fails")
                    continue
                decided += 1
                breaks = found.found > v.limit if v.sense == "at most" else found.found < v.limit
                self.assertEqual(found.standing == "fails", breaks)
        self.assertGreater(decided, 0)

    def test_a_suggestion_is_one_a_person_would_fit(self) -> None:
        """Oracle: within its window and its field's bounds; put in, what bounds it does not fail."""
        tried = 0
        for design in Givens(11).designs(60):
            here = study(design, DRAWER)
            failing = {v.id for v in here.verdicts if v.standing == "fails"}
            for window in here.windows:
                if window.suggested is None or window.low is None or window.high is None:
                    continue
                tried += 1
                self.assertGreaterEqual(window.suggested, window.low.value * (1 - 1e-9))
                self.assertLessEqual(window.suggested, window.high.value * (1 + 1e-9))
                after = study(changed(design, [(window.path, window.suggested)]), DRAWER)
                guarded = {f"{window.path.split('.')[1]}.{b.verdict}" for b in (window.low, window.high)}
                now = {v.id for v in after.verdicts if v.standing == "fails"}
                self.assertFalse((now - failing) & guarded, (window.path, window.suggested))
        self.assertGreater(tried, 20)
