"""Soft start: how the output comes up, against the circuit and against its own equations integrated apart."""

import unittest

import numpy as np
from hexlet_core.cards import Drawer
from hexlet_core.cards.card import FieldEffectCard
from hexlet_core.cards.points import channel_amps
from hexlet_core.circuit.measure import signal
from hexlet_core.circuit.solve import transient
from hexlet_core.design.document import Design, Supply, changed, in_line
from hexlet_core.design.study import study
from hexlet_core.stages.contract import Act, Corner, Stage
from hexlet_core.stages.drives.pmos_high_side import PmosHighSide
from hexlet_core.stages.drives.soft_start import SoftStart
from hexlet_core.stages.guards.fuse import Fuse
from hexlet_core.stages.loads.module import ModuleLoad
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.rules.ramp import comes_up
from hexlet_core.stages.signals.logic_pin import LogicPin

from .circuits import verdict

BATTERY = Supply(kind="lead-acid battery", low=10.8, typical=12.6, high=14.4, resistance=0.05)
GATE_ONLY: dict[str, object] = {"c_rate": None, "c_gate": 4.7e-6}
LARGE = ModuleLoad(capacitance=2200e-6, current=0.8)


def softly(load: Stage, **more: object) -> Design:
    return in_line(LogicPin(), SoftStart.model_validate(more), load, name="Softly", supply=BATTERY)


class Ramps(unittest.TestCase):
    def test_it_comes_up_as_the_circuit_does(self) -> None:
        """Oracle: the transient of the whole design, its peak and its rise from a tenth to nine tenths."""
        for load in (LARGE, Resistive(resistance=24.0, power=15.0)):
            for more in ({}, {"c_rate": 330e-9}, {"r_drive": 220e3, "r_pull": 2.2e6}, GATE_ONLY):
                design = softly(load, **more)
                here = study(design)
                stage, site = here.flow.stage("b2"), here.flow.sites["b2"]
                assert isinstance(stage, SoftStart)
                rise = stage.rise(site, 12.6)
                stop = 0.1 + rise.delay + 4 * rise.seconds
                waves = transient(here.acted(Corner(supply=12.6), (Act("b1", "active", 0.1),)), stop)
                volts = signal(waves, here.signal("b2", "drain"))
                low, high = (float(waves.time[np.flatnonzero(volts > s * volts[-1])[0]]) for s in (0.1, 0.9))
                peak = float(-signal(waves, here.signal("b2", "i(switch.d)")).min())
                with self.subTest(load=load.summary, more=more):
                    self.assertAlmostEqual(rise.seconds, (high - low) / 0.8, delta=0.16 * rise.seconds)
                    self.assertAlmostEqual(rise.peak, peak, delta=0.13 * peak)

    def test_the_equations_hold_when_they_are_stepped_apart(self) -> None:
        """Oracle: the same two charges by small steps of Euler's rule."""
        card = Drawer().card("pmos-55v-12a", FieldEffectCard)
        v, drive, pull, c_gate, c_rate, c_load, ohms = 12.0, 330e3, 2.2e6, 470e-9, 47e-9, 1000e-6, 24.0
        rise = comes_up(card, v, drive, pull, c_gate, c_rate, c_load, ohms)
        v_gs = v_out = peak = 0.0
        step = 2e-6
        ends: dict[float, float] = {}
        for k in range(150_000):
            amps = channel_amps(card, v_gs, max(v - v_out, 0.0))
            rises = (amps - v_out / ohms) / c_load
            fed = (v - v_gs) / drive - v_gs / pull
            v_gs += step * (fed - (c_rate + card.c_rss) * rises) / (c_gate + card.c_iss)
            v_out += step * rises
            peak = max(peak, amps)
            for share in (0.1, 0.9):
                if v_out > share * v:
                    ends.setdefault(share, k * step)
        self.assertAlmostEqual(rise.peak, peak, delta=0.01 * peak)
        self.assertAlmostEqual(rise.seconds, (ends[0.9] - ends[0.1]) / 0.8, delta=0.01 * rise.seconds)
        self.assertAlmostEqual(rise.delay, ends[0.1], delta=0.01 * rise.delay)

    def test_an_inrush_that_opens_a_fuse_is_cured(self) -> None:
        behind = (Fuse(card="fuse-1a-slow"), ModuleLoad(capacitance=22e-3, current=0.3, esr=0.05))
        slow = SoftStart(c_rate=1.5e-6, c_gate=15e-6)
        hard, soft = (
            in_line(LogicPin(), drive, *behind, name="Fused", supply=BATTERY)
            for drive in (PmosHighSide(), slow)
        )
        self.assertEqual(verdict(hard, "fuse_surge").standing, "fails")
        self.assertEqual(verdict(soft, "fuse_surge").standing, "fits")

    def test_the_window_of_its_capacitor_ends_where_the_gulp_and_the_plug_do(self) -> None:
        """Oracle: the window's ends put in: neither asks for more than its check allows."""
        design = softly(LARGE, gulp=1.8)
        window = next(w for w in study(design).windows if w.path.endswith("c_rate"))
        assert window.low is not None and window.high is not None
        low, high = (changed(design, [("blocks.b2.c_rate", b.value)]) for b in (window.low, window.high))
        self.assertLessEqual(verdict(low, "gulp").worst, 1.8)
        self.assertAlmostEqual(verdict(high, "plugged").nominal, 2.0, delta=0.02)

    def test_plugged_in_it_stays_off_and_without_its_gate_capacitor_it_does_not(self) -> None:
        """Oracle: the transient of a supply that comes up within a microsecond."""
        lifted = []
        for c_gate in (1.5e-6, 100e-12):
            design = softly(LARGE, c_gate=c_gate)
            here = study(design)
            self.assertEqual(verdict(design, "plugged").standing == "fails", c_gate < 1e-9)
            devices = [
                d.model_copy(update={"value": 0.0, "points": [(0.0, 0.0), (1e-4, 0.0), (1.01e-4, 14.4)]})
                if d.name == "BAT"
                else d
                for d in here.netlist(Corner(supply=14.4)).devices
            ]
            waves = transient(type(here.netlist(Corner(supply=14.4))).of(devices), 2e-3, from_rest=True)
            lifted.append(float(-signal(waves, here.signal("b2", "i(switch.d)")).min()))
        self.assertLess(lifted[0], 0.2)
        self.assertGreater(lifted[1], 1.0)
