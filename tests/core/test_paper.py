"""What stands on paper beside the cards: wall charts, what belongs in a case, what is told of an instrument."""

import unittest
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from typing import Any
from uuid import uuid4

from pondus.core.clock import Clock
from pondus.core.hands.records import FittedInstrument, FittedString
from pondus.core.instruments import INSTRUMENTS
from pondus.core.upkeep.care import SYMPTOMS
from pondus.core.upkeep.studio import CaredFor, CareKept, cared_for
from pondus.core.views.paper import CaseString, StandsNow, Told, case_items, chart_strings, told_of

TODAY = date(2026, 7, 10)
CLOCK = Clock(datetime(2026, 7, 10, 8, 0, tzinfo=UTC))
VIOLIN = INSTRUMENTS["violin"]


def kept(kind: str, day: int, **more: Any) -> CareKept:
    return CareKept(uuid4(), kind, datetime(2026, 7, day, 9, 0, tzinfo=UTC), **more)  # type: ignore[arg-type]


def care_of(*newest_first: CareKept, bridge: str = "stands", **states: str) -> CaredFor:
    strings = tuple(
        FittedString(name, "steel", date(2026, 3, 1), state=states.get(name, "on"))  # type: ignore[arg-type]
        for name in VIOLIN.string_names
    )
    instrument = FittedInstrument(uuid4(), "Knot", "violin", "1/2", strings, 3.0, bridge)  # type: ignore[arg-type]
    return cared_for(instrument, newest_first, 12.0, [], clock=CLOCK)


def told(cared: CaredFor, *strings: StandsNow) -> Told:
    return told_of(cared, strings, today=TODAY, zone_day=CLOCK.day_of, say_day=lambda day: f"{day.day} July")


class TestCharts(unittest.TestCase):
    def test_letters_run_from_slack_to_stop(self) -> None:
        for name in INSTRUMENTS:
            for string in chart_strings(INSTRUMENTS[name]):
                order = [letter.meaning for letter in string.letters]
                self.assertEqual((order[0], order[-1]), ("slack", "stop"), (name, string.name))
                self.assertEqual([letter.semitones for letter in string.letters], list(range(-8, 3)))
                self.assertEqual([each.said for each in string.letters if each.meaning == "right"], [string.note])

    def test_they_are_spelled_as_the_studio_likes_and_stand_at_its_reference(self) -> None:
        flats = chart_strings(VIOLIN, a4=442.0, spelling="flats")
        self.assertEqual([letter.said for letter in flats[2].letters[-3:]], ["A4", "B♭4", "B4"])
        self.assertAlmostEqual(flats[2].hz, 442.0, delta=1e-9)


class TestCase(unittest.TestCase):
    def items(self, *faults: str, due: dict[str, int] | None = None, peg: str = "friction") -> dict[str, str]:
        dates = {name: TODAY + timedelta(days=days) for name, days in (due or {}).items()}
        strings = [
            CaseString(name, "steel", True, peg, dates.get(name))  # type: ignore[arg-type]
            for name in VIOLIN.string_names
        ]
        found = case_items(VIOLIN, "1/2", strings, faults=faults, today=TODAY)  # type: ignore[arg-type]
        return {item.said: item.why for item in found}

    def test_the_string_that_snaps_first_always_and_what_is_due_soon(self) -> None:
        found = self.items(due={"G": 60, "D": 61, "A": -1})
        spares = {said.split()[1]: why for said, why in found.items() if said.startswith("spare")}
        self.assertEqual(spares, {"E": "the first to snap", "A": "overdue", "G": "due in 60 days"})

    def test_what_is_due_today_is_not_overdue(self) -> None:
        self.assertEqual(self.items(due={"A": 0})["spare A string, violin 1/2, steel"], "due in 0 days")

    def test_compound_for_friction_pegs_and_why(self) -> None:
        for faults, why in (
            (("peg-slips",), "a peg here slips"),
            (("peg-stuck",), "a peg here sticks"),
            (("peg-sticks",), "a peg here sticks"),
            ((), "for pegs that slip or stick"),
        ):
            self.assertEqual(self.items(*faults)["peg compound or chalk, for an adult"], why)
        self.assertNotIn("peg compound or chalk, for an adult", self.items("peg-slips", peg="geared"))


class TestTold(unittest.TestCase):
    def test_what_is_wrong_since_when_what_was_tried_and_what_to_ask(self) -> None:
        found = told(
            care_of(
                kept("fault", 8, symptom="screw-stiff", string="D", said="oiled, no better"),
                kept("note", 7, said="played in the hall"),
                kept("fault", 3, symptom="screw-stiff", string="D"),
            ),
            StandsNow("D", -12.0),
            StandsNow("A", None),
        )
        self.assertEqual(found.wrong, ("D string: the fine tuner is stiff, since 3 July.",))
        self.assertEqual(found.tried, ("8 July: D: the fine tuner is stiff, oiled, no better.",))
        self.assertEqual(found.ask, ("A new fine tuner.",))
        self.assertEqual(found.strings, ("D: 12 cents flat", "A: not known"))

    def test_where_anything_is_known_no_page_says_that_nothing_is(self) -> None:
        well = {"entries": (), "bridge": "stands", "string": StandsNow("A", -3.0)}
        wrongs = {
            "entries": [
                (kept("luthier-out", 9, said="the bridge is warped"), kept("fault", 8, symptom="bridge-moved")),
                *((kept("fault", 8, symptom=each, string="A"),) for each, facts in SYMPTOMS.items() if facts.of_string),
                (kept("fault", 8, symptom="bridge-moved"),),
            ],
            "bridge": ["leans", "moved", "fallen"],
            "string": [
                *(StandsNow("A", None, state) for state in ("floppy", "broken", "off")),
                *(StandsNow("A", 0.0, "on", peg) for peg in ("slips", "sticks", "out")),
                StandsNow("A", -788.0),
                StandsNow("A", 60.0),
            ],
        }
        for what, every in wrongs.items():
            for wrong in every:
                as_it_is = well | {what: wrong}
                cared = care_of(*as_it_is["entries"], bridge=as_it_is["bridge"], A=as_it_is["string"].state)
                found = told(cared, as_it_is["string"])
                self.assertTrue(found.wrong and found.ask, (what, wrong))
        self.assertEqual(told(care_of(), well["string"]).wrong, ())
        old = replace(care_of().instrument, strings=(FittedString("A", "gut", date(2020, 3, 1)),))
        overdue = cared_for(old, (), 12.0, [], clock=CLOCK)
        self.assertEqual(told(overdue, well["string"]).ask, ("A new A string.",))

    def test_away_it_says_since_when_and_why(self) -> None:
        found = told(care_of(kept("luthier-out", 9, said="the bridge is warped")))
        self.assertEqual(found.wrong, ("It is at the luthier’s since 9 July: the bridge is warped.",))
        self.assertEqual(found.ask, ("Whether it is done, and whether it can be played.",))

    def test_what_the_luthier_mended_is_no_longer_wrong(self) -> None:
        cared = care_of(kept("luthier-in", 6, said="new screw"), kept("fault", 3, symptom="screw-stiff", string="D"))
        self.assertEqual((told(cared).wrong, told(cared).ask), ((), ()))
        self.assertEqual(told(cared).tried, ("6 July: Back from the luthier, new screw.",))

    def test_a_voided_entry_tells_nothing(self) -> None:
        cared = care_of(kept("fault", 3, symptom="screw-stiff", string="D", voided=True))
        self.assertEqual(told(cared), Told((), (), (), ()))

    def test_broken_and_missing_strings_are_asked_for_once(self) -> None:
        found = told(care_of(E="broken", G="off"), StandsNow("E", None, "broken"), StandsNow("G", None, "off"))
        self.assertEqual(found.wrong, ("The E string is broken.", "The G string is missing."))
        self.assertEqual(sorted(found.ask), ["A new E string.", "A new G string."])
        self.assertEqual(found.strings, ("E: broken", "G: missing"))


class TestCaredFor(unittest.TestCase):
    def test_a_bridge_that_fell_goes_to_the_luthier_once(self) -> None:
        for bridge, said in (("fallen", "the bridge has fallen"), ("moved", "the bridge has moved")):
            found = [(one.symptom, one.to, one.why) for one in care_of(bridge=bridge).referrals]
            self.assertEqual(found, [("bridge-moved", "luthier", said)])
        told_twice = care_of(kept("fault", 9, symptom="bridge-moved"), bridge="moved")
        self.assertEqual([one.symptom for one in told_twice.referrals], ["bridge-moved"])
        self.assertEqual(care_of(bridge="leans").referrals, ())

    def test_what_is_broken_or_missing_is_due_today(self) -> None:
        due = care_of(E="broken", G="off").due
        self.assertEqual([(due[name].due, due[name].why) for name in "EG"], [(TODAY, "broken"), (TODAY, "missing")])
        self.assertGreater((due["A"].due or TODAY) - TODAY, timedelta(days=30))

    def test_it_is_out_from_when_it_went_until_it_came_back(self) -> None:
        went = kept("luthier-out", 5)
        self.assertEqual(care_of(went).out, went)
        self.assertIsNone(care_of(kept("luthier-in", 7), went).out)
        self.assertEqual(care_of(kept("luthier-in", 7, voided=True), went).out, went)
        self.assertIsNone(care_of(kept("note", 7)).out)

    def test_entries_have_a_headline(self) -> None:
        for entry, said in (
            (kept("string-changed", 1, string="A"), "New A string"),
            (kept("fault", 1, symptom="peg-slips", string="D"), "D: the peg slips back"),
            (kept("fault", 1, symptom="bridge-moved"), "the bridge leans, has moved or cracked"),
            (kept("luthier-out", 1), "To the luthier"),
            (kept("note", 1), "Note"),
        ):
            self.assertEqual(entry.headline, said)

    def test_strings_are_bought_for_what_they_are_on(self) -> None:
        in_use = care_of().strings_in_use()
        self.assertEqual([each.string for each in in_use], ["G", "D", "A", "E"])
        self.assertEqual({(each.label, each.kind, each.size) for each in in_use}, {("Knot", "violin", "1/2")})


if __name__ == "__main__":
    unittest.main()
