"""How devices come into a shared studio and go: passphrases, codes, sessions, the lock."""

import unittest
from datetime import timedelta
from unittest import mock
from uuid import uuid4

from flask.testing import FlaskClient
from sqlmodel import select

from pondus.core.errors import BadInput
from pondus.store import devices as device_store
from pondus.store.changes import hearing
from pondus.store.database import session_on
from pondus.store.device_tables import DeviceSessionRow
from pondus.store.tables import PersonRow, now
from pondus.web.app import WebConfig, create_app
from pondus.web.devices import Shared
from tests.database import fresh_database
from tests.web.room import Room


class TestComingIn(Room):
    def test_wrong_passphrases_are_told_alike_and_slowed_down(self) -> None:
        stranger = self.device(None)
        self.enterContext(mock.patch("pondus.store.limits.now", return_value=now()))  # no minute ends in between
        answers = []
        for name, passphrase in [("Runa Vik", "wrong wrong wrong"), ("Nobody", "wrong wrong wrong")] * 5:
            told = {"name": name, "passphrase": passphrase}
            answer = self.ask(stranger, "POST", "/api/sign-in", json=told, environ_base={"REMOTE_ADDR": "10.0.0.6"})
            answers.append((answer.status_code, answer.json["error"]["message"]))
        self.assertEqual({status for status, _ in answers}, {401})
        self.assertEqual(len(set(answers)), 1)
        right = {"name": "Runa Vik", "passphrase": "four words of mine"}
        with self.assertNoLogs("pondus"):
            eleventh = self.ask(stranger, "POST", "/api/sign-in", json=right, environ_base={"REMOTE_ADDR": "10.0.0.6"})
        self.assertEqual(eleventh.status_code, 429)
        elsewhere = self.ask(stranger, "POST", "/api/sign-in", json=right, environ_base={"REMOTE_ADDR": "10.0.0.7"})
        self.assertEqual(elsewhere.status_code, 200, "another address is another count")

    def test_a_device_that_was_in_before_is_not_locked_out_by_strangers(self) -> None:
        self.enterContext(mock.patch("pondus.store.limits.now", return_value=now()))
        right = {"name": "Runa Vik", "passphrase": "four words of mine"}
        known, fresh = self.device(None), self.device(None)
        at_first = self.ask(known, "POST", "/api/sign-in", json=right, environ_base={"REMOTE_ADDR": "10.1.0.1"})
        self.assertEqual(at_first.status_code, 200)
        self.ask(known, "POST", "/api/sign-out")
        for number in range(40):  # from many addresses, and from its own
            told = {"name": "Runa Vik", "passphrase": f"a guess at random {number}"}
            where = {"REMOTE_ADDR": f"10.1.1.{number}" if number % 4 else "10.1.0.1"}
            self.ask(self.device(None), "POST", "/api/sign-in", json=told, environ_base=where)
        for client, where, status in ((fresh, "10.1.2.1", 429), (known, "10.1.0.1", 200)):
            answer = self.ask(client, "POST", "/api/sign-in", json=right, environ_base={"REMOTE_ADDR": where})
            self.assertEqual(answer.status_code, status, answer.json)
            if status == 429:
                self.assertTrue(answer.headers["Retry-After"].isdigit())

    def test_addresses_of_one_ipv6_network_are_one(self) -> None:
        self.enterContext(mock.patch("pondus.store.limits.now", return_value=now()))
        statuses = [
            self.ask(
                self.device(None),
                "POST",
                "/api/join",
                json={"code": "no such code"},
                environ_base={"REMOTE_ADDR": f"2001:db8:7:7::{number:x}"},
            ).status_code
            for number in range(12)
        ]
        self.assertEqual(statuses, [401] * 10 + [429] * 2)

    def test_a_teachers_code_asks_for_the_passphrase_of_the_one_who_makes_it(self) -> None:
        teacher = self.device("teacher", self.teacher)
        with mock.patch("pondus.web.devices._shared", return_value=Shared("studio.local", (), 8443, None)):
            for passphrase, status in ((None, 401), ("not this one at all", 401), ("four words of mine", 200)):
                new = {"role": "teacher", "person_id": str(self.teacher), "passphrase": passphrase}
                answer = self.ask(teacher, "POST", "/api/invitations", json=new)
                self.assertEqual(answer.status_code, status, answer.json)
            helper = self.ask(teacher, "POST", "/api/invitations", json={"role": "helper"})
            self.assertEqual(helper.status_code, 200, "a helper's code asks for none")

    def test_a_teacher_let_in_by_a_code_sets_a_first_passphrase_with_a_colleagues(self) -> None:
        with session_on(self.engine) as session:
            other = PersonRow(id=uuid4(), name="Ola Sund", role="teacher")
            session.add(other)
            session.flush()
            other_id = other.id
        device = self.device("teacher", other_id)
        new = {"name": "Ola Sund", "passphrase": "seven small brown birds"}
        for current, status in ((None, 401), ("a guess at random", 401), ("four words of mine", 200)):
            done = self.ask(device, "POST", "/api/passphrase", json={**new, "current": current})
            self.assertEqual(done.status_code, status, done.json)
        again = {"name": "Ola Sund", "passphrase": "seven small white birds", "current": "four words of mine"}
        refused = self.ask(device, "POST", "/api/passphrase", json=again)
        self.assertEqual(refused.status_code, 401, "from then on it is the own one that counts")

    def test_what_was_meant_for_another_studio_is_not_taken(self) -> None:
        teacher = self.device("teacher", self.teacher)
        own = self.ask(teacher, "GET", "/api/me").headers["Pondus-Studio"]
        for studio, status in (("0badcafe", 421), (own, 200)):
            answer = self.ask(teacher, "GET", "/api/people", headers={"Pondus-Studio": studio})
            self.assertEqual(answer.status_code, status)
            self.assertEqual(answer.headers["Pondus-Studio"], own)
        self.assertEqual(self.ask(teacher, "GET", "/api/me", headers={"Pondus-Studio": "0badcafe"}).status_code, 200)

    def test_refusals_are_logged_without_names(self) -> None:
        stranger = self.device(None)
        with self.assertLogs("pondus", "WARNING") as logged:
            self.ask(
                stranger,
                "POST",
                "/api/sign-in",
                json={"name": "Runa Vik", "passphrase": "not this one at all"},
                environ_base={"REMOTE_ADDR": "10.0.0.8"},
            )
        self.assertNotIn("Runa", "".join(logged.output))
        self.assertNotIn("not this one", "".join(logged.output))

    def test_a_code_lets_one_device_in_once_and_not_too_late(self) -> None:
        with session_on(self.engine) as session:
            _, code = device_store.invite(session, "student", person_id=self.ines, name="")
            late, late_code = device_store.invite(session, "helper", person_id=None, name="by the door")
            late.ends_at = now() - timedelta(seconds=1)
            session.add(late)
        first, second = self.device(None), self.device(None)
        for client, which, status in (
            (first, code, 200),
            (second, code, 401),
            (second, late_code, 401),
            (second, "of-another-studio", 401),
        ):
            answer = self.ask(client, "POST", "/api/join", json={"code": which}, environ_base={"REMOTE_ADDR": "10.0.0.9"})
            self.assertEqual(answer.status_code, status, which)
        me = self.ask(first, "GET", "/api/me").json
        self.assertEqual((me["role"], me["name"], me["instruments"]), ("student", "Ines Holm", [str(self.violin)]))
        cookie = answer_cookie(first)
        self.assertIn("HttpOnly", cookie)
        self.assertIn("Secure", cookie)
        self.assertIn("SameSite=Strict", cookie)

    def test_a_new_passphrase_ends_every_session_but_this_one(self) -> None:
        teacher, helper = self.device("teacher", self.teacher), self.device("helper", self.mina)
        new = {"name": "Runa Vik", "passphrase": "four other words of mine"}
        refused = self.ask(teacher, "POST", "/api/passphrase", json={**new, "current": "a guess at random"})
        self.assertEqual(refused.status_code, 401)
        self.assertEqual(self.ask(helper, "GET", "/api/morning").status_code, 200)
        done = self.ask(teacher, "POST", "/api/passphrase", json={**new, "current": "four words of mine"})
        self.assertEqual(done.status_code, 200, done.json)
        self.assertEqual(self.ask(helper, "GET", "/api/morning").status_code, 401)
        self.assertEqual(self.ask(teacher, "GET", "/api/morning").status_code, 200)
        with session_on(self.engine) as session:
            device_store.set_passphrase(session, "Runa Vik", "four words of mine")

    def test_a_session_that_is_ended_is_over_at_once(self) -> None:
        teacher, helper = self.device("teacher", self.teacher), self.device("helper", self.mina)
        listed = self.ask(teacher, "GET", "/api/devices").json["devices"]
        [phone] = [each for each in listed if each["role"] == "helper" and each["person_id"] == str(self.mina)][-1:]
        for each in listed:
            if each["role"] == "helper":
                self.ask(teacher, "DELETE", f"/api/devices/{each['id']}")
        self.assertEqual(self.ask(helper, "GET", "/api/morning").status_code, 401)
        self.assertNotIn(phone["id"], str(self.ask(teacher, "GET", "/api/devices").json["devices"]))

    def test_looking_at_who_is_in_tells_nobody_and_letting_in_does(self) -> None:
        teacher = self.device("teacher", self.teacher)
        with hearing(self.engine) as connection:
            self.ask(teacher, "GET", "/api/devices")
            self.ask(self.device(None), "POST", "/api/join", json={"code": "x"}, environ_base={"REMOTE_ADDR": "10.0.0.5"})
            self.assertEqual(list(connection.notifies(timeout=0.2)), [])
            with session_on(self.engine) as session:
                _, code = device_store.invite(session, "helper", person_id=None, name="")
            self.ask(self.device(None), "POST", "/api/join", json={"code": code}, environ_base={"REMOTE_ADDR": "10.0.0.5"})
            self.assertNotEqual(list(connection.notifies(timeout=60.0, stop_after=1)), [])

    def test_two_helpers_who_are_not_on_the_roll_have_a_place_each(self) -> None:
        places = []
        for _ in range(2):
            with session_on(self.engine) as session:
                kept, code = device_store.invite(session, "helper", person_id=None, name="")
            helper = self.device(None)
            self.ask(helper, "POST", "/api/join", json={"code": code}, environ_base={"REMOTE_ADDR": "10.0.0.4"})
            came = self.ask(helper, "POST", "/api/morning/come", json={"id": str(uuid4())})
            self.assertEqual(came.status_code, 200, came.json)
            places.append((kept.name, self.ask(helper, "GET", "/api/me").json["station_id"]))
        self.assertEqual(len({name for name, _ in places}), 2)
        self.assertEqual(len({place for _, place in places}), 2)
        self.assertNotIn(None, dict(places).values())

    def test_a_device_that_shows_no_sign_with_an_instrument_in_hand_is_said_to_be_away(self) -> None:
        helper, teacher = self.device("helper", self.mina), self.device("teacher", self.teacher)
        self.ask(helper, "POST", "/api/morning/come", json={"id": str(uuid4())})
        place = self.ask(helper, "GET", "/api/me").json["station_id"]
        told = {"instrument_id": str(self.violin), "tuning_id": str(uuid4()), "take_over": True}
        self.assertEqual(self.ask(helper, "POST", f"/api/morning/stations/{place}/take", json=told).status_code, 200)
        with session_on(self.engine) as session:
            for row in session.exec(select(DeviceSessionRow).where(DeviceSessionRow.person_id == self.mina)):
                row.seen_at = now() - timedelta(minutes=14)
                session.add(row)
        planned = self.ask(teacher, "GET", "/api/morning/plan").json
        away = {each["id"]: each["away_minutes"] for each in planned["stations"]}
        self.assertEqual(away[place], 14)
        other = next((each["id"] for each in planned["stations"] if each["id"] != place), None)
        if other is not None:
            self.assertEqual(self.ask(helper, "POST", f"/api/morning/stations/{other}/take", json=told).status_code, 403)

    def test_who_left_the_roll_is_out(self) -> None:
        teacher = self.device("teacher", self.teacher)
        leaver = uuid4()
        self.ask(teacher, "POST", "/api/people", json={"id": str(leaver), "name": "Tove", "role": "helper"})
        helper = self.device("helper", leaver)
        self.assertEqual(self.ask(helper, "GET", "/api/morning").status_code, 200)
        self.ask(teacher, "PATCH", f"/api/people/{leaver}", json={"retired": True})
        self.assertEqual(self.ask(helper, "GET", "/api/morning").status_code, 401)

    def test_who_is_a_teacher_no_more_is_out(self) -> None:
        teacher, was = self.device("teacher", self.teacher), uuid4()
        self.ask(teacher, "POST", "/api/people", json={"id": str(was), "name": "Sunniva", "role": "teacher"})
        theirs = self.device("teacher", was)
        self.assertEqual(self.ask(theirs, "GET", "/api/people").status_code, 200)
        self.ask(teacher, "PATCH", f"/api/people/{was}", json={"role": "helper"})
        self.assertEqual(self.ask(theirs, "GET", "/api/people").status_code, 401)
        with session_on(self.engine) as session:
            sessions = set(session.exec(select(DeviceSessionRow.id).where(DeviceSessionRow.person_id == was)).all())
            self.assertEqual(device_store.still_signed_in(session, sessions), set(), "what it has open ends, too")

    def test_without_an_origin_nothing_is_changed_from_the_room(self) -> None:
        teacher = self.device("teacher", self.teacher)
        del teacher.environ_base["HTTP_ORIGIN"]
        self.assertEqual(self.ask(teacher, "PATCH", "/api/settings", json={}).status_code, 403)
        self.assertEqual(self.ask(teacher, "GET", "/api/settings").status_code, 200)

    def test_weak_passphrases_and_wrong_names_are_refused_in_words(self) -> None:
        for name, passphrase in (
            ("Runa Vik", "short"),
            ("Runa Vik", "aaaaaaaaaaaaaaaa"),
            ("Runa Vik", "Runa Vik Runa Vik"),
            ("Ines Holm", "four words of mine"),
            ("", "four words of mine"),
        ):
            refused = self.assertRaises(BadInput)
            with self.subTest(name=name, passphrase=passphrase), refused, session_on(self.engine) as session:
                device_store.set_passphrase(session, name, passphrase)


class TestLock(unittest.TestCase):
    def test_the_studios_own_computer_can_be_locked_once_someone_can_come_in(self) -> None:
        app = create_app(WebConfig(database_url=fresh_database()))
        client = app.test_client()
        self.assertEqual(client.patch("/api/lock", json={"locked": True}).status_code, 422)
        set_ = client.post("/api/passphrase", json={"name": "Runa", "passphrase": "four words of mine"})
        self.assertEqual(set_.status_code, 200, set_.json)
        again = {"name": "Runa", "passphrase": "four other words of mine"}
        self.assertEqual(client.post("/api/passphrase", json=again).status_code, 401, "whoever sits there isn't a teacher")
        self.assertEqual(client.get("/api/people").status_code, 200)
        self.assertTrue(client.patch("/api/lock", json={"locked": True}).json["locked"])
        self.assertEqual(client.get("/api/people").status_code, 401)
        entered = client.post("/api/sign-in", json={"name": "runa", "passphrase": "four words of mine"})
        self.assertEqual(entered.status_code, 200, entered.json)
        self.assertEqual(client.get("/api/people").status_code, 200)
        self.assertFalse(client.patch("/api/lock", json={"locked": False}).json["locked"])
        self.assertEqual(app.test_client().get("/api/people").status_code, 200)


def answer_cookie(client: FlaskClient) -> str:
    """The cookie a client holds, as it was set."""
    found = next(iter(client._cookies.values()))  # type: ignore[union-attr]
    return "; ".join(
        word
        for word, on in (("HttpOnly", found.http_only), ("Secure", found.secure), (f"SameSite={found.same_site}", True))
        if on
    )


if __name__ == "__main__":
    unittest.main()
