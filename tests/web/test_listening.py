"""The listening socket on the real server: sound in, readings out; rubbish ends its own socket only."""

import json
import os
import signal
import unittest
from contextlib import suppress
from typing import Any

import numpy as np
from simple_websocket import Client, ConnectionClosed

from pondus.contracts.listening import ListenRequest
from pondus.core.pitch.tones import FOLLOWED_ORDERS
from pondus.core.simulated.sound import Samples, Tone, bowed, plucked
from pondus.running.scratch_studio import RunningServer
from pondus.web.ears import Ear, Ears
from tests.database import fresh_database

RATE = 48_000
HELLO = {"instrument": "violin", "string": None, "a4": 440, "target": "tempered", "sample_rate": RATE}


def pcm(samples: Samples) -> bytes:
    return (np.clip(samples, -1, 1) * 32767).astype("<i2").tobytes()


class ListeningTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.server = RunningServer(fresh_database(), workers=2)
        cls.server.start()
        cls.addClassCleanup(cls.server.stop)

    def open(self, hello: Any = HELLO) -> Client:
        client = Client(f"ws://127.0.0.1:{self.server.port}/api/listen")
        self.addCleanup(self.leave, client)
        client.send(hello if isinstance(hello, str | bytes) else json.dumps(hello))
        return client

    @staticmethod
    def leave(client: Client) -> None:
        with suppress(ConnectionClosed, OSError):
            client.close()

    def next(self, client: Client) -> Any:
        said = client.receive(timeout=60)
        self.assertIsNotNone(said, "the server said nothing for a minute")
        return json.loads(said)

    def all_said(self, client: Client, until: str) -> list[Any]:
        said = []
        while not said or said[-1]["type"] != until:
            said.append(self.next(client))
        return said


class TestListening(ListeningTest):
    def test_a_pluck_is_named_and_settles(self) -> None:
        client = self.open()
        self.assertEqual(self.next(client), {"type": "ready"})
        sound = pcm(plucked(Tone(435.0, 1.5, RATE, stiffness=1e-4), np.random.default_rng(1)))
        for start in range(0, len(sound), 2048):
            client.send(sound[start : start + 2048])
        said = self.all_said(client, "settled")
        self.assertTrue(any(each["type"] == "reading" and each["string"] == "A" for each in said))
        reading = said[-1]["reading"]
        self.assertEqual((reading["string"], said[-1]["ask"]), ("A", None))
        self.assertAlmostEqual(reading["hz"], 435.0, delta=0.1)

    def test_a_string_is_heard_while_its_tone_sounds(self) -> None:
        client = self.open({**HELLO, "string": "A", "beside_tone": 0})
        time = np.arange(2 * RATE) / RATE
        tone = sum(0.1 / order * np.sin(2.0 * np.pi * order * 440.0 * time) for order in FOLLOWED_ORDERS)
        sound = pcm(np.asarray(tone) + 0.5 * bowed(Tone(432.5, 2.0, RATE), np.random.default_rng(3)))
        for start in range(0, len(sound), 4096):
            client.send(sound[start : start + 4096])
        said = self.all_said(client, "settled")
        self.assertAlmostEqual(said[-1]["reading"]["hz"], 432.5, delta=0.2)
        heard = [each for each in said if each["type"] == "reading" and each["hears"] == "steady"]
        self.assertEqual(heard[-1]["ear"]["may_say"], ["much-lower", "lower"])
        self.assertIn("a little lower", heard[-1]["ear"]["differs"])

    def test_beside_a_tone_the_string_is_named(self) -> None:
        client = self.open({**HELLO, "beside_tone": 0})
        self.assertIn("name the one whose tone sounds", self.all_said(client, "refused")[-1]["message"])

    def test_odd_byte_counts_lose_nothing(self) -> None:
        client = self.open()
        sound = pcm(plucked(Tone(290.0, 1.5, RATE), np.random.default_rng(2)))
        for start in range(0, len(sound), 1001):
            client.send(sound[start : start + 1001])
        reading = self.all_said(client, "settled")[-1]["reading"]
        self.assertAlmostEqual(reading["hz"], 290.0, delta=0.1)


class TestEars(unittest.TestCase):
    """The process that listens, spoken to as the socket's view does."""

    def setUp(self) -> None:
        self.ears = Ears()
        self.addCleanup(self.ears.end)

    def settled(self, ear: Ear, hz: float) -> list[float]:
        """What settles of a pluck, as cents from its pitch."""
        sound = pcm(plucked(Tone(hz, 1.5, RATE), np.random.default_rng(4)))
        blocks = [sound[start : start + 4096] for start in range(0, len(sound), 4096)]
        said = [json.loads(each) for block in blocks for each in self.ears.hear(ear, block)]
        return [1200 * np.log2(each["reading"]["hz"] / hz) for each in said if each["type"] == "settled"]

    def test_two_who_are_heard_in_turn_stay_apart(self) -> None:
        violin = self.ears.open(ListenRequest(instrument="violin", sample_rate=RATE))
        cello = self.ears.open(ListenRequest(instrument="cello", sample_rate=RATE, string="C"))
        sounds = {
            violin.key: pcm(plucked(Tone(437.0, 1.5, RATE), np.random.default_rng(5))),
            cello.key: pcm(plucked(Tone(65.0, 1.5, RATE), np.random.default_rng(6))),
        }
        strings = {}
        for start in range(0, len(sounds[violin.key]), 4096):
            for ear in (violin, cello):
                for said in self.ears.hear(ear, sounds[ear.key][start : start + 4096]):
                    if '"settled"' in said:
                        strings[ear.key] = json.loads(said)["reading"]["string"]
        self.assertEqual(strings, {violin.key: "A", cello.key: "C"})

    def test_a_process_that_was_killed_is_replaced_and_its_listeners_go_on(self) -> None:
        ear = self.ears.open(ListenRequest(instrument="violin", sample_rate=RATE))
        self.assertEqual(len(self.settled(ear, 440.0)), 1)
        child = self.ears.child_id
        assert child is not None
        os.kill(child, signal.SIGKILL)
        again = self.settled(ear, 294.0)
        self.assertEqual(len(again), 1)
        self.assertAlmostEqual(again[0], 0.0, delta=0.5)
        self.assertNotEqual(self.ears.child_id, child)

    def test_what_was_closed_is_forgotten_and_others_are_not(self) -> None:
        one, other = (self.ears.open(ListenRequest(instrument="violin", sample_rate=RATE)) for _ in range(2))
        self.assertEqual(len(self.settled(one, 440.0)), 1)
        self.ears.close(one)
        self.assertEqual(len(self.settled(other, 440.0)), 1)


class TestRubbish(ListeningTest):
    def assert_refused(self, client: Client, says: str) -> None:
        message = self.all_said(client, "refused")[-1]
        self.assertIn(says, message["message"])
        with self.assertRaises(ConnectionClosed):
            while True:
                client.receive(timeout=60)

    def test_what_is_not_a_first_message(self) -> None:
        for hello, says in (
            ("hello", "JSON"),
            (b"\x00\x01", "first"),
            ({**HELLO, "instrument": "lute"}, "lute"),
            ({**HELLO, "string": "C"}, "“C”"),
            ({**HELLO, "sample_rate": 100}, "100"),
            ({**HELLO, "sample_rate": None}, "sample_rate"),
            ({**HELLO, "a4": 500}, "500"),
            ({**HELLO, "what": 1}, "what"),
        ):
            with self.subTest(hello=hello):
                self.assert_refused(self.open(hello), says)

    def test_text_where_sound_belongs(self) -> None:
        client = self.open()
        client.send("la la la")
        self.assert_refused(client, "only sound")

    def test_a_flood_ends_its_own_socket_only(self) -> None:
        other = self.open()
        self.assertEqual(self.next(other)["type"], "ready")
        flooding = self.open()
        block = bytes(960_000)
        with suppress(ConnectionClosed):
            for _ in range(12):
                flooding.send(block)
        self.assert_refused(flooding, "faster")
        other.send(pcm(plucked(Tone(435.0, 1.5, RATE), np.random.default_rng(3))))
        self.assertEqual(self.all_said(other, "settled")[-1]["reading"]["string"], "A")
