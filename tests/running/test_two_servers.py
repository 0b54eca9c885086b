"""Two servers on one database, behind a proxy that speaks HTTPS for them (the tests speak as it does)."""

import http.client
import json
import unittest
from typing import Any
from uuid import uuid4

from simple_websocket import Client
from simple_websocket.errors import ConnectionError as Refused

from pondus.running.scratch_studio import RunningServer, free_port
from pondus.running.server import Bind
from pondus.web.app import WebConfig
from tests.database import cluster, fresh_database
from tests.room import PASSPHRASE, set_teacher

NAME = "tuning.example"
WITHIN_SECONDS = 60


class TestTwoServers(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.url = fresh_database()
        set_teacher(cls.url)
        cls.first, cls.second = cls.begun("127.0.0.1"), cls.begun("127.0.0.1")

    @classmethod
    def begun(cls, proxy: str) -> RunningServer:
        config = WebConfig(
            database_url=cls.url,
            port_file=cluster().port_file,
            hosts=frozenset({NAME}),
            door="proxied",
            proxies=frozenset({proxy}),
        )
        server = RunningServer(cls.url, workers=1, config=config, bind=Bind(free_port()))
        server.start()
        cls.addClassCleanup(server.stop)
        return server

    def setUp(self) -> None:
        self.cookie = ""

    def headers(self, scheme: str = "https") -> dict[str, str]:
        """What a proxy sends along."""
        return {
            "Host": "inside:8000",
            "X-Forwarded-Host": NAME,
            "X-Forwarded-Proto": scheme,
            "X-Forwarded-For": "203.0.113.9",
            "Origin": f"{scheme}://{NAME}",
            "Content-Type": "application/json",
            "Cookie": self.cookie,
        }

    def ask(self, server: RunningServer, method: str, path: str, body: Any = None, *, scheme: str = "https") -> tuple[int, Any]:
        connection = http.client.HTTPConnection("127.0.0.1", server.port, timeout=WITHIN_SECONDS)
        connection.request(method, path, None if body is None else json.dumps(body), self.headers(scheme))
        answer = connection.getresponse()
        told = json.loads(answer.read() or b"null")
        set_ = answer.getheader("Set-Cookie")
        if set_ is not None:
            self.cookie = set_.split(";")[0]
            self.assertIn("Secure", set_)
        connection.close()
        return answer.status, told

    def sign_in(self, server: RunningServer) -> None:
        status, told = self.ask(server, "POST", "/api/sign-in", {"name": "Runa", "passphrase": PASSPHRASE})
        self.assertEqual(status, 200, told)

    def test_who_signs_in_at_one_is_in_at_the_other_until_it_ends_at_either(self) -> None:
        self.sign_in(self.first)
        status, told = self.ask(self.second, "GET", "/api/devices")
        self.assertEqual(status, 200)
        [here] = [each for each in told["devices"] if each["here"]]
        self.ask(self.first, "DELETE", f"/api/devices/{here['id']}")
        self.assertEqual(self.ask(self.second, "GET", "/api/devices")[0], 401)

    def test_one_tuning_is_seen_and_told_of_at_both(self) -> None:
        self.sign_in(self.first)
        stream = http.client.HTTPConnection("127.0.0.1", self.second.port, timeout=WITHIN_SECONDS)
        self.addCleanup(stream.close)
        stream.request("GET", "/api/changes", headers=self.headers())
        events = stream.getresponse()
        events.readline()
        instrument, tuning = str(uuid4()), str(uuid4())
        self.ask(self.first, "POST", "/api/instruments", {"id": instrument, "label": "Teal", "kind": "cello"})
        self.ask(self.first, "POST", f"/api/instruments/{instrument}/todays-tuning", {"id": tuning})
        self.ask(self.first, "POST", f"/api/tunings/{tuning}/readings", {"id": str(uuid4()), "string": "A", "typed": "-9"})
        status, seen = self.ask(self.second, "GET", f"/api/tunings/{tuning}")
        self.assertEqual((status, seen["history"][0]["text"]), (200, "A3 −9"))
        while True:
            line = events.readline().decode()
            self.assertTrue(line, "the stream ended")
            if line.startswith("data: ") and seen["log_version"] in json.loads(line[6:]).get("instruments", {}).values():
                break

    def listening(self, server: RunningServer) -> Client:
        headers = {**self.headers(), "X-Forwarded-Host": NAME}
        headers.pop("Host")
        return Client(f"ws://127.0.0.1:{server.port}/api/listen", headers=headers)

    def test_one_server_is_killed_and_listening_goes_on_at_the_other(self) -> None:
        third = self.begun("127.0.0.1")
        self.sign_in(third)
        hello = json.dumps({"instrument": "violin", "string": None, "a4": 440.0, "sample_rate": 48_000})
        listening = self.listening(third)
        listening.send(hello)
        self.assertEqual(json.loads(listening.receive(timeout=WITHIN_SECONDS))["type"], "ready")
        third.stop(kill=True)
        self.assertIsNone(self.until_over(listening))
        again = self.listening(self.second)
        again.send(hello)
        self.assertEqual(json.loads(again.receive(timeout=WITHIN_SECONDS))["type"], "ready")
        again.close()

    def until_over(self, listening: Client) -> None:
        try:
            while listening.receive(timeout=WITHIN_SECONDS) is not None:
                continue
        except Exception as error:
            self.assertIn("Connection", type(error).__name__)

    def test_nobody_elses_word_is_taken_for_where_a_request_came_from(self) -> None:
        other = self.begun("10.0.0.1")
        status, told = self.ask(other, "GET", "/api/me")
        self.assertEqual(status, 403, "the name is what it was really asked as")
        self.assertIn("isn't known as", told["error"]["message"])
        with self.assertRaisesRegex(Refused, "403"):
            self.listening(other)

    def test_passphrases_do_not_travel_in_the_clear(self) -> None:
        body = {"name": "Runa", "passphrase": PASSPHRASE}
        status, told = self.ask(self.first, "POST", "/api/sign-in", body, scheme="http")
        self.assertEqual(status, 403)
        self.assertIn("https", told["error"]["message"])


if __name__ == "__main__":
    unittest.main()
