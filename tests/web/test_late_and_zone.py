"""Entries made on an older state of their string are kept and don't count; days are the studio's."""

import json
from datetime import UTC, datetime, timedelta
from unittest import mock
from uuid import uuid4
from zoneinfo import ZoneInfo

from sqlalchemy import text

from pondus.store import devices as device_store
from pondus.store.database import session_on
from pondus.store.device_tables import InvitationRow
from pondus.store.whole import saved
from tests.web.test_api import ApiTest


class LateTest(ApiTest):
    def setUp(self) -> None:
        super().setUp()
        self.instrument = str(uuid4())
        self.post("/api/instruments", {"id": self.instrument, "label": "Knot", "kind": "violin"})
        self.bench = self.post("/api/tunings", {"id": str(uuid4()), "instrument_id": self.instrument})
        self.tuning = self.bench["tuning"]["id"]

    def read(self, string: str, typed: str, **more: object) -> dict:  # type: ignore[type-arg]
        body = {"id": str(uuid4()), "string": string, "typed": typed, **more}
        return self.post(f"/api/tunings/{self.tuning}/readings", body)

    def turn(self, string: str, **more: object) -> dict:  # type: ignore[type-arg]
        move = {"mechanism": "fine-tuner", "direction": "raise", "amount": 0.5, "unit": "turn"}
        return self.post(f"/api/tunings/{self.tuning}/moves", {"id": str(uuid4()), "string": string, **move, **more})

    def on(self, bench: dict, name: str) -> dict:  # type: ignore[type-arg]
        return next(each for each in bench["strings"] if each["name"] == name)


class TestLate(LateTest):
    def test_a_figure_that_waited_offline_does_not_win_over_what_was_done_since(self) -> None:
        seen = self.bench["log_version"]
        tablet, phone = str(uuid4()), str(uuid4())
        self.read("A", "0", made_on=seen, device=tablet)
        after = self.read("A", "-30", made_on=seen, device=phone)
        self.assertEqual(self.on(after, "A")["words"], "in tune")
        late = next(each for each in after["history"] if each["text"] == "A4 −30")
        self.assertTrue(late["late"])
        self.assertFalse(late["struck"])

    def test_what_waited_stands_at_the_time_it_was_made_not_before_its_tuning_began(self) -> None:
        later = datetime.now(UTC) + timedelta(hours=3)
        with mock.patch("pondus.web.entries.now", return_value=later):
            self.read("A", "-30", seconds_ago=600)
            bench = self.turn("A", seconds_ago=86_400)
        times = {entry["kind"]: datetime.fromisoformat(entry["at"]) for entry in bench["history"]}
        self.assertEqual(times["reading"], later - timedelta(minutes=10))
        self.assertEqual(times["move"], datetime.fromisoformat(bench["tuning"]["started_at"]))
        refused = {"id": str(uuid4()), "string": "A", "typed": "-3", "seconds_ago": -1}
        self.post(f"/api/tunings/{self.tuning}/readings", refused, status=422)

    def test_what_one_device_queued_comes_in_its_order(self) -> None:
        seen, phone = self.bench["log_version"], str(uuid4())
        for typed in ("-30", "-12"):
            bench = self.read("A", typed, made_on=seen, device=phone)
        bench = self.turn("A", made_on=seen, device=phone)
        self.assertEqual([each["late"] for each in bench["history"] if not each["taken"]], [False, False, False])
        self.assertEqual(self.on(bench, "A")["words"], "moved; play it")

    def test_a_move_on_a_string_that_was_read_since_is_late_and_turns_no_kept_screw(self) -> None:
        self.read("A", "-20", device=str(uuid4()))
        seen = self.bench["log_version"]
        bench = self.turn("A", made_on=seen, device=str(uuid4()))
        self.assertEqual(self.on(bench, "A")["pending"], None)
        self.assertEqual(self.on(bench, "A")["fine_tuner"]["turns_from_middle"], 0.0)

    def test_other_strings_and_the_newest_state_are_no_hindrance(self) -> None:
        seen = self.bench["log_version"]
        bench = self.read("D", "5", device=str(uuid4()))
        self.assertGreater(bench["log_version"], seen)
        bench = self.read("A", "-20", made_on=seen, device=str(uuid4()))
        bench = self.read("A", "-4", made_on=bench["log_version"], device=str(uuid4()))
        self.assertEqual([each["late"] for each in bench["history"] if not each["taken"]], [False] * 3)
        self.assertEqual(self.on(bench, "A")["advice"]["cents_off"], -4.0)

    def test_sent_again_it_is_as_it_was_kept(self) -> None:
        seen, key = self.bench["log_version"], str(uuid4())
        self.read("A", "-20", id=key, made_on=seen, device=str(uuid4()))
        self.read("A", "0", device=str(uuid4()))
        bench = self.read("A", "-20", id=key, made_on=seen, device=str(uuid4()))
        self.assertEqual([each["late"] for each in bench["history"] if not each["taken"]], [False, False])

    def test_a_check_of_a_fifth_on_older_strings_is_late_with_its_readings(self) -> None:
        seen = self.bench["log_version"]
        check = {"way": "double-stop", "lower_hz": 293.0, "upper_hz": 440.0, "source": "microphone"}
        body = {"id": str(uuid4()), "lower": "D", "upper": "A", "check": check, "made_on": seen}
        fine = self.post(f"/api/tunings/{self.tuning}/fifths", body)
        self.assertEqual([each["late"] for each in fine["checks"]], [False])
        self.turn("A", device=str(uuid4()))
        again = self.post(f"/api/tunings/{self.tuning}/fifths", {**body, "id": str(uuid4()), "device": str(uuid4())})
        self.assertEqual([each["late"] for each in again["checks"]], [True, False])
        history = self.get(f"/api/tunings/{self.tuning}")["history"]
        self.assertEqual(sum(each["late"] for each in history), 2)

    def test_ninety_degrees_of_a_screw_turn_the_kept_screw_by_a_quarter(self) -> None:
        bench = self.turn("A", amount=90.0, unit="degree")
        self.assertEqual(self.on(bench, "A")["fine_tuner"]["turns_from_middle"], 0.25)


class TestFirstZone(LateTest):
    def test_the_first_browser_tells_and_a_setting_changes_it(self) -> None:
        told = self.post("/api/settings/first-zone", {"zone": "Pacific/Auckland"})
        self.assertEqual(told["zone"], "Pacific/Auckland")
        self.assertEqual(self.post("/api/settings/first-zone", {"zone": "Europe/Berlin"})["zone"], "Pacific/Auckland")
        changed = self.client.patch("/api/settings", json={"zone": "Europe/Berlin"}).get_json()
        self.assertEqual(changed["zone"], "Europe/Berlin")
        for zone in ("Tern Island", "../../etc/passwd", "Europe/\u0000"):
            self.refused("/api/settings/first-zone", {"zone": zone}, says="")
        bench = self.get(f"/api/tunings/{self.tuning}")
        self.assertEqual(bench["tuning"]["id"], self.tuning)


class TestClock(LateTest):
    def test_a_tuning_begun_while_the_clock_was_ahead_is_never_todays(self) -> None:
        ahead = datetime.now(UTC) + timedelta(days=3)
        with self.app.extensions["pondus_engine"].begin() as connection:
            change = text("update tuning set started_at = :at where id = :id")
            connection.execute(change, {"at": ahead, "id": self.tuning})
            connection.execute(text("update instrument set log_version = log_version + 1"))
        begun = self.post(f"/api/instruments/{self.instrument}/todays-tuning", {"id": str(uuid4())})
        self.assertNotEqual(begun["tuning"]["id"], self.tuning)
        again = self.post(f"/api/instruments/{self.instrument}/todays-tuning", {"id": str(uuid4())})
        self.assertEqual(again["tuning"]["id"], begun["tuning"]["id"], "the real one is found again")
        [aside] = [each for each in self.get("/api/set-aside")["records"] if each["id"] == self.tuning]
        self.assertIn(str(ahead.year), aside["reason"])

    def test_a_session_that_was_over_stays_so_when_the_clock_is_set_back(self) -> None:
        with session_on(self.app.extensions["pondus_engine"]) as session:
            entered = device_store.let_in(session, "helper", person_id=None, name="a phone", kind="phone")
            row, _ = device_store.invite(session, "helper", person_id=None, name="")
            code = row.id
        later = datetime.now(UTC) + timedelta(days=400)
        engine = self.app.extensions["pondus_engine"]
        with mock.patch("pondus.store.devices.now", return_value=later), session_on(engine) as session:
            device_store.end_expired(session)
        with session_on(self.app.extensions["pondus_engine"]) as session:
            self.assertIsNone(device_store.device_with(session, entered.token))
            self.assertIsNotNone(session.get_one(InvitationRow, code).used_at)

    def test_times_leave_in_the_studios_zone(self) -> None:
        self.read("A", "-12")
        self.client.patch("/api/settings", json={"zone": "Asia/Kolkata"})
        self.assertIn("+05:30", self.client.get("/api/export/readings.csv").get_data(as_text=True))
        with session_on(self.app.extensions["pondus_engine"]) as session:
            [reading] = json.loads("".join(saved(session)))["tables"]["reading"]
        self.assertTrue(reading["at"].endswith("+05:30"), reading["at"])


class TestDaysOfTheStudio(LateTest):
    def test_a_morning_in_auckland_is_todays_and_yesterdays_tuning_is_not(self) -> None:
        """Whatever the hour: a zone in which a new day began between this tuning and now."""
        zone = next(
            name
            for name in ("Pacific/Kiritimati", "Pacific/Auckland", "Asia/Tokyo", "Asia/Kolkata", "Europe/Berlin",
                         "America/Sao_Paulo", "America/Denver", "Pacific/Honolulu", "Pacific/Pago_Pago")
            if datetime.now(ZoneInfo(name)).hour >= 1
        )  # fmt: skip
        self.client.patch("/api/settings", json={"zone": zone})
        self.read("A", "0")
        here = next(each for each in self.get("/api/morning")["instruments"] if each["id"] == self.instrument)
        self.assertEqual(here["heard"], 1)
        midnight = datetime.now(ZoneInfo(zone)).replace(hour=0, minute=0, second=0, microsecond=0)
        engine = self.app.extensions["pondus_engine"]
        with engine.begin() as connection:
            before = (midnight - timedelta(minutes=1)).astimezone(UTC)
            change = text("update tuning set started_at = :at where id = :id")
            connection.execute(change, {"at": before, "id": self.tuning})
            connection.execute(text("update instrument set log_version = log_version + 1"))
        here = next(each for each in self.get("/api/morning")["instruments"] if each["id"] == self.instrument)
        self.assertEqual((here["heard"], here["group"]), (0, "not-heard"))
        begun = self.post(f"/api/instruments/{self.instrument}/todays-tuning", {"id": str(uuid4())})
        self.assertNotEqual(begun["tuning"]["id"], self.tuning)
