"""Which way to turn, in every stance."""

import unittest

from tests.core.asking import ask

PEG_RAISES = {"G": "counter-clockwise", "D": "counter-clockwise", "A": "clockwise", "E": "clockwise"}
TOP_RAISES = {
    ("violin", "lap"): "away",
    ("violin", "playing"): "away",
    ("violin", "helper"): "towards",
    ("violin", "guitar"): "far-left",
    ("cello", "seated"): "towards",
    ("cello", "turned"): "away",
    ("cello", "lap"): "away",
}
SCREW_TOP_RAISES = {"lap": "right", "turned": "right", "seated": "left", "playing": None, "helper": None, "guitar": None}
OPPOSITE = {
    "away": "towards", "towards": "away", "left": "right", "right": "left", "far-left": "far-right", "far-right": "far-left",
    None: None,
}  # fmt: skip


class TestPegs(unittest.TestCase):
    def test_sides(self) -> None:
        for string, rotation in PEG_RAISES.items():
            with self.subTest(string=string):
                advice = ask("violin", string, {"G": 185.0, "D": 277.0, "A": 415.0, "E": 622.0}[string], fine_tuner=None)
                self.assertEqual((advice.pitch, advice.steps[0].rotation), ("raise", rotation))

    def test_stances_and_winding(self) -> None:
        for (kind, stance), top in TOP_RAISES.items():
            string, low, high = ("A", 208.0, 233.0) if kind == "cello" else ("A", 415.0, 466.0)
            for winding in ("normal", "reversed"):
                for hz, pitch in ((low, "raise"), (high, "lower")):
                    with self.subTest(kind=kind, stance=stance, winding=winding, pitch=pitch):
                        facts = {"stance": stance, "fine_tuner": None, "peg": {"winding": winding}}
                        step = ask(kind, string, hz, **facts).steps[0]
                        flips = (winding == "reversed") != (pitch == "lower")
                        self.assertEqual(step.pitch, pitch)
                        self.assertEqual(step.top_moves, OPPOSITE[top] if flips else top)
                        self.assertEqual(step.rotation, "counter-clockwise" if flips else "clockwise")

    def test_across_the_lap_the_far_edge_goes_towards_the_scroll_which_is_to_the_left(self) -> None:
        """The strings face away, so the string side of every peg is its far side."""
        for string in "GDAE":
            step = ask(
                "violin", string, {"G": 185.0, "D": 277.0, "A": 415.0, "E": 622.0}[string], fine_tuner=None, stance="guitar"
            ).steps[0]
            with self.subTest(string=string):
                self.assertIn("far edge to your left", step.say)
                self.assertNotIn("top edge", step.say)


class TestScrews(unittest.TestCase):
    def test_clockwise_raises_from_everywhere(self) -> None:
        for stance, top in SCREW_TOP_RAISES.items():
            kind = "cello" if stance in ("seated", "turned") else "violin"
            hz = 220.0 if kind == "cello" else 440.0
            up = ask(kind, "A", hz * 0.99, stance=stance).steps[0]
            down = ask(kind, "A", hz * 1.01, stance=stance).steps[0]
            with self.subTest(stance=stance):
                self.assertEqual((up.rotation, up.top_moves), ("clockwise", top))
                self.assertEqual((down.rotation, down.top_moves), ("counter-clockwise", OPPOSITE[top]))
