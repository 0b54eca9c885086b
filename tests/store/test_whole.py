"""The whole studio in one file: saved, brought into an empty studio, saved again: the same."""

import json
import unittest
from typing import Any

from sqlmodel import select

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.demo.studio import fill
from pondus.store.database import engine_for, session_on
from pondus.store.tables import InstrumentRow, ReadingRow, StationRow, now
from pondus.store.whole import VERSION, restored, saved
from tests.database import fresh_database

CLOCK = Clock(now())


class TestWhole(unittest.TestCase):
    text: str

    @classmethod
    def setUpClass(cls) -> None:
        url = fresh_database()
        fill(url)
        cls.engine = engine_for(url)
        cls.addClassCleanup(cls.engine.dispose)
        cls.text = cls.save(cls.engine)

    @staticmethod
    def save(engine: Any) -> str:
        with session_on(engine) as session:
            return "".join(saved(session))

    def refused(self, content: bytes, says: str) -> None:
        engine = engine_for(fresh_database())
        self.addCleanup(engine.dispose)
        with self.assertRaises(BadInput) as caught, session_on(engine) as session:
            restored(session, content, clock=CLOCK)
        self.assertIn(says, caught.exception.message)
        with session_on(engine) as session:
            self.assertIsNone(session.exec(select(InstrumentRow)).first())

    def test_a_file_without_an_instruments_strings_is_refused_in_words(self) -> None:
        file = json.loads(self.text)
        whose = file["tables"]["instrument"][0]
        file["tables"]["string"] = [each for each in file["tables"]["string"] if each["instrument_id"] != whose["id"]]
        self.refused(json.dumps(file).encode(), f"“{whose['label']}” without its strings")

    def test_it_comes_back_as_it_was(self) -> None:
        engine = engine_for(fresh_database())
        self.addCleanup(engine.dispose)
        with session_on(engine) as session:
            done = restored(session, self.text.encode(), clock=CLOCK)
        self.assertGreater(done.stored, 10_000)
        self.assertEqual(done.aside, [])
        first, second = json.loads(self.text), json.loads(self.save(engine))
        self.assertEqual(first["tables"], second["tables"])

    def test_the_demo_studio_shows_every_state(self) -> None:
        tables = json.loads(self.text)["tables"]
        self.assertEqual(len(tables["instrument"]), 24)
        strings = tables["string"]
        self.assertTrue(any(each["winding"] == "reversed" for each in strings))
        self.assertTrue(any(each["peg_kind"] == "geared" for each in strings))
        self.assertTrue(any(each["peg_state"] == "slips" for each in strings))
        self.assertTrue(any(abs(each["screw_turns"]) >= 3.5 for each in strings))
        self.assertEqual(sum(each["values"].get("fifth_cents") == 701.955 for each in tables["settings"]), 4)
        self.assertEqual({each["role"] for each in tables["person"]}, {"teacher", "helper", "player"})
        self.assertTrue(any(each["kind"] == "luthier-out" for each in tables["care"]))
        self.assertGreater(len({each["started_at"][:10] for each in tables["tuning"]}), 40)

    def test_filled_again_it_adds_nothing(self) -> None:
        url = fresh_database()
        fill(url)
        fill(url)
        engine = engine_for(url)
        self.addCleanup(engine.dispose)
        with session_on(engine) as session:
            self.assertEqual(len(session.exec(select(StationRow)).all()), 4)
            once = len(session.exec(select(ReadingRow.id)).all())
        self.assertEqual(once, len(json.loads(self.text)["tables"]["reading"]))

    def test_what_is_no_such_file_is_refused_and_nothing_is_stored(self) -> None:
        self.refused(b"label,kind\n", "isn't JSON")
        self.refused(b"{}", "isn't a studio's file")
        self.refused(b"[1]", "isn't a studio's file")
        self.refused(json.dumps({"pondus_studio": VERSION + 1, "tables": {}}).encode(), "newer Pondus")
        self.refused(json.dumps({"pondus_studio": 1, "tables": {"spoons": []}}).encode(), "doesn't know")

    def test_a_studio_that_holds_something_is_not_overwritten(self) -> None:
        with self.assertRaises(BadInput), session_on(self.engine) as session:
            restored(session, self.text.encode(), clock=CLOCK)
        self.assertEqual(json.loads(self.save(self.engine))["tables"], json.loads(self.text)["tables"])
