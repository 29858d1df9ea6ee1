"""The mistakes people make: each is built and expects its verdict; and what mends them."""

import unittest

from hexlet_core.design.document import Design, Supply, changed, in_line
from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.mend import mends
from hexlet_core.design.study import study
from hexlet_core.stages.drives.chain_low_side import ChainLowSide
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.drives.opto_switch import OptoSwitch
from hexlet_core.stages.drives.pair_low_side import PairLowSide
from hexlet_core.stages.drives.pmos_high_side import PmosHighSide
from hexlet_core.stages.drives.pnp_high_side import PnpHighSide
from hexlet_core.stages.drives.relay_contact import RelayContact
from hexlet_core.stages.drives.series_pair import SeriesPair
from hexlet_core.stages.guards.decoupling import Decoupling
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.guards.fuse import Fuse
from hexlet_core.stages.guards.reverse_guard import ReverseGuard
from hexlet_core.stages.loads.lamp import LampLoad
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.logic_input import LogicInput
from hexlet_core.stages.loads.module import ModuleLoad
from hexlet_core.stages.loads.motor import MotorLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.loads.signal_path import SignalPath
from hexlet_core.stages.loads.solenoid import SolenoidLoad
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.sensor_module import SensorModule
from hexlet_core.stages.signals.stage_output import StageOutput
from hexlet_core.stages.signals.toggle_switch import ToggleSwitch

from .circuits import command, design, every_design, fan, point, verdict, verdicts


class Traps(unittest.TestCase):
    """Each builds the mistake and expects the verdict."""

    def fails(self, name: str, made: Design) -> None:
        self.assertEqual(verdict(made, name).standing, "fails", name)

    def test_no_freewheel_stage_at_all(self) -> None:
        self.fails("peak", in_line(LogicPin(), NpnLowSide(r_base=270.0), RelayCoil(), name="Bare"))

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
        self.fails(
            "pull_in", design(PairLowSide(), ReverseGuard(diode="diode-1a-100v"), Freewheel(), RelayCoil())
        )

    def test_linear_region_heat_on_a_slow_gate(self) -> None:
        self.fails(
            "junction", design(NmosLowSide(r_gate=1e8, r_pull=None), Resistive(resistance=4.0, power=60.0))
        )

    def test_a_sensor_used_during_its_warm_up(self) -> None:
        self.assertEqual(
            verdict(design(SensorModule(), NmosLowSide(), RelayCoil()), "warm_up").standing, "tight"
        )
        self.assertEqual(
            verdict(design(SensorModule(ignored=90.0), NmosLowSide(), RelayCoil()), "warm_up").standing,
            "fits",
        )

    def test_a_small_signal_diode_as_rectifier(self) -> None:
        self.fails(
            "reverse_current",
            design(
                NmosLowSide(), ReverseGuard(diode="diode-200ma-100v"), Resistive(resistance=33.0, power=20.0)
            ),
        )

    def test_an_optocoupler_at_its_least_transfer(self) -> None:
        self.fails("transfer", design(OptoSwitch(r_led=1e3), Resistive(resistance=6000.0)))

    def test_a_contact_rated_for_heaters_on_a_motor_or_lamp(self) -> None:
        self.fails(
            "switch_contact_run",
            design(RelayContact(card="relay-12v-400r"), MotorLoad(running=0.8, stall=1.9)),
        )
        self.fails("switch_contact_make", design(RelayContact(card="relay-12v-400r"), LampLoad(watts=5.0)))
        self.fails(
            "contact_run", design(NmosLowSide(), RelayCoil(card="relay-12v-720r-signal", contact_load="lamp"))
        )

    def test_one_pull_up_shared_by_too_many_bases(self) -> None:
        self.assertNotEqual(verdict(design(SeriesPair(), RelayCoil()), "reset_fully_on").standing, "fails")
        self.fails("reset_fully_on", design(SeriesPair(shared=12), RelayCoil(resistance=48.0)))

    def test_a_button_that_charges_a_bare_capacitor(self) -> None:
        self.fails("button_peak", design(PushButton(c_filter=10e-6), NmosLowSide(), RelayCoil()))
        self.assertNotEqual(
            verdict(
                design(PushButton(c_filter=10e-6, r_filter=1e3), NmosLowSide(), RelayCoil()), "button_peak"
            ).standing,
            "fails",
        )

    def test_a_weak_pull_up_while_booting_against_a_high_pull_down(self) -> None:
        self.fails("boot", fan(r_pull=100e3))

    def test_a_long_lead_without_a_filter(self) -> None:
        bare = design(ToggleSwitch(r_filter=None, c_filter=None), NmosLowSide(), RelayCoil())
        self.assertEqual(verdict(bare, "lead_noise").standing, "tight")

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
        self.fails(
            "fuse_surge", design(NmosLowSide(), Fuse(card="fuse-500ma"), Freewheel(), LampLoad(watts=21.0))
        )
        self.fails("fuse_wire", design(NmosLowSide(), Fuse(card="fuse-10a"), Freewheel(), LampLoad()))

    def test_a_capacitor_under_its_volts(self) -> None:
        self.fails(
            "bulk_volts",
            design(
                NmosLowSide(),
                Decoupling(),
                Freewheel(),
                RelayCoil(rated=24.0),
                low=22.0,
                typical=24.0,
                high=28.0,
            ),
        )

    def test_an_led_over_its_current_behind_a_high_side(self) -> None:
        self.fails("led_max", design(PmosHighSide(), LedLoad(r_series=470.0)))


class Mending(unittest.TestCase):
    """Oracle: the verdict, judged again after the change, passes, and nothing that passed now fails."""

    def test_what_is_offered_mends(self) -> None:
        for made, name in (
            (fan(r_pull=100e3), "boot"),
            (changed(fan("none"), [("blocks.b2.card", "nmos-60v-300ma")]), "peak"),
            (design(NpnLowSide(r_base=470.0), RelayCoil()), "overdrive"),
            (design(NmosLowSide(card="nmos-55v-30a"), RelayCoil()), "fully_on"),
            (design(PmosHighSide(), ModuleLoad(capacitance=2.2e-3)), "back_feed"),
            (design(PairLowSide(), RelayCoil()), "pull_in"),
        ):
            answer = mends(study(made), verdict(made, name).id)
            self.assertTrue(answer.mends, name)
            before = {v.check for v in study(made).verdicts if v.standing == "fails"}
            for found in answer.mends:
                after = changed(made, [(c.path, c.value) for c in found.changes])
                now = {v.check for v in study(after).verdicts if v.standing == "fails"}
                with self.subTest(f"{name}: {found.text}"):
                    self.assertNotIn(name, now)
                    self.assertLessEqual(now, before)
            owned = [m.stock != 0 for m in answer.mends]
            self.assertEqual(owned, sorted(owned, reverse=True))

    def test_what_follows_from_a_fault_is_mended_with_it(self) -> None:
        """Oracle: the design with the mend: none of the checks that followed fails."""
        made = design(NmosLowSide(card="nmos-55v-30a", r_pull=6800.0), RelayCoil())
        cause = verdict(made, "fully_on")
        followers = [v.check for v in study(made).verdicts if v.cause == cause.id]
        self.assertTrue(followers)
        answer = mends(study(made), cause.id)
        self.assertEqual(answer.follow, len(followers))
        best = changed(made, [(c.path, c.value) for c in answer.mends[0].changes])
        self.assertEqual(answer.mends[0].cures, len(followers))
        self.assertTrue(all(verdicts(best)[f].standing != "fails" for f in followers))

    def test_what_helps_too_little_is_said(self) -> None:
        answer = mends(study(design(NpnLowSide(r_base=1e3), RelayCoil())), "b2.fully_on")
        self.assertTrue(any("short" in u.margin for u in answer.useless), answer.useless)

    def test_givens_are_never_changed(self) -> None:
        for found in mends(study(fan(r_pull=100e3)), "b2.boot").mends:
            self.assertFalse(
                any(c.path.startswith(("blocks.b1", "blocks.b4", "supply")) for c in found.changes)
            )

    def test_nothing_is_offered_where_nothing_mends(self) -> None:
        found = mends(study(changed(fan(), [("supply.high", 18.0)])), "b4.coil_max")
        self.assertEqual(found.mends, ())


class Shortlists(unittest.TestCase):
    def test_those_that_pass_come_first_and_are_judged_in_the_design(self) -> None:
        from hexlet_core.design.choose import shortlist, with_card

        found = shortlist(study(fan()), "b2", "card")
        standings = [r.standing == "fails" for r in found.rows]
        self.assertEqual(standings, sorted(standings))
        for row in found.rows:
            worst = {
                v.id
                for v in study(with_card(fan(), "b2", "card", row.card)).verdicts
                if v.standing == "fails"
            }
            self.assertEqual(bool(worst), row.standing == "fails")
            self.assertEqual(len(worst), len(row.failing))
        heavy = next(r for r in found.rows if r.card == "nmos-55v-30a")
        self.assertIn("Gate voltage", " ".join(heavy.failing))


class Joints(unittest.TestCase):
    """Where signal and drive meet. Oracle: the operating point in each state of the signal."""

    def test_the_state_table_is_what_the_circuit_does(self) -> None:
        for made in (
            design(NmosLowSide(r_pull=6800.0), RelayCoil()),
            design(ChainLowSide(), RelayCoil()),
            design(PnpHighSide(), RelayCoil()),
            design(PnpHighSide(shift="none"), RelayCoil()),
            design(PushButton(to="zero"), PmosHighSide(shift="none", r_drive=100.0), RelayCoil()),
            design(SensorModule(form="open collector"), NmosLowSide(), RelayCoil()),
        ):
            rows = {d.state: d for d in evaluate(study(made)).truth}
            noun = command(made).name
            for state in ("high", "low"):
                flows = point(made, state)["i(K1)"] > 0.05
                with self.subTest(f"{[s.summary for s in made.blocks.values()]} {state}"):
                    self.assertEqual(flows, rows[f"{noun} {state}"].load != "off")

    def test_polarity_is_a_row_of_its_own(self) -> None:
        standing = {True: "fits", False: "fails"}
        for signal, drive, meant in (
            (LogicPin(), NmosLowSide(), True),
            (LogicPin(), ChainLowSide(), False),
            (PushButton(to="zero"), NmosLowSide(), False),
            (PushButton(to="zero"), PnpHighSide(shift="none"), True),
            (SensorModule(form="open collector"), ChainLowSide(), True),
        ):
            row = next(
                j for j in evaluate(study(design(signal, drive, RelayCoil()))).joints if j.title == "Polarity"
            )
            self.assertEqual(row.standing, standing[meant], type(signal).__name__ + type(drive).__name__)

    def test_every_row_names_a_verdict_that_is_there(self) -> None:
        for made in every_design()[::9]:
            found = evaluate(study(made))
            ids = {v.id for v in found.verdicts}
            self.assertTrue(all(j.verdict is None or j.verdict in ids for j in found.joints))
            commanded = any(b.endswith(".command") for _, b in made.joins)
            if commanded:
                self.assertLessEqual({"Polarity", "Source resistance"}, {j.title for j in found.joints})


class FollowsTheSupply(unittest.TestCase):
    def test_a_signal_on_the_same_supply_turns_a_high_side_off_and_a_bipolar_timer_does_not(self) -> None:
        """Oracle: the simulated coil's current with the signal high, on the full and on the flat battery."""
        for signal, off in (
            (PushButton(to="zero"), True),
            (StageOutput(what="CMOS timer"), True),
            (StageOutput(what="bipolar timer"), False),
        ):
            made = design(signal, PnpHighSide(shift="none", r_drive=820.0, r_pull=None), RelayCoil())
            for supply in (10.8, 14.4):
                self.assertEqual(point(made, "high", supply=supply)["i(K1)"] < 5e-3, off, signal.summary)
            standing = next((v.standing for v in study(made).verdicts if v.check == "off_level"), "fits")
            self.assertEqual(standing != "fails", off, signal.summary)


class BorrowedRail(unittest.TestCase):
    def test_a_rail_that_cannot_spare_the_current(self) -> None:
        rail = Supply(kind="rail", low=11.4, typical=12.0, high=12.6, spare=0.1)
        self.assertEqual(
            verdict(design(NmosLowSide(), RelayCoil(), supply=rail), "rail_spare").standing, "fails"
        )
        self.assertEqual(
            verdict(
                design(NmosLowSide(), RelayCoil(card="relay-12v-400r", resistance=400.0), supply=rail),
                "rail_spare",
            ).standing,
            "fits",
        )

    def test_a_long_lead_and_ripple_starve_the_coil(self) -> None:
        """Oracle: Ohm's law: what the lead and half the ripple leave of the low supply, against the simulated
        coil's volts.
        """
        rail = Supply(kind="rail", low=11.0, typical=12.0, high=12.6, lead=12.0, ripple=0.4, resistance=0.0)
        made = design(NmosLowSide(r_pull=6800.0), RelayCoil(contact_supply="AC"), supply=rail)
        found = verdict(made, "pull_in")
        self.assertEqual(found.standing, "fails")
        at = point(made, "high", supply=11.0 - 0.2)
        coil = at["plus"] - at["drain"]
        self.assertAlmostEqual(coil, found.nominal, delta=0.25)
