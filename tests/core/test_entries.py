"""The one door: whoever brings it, the same bounds, and amounts in the mechanism's own unit."""

import math
import unittest
from datetime import UTC, date, datetime

from hypothesis import given
from hypothesis import strategies as st

from pondus.core.clock import Clock
from pondus.core.entries.instruments import StringEntry, instrument_entry, string_entry
from pondus.core.entries.log import LARGEST_PEG_MOVE_DEGREES, LARGEST_SCREW_MOVE_TURNS, move_entry, reading_entry
from pondus.core.entries.people import person_entry
from pondus.core.entries.settings import check_settings
from pondus.core.entries.texts import check_text
from pondus.core.entries.upkeep import care_entry, climate_entry
from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS
from pondus.core.judgement.heard import Heard

NOW = datetime(2026, 11, 25, 8, tzinfo=UTC)
CLOCK = Clock(NOW)
A = INSTRUMENTS["violin"].string("A")


class RefusedTest(unittest.TestCase):
    def refused(self, field: str, says: str, does: object, /, *given: object, **named: object) -> None:
        with self.assertRaises(BadInput) as caught:
            does(*given, **named)  # type: ignore[operator]
        self.assertEqual(caught.exception.field, field)
        self.assertIn(says, caught.exception.message)


def move(**changes: object):  # type: ignore[no-untyped-def]
    told = {
        "mechanism": "fine-tuner", "direction": "raise", "amount": 0.5, "unit": "turn", "has_fine_tuner": True, **changes,
    }  # fmt: skip
    return move_entry(A, **told)  # type: ignore[arg-type]


class TestMoves(RefusedTest):
    def test_ninety_degrees_of_a_screw_are_a_quarter_turn(self) -> None:
        made = move(amount=90.0, unit="degree")
        self.assertEqual((made.amount, made.unit), (0.25, "turn"))
        peg = move(mechanism="peg", amount=0.01, unit="turn")
        self.assertEqual((peg.amount, peg.unit), (3.6, "degree"))

    @given(st.floats(0.001, 10_000.0), st.sampled_from(["turn", "degree"]), st.sampled_from(["peg", "fine-tuner"]))
    def test_whatever_is_kept_is_in_its_own_unit_and_within_reach(self, amount: float, unit: str, mechanism: str) -> None:
        try:
            made = move(amount=amount, unit=unit, mechanism=mechanism)
        except BadInput:
            return
        own = "turn" if mechanism == "fine-tuner" else "degree"
        most = LARGEST_SCREW_MOVE_TURNS if own == "turn" else LARGEST_PEG_MOVE_DEGREES
        self.assertEqual(made.unit, own)
        self.assertTrue(0.0 <= made.amount <= most)

    def test_what_no_hand_does_is_refused(self) -> None:
        self.refused("amount", "goes 40 at most", move, amount=41.0)
        self.refused("amount", "goes 7200 at most", move, mechanism="peg", amount=21.0, unit="turn")
        self.assertEqual(move(mechanism="peg", amount=60.0, unit="turn", peg_kind="geared").amount, 21_600.0)
        self.refused("recent_move.amount", "isn't a move", move, amount=0.0)
        self.refused("recent_move.amount", "isn't a move", move, amount=math.inf)
        self.refused("recent_move.mechanism", "has none", move, has_fine_tuner=False)
        self.refused("mechanism", "isn't something that is turned", move, mechanism="bridge")
        self.refused("direction", "isn't a valid direction", move, direction="sideways")
        self.refused("unit", "isn't a valid unit", move, unit="radian")
        self.refused("expect_cents", "can't be", move, expect_cents=math.nan)
        self.refused("expect_plus_minus", "0 or more", move, expect_plus_minus=-1.0)


class TestReadings(RefusedTest):
    def test_a_reading_is_kept_as_heard(self) -> None:
        entry = reading_entry(A, Heard(note="A4", cents=-12.0), source="microphone", spread_cents=0.4)
        self.assertEqual((entry.string, entry.heard.cents, entry.source, entry.spread_cents), ("A", -12.0, "microphone", 0.4))

    def test_what_cannot_be_is_refused(self) -> None:
        self.refused("source", "isn't a valid source", reading_entry, A, Heard(hz=440.0), source="guess")
        self.refused("heard.hz", "", reading_entry, A, Heard(hz=math.nan))
        self.refused("heard.cents", "past ±50", reading_entry, A, Heard(note="A4", cents=math.nan))
        for spread in (-0.1, math.nan, 5000.0):
            self.refused("spread_cents", "can't be", reading_entry, A, Heard(hz=440.0), spread_cents=spread)


class TestInstruments(RefusedTest):
    def test_a_string_put_on_in_9999_is_refused(self) -> None:
        self.refused("put_on", "still to come", string_entry, {"put_on": date(9999, 12, 31)}, CLOCK)
        self.refused("put_on", "from 1990", string_entry, {"put_on": date(1, 1, 1)}, CLOCK)

    def test_what_is_told_goes_over_what_was(self) -> None:
        was = StringEntry(screw_turns=3.0, screw_reach_turns=4.0, core="synthetic")
        found = string_entry({"peg_state": "sticks"}, CLOCK, over=was)
        self.assertEqual((found.core, found.screw_turns, found.peg_state), ("synthetic", 3.0, "sticks"))
        self.refused("fine_tuner.turns_from_middle", "reaches only", string_entry, {"screw_reach_turns": 2.0}, CLOCK, over=was)
        self.refused("winding", "choose from normal, reversed", string_entry, {"winding": "twisted"}, CLOCK)

    def test_no_tuba_and_no_five_hundred_hours(self) -> None:
        self.refused("kind", "violin, viola and cello", instrument_entry, label="x", kind="tuba", clock=CLOCK)
        self.refused("hours_per_week", "0 to 80", instrument_entry, label="x", kind="viola", hours_per_week=500.0, clock=CLOCK)
        self.refused("strings", "no “E” string", instrument_entry, label="x", kind="viola", strings={"E": {}}, clock=CLOCK)
        self.refused("stance", "doesn't fit", instrument_entry, label="x", kind="violin", stance="seated", clock=CLOCK)
        plain = instrument_entry(label=" ", kind="viola", size="4/4", clock=CLOCK)
        self.assertEqual((plain.label, plain.size, list(plain.strings)), ("viola", "16", ["C", "G", "D", "A"]))


class TestOthers(RefusedTest):
    def test_texts(self) -> None:
        self.assertEqual(check_text(" a\nb ", field="note", most=10), "a\nb")
        self.refused("note", "can't be kept", check_text, "a\x00", field="note", most=10)
        self.refused("note", "can't be kept", check_text, "a\ud800", field="note", most=10)
        self.refused("note", "keep to 3", check_text, "abcd", field="note", most=3)
        self.refused("name", "is empty", check_text, " \t ", field="name", most=3, needed=True)

    def test_people(self) -> None:
        self.refused("name", "is empty", person_entry, name=" ")
        self.refused("role", "isn't a valid role", person_entry, name="Ida", role="king")
        self.refused("cleared", "no stage 8", person_entry, name="Ida", cleared=[8])
        self.refused("pace", "can't be", person_entry, name="Ida", pace=math.nan)

    def test_care_and_air(self) -> None:
        viola = INSTRUMENTS["viola"]
        told = {"at": NOW, "clock": CLOCK}
        self.refused("sign", "Which fault", care_entry, viola, kind="fault", **told)
        self.refused("sign", "isn't a valid fault", care_entry, viola, kind="fault", symptom="ghost", **told)
        self.refused("string", "Which string", care_entry, viola, kind="string-changed", **told)
        self.refused("string", "no “E”", care_entry, viola, kind="string-changed", string="E", **told)
        self.refused("core", "isn't a valid core", care_entry, viola, kind="string-changed", string="A", core="gut?", **told)
        self.refused("kind", "isn't something entered", care_entry, viola, kind="sold", **told)
        self.refused("due", "within ten years", care_entry, viola, kind="luthier-out", due=date(2222, 1, 1), **told)
        self.refused(
            "at", "from 1990", climate_entry, at=datetime(1, 1, 2, tzinfo=UTC), clock=CLOCK, humidity=40.0, celsius=None
        )
        self.refused("humidity", "0 to 100", climate_entry, at=NOW, clock=CLOCK, humidity=math.nan, celsius=None)
        self.assertEqual(care_entry(viola, kind="note", said=" well ", **told).said, "well")

    def test_settings(self) -> None:
        self.refused("a4", "", check_settings, {"a4": 500.0})
        self.refused("a4", "isn't a figure", check_settings, {"a4": "440"})
        self.refused("approach", "There is no approach", check_settings, {"approach": "by-mood"})
        self.refused("who", "not one of the choices", check_settings, {"who": "anyone"})
        self.refused("mood", "no setting", check_settings, {"mood": "good"})
        self.refused("stance", "doesn't fit", check_settings, {"stance": "seated"}, instrument=INSTRUMENTS["violin"])
