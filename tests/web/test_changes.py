"""The stream of changes: a page is told of what any server process stored, and of nothing that wasn't stored."""

import http.client
import json
import threading
import unittest
from typing import Any, ClassVar
from uuid import uuid4

from pondus.running.scratch_studio import RunningServer, scratch_cluster
from pondus.store.database import migrate

WITHIN_SECONDS = 60


class Told:
    """A page's stream, read in a thread of its own."""

    def __init__(self, port: int) -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=WITHIN_SECONDS)
        self.connection.request("GET", "/api/changes")
        self.answer = self.connection.getresponse()

    def next(self, holds: str) -> dict[str, Any]:
        """The next event whose data holds that key."""
        while True:
            line = self.answer.readline().decode()
            if not line:
                raise AssertionError("the stream ended")
            if line.startswith("data: "):
                told: dict[str, Any] = json.loads(line.removeprefix("data: "))
                if holds in told:
                    return told


class TestChanges(unittest.TestCase):
    made: ClassVar[list[str]] = []
    """The instruments that these tests made."""

    @classmethod
    def setUpClass(cls) -> None:
        cluster = cls.enterClassContext(scratch_cluster())
        url = cluster.ensure_database("pondus")
        migrate(url)
        cls.server = RunningServer(url, port_file=cluster.port_file, workers=2)
        cls.server.start()
        cls.addClassCleanup(cls.server.stop)

    def ask(self, method: str, path: str, body: object) -> Any:
        connection = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=WITHIN_SECONDS)
        connection.request(method, path, json.dumps(body), {"Content-Type": "application/json"})
        answer = json.loads(connection.getresponse().read())
        connection.close()
        return answer

    def instrument(self) -> str:
        new = str(uuid4())
        self.made.append(new)
        self.ask("POST", "/api/instruments", {"id": new, "label": "Teal", "kind": "violin", "size": "4/4"})
        return new

    def told(self) -> Told:
        told = Told(self.server.port)
        self.addCleanup(told.connection.close)
        while told.answer.readline().strip():
            pass  # its first event: from here on nothing is missed
        return told

    def test_every_page_hears_what_was_entered_and_on_which_state_it_stands(self) -> None:
        pages = [self.told() for _ in range(6)]  # more than one process answers
        instrument = self.instrument()
        bench = self.ask("POST", f"/api/instruments/{instrument}/todays-tuning", {"id": str(uuid4())})
        after = self.ask(
            "POST", f"/api/tunings/{bench['tuning']['id']}/readings", {"id": str(uuid4()), "string": "A", "typed": "-12"}
        )
        for page in pages:
            while True:
                told = page.next("instruments")
                if told["instruments"].get(instrument) == after["log_version"]:
                    break
            self.assertEqual(told["reach"], "log")

    def test_who_is_there_reaches_the_whole_studio(self) -> None:
        page = self.told()
        self.ask("POST", "/api/people", {"id": str(uuid4()), "name": "Ida", "role": "player"})
        self.assertEqual(page.next("reach")["reach"], "studio")

    def test_a_stream_begins_with_what_changed_just_before(self) -> None:
        early = self.told()
        instrument = self.instrument()
        bench = self.ask("POST", f"/api/instruments/{instrument}/todays-tuning", {"id": str(uuid4())})
        while instrument not in early.next("instruments")["instruments"]:
            pass
        for _ in range(4):  # whichever process answers
            late = Told(self.server.port)
            self.addCleanup(late.connection.close)
            told: dict[str, Any] = {"instruments": {}}
            while instrument not in told["instruments"]:
                told = late.next("instruments")
            self.assertEqual(told["instruments"][instrument], bench["log_version"])

    def test_what_was_refused_is_not_told(self) -> None:
        page = self.told()
        instrument = self.instrument()
        self.ask("POST", f"/api/tunings/{uuid4()}/readings", {"id": str(uuid4()), "string": "A", "typed": "-12"})
        bench = self.ask("POST", f"/api/instruments/{instrument}/todays-tuning", {"id": str(uuid4())})
        heard = [page.next("reach")]
        while instrument not in heard[-1]["instruments"]:
            heard.append(page.next("reach"))
        self.assertEqual(heard[-1]["instruments"], {instrument: bench["log_version"]})
        earlier = [one for one in heard[:-1] if one["reach"] == "log"]  # what tests before this one stored may come late
        for one in earlier:
            self.assertLessEqual(set(one["instruments"]), set(self.made) - {instrument})
            self.assertTrue(one["instruments"], "a log that names no instrument: what was refused")
        self.assertEqual([one["reach"] for one in heard if one not in earlier][-2:], ["studio", "log"])

    def test_a_page_that_goes_leaves_no_thread_waiting_for_long(self) -> None:
        for _ in range(700):  # more than all processes together have threads for
            Told(self.server.port).connection.close()
        answered = threading.Event()

        def ask() -> None:
            self.instrument()
            answered.set()

        threading.Thread(target=ask, daemon=True).start()
        self.assertTrue(answered.wait(WITHIN_SECONDS))


if __name__ == "__main__":
    unittest.main()
