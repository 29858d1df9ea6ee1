"""Drives, signals, guards and loads beyond the first slice: each formula against the simulated circuit, each trap by its verdict."""

import unittest
from typing import Any

import numpy as np
from hexlet_core.cards import Drawer
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.design.circuit import netlist, views
from hexlet_core.design.document import Design, Supply, changed
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.judge import verdicts_of
from hexlet_core.design.mend import mend
from hexlet_core.rehearsal.events import SetPin
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.rehearsal.script import Script
from hexlet_core.stages.ac_bridge import AcBridge
from hexlet_core.stages.ac_load import AcLoad
from hexlet_core.stages.chain_low_side import ChainLowSide
from hexlet_core.stages.complementary import Complementary
from hexlet_core.stages.contact_signal import PushButton, ToggleSwitch
from hexlet_core.stages.contract import Corner, Schedule, State
from hexlet_core.stages.freewheel import Freewheel
from hexlet_core.stages.given_signal import SensorModule, StageOutput
from hexlet_core.stages.lamp import LampLoad
from hexlet_core.stages.led import LedLoad
from hexlet_core.stages.logic_input import LogicInput
from hexlet_core.stages.logic_pin import LogicPin
from hexlet_core.stages.module_load import ModuleLoad
from hexlet_core.stages.motor import MotorLoad
from hexlet_core.stages.nmos_low_side import NmosLowSide
from hexlet_core.stages.npn_low_side import NpnLowSide
from hexlet_core.stages.opto_signal import OptoSignal
from hexlet_core.stages.opto_switch import OptoSwitch
from hexlet_core.stages.pair_low_side import PairLowSide
from hexlet_core.stages.pmos_high_side import PmosHighSide
from hexlet_core.stages.pnp_high_side import PnpHighSide
from hexlet_core.stages.rail_guard import Fuse, ReverseGuard
from hexlet_core.stages.relay_coil import RelayCoil
from hexlet_core.stages.relay_contact import RelayContact
from hexlet_core.stages.resistive import Resistive
from hexlet_core.stages.series_pair import SeriesPair
from hexlet_core.stages.signal_path import SignalPath
from hexlet_core.stages.small_guards import AcrossSwitch, BackFeed, BaseReverse, Decoupling, GateClamp, SwitchSnubber
from hexlet_core.stages.solenoid import SolenoidLoad

from .circuits import TRANSFORMER, fan

DRAWER = Drawer()


def design(*stages: Any, supply: Supply | None = None, **volts: float) -> Design:
    """A design of some stages; a signal and a freewheel part are added where none is given."""
    found = list(stages)
    if found[0].role != "signal":
        found.insert(0, LogicPin())
    if not any(s.role == "guard" for s in found) and not (supply and supply.ac):
        found.insert(-1, Freewheel())
    made = Design(name="Kind", supply=supply or Supply(), stages=tuple(found))
    return changed(made, [(f"supply.{k}", v) for k, v in volts.items()]) if volts else made


def verdict(made: Design, name: str) -> Any:
    return next(v for v in verdicts_of(made, DRAWER) if v.id == name)


def point(made: Design, state: State, supply: float | None = None, **corner: Any) -> Any:
    at = Corner(supply=supply if supply is not None else made.supply.typical, **corner)
    return operating_point(netlist(made, DRAWER, at, Schedule(signal=(state,))))


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
            on: State = views(made, DRAWER)[0].on
            off: State = "low" if on == "high" else "high"
            load = views(made, DRAWER)[-1].refs["load"]
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
            made = design(drive, Resistive(resistance=100.0), supply=Supply(low=10.8, typical=12.6, high=14.4, resistance=0.0))
            at = point(made, views(made, DRAWER)[0].on, supply=10.8)
            load = views(made, DRAWER)[-1].refs["load"]
            lost = 10.8 - at.current(load, "a") * 100.0
            switch = views(made, DRAWER)[-1].switch
            assert switch is not None
            with self.subTest(type(drive).__name__):
                self.assertLessEqual(lost, switch.drop_worst * 1.1)
                self.assertGreater(lost, switch.drop * 0.2)

    def test_base_currents_of_a_pnp_and_its_shifter(self) -> None:
        made = design(PnpHighSide(), RelayCoil())
        refs, at = views(made, DRAWER)[1].refs, point(made, "high", supply=14.4)
        self.assertAlmostEqual(at.current(refs["series"], "a"), (14.4 - 0.8) / 820.0, delta=1.2e-3)
        low = point(made, "high", supply=10.8)
        gets = -low.current(refs["switch"], "b")
        self.assertAlmostEqual(gets, verdict(made, "fully_on").nominal, delta=0.12 * gets)

    def test_gate_of_a_divided_p_mosfet(self) -> None:
        """Oracle: the divider's own voltage at each end of the supply."""
        made = design(PmosHighSide(r_drive=4.7e3, r_pull=10e3), RelayCoil())
        for supply, name, share in ((10.8, "fully_on", "nominal"), (14.4, "gate_max", "nominal")):
            at = point(made, "high", supply=supply)
            self.assertAlmostEqual(at["plus"] - at["gate"], getattr(verdict(made, name), share), delta=0.25)

    def test_a_p_mosfets_turn_off_time(self) -> None:
        """Oracle: the simulated output falls within what R·Ciss·ln(V/Vpl) + Qgd·R/Vpl promises, and not ten times sooner."""
        made = design(PmosHighSide(r_pull=22e3), Resistive(resistance=47.0))
        waves = waves_of(made, Script(title="off", stop=4e-3, events=(SetPin(at=0.0, level="high"), SetPin(at=1e-3, level="low"))), DRAWER)
        gone = waves.time[(waves["drain"] < 1.0) & (waves.time > 1e-3)][0] - 1e-3
        promised = verdict(made, "turns_off").nominal
        self.assertLess(gone, promised * 1.1)
        self.assertGreater(gone, promised / 10)

    def test_a_pair_needs_next_to_nothing_and_keeps_a_volt(self) -> None:
        made = design(PairLowSide(), RelayCoil())
        at = point(made, "high")
        self.assertLess(at.current("R1", "a"), 0.3e-3)
        self.assertGreater(at["collector"], 0.6)
        self.assertAlmostEqual(at["collector"], views(made, DRAWER)[0].switch.drop, delta=0.35)  # type: ignore[union-attr]

    def test_a_stacked_pairs_upper_base_stands_on_the_lower_ones_drop(self) -> None:
        made = design(SeriesPair(), RelayCoil())
        at = point(made, "high")
        self.assertGreater(at["middle"], 0.02)
        self.assertAlmostEqual(at["base"] - at["middle"], 0.75, delta=0.15)

    def test_the_reset_button_wins(self) -> None:
        """Oracle: with the reset held, no current flows whatever the signal says."""
        made = design(SeriesPair(), RelayCoil())
        held = netlist(made, DRAWER, Corner(supply=12.6), Schedule(signal=("high",)))
        pressed = type(held).of([d.model_copy(update={"press_for": 1.0}) if d.name == "S1" else d for d in held.devices])
        self.assertLess(abs(operating_point(pressed)["i(K1)"]), 1e-4)

    def test_an_inverting_drive_runs_the_load_while_the_pin_is_low(self) -> None:
        made = design(ChainLowSide(), RelayCoil())
        self.assertEqual(views(made, DRAWER)[0].on, "low")
        self.assertGreater(point(made, "low")["i(K1)"], 0.1)
        self.assertLess(point(made, "high")["i(K1)"], 1e-4)

    def test_a_complementary_pair_runs_two_loads_in_turn(self) -> None:
        made = design(StageOutput(what="CMOS timer"), Complementary(r_base=220.0), Resistive(resistance=200.0))
        high, low = point(made, "high"), point(made, "low")
        load = views(made, DRAWER)[-1].refs["load"]
        other = views(made, DRAWER)[1].refs["other"]
        self.assertGreater(high.current(load, "a"), 0.04)
        self.assertGreater(low.current(other, "a"), 0.02)
        self.assertLess(high.current(other, "a"), 0.006)
        self.assertEqual(verdict(design(Complementary(), Resistive()), "resting").standing, "fails")

    def test_an_optocouplers_least_transfer_carries_what_is_promised(self) -> None:
        """Oracle: the phototransistor at the least transfer ratio, in saturation at the LED current the verdict asks for."""
        made = design(LogicPin(), OptoSwitch(r_led=220.0), Resistive(resistance=6000.0))
        at = point(made, "high", spread="min", signal="min")
        self.assertLess(at["collector"], 0.4)
        gets = at.current("R1", "a")
        self.assertAlmostEqual(gets, verdict(made, "transfer").nominal, delta=0.08 * gets)

    def test_a_relay_contact_carries_the_load_without_drop(self) -> None:
        made = design(RelayContact(), Resistive(resistance=22.0))
        at = point(made, "high")
        self.assertGreater(at["switched"], at["plus"] - 0.1)


class Signals(unittest.TestCase):
    def test_what_a_signal_offers_is_what_it_gives(self) -> None:
        """Oracle: the simulated node, unloaded, in both states."""
        for signal in (
            PushButton(), PushButton(to="zero"), PushButton(form="NC"), PushButton(form="changeover"), ToggleSwitch(), SensorModule(), SensorModule(form="open collector"),
            StageOutput(), StageOutput(what="CMOS timer"), OptoSignal(r_led=220.0),
        ):  # fmt: skip
            made = design(signal, NmosLowSide(r_pull=None), Resistive())
            offer = views(made, DRAWER)[0].offer
            assert offer is not None
            out = views(made, DRAWER)[0].nodes["out"]
            with self.subTest(f"{type(signal).__name__} {getattr(signal, 'form', '')} {getattr(signal, 'to', '')}"):
                high, low = point(made, "high"), point(made, "low")
                self.assertAlmostEqual(high[out], offer.high.typical, delta=0.35)
                self.assertAlmostEqual(low[out], offer.low, delta=0.25)

    def test_a_button_is_pressed_in_the_state_it_makes(self) -> None:
        script = Script(title="press", stop=0.1, events=(SetPin(at=0.02, level="high"), SetPin(at=0.06, level="low")))
        made = design(PushButton(), NmosLowSide(r_pull=100e3), Resistive())
        signal = waves_of(made, script, DRAWER)
        inside, after = (signal.time > 0.03) & (signal.time < 0.06), signal.time > 0.075
        self.assertGreater(float(signal["signal"][inside].min()), 12.0)
        self.assertLess(float(signal["signal"][after].max()), 0.1)

    def test_swapping_the_signal_keeps_everything_else(self) -> None:
        made = fan(r_gate=330.0)
        for choice in evaluate(made).signals:
            if not choice.in_use:
                after = changed(made, [(c.path, c.value) for c in choice.changes])
                self.assertEqual(after.stages[1:], made.stages[1:])
                self.assertEqual(after.set_aside["logic_pin"], made.stages[0])

    def test_swapping_the_load_keeps_everything_else(self) -> None:
        made = fan(r_gate=330.0)
        for choice in evaluate(made).loads:
            if not choice.in_use:
                after = changed(made, [(c.path, c.value) for c in choice.changes])
                self.assertEqual(after.stages[:3], made.stages[:3])
                self.assertTrue(verdicts_of(after, DRAWER))


class Guards(unittest.TestCase):
    def test_rc_across_the_coil(self) -> None:
        """Oracle: the simulated peak and the last moment the coil holds, against the closed form of the damped circuit."""
        made = fan("rc")
        script = Script(title="off", stop=0.12, start_volts=14.4, events=(SetPin(at=0.0, level="high"), SetPin(at=0.03, level="low")))
        waves = waves_of(made, script, DRAWER)
        self.assertAlmostEqual(float(waves["drain"].max()), min(verdict(made, "peak").nominal, 60.0), delta=6.0)

    def test_a_fuse_and_a_diode_in_the_rail_lose_what_they_say(self) -> None:
        made = design(NmosLowSide(r_pull=6800.0), Fuse(card="fuse-500ma"), ReverseGuard(), Resistive(resistance=100.0))
        at, all_views = point(made, "high", supply=14.4), views(made, DRAWER)
        lost = at["battery"] - at["plus"]
        said = sum(s.loses(v) for s, v in zip(made.stages, all_views, strict=True))
        self.assertAlmostEqual(lost, said, delta=0.15)

    def test_a_reversed_battery_is_blocked_by_either_way(self) -> None:
        """Oracle: with the battery turned round, the + rail stays within half a volt of 0."""
        for way in ("diode", "pmos"):
            made = design(NmosLowSide(r_pull=6800.0), ReverseGuard(way=way), Resistive())  # type: ignore[arg-type]
            turned = netlist(made, DRAWER, Corner(supply=-12.6), Schedule(signal=("low",)))
            self.assertLess(abs(operating_point(turned)["plus"]), 0.5, way)
            right = point(made, "high")
            self.assertGreater(right["plus"], 11.8, way)

    def test_a_gate_clamp_holds_the_gate(self) -> None:
        made = design(PushButton(), NmosLowSide(card="nmos-55v-30a", r_gate=1e3, r_pull=100e3), GateClamp(zener="zener-9v1"), Resistive())
        self.assertLess(point(made, "high", supply=24.0)["gate"], 10.0)
        self.assertEqual(verdict(changed(made, [("supply.high", 24.0)]), "gate_max").standing, "fits")

    def test_back_feed_is_stopped_by_its_diode(self) -> None:
        """Oracle: a full capacitor at the load, the supply at 0: current through the body diode with and without the guard."""
        bare = design(PmosHighSide(), ModuleLoad())
        guarded = design(PmosHighSide(), BackFeed(), ModuleLoad())
        self.assertEqual(verdict(bare, "back_feed").standing, "fails")
        self.assertEqual(verdict(guarded, "back_feed").standing, "fits")

    def test_every_guard_can_be_fitted_and_taken_out(self) -> None:
        made = fan()
        for guard in evaluate(made).guards:
            after = changed(made, [(c.path, c.value) for c in guard.changes])
            there = {g.kind: g for g in evaluate(after).guards}[guard.kind]
            self.assertNotEqual(there.in_use, guard.in_use)
            back = changed(after, [(c.path, c.value) for c in there.changes])
            self.assertEqual({type(s) for s in back.stages}, {type(s) for s in made.stages})

    def test_small_guards_have_their_say(self) -> None:
        made = design(NpnLowSide(r_base=270.0), Freewheel(), SwitchSnubber(), AcrossSwitch(), BaseReverse(), Decoupling(), RelayCoil())
        ids = {v.id for v in verdicts_of(made, DRAWER)}
        self.assertLessEqual({"snub_step", "snub_close", "across_volts", "base_reverse", "bulk_volts", "bulk_sag"}, ids)


class AlternatingCurrent(unittest.TestCase):
    """The low-voltage AC variant: 12 V transformer, bridge, one MOSFET, gate supply from the line."""

    def lamp(self, **drive: Any) -> Design:
        return design(LogicPin(), AcBridge(**drive), AcLoad(use="resistive"), supply=TRANSFORMER)

    def waves(self, made: Design, level: Any = "high", stop: float = 0.4) -> Any:
        return transient(netlist(made, DRAWER, Corner(supply=12.0), Schedule(signal=(level,))), stop)

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
        """Oracle: its level and ripple in the last periods, its start from empty, against the half-wave integral."""
        made = self.lamp()
        waves = self.waves(made)
        held = waves["gate_supply"][waves.time > 0.36]
        said = verdict(made, "gate_ripple")
        self.assertGreater(float(held.min()), 9.5)
        self.assertLess(float(np.ptp(held)), 3 * said.worst)
        need = 10.0 + 0.2
        up = float(waves.time[waves["gate_supply"] > need][0])
        self.assertLess(up, 2.5 * verdict(made, "gate_start").nominal)
        self.assertGreater(up, verdict(made, "gate_start").nominal / 4)

    def test_heat_of_the_feed_resistor(self) -> None:
        made = self.lamp()
        waves = self.waves(made, "low")
        late = waves.time > 0.34
        i = (waves["feed"] - waves["gate_supply"])[late] / 1000.0
        t = waves.time[late]
        watts = float(np.trapezoid(i * i * 1000.0, t) / (t[-1] - t[0]))
        self.assertLess(watts, 2 * verdict(made, "feed_heat").worst + 1e-3)

    def test_feed_across_the_switch_collapses(self) -> None:
        """Oracle: with the switch on, the supply taken across it sinks; taken from the line it stays."""
        for where, standing in (("line", True), ("switch", False)):
            made = self.lamp(feed_from=where)
            script = Script(title="on", stop=1.4, events=(SetPin(at=0.0, level="low"), SetPin(at=0.4, level="high")))
            waves = waves_of(made, script, DRAWER)
            before = float(waves["gate_supply"][np.searchsorted(waves.time, 0.39)])
            after = float(waves["gate_supply"][-1])
            self.assertEqual(after > before - 1.0, standing, where)
        self.assertEqual(verdict(self.lamp(feed_from="switch"), "gate_collapse").standing, "fails")

    def test_a_resistor_good_in_watts_but_not_in_volts(self) -> None:
        made = design(
            LogicPin(), AcBridge(bridge="bridge-600v-4a", r_feed=470e3, r_pull=1e6, feed_watts=0.5), AcLoad(volts=230.0, watts=20.0),
            supply=Supply(kind="transformer", low=207.0, typical=230.0, high=253.0),
        )  # fmt: skip
        self.assertEqual(verdict(made, "feed_heat").standing, "fits")
        self.assertEqual(verdict(made, "feed_volts").standing, "fails")

    def test_a_freewheel_diode_on_ac_shorts_half_waves(self) -> None:
        """Oracle: rms of the load's current with the diode against without it."""
        made = design(LogicPin(), AcBridge(), Freewheel(), AcLoad(use="resistive"), supply=TRANSFORMER)
        waves = self.waves(made)
        self.assertLess(float(np.abs(waves.current("E1", "a")[waves.time > 0.36]).min()), 0.2)
        self.assertEqual(verdict(made, "freewheel_ac").standing, "fails")

    def test_a_direct_current_drive_on_a_transformer_is_refused(self) -> None:
        self.assertEqual(verdict(design(NmosLowSide(), Resistive(), supply=TRANSFORMER), "supply_kind").standing, "fails")
        self.assertEqual(verdict(design(NmosLowSide(), AcLoad()), "load_ac").standing, "fails")

    def test_a_signal_on_the_lines_side_isolates_nothing(self) -> None:
        self.assertEqual(verdict(design(PushButton(), AcBridge(), AcLoad(), supply=TRANSFORMER), "isolated").standing, "fails")


class Traps(unittest.TestCase):
    """Each builds the mistake and expects the verdict."""

    def fails(self, name: str, made: Design) -> None:
        self.assertEqual(verdict(made, name).standing, "fails", name)

    def test_no_freewheel_stage_at_all(self) -> None:
        self.fails("peak", Design(name="Bare", stages=(LogicPin(), NpnLowSide(r_base=270.0), RelayCoil())))

    def test_freewheel_diode_reversed(self) -> None:
        self.fails("freewheel_way", design(NmosLowSide(r_pull=6800.0), Freewheel(turned=True), RelayCoil()))

    def test_high_side_straight_from_a_pin_that_cannot_reach_the_supply(self) -> None:
        for drive in (PnpHighSide(shift="none"), PmosHighSide(shift="none")):
            made = design(drive, RelayCoil())
            self.fails("off_level", made)
            self.assertGreater(point(made, "high")["i(K1)"], 0.05)  # it really stays on

    def test_a_pull_down_that_eats_the_gate_voltage(self) -> None:
        self.fails("fully_on", design(NmosLowSide(r_gate=4.7e3, r_pull=10e3), RelayCoil()))

    def test_gate_source_limit_on_a_charging_battery(self) -> None:
        self.fails("gate_max", design(PmosHighSide(card="pmos-30v-4a-logic", r_drive=100.0), RelayCoil()))

    def test_series_drops_starve_a_coil(self) -> None:
        self.fails("pull_in", design(PairLowSide(), ReverseGuard(diode="diode-1a-100v"), Freewheel(), RelayCoil()))

    def test_linear_region_heat_on_a_slow_gate(self) -> None:
        self.fails("edge", design(NmosLowSide(r_gate=10e6, r_pull=None), Resistive(resistance=3.0, power=100.0)))

    def test_a_sensor_used_during_its_warm_up(self) -> None:
        self.fails("warm_up", design(SensorModule(), NmosLowSide(), RelayCoil()))
        self.assertEqual(verdict(design(SensorModule(ignored=90.0), NmosLowSide(), RelayCoil()), "warm_up").standing, "fits")

    def test_a_small_signal_diode_as_rectifier(self) -> None:
        self.fails("reverse_current", design(NmosLowSide(), ReverseGuard(diode="diode-200ma-100v"), Resistive(resistance=33.0, power=20.0)))

    def test_an_optocoupler_at_its_least_transfer(self) -> None:
        self.fails("transfer", design(OptoSwitch(r_led=1e3), Resistive(resistance=6000.0)))

    def test_a_contact_rated_for_heaters_on_a_motor_or_lamp(self) -> None:
        self.fails("switch_contact_run", design(RelayContact(card="relay-12v-400r"), MotorLoad(running=0.8, stall=1.9)))
        self.fails("switch_contact_make", design(RelayContact(card="relay-12v-400r"), LampLoad(watts=5.0)))
        self.fails("contact_run", design(NmosLowSide(), RelayCoil(card="relay-12v-720r-signal", contact_load="lamp")))

    def test_one_pull_up_shared_by_too_many_bases(self) -> None:
        self.assertNotEqual(verdict(design(SeriesPair(), RelayCoil()), "reset_fully_on").standing, "fails")
        self.fails("reset_fully_on", design(SeriesPair(shared=6), RelayCoil()))

    def test_a_button_that_charges_a_bare_capacitor(self) -> None:
        self.fails("button_peak", design(PushButton(c_filter=10e-6), NmosLowSide(), RelayCoil()))
        self.assertNotEqual(
            verdict(design(PushButton(c_filter=10e-6, r_filter=1e3), NmosLowSide(), RelayCoil()), "button_peak").standing, "fails"
        )

    def test_a_weak_pull_up_while_booting_against_a_high_pull_down(self) -> None:
        self.fails("boot", fan(r_pull=100e3))

    def test_a_long_lead_without_a_filter(self) -> None:
        self.fails("lead_noise", design(ToggleSwitch(r_filter=None, c_filter=None), NmosLowSide(), RelayCoil()))

    def test_a_battery_voltage_on_a_logic_input(self) -> None:
        self.fails("input_over", design(PnpHighSide(), LogicInput()))
        self.fails("input_sense", design(NpnLowSide(), LogicInput(acts="high")))
        self.fails("pulse_width", design(NpnLowSide(), LogicInput(pulse=1e-6)))

    def test_a_signal_path_without_a_reference_pops(self) -> None:
        self.fails("pop", design(NmosLowSide(), SignalPath(r_reference=None)))
        self.fails("poles", design(NmosLowSide(), SignalPath(spare="indicator")))

    def test_a_power_contact_on_a_signal_is_dry(self) -> None:
        self.fails("contact_clean", design(NmosLowSide(), SignalPath(card="relay-12v-96r", resistance=96.0)))

    def test_a_solenoid_for_short_duty_left_on(self) -> None:
        self.fails("coil_heat", design(NmosLowSide(), SolenoidLoad(rated_duty=0.25)))

    def test_a_fuse_too_quick_for_a_lamp_and_too_big_for_its_wire(self) -> None:
        self.fails("fuse_surge", design(NmosLowSide(), Fuse(card="fuse-500ma"), Freewheel(), LampLoad(watts=21.0)))
        self.fails("fuse_wire", design(NmosLowSide(), Fuse(card="fuse-10a"), Freewheel(), LampLoad()))

    def test_a_capacitor_under_its_volts(self) -> None:
        self.fails("bulk_volts", design(NmosLowSide(), Decoupling(), Freewheel(), RelayCoil(rated=24.0), low=22.0, typical=24.0, high=28.0))

    def test_an_led_over_its_current_behind_a_high_side(self) -> None:
        self.fails("led_max", design(PmosHighSide(), LedLoad(r_series=470.0)))


class Mending(unittest.TestCase):
    """Oracle: the verdict, judged again after the change, passes, and nothing that passed now fails."""

    def test_what_is_offered_mends(self) -> None:
        for made, name in (
            (fan(r_pull=100e3), "boot"), (changed(fan("none"), [("stages.1.card", "nmos-60v-300ma")]), "peak"), (design(NpnLowSide(r_base=470.0), RelayCoil()), "fully_on"),
            (design(NmosLowSide(card="nmos-55v-30a"), RelayCoil()), "fully_on"), (design(PmosHighSide(), ModuleLoad()), "back_feed"),
            (design(PairLowSide(), RelayCoil()), "pull_in"),
        ):  # fmt: skip
            found = mend(made, DRAWER, name)
            assert found is not None, name
            after = changed(made, [(c.path, c.value) for c in found.changes])
            before = {v.id for v in verdicts_of(made, DRAWER) if v.standing == "fails"}
            now = {v.id for v in verdicts_of(after, DRAWER) if v.standing == "fails"}
            with self.subTest(f"{name}: {found.text}"):
                self.assertNotIn(name, now)
                self.assertLessEqual(now, before)

    def test_givens_are_never_changed(self) -> None:
        found = mend(fan(r_pull=100e3), DRAWER, "boot")
        assert found is not None
        self.assertFalse(any(c.path.startswith(("stages.0", "stages.3", "supply")) for c in found.changes))

    def test_nothing_is_offered_where_nothing_mends(self) -> None:
        self.assertIsNone(mend(changed(fan(), [("supply.high", 16.0)]), DRAWER, "coil_max"))


class Shortlists(unittest.TestCase):
    def test_those_that_pass_come_first_and_are_judged_in_the_design(self) -> None:
        from hexlet_core.design.choose import shortlist, with_card

        found = shortlist(fan(), DRAWER, 1, "card")
        standings = [r.standing == "fails" for r in found.rows]
        self.assertEqual(standings, sorted(standings))
        for row in found.rows:
            worst = {v.id for v in verdicts_of(with_card(fan(), 1, "card", row.card), DRAWER) if v.standing == "fails"}
            self.assertEqual(bool(worst), row.standing == "fails")
            self.assertEqual(len(worst), len(row.failing))
        heavy = next(r for r in found.rows if r.card == "nmos-55v-30a")
        self.assertIn("Gate voltage", " ".join(heavy.failing))
