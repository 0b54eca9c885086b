"""What is read across a room: of each step its headline, and its line in the rest of the round."""

import unittest

from pondus.core.judgement.cautions import CAUTION_SAID
from pondus.core.judgement.few_words import headline, later
from pondus.core.judgement.steps import Do, Step, Until

SCREW, PEG = "turn-fine-tuner", "turn-peg"


def step(do: Do, **more: object) -> Step:
    return Step(do, say="as told", **more)  # type: ignore[arg-type]


def turned(do: Do, pitch: str, amount: float | None, **more: object) -> Step:
    rotation = "clockwise" if pitch == "raise" else "anticlockwise"
    unit = "degree" if do == PEG else "turn"
    return step(do, pitch=pitch, amount=amount, unit=unit, rotation=rotation, **more)


SAID = (
    (turned(SCREW, "raise", 0.5), "A fine tuner up, about ½ turn clockwise", "Fine tuner up about ½ turn"),
    (turned(SCREW, "lower", 0.25), "A fine tuner down, about ¼ turn anticlockwise", "Fine tuner down about ¼ turn"),
    (
        turned(SCREW, "raise", 0.5, until=Until("A4", -2.0)),
        "A fine tuner up to A4 −2, about ½ turn clockwise",
        "Fine tuner up to A4 −2: about ½ turn",
    ),
    (turned(PEG, "lower", 3.0, aim_cents=-10.0), "A peg down, about 3°", "Peg down by nudges of about 3°, to 10 cents flat"),
    (
        turned(PEG, "raise", 3.0, top_moves="away"),
        "A peg up, about 3°, top edge away from you",
        "Peg up about 3°, a reading after each",
    ),
    (turned(PEG, "raise", None), "A peg up till it sounds", "as told"),
    (turned(PEG, "raise", 3.0, until=Until("A4", -10.0)), "A peg up in small pushes to A4 −10, about 3°", "Peg up to A4 −10"),
    (turned(PEG, "lower", 3.0, until=Until("A4", -10.0)), "A peg down to A4 −10, about 3°", "Peg down to A4 −10"),
    (
        turned(SCREW, "lower", 0.25, ends="middle"),
        "A fine tuner down until the light is in the middle, anticlockwise",
        "Fine tuner down until the light is in the middle",
    ),
    (
        turned(PEG, "raise", 3.0, ends="just-under-tone"),
        "A peg up to just under the tone, clockwise",
        "Peg up to just under the tone",
    ),
    (turned(PEG, "lower", 3.0, ends="tone-from-below"), "A peg down below the tone, then up to it, anticlockwise", None),
    (
        turned("set-fine-tuner-to-middle", "lower", 2.0),
        "A fine tuner out 2 turns anticlockwise, to its middle",
        "Fine tuner to the middle of its travel",
    ),
    (turned("set-fine-tuner-to-middle", "raise", 1.0), "A fine tuner in 1 turn clockwise, to its middle", None),
    (step("tug"), "Pull the A gently sideways, play it again", "Pull the string gently sideways, play, read again"),
    (step("tug-down"), "Pull the A gently away from the board, once", "Pull it gently away from the board, read again"),
    (step("check"), "Play the A again: did it go as expected?", "Read again; look that it went as expected"),
    (step("look-at-bridge"), "Look at the bridge", "Look at the bridge"),
    (step("luthier"), "Stop: this goes to the luthier", "as told"),
    (step("fetch-teacher"), "Take it to your teacher", "as told"),
    (step("put-string-on"), "Put a new A string on", "as told"),
    (step("ask", question="no-effect"), "The A hardly moved: what was it?", "as told"),
    (step("ask", question="wrong-way"), "The A went the wrong way: what was it?", "as told"),
    (step("ask", question="which-side"), "Left of it, in the middle, or right?", "as told"),
)


class TestWords(unittest.TestCase):
    def test_each_step_in_a_few_words(self) -> None:
        for one, across_the_room, in_the_round in SAID:
            with self.subTest(across_the_room):
                self.assertEqual(headline(one, "A"), across_the_room)
                self.assertIn(in_the_round, (*later([one]), None))

    def test_what_is_made_again_and_again_is_one_line(self) -> None:
        again = turned(PEG, "raise", 3.0, aim_cents=-10.0)
        line = "Peg up by nudges of about 3°, to 10 cents flat"
        self.assertEqual(
            later([again] * 3 + [step("tug")]), [f"{line}, 3 times, a reading after each", later([step("tug")])[0]]
        )
        self.assertEqual(later([again, step("check"), again])[::2], [line, line])
        by_side = turned(PEG, "lower", 1.0)
        self.assertEqual(later([by_side, by_side]), ["Peg down about 1°, 2 times, a reading after each"])

    def test_what_keeps_strings_and_eyes_whole(self) -> None:
        for caution, part in {
            "break-margin": "go up too far: nothing more upwards",
            "ease-down-first": "a hair down",
            "face-away": "while it goes up",
            "screw-near-end": "too far out it falls off, too far in its lever",
            "one-at-a-time": "Never slacken all strings",
        }.items():
            self.assertIn(part, CAUTION_SAID[caution])  # type: ignore[index]
