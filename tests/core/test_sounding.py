"""What a listener remembers from look to look: every way from silence to a reading and on, without a sound."""

import unittest
from collections.abc import Iterable

from pondus.core.hearing.hear import Reading, Refusal
from pondus.core.hearing.look import Hears, Look
from pondus.core.hearing.sounding import AGAIN_LOOKS, State, ToHear
from pondus.core.hearing.told import Rang, Told
from pondus.core.pitch.notes import nearest_note, shift_hz

A, LOUD, DULL = 440.0, -20.0, -30.0
"""The string's pitch in Hz, its level in dB, and how little brighter a sound gets that goes on."""
READ = Told(A, 0.3, LOUD)


def look(cents: float | None, db: float = LOUD, hears: Hears = "steady") -> Look:
    if cents is None:
        return Look("quiet", -80.0, False)
    return Look(hears, db, False, shift_hz(A, cents), "A4", cents, "A", cents)


def reading(cents: float) -> Reading:
    hz = shift_hz(A, cents)
    return Reading(hz, nearest_note(hz), "A", cents, 0.3, 0.6, 0.9)


def follow(state: State, looks: Iterable[Look], bright_db: float = DULL) -> tuple[State, list[ToHear]]:
    """The state after some looks, and the soundings that ended on the way."""
    ended = []
    for each in looks:
        state, over = state.after(each, bright_db)
        ended += [] if over is None else [over]
    return state, ended


def sounding(cents: float, times: int, **more: float) -> list[Look]:
    return [look(cents, **more) for _ in range(times)]  # type: ignore[arg-type]


GOES_ON = State(told=READ, silent_looks=0, looks=tuple(sounding(0.0, 6)), seconds=1.0, held_looks=6, least_db=LOUD)
UNREAD = follow(State(), sounding(0.0, 10))[0]
SILENCE = [look(None)]


class TestWhatFollowsWhat(unittest.TestCase):
    def test_every_way_from_one_to_the_next(self) -> None:
        """From a state, after looks (the last ``bright_db`` brighter): is a reading told still, one that was turned, and how
        many soundings ended.
        """
        table: list[tuple[str, State, list[Look], float, Told | None, Told | None, int]] = [
            ("silence stays", State(), SILENCE * 5, DULL, None, None, 0),
            ("a string sounds", State(), sounding(0.0, 3), DULL, None, None, 0),
            ("a short sounding is over unheard", State(), [*sounding(0.0, 3), *SILENCE], DULL, None, None, 0),
            ("one without a reading is heard once over", State(), [*sounding(0.0, 8), *SILENCE], DULL, None, None, 1),
            ("once, however long the silence", State(), [*sounding(0.0, 8), *SILENCE * 9], DULL, None, None, 1),
            ("another's takes its place", UNREAD, sounding(400.0, 2), DULL, None, None, 1),
            ("a finger sways", UNREAD, sounding(100.0, 1), DULL, None, None, 0),
            ("told, it goes on", GOES_ON, sounding(0.5, 40), DULL, READ, None, 0),
            ("a moment of silence", GOES_ON, SILENCE * 3, DULL, READ, None, 0),
            ("silence ends it", GOES_ON, SILENCE * 10, DULL, None, None, 0),
            ("what is left of it comes back", GOES_ON, [*SILENCE * 4, look(3.0, -45.0)], DULL, READ, None, 0),
            ("its octave is left of it too", GOES_ON, [*SILENCE * 4, look(1200.0, -45.0)], DULL, READ, None, 0),
            ("as loud it is a new one", GOES_ON, [*SILENCE * 4, look(3.0)], DULL, None, None, 0),
            ("elsewhere it is a new one", GOES_ON, [*SILENCE * 4, look(90.0, -45.0)], DULL, None, None, 0),
            ("struck", GOES_ON, [look(0.0)], 7.0, None, None, 0),
            ("hardly brighter", GOES_ON, [look(0.0)], 6.0, READ, None, 0),
            ("swelling is no new stroke", GOES_ON, sounding(0.0, 2, db=-13.0), DULL, READ, None, 0),
            ("a level that jumps and stays is", GOES_ON, sounding(0.0, 2, db=-11.0), DULL, None, None, 0),
            ("a knock doesn't stay", GOES_ON, [look(0.0, -5.0), look(0.0)], DULL, READ, None, 0),
            ("turned far, in a third of a second", GOES_ON, sounding(30.0, 6), DULL, None, READ, 0),
            ("before it agrees nothing is turned", GOES_ON, sounding(30.0, 3, hears="wavering"), DULL, READ, None, 0),
            ("turned a little, once it holds", GOES_ON, sounding(5.0, 6), DULL, None, READ, 0),
            ("not while it strays by itself", GOES_ON, sounding(1.5, 40), DULL, READ, None, 0),
            ("a pluck slides as it dies", GOES_ON, sounding(-9.0, 40, db=-25.0), DULL, READ, None, 0),
        ]  # fmt: skip
        for name, state, looks, bright_db, told, before, ended in table:
            with self.subTest(name):
                *first, last = looks
                after, over = follow(state, first)
                after, at_last = after.after(last, bright_db)
                self.assertEqual((after.told, after.before), (told, before))
                self.assertEqual(len([each for each in (*over, at_last) if each is not None]), ended)

    def test_a_small_turn_must_hold_longer_than_a_bow_sways(self) -> None:
        swaying = GOES_ON
        for held in range(1, 15):
            swaying, _ = swaying.after(look(5.0, hears="wavering" if held < 6 else "steady"), DULL)
            with self.subTest(held=held):
                self.assertEqual(swaying.told is None, held >= 13)

    def test_how_long_it_has_held_is_counted_anew_where_it_wavers(self) -> None:
        wavers, _ = GOES_ON.after(look(0.0, hears="wavering"), DULL)
        self.assertEqual((GOES_ON.held_looks, wavers.held_looks), (6, 0))
        self.assertEqual((UNREAD.silent_looks, follow(UNREAD, SILENCE * 2)[0].silent_looks), (0, 2))

    def test_softer_than_when_it_was_read_less_brightness_is_a_stroke(self) -> None:
        dying, _ = follow(GOES_ON, sounding(0.0, 8, db=-26.0))
        self.assertIsNone(dying.after(look(0.0, -26.0), 4.5)[0].told)
        self.assertEqual(GOES_ON.after(look(0.0), 4.5)[0].told, READ)

    def test_what_rang_before_a_stroke_is_remembered(self) -> None:
        struck, _ = follow(GOES_ON, sounding(0.0, 4, db=-29.0))
        struck, _ = struck.after(look(0.0, -29.0), 7.0)
        self.assertEqual(struck.rang, Rang(READ, -29.0))

    def test_what_another_takes_the_place_of_is_heard_without_it(self) -> None:
        _, [over] = follow(UNREAD, sounding(400.0, 2))
        self.assertEqual((over.looks_since, over.is_over, over.last_db, over.loudest_db), (2, True, LOUD, LOUD))
        self.assertAlmostEqual(over.seconds, 0.5)
        _, [silent] = follow(UNREAD, SILENCE)
        self.assertEqual((silent.looks_since, silent.next_begins), (0, False))

    def test_looks_nobody_had_time_for_count_while_it_sounds(self) -> None:
        self.assertAlmostEqual(UNREAD.passed_over().seconds, 0.55)
        self.assertEqual(State().passed_over(), State())


class TestHearing(unittest.TestCase):
    def due_at(self, hears: Hears) -> list[float]:
        state, at = State(), []
        for _ in range(24):
            state, _ = state.after(look(0.0, hears=hears), DULL)
            state, what = state.due(look(0.0, hears=hears))
            at += [] if what is None else [round(what.seconds, 2)]
        return at

    def test_a_sounding_is_heard_once_it_agrees_or_has_gone_on(self) -> None:
        self.assertEqual(self.due_at("steady"), [0.4, 0.55, 0.7, 0.85, 1.0, 1.15])
        self.assertEqual(self.due_at("wavering"), [0.7, 0.95, 1.2])
        self.assertIsNone(GOES_ON.due(look(0.0))[1], "it has been read")
        self.assertIsNone(UNREAD.due(look(None))[1], "nothing sounds")

    def test_a_reading_is_told_once(self) -> None:
        state, what = UNREAD.due(look(0.0))
        assert what is not None
        told, is_new = state.heard(reading(2.0), what, look(0.0))
        self.assertTrue(is_new)
        self.assertEqual((told.told, told.why(look(0.0))), (Told(reading(2.0).hz, 0.3, LOUD), None))

    def test_turned_and_back_is_the_same_again(self) -> None:
        turned, _ = follow(GOES_ON, sounding(30.0, 6))
        for cents, is_new in ((0.5, False), (30.0, True)):
            state, what = turned.due(look(cents))
            assert what is not None
            after, new = state.heard(reading(cents), what, look(cents))
            with self.subTest(cents=cents):
                self.assertEqual((new, after.told == READ, after.again_for > 0), (is_new, not is_new, not is_new))

    def test_a_knock_on_what_rings_is_no_new_reading(self) -> None:
        for loudest_db, is_new in ((-24.0, False), (-19.0, True)):
            rings = State(rang=Rang(READ, -22.0))
            what = ToHear(0.4, loudest_db, loudest_db, None)
            with self.subTest(loudest_db=loudest_db):
                self.assertEqual(rings.heard(reading(1.0), what, look(0.0))[1], is_new)

    def test_why_there_is_none_is_said_after_a_while_or_when_it_is_over(self) -> None:
        state, what = UNREAD.due(look(0.0))
        assert what is not None
        refused, _ = state.heard(Refusal("swaying"), what, look(0.0))
        self.assertIsNone(refused.why(look(0.0)), "it goes on, and may give one yet")
        self.assertEqual(refused.why(look(None)), "swaying")
        self.assertEqual(follow(refused, sounding(0.0, 15))[0].why(look(0.0)), "swaying")
        over = ToHear(0.5, LOUD, LOUD, None, 2, is_over=True)
        self.assertIsNone(State().heard(Refusal("noisy"), over, look(400.0))[0].reason, "another sounds by now")
        self.assertEqual(State().heard(Refusal("noisy"), over, look(None))[0].reason, "noisy")

    def test_what_begins_behind_it_goes_on_unread(self) -> None:
        over = ToHear(0.5, LOUD, LOUD, None, 2, next_begins=True, is_over=True)
        after, is_new = State().heard(reading(0.0), over, look(400.0))
        self.assertEqual((after.told, is_new), (None, True))

    def test_the_same_played_again_is_said_for_a_while(self) -> None:
        for bright_db, cents, again in ((3.0, 5.0, True), (2.0, 5.0, False), (3.0, 30.0, False)):
            with self.subTest(bright_db=bright_db, cents=cents):
                said = GOES_ON.played_again(look(cents), bright_db, is_new=False)
                self.assertEqual(said.again_for, AGAIN_LOOKS if again else 0)
        said = GOES_ON.played_again(look(0.0), 3.0, is_new=False)
        self.assertEqual(said.played_again(look(0.0), DULL, is_new=False).again_for, AGAIN_LOOKS - 1)
        self.assertEqual(said.played_again(look(None), DULL, is_new=False).again_for, 0)


if __name__ == "__main__":
    unittest.main()
