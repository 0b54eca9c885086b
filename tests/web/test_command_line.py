"""The core from a shell: JSON on stdout, messages on stderr, exit statuses."""

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import numpy as np
import soundfile
from typer.testing import CliRunner

from pondus.cli import app
from pondus.core.simulated.sound import Tone, bowed

REQUEST = {
    "instrument": "cello",
    "string": "C",
    "heard": {"note": "C2", "cents": -30},
    "fine_tuner": {"turns_from_middle": 4.0},
}


def pondus(*arguments: str, given: str = "") -> subprocess.CompletedProcess[str]:
    """What the command does, in this process: loading everything for each would take most of the time."""
    done = CliRunner().invoke(app, list(arguments), input=given, prog_name="bin/pondus")
    return subprocess.CompletedProcess(arguments, done.exit_code, done.stdout, done.stderr)


def in_a_shell(*arguments: str, given: str = "") -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "pondus", *arguments], input=given, capture_output=True, text=True, check=False
    )


class TestInAShell(unittest.TestCase):
    def test_exits_and_streams_are_the_processs(self) -> None:
        done = in_a_shell("advise", "--json", given=json.dumps(REQUEST))
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(json.loads(done.stdout), json.loads(pondus("advise", "--json", given=json.dumps(REQUEST)).stdout))
        done = in_a_shell("hear", "/nowhere.wav", "--instrument", "cello", "--json")
        self.assertEqual((done.returncode, done.stdout, len(done.stderr.splitlines())), (2, "", 1))


class TestAdvise(unittest.TestCase):
    def test_prints_one_object(self) -> None:
        done = pondus("advise", "--json", given=json.dumps(REQUEST))
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        does = [step["do"] for step in json.loads(done.stdout)["steps"]]
        self.assertEqual(does[0], "set-fine-tuner-to-middle")

    def test_refuses_in_one_line(self) -> None:
        for given in ("", "{}", json.dumps({**REQUEST, "string": "E"}), json.dumps({**REQUEST, "heard": {"hz": -1}})):
            done = pondus("advise", "--json", given=given)
            with self.subTest(given=given):
                self.assertEqual((done.returncode, done.stdout), (2, ""))
                self.assertEqual(len(done.stderr.strip().splitlines()), 1)
                self.assertNotIn("Traceback", done.stderr)


class TestPlan(unittest.TestCase):
    def test_prints_the_whole_round(self) -> None:
        strings = {"A": {"heard": {"note": "A4", "cents": -20}}, "G": {"heard": {"note": "G3", "cents": 12}}}
        done = pondus("plan", "--json", given=json.dumps({"instrument": "violin", "strings": strings}))
        plan = json.loads(done.stdout)
        self.assertEqual((done.returncode, plan["order"], plan["ask"]), (0, ["A", "G"], ["D", "E"]))
        self.assertEqual(plan["total_moves"], len(plan["moves"]))

    def test_refuses_in_one_line(self) -> None:
        done = pondus("plan", "--json", given=json.dumps({"instrument": "violin", "strings": {"B": {}}}))
        self.assertEqual((done.returncode, done.stdout, len(done.stderr.strip().splitlines())), (2, "", 1))


class TestHear(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_a_recording(self) -> None:
        file = self.folder / "g.wav"
        soundfile.write(file, bowed(Tone(97.0, 1.0), np.random.default_rng(3)), 44_100, subtype="PCM_24")
        done = pondus("hear", str(file), "--instrument", "cello", "--json")
        heard = json.loads(done.stdout)
        self.assertEqual((done.returncode, heard["string"], heard["note"]), (0, "G", "G2"))
        self.assertEqual(
            list(heard),
            ["file", "usable", "reason", "hz", "note", "cents", "string", "string_cents", "spread_cents", "seconds_steady",
             "confidence"],
        )  # fmt: skip

    def test_of_a_long_recording_the_loudest_minute_and_channel(self) -> None:
        """Of more than a minute the channels are brought down block by block; they would cancel if they were added."""
        file, rate = self.folder / "long.wav", 8_000
        string = bowed(Tone(97.0, 2.0, rate), np.random.default_rng(3))
        whole = np.concatenate([np.zeros(70 * rate), string, np.zeros(20 * rate)])
        soundfile.write(file, np.stack([-whole, whole], axis=1), rate)
        done = pondus("hear", str(file), "--instrument", "cello", "--json")
        self.assertAlmostEqual(json.loads(done.stdout)["hz"], 97.0, delta=0.01)

    def test_no_pitch_exits_three(self) -> None:
        file = self.folder / "quiet.flac"
        soundfile.write(file, np.zeros(20_000), 44_100)
        done = pondus("hear", str(file), "--instrument", "violin", "--string", "A", "--json")
        self.assertEqual((done.returncode, json.loads(done.stdout)["reason"]), (3, "silent"))

    def test_what_cannot_be_read_exits_two(self) -> None:
        broken = self.folder / "broken.wav"
        broken.write_bytes(b"RIFFnope")
        for arguments in (
            (str(broken), "--instrument", "violin"),
            (str(self.folder / "none.wav"), "--instrument", "violin"),
            (str(self.folder), "--instrument", "violin"),
            (str(broken), "--instrument", "gamba"),
        ):
            done = pondus("hear", *arguments, "--json")
            with self.subTest(arguments=arguments):
                self.assertEqual((done.returncode, done.stdout), (2, ""))
                self.assertEqual(len(done.stderr.strip().splitlines()), 1)


class TestBatch(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        for name, hz in (("one.wav", 441.0), ("two.flac", 97.0)):
            soundfile.write(self.folder / name, bowed(Tone(hz, 1.0), np.random.default_rng(3)), 44_100)
        soundfile.write(self.folder / "quiet.wav", np.zeros(30_000), 44_100)

    def batch(self, entries: object) -> subprocess.CompletedProcess[str]:
        listed = self.folder / "list.json"
        listed.write_text(entries if isinstance(entries, str) else json.dumps(entries))
        return pondus("hear", "--batch", str(listed), "--json")

    def test_one_object_a_line_in_order(self) -> None:
        done = self.batch(
            [
                {"file": "two.flac", "instrument": "cello"},
                {"file": "quiet.wav", "instrument": "viola", "string": "C"},
                {"file": "one.wav", "instrument": "violin", "string": "A"},
            ]
        )
        lines = [json.loads(line) for line in done.stdout.splitlines()]
        self.assertEqual([line["file"] for line in lines], ["two.flac", "quiet.wav", "one.wav"])
        self.assertEqual([line["string"] for line in lines], ["G", None, "A"])
        self.assertEqual((done.returncode, lines[1]["reason"]), (0, "silent"))

    def test_one_bad_file_does_not_stop_the_others(self) -> None:
        done = self.batch([{"file": "none.wav", "instrument": "violin"}, {"file": "one.wav", "instrument": "violin"}])
        lines = [json.loads(line) for line in done.stdout.splitlines()]
        self.assertEqual([line["usable"] for line in lines], [False, True])
        self.assertEqual(done.returncode, 2)
        self.assertIn("none.wav", done.stderr)

    def test_a_list_that_is_none(self) -> None:
        for entries in ("nope", "{}", '[{"file": 3}]', '[{"file": "one.wav", "instrument": "violin", "colour": 1}]'):
            done = self.batch(entries)
            with self.subTest(entries=entries):
                self.assertEqual((done.returncode, done.stdout, len(done.stderr.strip().splitlines())), (2, "", 1))


class TestFifth(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        rng = np.random.default_rng(3)
        both = bowed(Tone(147.0, 1.2), rng) + bowed(Tone(220.0, 1.2), rng)
        soundfile.write(self.folder / "da.wav", both / 2.0, 44_100)

    def test_a_double_stop(self) -> None:
        file = str(self.folder / "da.wav")
        done = pondus("fifth", file, "--instrument", "cello", "--strings", "D,A", "--json")
        heard = json.loads(done.stdout)
        self.assertEqual((done.returncode, heard["usable"], heard["file"]), (0, True, file))
        self.assertAlmostEqual(heard["beats_hz"], 1.0, delta=0.06)
        said = pondus("fifth", file, "--instrument", "cello", "--strings", "D,A").stdout
        self.assertIn("cents narrower than pure", said)

    def test_what_is_no_fifth(self) -> None:
        file = str(self.folder / "da.wav")
        other = pondus("fifth", file, "--instrument", "cello", "--strings", "C,G", "--json")
        self.assertEqual((other.returncode, json.loads(other.stdout)["reason"]), (3, "other-strings"))
        for strings in ("D", "A,D", "D,A,E"):
            done = pondus("fifth", file, "--instrument", "cello", "--strings", strings)
            self.assertEqual((done.returncode, done.stdout, len(done.stderr.strip().splitlines())), (2, "", 1), strings)

    def test_a_batch_may_hold_double_stops(self) -> None:
        listed = self.folder / "list.json"
        entries = [
            {"file": "da.wav", "instrument": "cello", "strings": ["D", "A"]},
            {"file": "none.wav", "instrument": "cello", "strings": ["D", "A"]},
            {"file": "da.wav", "instrument": "cello", "string": "D", "strings": ["D", "A"]},
        ]
        listed.write_text(json.dumps(entries))
        done = pondus("hear", "--batch", str(listed), "--json")
        lines = [json.loads(line) for line in done.stdout.splitlines()]
        self.assertEqual([line["usable"] for line in lines], [True, False, False])
        self.assertTrue(all("interval_cents" in line for line in lines))
        self.assertIn("names string and strings", done.stderr)


class TestSimulate(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_it_writes_what_hear_hears(self) -> None:
        file = str(self.folder / "a.flac")
        done = pondus("simulate", file, "--instrument", "violin", "--strings", "A", "--cents=-12", "--how", "pluck")
        self.assertEqual(done.returncode, 0, done.stderr)
        heard = json.loads(pondus("hear", file, "--instrument", "violin", "--json").stdout)
        self.assertAlmostEqual(heard["string_cents"], -12.0, delta=0.6)

    def test_the_same_seed_gives_the_same_sound(self) -> None:
        files = [self.folder / name for name in ("one.wav", "two.wav")]
        for file in files:
            pondus("simulate", str(file), "--instrument", "cello", "--strings", "D,A", "--seed", "5", "--start", "morning")
        self.assertEqual(files[0].read_bytes(), files[1].read_bytes())

    def test_what_cannot_be_is_refused(self) -> None:
        file = str(self.folder / "a.wav")
        for more in (
            ("--instrument", "harp", "--strings", "A"),
            ("--instrument", "violin", "--strings", "C"),
            ("--instrument", "violin", "--strings", "A", "--how", "strum"),
            ("--instrument", "violin", "--strings", "A", "--cents", "x"),
            ("--instrument", "violin", "--strings", "A", "--start", "wet"),
            ("--instrument", "violin", "--strings", "A", "--seed", "-1"),
        ):
            done = pondus("simulate", file, *more)
            self.assertEqual((done.returncode, done.stdout, len(done.stderr.strip().splitlines())), (2, "", 1), more)
