"""Signals and guards: what they offer and hold, against the simulated circuit."""

import unittest
from typing import Any

import numpy as np
from hexlet_core.circuit.devices import Resistor
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point
from hexlet_core.design.document import Supply, changed
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.exchange import choices
from hexlet_core.design.script import Script, SetPin, SetSupply
from hexlet_core.design.study import study
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.stages.contract import Corner
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.drives.pmos_high_side import PmosHighSide
from hexlet_core.stages.drives.relay_contact import RelayContact
from hexlet_core.stages.guards.across_switch import AcrossSwitch
from hexlet_core.stages.guards.back_feed import BackFeed
from hexlet_core.stages.guards.base_reverse import BaseReverse
from hexlet_core.stages.guards.decoupling import Decoupling
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.guards.fuse import Fuse
from hexlet_core.stages.guards.gate_clamp import GateClamp
from hexlet_core.stages.guards.reverse_guard import ReverseGuard
from hexlet_core.stages.guards.switch_snubber import SwitchSnubber
from hexlet_core.stages.loads.logic_input import LogicInput
from hexlet_core.stages.loads.module import ModuleLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.loads.signal_path import SignalPath
from hexlet_core.stages.loads.solenoid import SolenoidLoad
from hexlet_core.stages.signals.opto_signal import OptoSignal
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.sensor_module import SensorModule
from hexlet_core.stages.signals.stage_output import StageOutput
from hexlet_core.stages.signals.toggle_switch import ToggleSwitch

from .circuits import command, demand, design, every_design, fan, point, posed, switch, verdict


class Signals(unittest.TestCase):
    def test_what_a_signal_offers_is_what_it_gives(self) -> None:
        """Oracle: the simulated node, unloaded, in both states."""
        for signal in (
            PushButton(),
            PushButton(to="zero"),
            PushButton(form="NC"),
            PushButton(form="changeover"),
            ToggleSwitch(),
            SensorModule(),
            SensorModule(form="open collector"),
            StageOutput(),
            StageOutput(what="CMOS timer"),
            OptoSignal(r_led=220.0),
        ):
            made = design(signal, NmosLowSide(r_pull=None), Resistive())
            given, out = (command(made), study(made).flow.net("b1", "signal"))
            with self.subTest(
                f"{type(signal).__name__} {getattr(signal, 'form', '')} {getattr(signal, 'to', '')}"
            ):
                high, low = point(made, "high"), point(made, "low")
                self.assertAlmostEqual(high[out], given.high.volts.typical, delta=0.35)
                self.assertAlmostEqual(low[out], given.low.volts.typical, delta=0.25)

    def test_a_button_is_pressed_in_the_state_it_makes(self) -> None:
        script = Script(
            title="press", stop=0.1, events=(SetPin(at=0.02, level="high"), SetPin(at=0.06, level="low"))
        )
        made = design(PushButton(), NmosLowSide(r_pull=100e3), Resistive())
        signal = waves_of(study(made), script)
        inside, after = (signal.time > 0.03) & (signal.time < 0.06), signal.time > 0.075
        self.assertGreater(float(signal["b1.signal"][inside].min()), 12.0)
        self.assertLess(float(signal["b1.signal"][after].max()), 0.1)

    def test_swapping_the_signal_keeps_everything_else(self) -> None:
        made = fan(r_gate=330.0)
        for choice in choices(made, "b1"):
            if not choice.in_use:
                after = changed(made, [(c.path, c.value) for c in choice.changes])
                self.assertEqual(list(after.blocks.values())[1:], list(made.blocks.values())[1:])
                self.assertEqual(after.set_aside["b1"]["logic_pin"], made.blocks["b1"])

    def test_swapping_the_load_keeps_everything_else(self) -> None:
        made = fan(r_gate=330.0)
        for choice in evaluate(study(made)).loads:
            if not choice.in_use:
                after = changed(made, [(c.path, c.value) for c in choice.changes])
                self.assertEqual(list(after.blocks.values())[:3], list(made.blocks.values())[:3])
                self.assertTrue(study(after).verdicts)


class Guards(unittest.TestCase):
    def test_rc_across_the_coil(self) -> None:
        """Oracle: the simulated peak and the last moment the coil holds, against the closed form of the
        damped circuit.
        """
        made = fan("rc")
        script = Script(
            title="off",
            stop=0.12,
            start_volts=14.4,
            events=(SetPin(at=0.0, level="high"), SetPin(at=0.03, level="low")),
        )
        waves = waves_of(study(made), script)
        self.assertAlmostEqual(
            float(waves["b2.drain"].max()), min(verdict(made, "peak").nominal, 60.0), delta=6.0
        )

    def test_a_fuse_and_a_diode_in_the_rail_lose_what_they_say(self) -> None:
        made = design(
            NmosLowSide(r_pull=6800.0), Fuse(card="fuse-500ma"), ReverseGuard(), Resistive(resistance=100.0)
        )
        at, rail = point(made, "high", supply=14.4), switch(made).rail
        amps = at.current("R3", "a")
        lost = at["s.plus"] - at[study(made).flow.net("b2", "plus")]
        said = sum(loss.volts(amps) for loss in rail.losses)
        self.assertAlmostEqual(lost, said, delta=0.15)

    def test_a_reversed_battery_is_blocked_by_either_way(self) -> None:
        """Oracle: with the battery turned round, the + rail stays within half a volt of 0."""
        for way in ("diode", "pmos"):
            made = design(NmosLowSide(r_pull=6800.0), ReverseGuard(way=way), Resistive())  # type: ignore[arg-type]
            turned = posed(made, "low", Corner(supply=-12.6))
            self.assertLess(abs(operating_point(turned)[study(made).flow.net("b2", "plus")]), 0.5, way)
            right = point(made, "high")
            self.assertGreater(right[study(made).flow.net("b2", "plus")], 11.8, way)

    def test_a_gate_clamp_holds_the_gate(self) -> None:
        made = design(
            PushButton(),
            NmosLowSide(card="nmos-55v-30a", r_gate=1e3, r_pull=100e3),
            GateClamp(zener="zener-9v1"),
            Resistive(),
        )
        self.assertLess(point(made, "high", supply=24.0)["gate"], 10.0)
        self.assertEqual(verdict(changed(made, [("supply.high", 24.0)]), "gate_max").standing, "fits")

    def test_back_feed_is_stopped_by_its_diode(self) -> None:
        """Oracle: the energy of the load's capacitor, C·V²/2, with and without the guard."""
        big = ModuleLoad(capacitance=2.2e-3)
        bare, guarded = design(PmosHighSide(), big), design(PmosHighSide(), BackFeed(), big)
        self.assertEqual(verdict(bare, "back_feed").standing, "tight")
        self.assertAlmostEqual(verdict(bare, "back_feed").nominal, 2.2e-3 * 14.4**2 / 2)
        self.assertEqual(verdict(design(PmosHighSide(), ModuleLoad()), "back_feed").standing, "fits")
        self.assertEqual(verdict(guarded, "back_feed").standing, "fits")

    def test_every_guard_can_be_fitted_and_taken_out(self) -> None:
        made = fan()
        for guard in evaluate(study(made)).guards:
            after = changed(made, [(c.path, c.value) for c in guard.changes])
            self.assertNotEqual(guard.block in after.blocks, guard.in_use)
            self.assertFalse(study(after).open)
            again = next(
                g
                for g in evaluate(study(after)).guards
                if g.block == guard.block and g.in_use != guard.in_use
            )
            back = changed(after, [(c.path, c.value) for c in again.changes])
            self.assertEqual(back.blocks, made.blocks)
            self.assertEqual(set(back.joins), set(made.joins))

    def test_release_against_peak_is_shown_behind_another_guard_too(self) -> None:
        """Oracle: the plane of the same design without the fuse; a fuse before the freewheel part changes no
        school.
        """
        plain, fused = fan(), design(NmosLowSide(r_pull=6800.0), Fuse(), Freewheel(), RelayCoil())
        one, two = evaluate(study(plain)).trade, evaluate(study(fused)).trade
        assert one is not None and two is not None
        self.assertEqual([p.school for p in one.points], [p.school for p in two.points])
        for a, b in zip(one.points, two.points, strict=True):
            self.assertAlmostEqual(a.release, b.release, delta=1e-3 * a.release)
        self.assertTrue(all(c.path == "blocks.b4.school" for p in two.points for c in p.changes))

    def test_small_guards_have_their_say(self) -> None:
        made = design(
            NpnLowSide(r_base=270.0),
            Freewheel(),
            SwitchSnubber(),
            AcrossSwitch(),
            BaseReverse(),
            Decoupling(),
            RelayCoil(),
        )
        ids = {v.check for v in study(made).verdicts}
        self.assertLessEqual(
            {"snub_step", "snub_close", "across_volts", "base_reverse", "bulk_volts", "bulk_sag"}, ids
        )


class Contacts(unittest.TestCase):
    def test_levels_under_load_are_the_dividers(self) -> None:
        """Oracle: the voltage divider of the source's own resistance and a load of 10 kΩ at the node."""
        for signal, state in (
            (PushButton(to="zero"), "high"),
            (SensorModule(form="open collector"), "high"),
            (StageOutput(what="transistor"), "high"),
            (ToggleSwitch(), "high"),
        ):
            made = design(signal, NmosLowSide(r_pull=None), Resistive())
            given, out = command(made), study(made).flow.net("b1", "signal")
            bare = posed(made, state, Corner(supply=12.6))  # type: ignore[arg-type]
            loaded = Netlist.of([*bare.devices, Resistor(name="RX", a=out, b="0", resistance=10e3)])
            got = operating_point(loaded)[out]
            self.assertAlmostEqual(
                got, given.high.volts.typical * 10e3 / (10e3 + given.high.ohms), delta=0.02 * got
            )

    def test_a_filter_swallows_the_bounce(self) -> None:
        """Oracle: how often the simulated signal crosses half the supply during one press: once each way with
        the filter, more without.
        """

        def crossings(signal: PushButton) -> int:
            made = design(signal, NmosLowSide(r_pull=None), Resistive())
            script = Script(
                title="press", stop=0.2, events=(SetPin(at=0.02, level="high"), SetPin(at=0.1, level="low"))
            )
            level = waves_of(study(made), script)["b1.signal"] > 6.3
            return int(np.count_nonzero(np.diff(level)))

        self.assertGreater(crossings(PushButton()), 2)
        self.assertEqual(crossings(PushButton(r_filter=4.7e3, c_filter=2.2e-6)), 2)

    def test_the_peak_into_a_bare_capacitor(self) -> None:
        """Oracle: the largest current through the simulated contact."""
        made = design(
            PushButton(c_filter=1e-6, r_filter=100.0),
            NmosLowSide(r_pull=None),
            Resistive(),
            supply=Supply(low=12.0, typical=12.0, high=12.0, resistance=0.0),
        )
        script = Script(title="press", stop=0.06, events=(SetPin(at=0.02, level="high"),))
        waves = waves_of(study(made), script)
        through = (waves["b1.side"] - waves["b1.signal"]) / 100.0
        self.assertAlmostEqual(float(through.max()), verdict(made, "button_peak").nominal, delta=0.02)

    def test_resting_high_runs_the_load_and_says_so(self) -> None:
        for signal in (PushButton(to="zero"), PushButton(form="NC")):
            made = design(signal, NmosLowSide(), RelayCoil())
            self.assertEqual(verdict(made, "boot").standing, "fails")
            self.assertGreater(point(made, "high")["i(K1)"], 0.1)
        made = design(PushButton(to="zero"), PmosHighSide(shift="none", r_drive=100.0), RelayCoil())
        self.assertEqual(verdict(made, "boot").standing, "fits")
        self.assertGreater(point(made, "low")["i(K1)"], 0.1)


class LoadsInTime(unittest.TestCase):
    def test_a_modules_gulp(self) -> None:
        """Oracle: the simulated peak current at switch-on, which the gate's slow edge rounds off."""
        made = design(RelayContact(), ModuleLoad(), supply=Supply(low=12.0, typical=12.0, high=12.0))
        waves = waves_of(study(made), Script(title="on", stop=0.06, events=(SetPin(at=0.01, level="high"),)))
        peak, gulp = float(waves.current("M1", "a").max()), demand(made).surge(switch(made).rail)
        self.assertLess(peak, gulp * 1.05)
        self.assertGreater(peak, gulp * 0.5)

    def test_charge_flows_back_through_the_body_diode(self) -> None:
        """Oracle: with the supply gone and the switch off, the simulated module's volts reach the rail;
        behind the diode they do not.
        """
        for guard, back in ((Freewheel(school="none"), True), (BackFeed(), False)):
            made = design(PmosHighSide(), guard, ModuleLoad(current=1e-4, capacitance=2e-3))
            script = Script(
                title="gone",
                stop=0.3,
                events=(
                    SetPin(at=0.0, level="high"),
                    SetPin(at=0.1, level="low"),
                    SetSupply(at=0.11, volts=0.0, ramp=1e-3),
                ),
            )
            waves = waves_of(study(made), script)
            current = waves["i(BAT)"][waves.time > 0.112]
            self.assertEqual(float(np.abs(current).max()) > 0.5, back, type(guard).__name__)

    def test_a_solenoid_pulls_when_its_current_does(self) -> None:
        """Oracle: −τ·ln(1 − i/I) of the coil's rise, then the plunger's travel."""
        made = design(
            NmosLowSide(r_pull=6800.0),
            SolenoidLoad(),
            supply=Supply(low=12.0, typical=12.0, high=12.0, resistance=0.0),
        )
        waves = waves_of(study(made), Script(title="on", stop=0.08, events=(SetPin(at=0.01, level="high"),)))
        pulled = float(waves.time[waves.state("L1", 2) > 0.5][0]) - 0.01
        tau, share = 0.08 / 24.0, 0.75
        self.assertAlmostEqual(pulled, -tau * np.log(1 - share) + 15e-3, delta=0.6e-3)

    def test_a_logic_input_sees_what_its_verdict_says(self) -> None:
        made = design(NpnLowSide(r_base=1e3), LogicInput())
        self.assertLess(point(made, "high")["collector"], verdict(made, "input_low").limit)
        self.assertAlmostEqual(point(made, "low")["collector"], 3.3, delta=0.02)
        self.assertEqual(verdict(made, "input_sense").standing, "fits")

    def test_the_path_table_follows_what_rests(self) -> None:
        made = design(NmosLowSide(), SignalPath(rests="B", lines=1, spare="indicator"))
        rows = evaluate(study(made)).paths
        self.assertEqual([r.pole for r in rows], ["line 1", "spare pole"])
        self.assertIn("B1", rows[0].relaxed)
        self.assertIn("A1", rows[0].energised)
        self.assertEqual(rows[1].energised, "indicator lit")

    def test_a_snubber_tames_the_peak(self) -> None:
        """Oracle: the peak of the simulated switch with the capacitor across it, against V + I·√(L/C)."""
        made = design(
            NmosLowSide(card="nmos-60v-300ma", r_pull=6800.0),
            SwitchSnubber(capacitor="electrolytic-22u-25v", resistance=10.0),
            RelayCoil(),
        )
        script = Script(
            title="off",
            stop=0.09,
            start_volts=14.4,
            events=(SetPin(at=0.0, level="high"), SetPin(at=0.03, level="low")),
        )
        peak = float(waves_of(study(made), script)["b2.drain"].max())
        said = verdict(made, "snub_volts").nominal
        self.assertLess(peak, said * 1.1)
        self.assertGreater(peak, 14.0)


class Measured(unittest.TestCase):
    def test_what_is_measured_stands_in_the_document(self) -> None:
        """Oracle: a measurement that settles a given names a field that can be set to what the
        meter shows.
        """
        for made in every_design()[::5]:
            for found in evaluate(study(made)).measures:
                measure = found.measure
                self.assertTrue(measure.red and measure.black and measure.means)
                if measure.path is not None:
                    root, *steps = measure.path.split(".")
                    self.assertIn(root, ("blocks", "supply"))
                    owner: Any = made.supply if root == "supply" else made.blocks[steps[0]]
                    self.assertTrue(hasattr(owner, steps[-1]), measure.path)

    def test_a_measured_value_is_kept_beside_the_rated_one(self) -> None:
        made = changed(
            fan(),
            [
                ("blocks.b4.resistance", 101.0),
                ("origins", {"blocks.b4.resistance": "measured"}),
                ("rated", {"blocks.b4.resistance": 96.0}),
            ],
        )
        found = next(m for m in evaluate(study(made)).measures if m.measure.title == "Coil resistance")
        self.assertEqual((found.value, found.rated, found.measured), ("101 Ω", "96 Ω", True))

    def test_the_supplys_range_beside_what_the_load_needs(self) -> None:
        """Oracle: the coil's own numbers: 75 % of 12 V cold, times the copper's rise hot, 130 % at most."""
        found = evaluate(study(fan())).supply
        assert found.needs is not None and found.most is not None
        self.assertAlmostEqual(found.cold_needs or 0.0, 9.0)
        self.assertAlmostEqual(found.needs, 9.0 * (1 + 0.0039 * 27), delta=1e-6)
        self.assertAlmostEqual(found.most, 15.6)

    def test_the_contact_ladder_holds_the_cards_numbers(self) -> None:
        found = evaluate(study(fan())).contact
        assert found is not None
        rungs = {r.use: r for r in found.rungs}
        self.assertEqual((rungs["motor"].run, rungs["motor"].make, rungs["lamp"].run), (3.0, 10.0, 1.4))
        self.assertAlmostEqual(found.starts, 6 * found.runs)
