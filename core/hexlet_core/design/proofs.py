"""Proofs: the simulated circuit's answer to what a check says, at the check's own corner, on its cut-out."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..cards.derive import Spread
from ..circuit.devices.heat import ROOM
from ..circuit.measure import Measurement, Since, signal
from ..circuit.netlist import Netlist
from ..circuit.solve import operating_point, transient
from ..circuit.waves import Waves
from ..errors import HexletError
from ..stages.contract import Corner, Scene
from ..stages.say.checks import At, Check, Shown
from .cutout import cutout
from .study import Study, ready

END: dict[str, Spread] = {"low": "min", "typical": "typ", "high": "max"}  # of a signal that is a load's rail
BREAKS = ("volts", "peak")  # what is beyond these breaks down, and shows nothing else
MOVES = 0.01  # share of its size that a quantity at rest may still move
SOON = 0.02  # until what rests is at rest beside something that does not [s]
NOTHING = 1e-9  # volts, amps or seconds that are none
UNDRIVEN = 0.2  # how far they may be apart where a transistor is left half on


@dataclass(frozen=True)
class Proof:
    """A check beside the number that the simulated circuit shows; not a number where it shows none."""

    block: str
    check: Check
    found: float
    within: float  # how far the two may be apart, relative
    driven: bool  # whether what switches is turned fully on
    cut: Study
    corner: Corner
    scene: Scene

    @property
    def circuit(self) -> Netlist:
        """What shows the number."""
        return self.cut.acted(self.corner, self.scene.acts)

    def reads(self, circuit: Netlist) -> float:
        """The number that this circuit shows, or one like it with other parts; not a number where none."""
        how = self.check.shown
        assert how is not None
        waves = _run(circuit, self.scene, how.look)
        if waves is None:
            return math.nan
        return _read(self.cut, self.block, how, self.scene, waves) * how.times + how.plus

    @property
    def off(self) -> float:
        """How far the circuit is off what the check says, relative."""
        said = self.check.nominal
        return abs(self.found - said) / max(abs(said), 1e-12)

    @property
    def holds(self) -> bool:
        """Whether the circuit shows what the check says."""
        floor = max(self.check.shown.floor if self.check.shown else 0.0, NOTHING)
        return self.off <= self.within or abs(self.found - self.check.nominal) <= floor


def corner_of(here: Study, block: str, at: At) -> Corner:
    """A block's check's corner, as the circuit has it."""
    supply = here.design.supply
    celsius = here.design.ambient.high if at.hot else ROOM
    stage, site = here.flow.stage(block), here.flow.sites[block]
    fed_by_signal = stage.role == "load" and site.switch.rail.signal
    signal = END[at.supply] if fed_by_signal else at.signal
    return Corner(supply=float(getattr(supply, at.supply)), celsius=celsius, signal=signal)


def proofs(here: Study, block: str) -> Iterator[Proof]:
    """Every check of a block that names where the circuit shows it, beside what the circuit shows.

    None on a supply that alternates: its checks are about crests and means of many periods.
    """
    stage, site = here.flow.stage(block), here.flow.sites[block]
    told = [c for c in ready(stage.checks, site) if c.shown is not None]
    if not told or here.open or here.design.supply.ac:
        return
    cut = cutout(here, block)
    driven = all(v.standing != "fails" for v in cut.verdicts if v.about == "turns on")
    broken = any(v.standing == "fails" for v in cut.verdicts if v.about in BREAKS and v.sort == "limit")
    unpulled = any(
        v.standing == "fails" and here.flow.stage(v.block).role == "drive"
        for v in cut.verdicts
        if v.about == "gets its volts" and v.block in here.design.blocks
    )
    moves = all(v.standing != "fails" for v in cut.verdicts if v.about == "turns off")
    runs: dict[tuple[Corner, Scene, float | None], Waves | None] = {}
    for check in told:
        assert check.shown is not None
        scene = cut.scene(block, check.shown.scene)
        if scene is None or broken or (stage.role in ("load", "guard") and (unpulled or not moves)):
            continue
        if (scene.look is not None or check.shown.look is not None) and not (
            driven and moves and not unpulled
        ):
            continue
        key = (corner_of(here, block, check.at), scene, check.shown.look)
        if key not in runs:
            runs[key] = _run(cut.acted(key[0], scene.acts), scene, key[2])
        waves = runs[key]
        found = math.nan if waves is None else _read(cut, block, check.shown, scene, waves)
        within = check.shown.within if driven else max(check.shown.within, UNDRIVEN)
        found = found * check.shown.times + check.shown.plus
        yield Proof(block, check, found, within, driven, cut, key[0], scene)


def _run(circuit: Netlist, scene: Scene, look: float | None) -> Waves | None:
    try:
        if scene.look is None and look is None:
            try:
                return operating_point(circuit).waves
            except HexletError:
                # A timer never rests: what does beside it is there soon.
                clocked = any(d.device == "timer" for d in circuit.devices)
                return transient(circuit, SOON, from_rest=True) if clocked else None
        return transient(circuit, (scene.look or 0.0) + (look or 0.0), from_rest=scene.cold)
    except HexletError:
        return None


def _read(cut: Study, block: str, how: Shown, scene: Scene, waves: Waves) -> float:
    name = cut.signal(block, how.signal)
    if how.look is None:
        values = signal(waves, name)
        late = values[waves.time >= 0.5 * waves.time[-1]]
        rests = float(np.ptp(late)) <= MOVES * float(np.max(np.abs(late)))
        return float(values[-1]) if rests else math.nan
    since = None
    if how.since is not None:
        since = Since(signal=cut.signal(block, how.since[0]), level=how.since[1], edge=how.since[2])
    begin = scene.look or 0.0
    return Measurement(
        name="shown", what=how.what, signal=name, level=how.level, edge=how.edge, after=begin, since=since
    ).of(waves)
