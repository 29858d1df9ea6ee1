"""The mistakes people make: each is built and expects its verdict; and what mends them."""

import unittest

from hexlet_core.design.document import Design, changed
from hexlet_core.design.judge import verdicts_of
from hexlet_core.design.mend import mend
from hexlet_core.stages.contact_signal import PushButton, ToggleSwitch
from hexlet_core.stages.freewheel import Freewheel
from hexlet_core.stages.given_signal import SensorModule
from hexlet_core.stages.lamp import LampLoad
from hexlet_core.stages.led import LedLoad
from hexlet_core.stages.logic_input import LogicInput
from hexlet_core.stages.logic_pin import LogicPin
from hexlet_core.stages.module_load import ModuleLoad
from hexlet_core.stages.motor import MotorLoad
from hexlet_core.stages.nmos_low_side import NmosLowSide
from hexlet_core.stages.npn_low_side import NpnLowSide
from hexlet_core.stages.opto_switch import OptoSwitch
from hexlet_core.stages.output_guards import Decoupling
from hexlet_core.stages.pair_low_side import PairLowSide
from hexlet_core.stages.pmos_high_side import PmosHighSide
from hexlet_core.stages.pnp_high_side import PnpHighSide
from hexlet_core.stages.rail_guard import Fuse, ReverseGuard
from hexlet_core.stages.relay_coil import RelayCoil
from hexlet_core.stages.relay_contact import RelayContact
from hexlet_core.stages.resistive import Resistive
from hexlet_core.stages.series_pair import SeriesPair
from hexlet_core.stages.signal_path import SignalPath
from hexlet_core.stages.solenoid import SolenoidLoad

from .circuits import DRAWER, design, fan, point, verdict


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
