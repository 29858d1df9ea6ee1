"""Drives and alternating current: each formula against the simulated circuit."""

import unittest
from typing import Any

import numpy as np
from hexlet_core.cards import catalogue
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.design.document import Design, Supply
from hexlet_core.design.script import Script, SetPin
from hexlet_core.design.study import study
from hexlet_core.prove.expect import expectations
from hexlet_core.rehearsal.rehearse import rehearse, waves_of
from hexlet_core.rehearsal.script import presets
from hexlet_core.stages.contract import Corner
from hexlet_core.stages.drives.ac_bridge import AcBridge
from hexlet_core.stages.drives.chain_low_side import ChainLowSide
from hexlet_core.stages.drives.complementary import Complementary
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.drives.opto_switch import OptoSwitch
from hexlet_core.stages.drives.pair_low_side import PairLowSide
from hexlet_core.stages.drives.pmos_high_side import PmosHighSide
from hexlet_core.stages.drives.pnp_high_side import PnpHighSide
from hexlet_core.stages.drives.relay_contact import RelayContact
from hexlet_core.stages.drives.series_pair import SeriesPair
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.ac_load import AcLoad
from hexlet_core.stages.loads.motor import MotorLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.registry import of_role
from hexlet_core.stages.rules.switching import pulse_resistance
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.stage_output import StageOutput

from .circuits import TRANSFORMER, design, point, posed, refs, switch, verdict


class Drives(unittest.TestCase):
    """Oracle: the operating point of the simulated circuit at the corner a formula names."""

    def test_every_drive_runs_and_rests_the_load(self) -> None:
        for drive in (
            NpnLowSide(r_base=270.0),
            NmosLowSide(r_pull=6800.0),
            PnpHighSide(),
            PnpHighSide(shift="nmos"),
            PmosHighSide(),
            PairLowSide(),
            SeriesPair(),
            ChainLowSide(),
            RelayContact(),
        ):
            made = design(drive, Resistive(resistance=100.0))
            on = switch(made).on
            off = "low" if on == "high" else "high"
            load = refs(made)["load"]
            runs = point(made, on).current(load, "a")
            with self.subTest(type(drive).__name__):
                self.assertGreater(runs, 0.105)
                self.assertLess(abs(point(made, off).current(load, "a")), 1e-4)

    def test_drops_are_what_the_load_really_loses(self) -> None:
        for drive in (
            NpnLowSide(r_base=270.0),
            PnpHighSide(),
            PmosHighSide(),
            PairLowSide(),
            SeriesPair(),
            ChainLowSide(r_collector=560.0),
            RelayContact(),
        ):
            made = design(
                drive,
                Resistive(resistance=100.0),
                supply=Supply(low=10.8, typical=12.6, high=14.4, resistance=0.0),
            )
            at = point(made, switch(made).on, supply=10.8)
            load = refs(made)["load"]
            lost = 10.8 - at.current(load, "a") * 100.0
            amps, keeps = at.current(load, "a"), switch(made)
            with self.subTest(type(drive).__name__):
                self.assertLessEqual(lost, keeps.lost_worst(amps) * 1.1)
                self.assertGreater(lost, keeps.lost(amps) * 0.2)

    def test_base_currents_of_a_pnp_and_its_shifter(self) -> None:
        made = design(PnpHighSide(), RelayCoil())
        names, at = refs(made), point(made, "high", supply=14.4)
        self.assertAlmostEqual(at.current(names["series"], "a"), (14.4 - 0.8) / 820.0, delta=1.2e-3)
        low = point(made, "high", supply=10.8)
        gets = -low.current(names["switch"], "b")
        self.assertAlmostEqual(gets, verdict(made, "fully_on").nominal, delta=0.12 * gets)

    def test_gate_of_a_divided_p_mosfet(self) -> None:
        """Oracle: the divider's own voltage at each end of the supply."""
        made = design(PmosHighSide(r_drive=4.7e3, r_pull=10e3), RelayCoil())
        for supply, name, share in ((10.8, "fully_on", "nominal"), (14.4, "gate_max", "nominal")):
            at = point(made, "high", supply=supply)
            self.assertAlmostEqual(at["s.plus"] - at["gate"], getattr(verdict(made, name), share), delta=0.25)

    def test_a_p_mosfets_turn_off_time(self) -> None:
        """Oracle: the simulated output falls within what R·Ciss·ln(V/Vpl) + Qgd·R/Vpl promises, and not ten
        times sooner.
        """
        made = design(PmosHighSide(r_pull=22e3), Resistive(resistance=47.0))
        waves = waves_of(
            study(made),
            Script(
                title="off", stop=4e-3, events=(SetPin(at=0.0, level="high"), SetPin(at=1e-3, level="low"))
            ),
        )
        gone = waves.time[(waves["b2.drain"] < 1.0) & (waves.time > 1e-3)][0] - 1e-3
        promised = verdict(made, "turns_off").nominal
        self.assertLess(gone, promised * 1.1)
        self.assertGreater(gone, promised / 10)

    def test_a_pair_needs_next_to_nothing_and_keeps_a_volt(self) -> None:
        made = design(PairLowSide(), RelayCoil())
        at = point(made, "high")
        self.assertLess(at.current("R1", "a"), 0.3e-3)
        self.assertGreater(at["collector"], 0.6)
        self.assertAlmostEqual(at["collector"], switch(made).lost(0.13), delta=0.35)

    def test_a_stacked_pairs_upper_base_stands_on_the_lower_ones_drop(self) -> None:
        made = design(SeriesPair(), RelayCoil())
        at = point(made, "high")
        self.assertGreater(at["middle"], 0.02)
        self.assertAlmostEqual(at["base"] - at["middle"], 0.75, delta=0.15)

    def test_the_reset_button_wins(self) -> None:
        """Oracle: with the reset held, no current flows whatever the signal says."""
        made = design(SeriesPair(), RelayCoil())
        held = posed(made, "high", Corner(supply=12.6))
        pressed = type(held).of(
            [d.model_copy(update={"press_for": 1.0}) if d.name == "S1" else d for d in held.devices]
        )
        self.assertLess(abs(operating_point(pressed)["i(K1)"]), 1e-4)

    def test_an_inverting_drive_runs_the_load_while_the_pin_is_low(self) -> None:
        made = design(ChainLowSide(), RelayCoil())
        self.assertEqual(switch(made).on, "low")
        self.assertGreater(point(made, "low")["i(K1)"], 0.1)
        self.assertLess(point(made, "high")["i(K1)"], 1e-4)

    def test_a_complementary_pair_runs_two_loads_in_turn(self) -> None:
        made = design(
            StageOutput(what="CMOS timer"), Complementary(r_base=220.0), Resistive(resistance=200.0)
        )
        high, low = point(made, "high"), point(made, "low")
        load = refs(made)["load"]
        other = refs(made)["other"]
        self.assertGreater(high.current(load, "a"), 0.04)
        self.assertGreater(low.current(other, "a"), 0.02)
        self.assertLess(high.current(other, "a"), 0.006)
        self.assertEqual(verdict(design(Complementary(), Resistive()), "resting").standing, "fails")

    def test_an_optocouplers_least_transfer_carries_what_is_promised(self) -> None:
        """Oracle: the phototransistor at the least transfer ratio, in saturation at the LED current the
        verdict asks for.
        """
        made = design(LogicPin(), OptoSwitch(r_led=220.0), Resistive(resistance=6000.0))
        at = point(made, "high", spread="min", signal="min")
        self.assertLess(at["collector"], 0.4)
        gets = at.current("R1", "a") * catalogue()["optocoupler-35v"].transfer  # type: ignore[union-attr]
        self.assertAlmostEqual(gets, verdict(made, "transfer").nominal, delta=0.08 * gets)

    def test_a_relay_contact_carries_the_load_without_drop(self) -> None:
        made = design(RelayContact(), Resistive(resistance=22.0))
        at = point(made, "high")
        self.assertGreater(at["switched"], at["s.plus"] - 0.1)


class AlternatingCurrent(unittest.TestCase):
    """The low-voltage AC variant: 12 V transformer, bridge, one MOSFET, gate supply from the line."""

    def lamp(self, **drive: Any) -> Design:
        return design(LogicPin(), AcBridge(**drive), AcLoad(use="resistive"), supply=TRANSFORMER)

    def supply(self, waves: Any) -> Any:
        """The gate's supply, counted from the bridge's minus."""
        return waves["b2.gate_supply"] - waves["b2.minus"]

    def waves(self, made: Design, level: Any = "high", stop: float = 0.4) -> Any:
        return transient(posed(made, level, Corner(supply=12.0)), stop)

    def test_the_load_gets_nearly_all_or_nothing(self) -> None:
        """Oracle: rms of the load's current over two periods against the sine less two diode drops."""
        made = self.lamp()
        for level, low, high in (("high", 1.4, 1.67), ("low", 0.0, 0.02)):
            waves = self.waves(made, level)
            t = waves.time[waves.time > 0.36]
            i = waves.current("E1", "a")[waves.time > 0.36]
            rms = float(np.sqrt(np.trapezoid(i**2, t) / (t[-1] - t[0])))
            self.assertLessEqual(low, rms)
            self.assertLess(rms, high)

    def test_the_gates_supply(self) -> None:
        """Oracle: its level and ripple in the last periods, its start from empty, against the half-wave
        integral.
        """
        made = self.lamp()
        waves = self.waves(made)
        held = self.supply(waves)[waves.time > 0.36]
        said = verdict(made, "gate_ripple")
        self.assertGreater(float(held.min()), 9.5)
        self.assertLess(float(np.ptp(held)), 3 * said.worst)
        need = 10.0 + 0.2
        up = float(waves.time[self.supply(waves) > need][0])
        self.assertLess(up, 2.5 * verdict(made, "gate_start").nominal)
        self.assertGreater(up, verdict(made, "gate_start").nominal / 4)

    def test_heat_of_the_feed_resistor(self) -> None:
        """Oracle: the mean of i²·R over two simulated periods, fed by one half wave and by both."""
        lamp, supply = (
            AcLoad(use="resistive", volts=24.0),
            Supply(kind="transformer", low=23, typical=24, high=25),
        )
        for feed in ("line", "switch"):
            made = design(LogicPin(), AcBridge(feed_from=feed), lamp, supply=supply)
            waves = transient(posed(made, "low", Corner(supply=24.0)), 0.4)
            late = waves.time > 0.36
            t, i = waves.time[late], (waves["b2.feed"] - waves["b2.gate_supply"])[late] / 1000.0
            watts = float(np.trapezoid(i * i * 1000.0, t) / (t[-1] - t[0]))
            here = study(made)
            fed = made.blocks["b2"].gate_supply(here.flow.sites["b2"])  # type: ignore[attr-defined]
            held = float(self.supply(waves)[late].mean())
            self.assertAlmostEqual(fed.through(24.0, held)[1], watts, delta=0.08 * watts)

    def test_what_sees_the_crest_is_judged(self) -> None:
        """Oracle: the largest voltage across each part in the simulated circuit, gate off."""
        made = self.lamp()
        waves = self.waves(made, "low")
        late = waves.time > 0.3
        drain = (waves["b2.drain"] - waves["b2.minus"])[late]
        self.assertLess(float(drain.max()), verdict(made, "store_volts").worst)
        high = design(
            LogicPin(),
            AcBridge(bridge="bridge-600v-4a"),
            AcLoad(volts=230.0, watts=20.0),
            supply=Supply(kind="transformer", low=207.0, typical=230.0, high=253.0),
        )
        for name in ("store_volts", "feed_reverse"):
            self.assertEqual(verdict(high, name).standing, "fails")
        self.assertAlmostEqual(verdict(high, "feed_reverse").nominal, 253.0 * 2**0.5 + 12.6, delta=0.1)

    def test_feed_across_the_switch_collapses(self) -> None:
        """Oracle: with the switch on, the supply taken across it sinks; taken from the line it stays."""
        for where, standing in (("line", True), ("switch", False)):
            made = self.lamp(feed_from=where)
            script = Script(
                title="on", stop=1.4, events=(SetPin(at=0.0, level="low"), SetPin(at=0.4, level="high"))
            )
            waves = waves_of(study(made), script)
            before = float(self.supply(waves)[np.searchsorted(waves.time, 0.39)])
            after = float(self.supply(waves)[-1])
            self.assertEqual(after > before - 1.0, standing, where)
        self.assertEqual(verdict(self.lamp(feed_from="switch"), "gate_collapse").standing, "fails")

    def test_a_resistor_good_in_watts_but_not_in_volts(self) -> None:
        made = design(
            LogicPin(),
            AcBridge(bridge="bridge-600v-4a", r_feed=470e3, r_pull=1e6, feed_watts=0.5),
            AcLoad(volts=230.0, watts=20.0),
            supply=Supply(kind="transformer", low=207.0, typical=230.0, high=253.0),
        )
        self.assertEqual(verdict(made, "feed_heat").standing, "fits")
        self.assertEqual(verdict(made, "feed_volts").standing, "fails")

    def test_a_freewheel_diode_on_ac_shorts_half_waves(self) -> None:
        """Oracle: rms of the load's current with the diode against without it."""
        made = design(LogicPin(), AcBridge(), Freewheel(), AcLoad(use="resistive"), supply=TRANSFORMER)
        waves = self.waves(made)
        self.assertLess(float(np.abs(waves.current("E1", "a")[waves.time > 0.36]).min()), 0.2)
        self.assertEqual(verdict(made, "freewheel_ac").standing, "fails")

    def test_a_direct_current_drive_on_a_transformer_is_refused(self) -> None:
        self.assertEqual(
            verdict(design(NmosLowSide(), Resistive(), supply=TRANSFORMER), "supply_kind").standing, "fails"
        )
        self.assertEqual(verdict(design(NmosLowSide(), AcLoad()), "load_ac").standing, "fails")

    def test_a_signal_on_the_lines_side_isolates_nothing(self) -> None:
        self.assertEqual(
            verdict(design(PushButton(), AcBridge(), AcLoad(), supply=TRANSFORMER), "isolated").standing,
            "fails",
        )


class Thermals(unittest.TestCase):
    def test_a_pulse_heats_as_the_root_of_its_time(self) -> None:
        """Oracle: the stated law: a quarter of the time, half the resistance; never more than the
        steady one.
        """
        self.assertAlmostEqual(pulse_resistance(62.0, 0.1), 6.2)
        self.assertAlmostEqual(pulse_resistance(62.0, 0.004), 6.2 * 0.2)
        self.assertAlmostEqual(pulse_resistance(62.0, 0.01) * 2, pulse_resistance(62.0, 0.04))
        self.assertEqual(pulse_resistance(62.0, 300.0), 62.0)

    def test_the_energy_of_a_slow_edge(self) -> None:
        """Oracle: the power in the simulated MOSFET integrated over the edge, against V·I/6 for as long as
        the verdict says; the verdict counts the whole climb of the gate, the channel needs only part of it.
        """
        made = design(
            NmosLowSide(r_gate=470e3, r_pull=None),
            Resistive(resistance=22.0, power=20.0),
            supply=Supply(low=12.0, typical=12.0, high=12.0, resistance=0.0),
        )
        waves = waves_of(study(made), Script(title="on", stop=4e-3, events=(SetPin(at=1e-4, level="high"),)))
        power = waves.power("Q1") - float(waves.power("Q1")[-1])
        spent = float(np.trapezoid(np.maximum(power, 0.0), waves.time))
        seconds = verdict(made, "switching").worst
        said = 12.0 * 12.0 / 22.0 / 6.0 * seconds
        self.assertLess(spent, said * 1.3)
        self.assertGreater(spent, said / 12.0)

    def test_heat_of_every_transistor_drive(self) -> None:
        """Oracle: conduction loss at the operating point on the full supply, between a quarter and all of
        what the worst case says.
        """
        for drive in (
            NpnLowSide(r_base=270.0),
            NmosLowSide(r_pull=6800.0),
            PnpHighSide(),
            PmosHighSide(),
            PairLowSide(),
            ChainLowSide(r_collector=560.0),
        ):
            made = design(drive, Resistive(resistance=100.0))
            at = point(made, switch(made).on, supply=14.4)
            ref = refs(made)["switch"]
            with self.subTest(type(drive).__name__):
                self.assertLess(at.power(ref), verdict(made, "heat").worst * 1.1)
                self.assertGreater(at.power(ref), verdict(made, "heat").worst * 0.2)

    def test_a_heatsink_is_asked_for_by_its_resistance(self) -> None:
        made = design(PairLowSide(), Resistive(resistance=16.0, power=20.0))
        found = verdict(made, "heat")
        self.assertEqual(found.standing, "fails")
        assert found.remedy is not None
        self.assertIn("K/W", found.remedy.text)
        self.assertIn("needs a heatsink", found.sentence)


class Rehearsed(unittest.TestCase):
    """Every kind runs in time under its own first script, and the load really comes and goes."""

    def test_every_drive_in_time(self) -> None:
        for kind in (
            k for k in of_role("drive") if any(p.kind == "command" and p.needed for p in k().ports())
        ):
            bridge = kind is AcBridge
            made = design(
                LogicPin(),
                kind(),
                AcLoad() if bridge else Resistive(resistance=3300.0),
                supply=TRANSFORMER if bridge else None,
            )
            found = rehearse(study(made))
            with self.subTest(kind.__name__):
                self.assertGreater(found.steps, 20)
                current = next(lane for lane in found.lanes if lane.title == "Load current")
                self.assertGreater(max(current.value) - min(current.value), 8e-4)

    def test_every_load_in_time(self) -> None:
        for kind in of_role("load"):
            made = design(NmosLowSide(r_pull=6800.0), Freewheel(), kind())
            with self.subTest(kind.__name__):
                self.assertGreater(rehearse(study(made)).steps, 20)

    def test_an_inverting_drive_begins_at_rest(self) -> None:
        """Oracle: the preset's first state is the one in which the load is off."""
        made = design(ChainLowSide(), RelayCoil())
        for script in presets(study(made))[:5]:
            waves = waves_of(study(made), script)
            start = float(waves["i(K1)"][0])
            first = next(e for e in script.events if isinstance(e, SetPin) and e.at == 0.0)
            with self.subTest(script.title):
                self.assertEqual(start > 0.05, first.level == "low" or (first.level == "boot"))

    def test_a_motors_script_is_long_enough_to_spin_up(self) -> None:
        made = design(NmosLowSide(r_pull=6800.0), MotorLoad(spin_up=0.3))
        waves = waves_of(study(made), presets(study(made))[3])
        on = (waves.time > presets(study(made))[3].stop * 0.5) & (
            waves.time < presets(study(made))[3].stop * 0.65
        )
        self.assertLess(float(waves["i(M1)"][on].min()), 0.35)

    def test_readings_of_a_low_voltage_ac_design(self) -> None:
        """Oracle: a slow meter shows the zener's volts at the gate's supply, near nothing across the switch
        when on.
        """
        made = design(LogicPin(), AcBridge(), AcLoad(use="resistive"), supply=TRANSFORMER)
        found = {e.id: e for e in expectations(study(made))}
        self.assertAlmostEqual(found["b2.gate_supply.idle"].nominal, 12.0, delta=0.8)
        self.assertLess(found["b2.drain.active"].nominal, 0.2)
        self.assertGreater(found["b2.drain.idle"].nominal, 8.0)
