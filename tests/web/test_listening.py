"""The listening socket on the real server: sound in, readings out; rubbish ends its own socket only."""

import json
import unittest
from contextlib import suppress
from typing import Any

import numpy as np
from simple_websocket import Client, ConnectionClosed

from pondus.core.simulated.sound import Samples, Tone, plucked
from pondus.running.scratch_studio import RunningServer
from tests.database import fresh_database

RATE = 48_000
HELLO = {"instrument": "violin", "string": None, "a4": 440, "target": "tempered", "sample_rate": RATE}


def pcm(samples: Samples) -> bytes:
    return (np.clip(samples, -1, 1) * 32767).astype("<i2").tobytes()


class ListeningTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.server = RunningServer(fresh_database())
        cls.server.start()
        cls.addClassCleanup(cls.server.stop)

    def open(self, hello: Any = HELLO) -> Client:
        client = Client(f"ws://127.0.0.1:{self.server.port}/api/listen")
        self.addCleanup(self.leave, client)
        client.send(hello if isinstance(hello, str | bytes) else json.dumps(hello))
        return client

    @staticmethod
    def leave(client: Client) -> None:
        with suppress(ConnectionClosed):
            client.close()

    def next(self, client: Client) -> Any:
        said = client.receive(timeout=10)
        self.assertIsNotNone(said, "the server said nothing for 10 seconds")
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

    def test_odd_byte_counts_lose_nothing(self) -> None:
        client = self.open()
        sound = pcm(plucked(Tone(290.0, 1.5, RATE), np.random.default_rng(2)))
        for start in range(0, len(sound), 1001):
            client.send(sound[start : start + 1001])
        reading = self.all_said(client, "settled")[-1]["reading"]
        self.assertAlmostEqual(reading["hz"], 290.0, delta=0.1)


class TestRubbish(ListeningTest):
    def assert_refused(self, client: Client, says: str) -> None:
        message = self.all_said(client, "refused")[-1]
        self.assertIn(says, message["message"])
        with self.assertRaises(ConnectionClosed):
            while True:
                client.receive(timeout=5)

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
