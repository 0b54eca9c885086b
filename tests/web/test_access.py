"""Every route and both sockets, asked by everyone there is, against the core's table."""

import json
import re
import unittest
from collections.abc import Iterator
from datetime import timedelta
from typing import Any, get_args
from unittest import mock
from uuid import uuid4

from flask import g
from flask.testing import FlaskClient
from sqlmodel import select

from pondus.core.access import MAY, Act, DeviceFacts, DeviceRole
from pondus.core.errors import BadInput
from pondus.store import devices as device_store
from pondus.store.changes import hearing
from pondus.store.database import session_on
from pondus.store.device_tables import DeviceSessionRow
from pondus.store.tables import PersonRow, now
from pondus.web.access import ACTS, NARROWED_BY_THEMSELVES, OPEN
from pondus.web.app import WebConfig, create_app
from tests.database import fresh_database

BASE = "https://localhost"
UNDOCUMENTED = [
    ("GET", "/api/changes"),
    ("GET", "/api/listen"),
    ("GET", "/api/simulated/live"),
    ("GET", "/api/practice/live"),
    ("GET", "/api/openapi.json"),
]
SOCKETS = ("/api/listen", "/api/simulated/live", "/api/practice/live")
ABOUT_AN_INSTRUMENT = re.compile(r"\{(instrument_id|tuning_id)\}")


class TestTable(unittest.TestCase):
    def test_every_act_has_its_row_and_every_row_its_act(self) -> None:
        self.assertEqual(set(MAY), set(get_args(Act)))
        self.assertTrue(all(row["teacher"] == "all" for row in MAY.values()))

    def test_every_view_has_its_act(self) -> None:
        app = create_app(WebConfig(database_url="postgresql://nobody@127.0.0.1:1/none"))
        self.assertEqual(set(app.view_functions) - OPEN - {"static"}, set(ACTS))


class Room(unittest.TestCase):
    """A shared studio with a violin that Ines has and a viola that is Ole's."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.app = create_app(WebConfig(database_url=fresh_database(), door="shared"))
        cls.engine = cls.app.extensions["pondus_engine"]
        cls.ines, cls.ole, cls.mina = uuid4(), uuid4(), uuid4()
        cls.violin, cls.viola = uuid4(), uuid4()
        with session_on(cls.engine) as session:
            cls.teacher = device_store.set_passphrase(session, "Runa Vik", "four words of mine").id
            session.add(PersonRow(id=cls.ines, name="Ines Holm", role="player", cleared=[1, 2]))
            session.add(PersonRow(id=cls.ole, name="Ole Strand", role="player", cleared=[1, 2, 3, 4, 5]))
            session.add(PersonRow(id=cls.mina, name="Mina Lund", role="helper"))
        teacher = cls.device("teacher", cls.teacher)
        for key, kind, player in ((cls.violin, "violin", cls.ines), (cls.viola, "viola", cls.ole)):
            new = {
                "id": str(key),
                "label": f"{kind} of one",
                "kind": kind,
                "player_id": str(player),
                "note": "for Ole Strand",
            }
            made = cls.ask(teacher, "POST", "/api/instruments", json=new)
            assert made.status_code == 200, made.json

    @classmethod
    def device(cls, role: DeviceRole | None, person: Any = None, *, ended: bool = False) -> FlaskClient:
        client = cls.app.test_client()
        client.environ_base["HTTP_ORIGIN"] = BASE
        client.environ_base["wsgi.url_scheme"] = "https"
        if role is not None:
            with session_on(cls.engine) as session:
                entered = device_store.let_in(session, role, person_id=person, name="a device", kind="phone")
                studio = device_store.sign_in_row(session).studio
                if ended:
                    session.get_one(DeviceSessionRow, entered.session).ends_at = now() - timedelta(seconds=1)
            client.set_cookie(f"pondus-{studio}", entered.token, domain="localhost")
        return client

    @staticmethod
    def ask(client: FlaskClient, method: str, path: str, **named: Any) -> Any:
        return client.open(path, method=method, base_url=BASE, **named)


class TestWalk(Room):
    def routes(self) -> Iterator[tuple[str, str]]:
        with self.app.app_context():
            paths = self.app.spec["paths"]
        for path, operations in paths.items():
            for method in operations:
                if method in ("get", "post", "put", "patch", "delete"):
                    yield method.upper(), path
        yield from UNDOCUMENTED

    def endpoint(self, method: str, path: str) -> str:
        concrete = re.sub(r"\{(\w+)\}", self.filled, path)
        with self.app.test_request_context(concrete, method=method, base_url=BASE) as context:
            adapter = context.url_adapter
            assert adapter is not None
            websocket = path in SOCKETS
            endpoint, _ = adapter.match(concrete, method=method, websocket=websocket)
        return str(endpoint)

    def filled(self, match: re.Match[str]) -> str:
        known = {"form": "svg", "name": "A", "string": "A"}
        if match[1] == "instrument_id":
            return str(self.viola)
        return known.get(match[1], str(uuid4()))

    def open(self, client: FlaskClient, method: str, path: str) -> int:
        concrete = re.sub(r"\{(\w+)\}", self.filled, path)
        headers = {"Upgrade": "websocket", "Connection": "Upgrade"} if path in SOCKETS else {}
        takes_files = getattr(self.app.view_functions[self.endpoint(method, path)], "takes_files", False)
        form = {"data": {}, "content_type": "multipart/form-data"}
        body: dict[str, Any] = {} if method == "GET" else form if takes_files else {"json": {}}
        answer = self.ask(client, method, concrete, headers=headers, buffered=False, **body)
        answer.close()
        return int(answer.status_code)

    def test_strangers_and_ended_sessions_get_nothing_but_the_way_in(self) -> None:
        walked = 0
        for client in (self.device(None), self.device("teacher", self.teacher, ended=True)):
            for method, path in self.routes():
                walked += 1
                with self.subTest(method=method, path=path):
                    is_open = self.endpoint(method, path) in OPEN
                    status = self.open(client, method, path)
                    self.assertEqual(status == 401, not is_open, status)
        self.assertGreater(walked, 2 * 70)

    def test_each_role_may_what_the_table_says_and_nothing_else(self) -> None:
        people = {"teacher": self.teacher, "helper": self.mina, "student": self.ines}
        for role, person in people.items():
            client = self.device(role, person)  # type: ignore[arg-type]
            for method, path in self.routes():
                endpoint = self.endpoint(method, path)
                if endpoint in OPEN or path in ("/api/changes", *SOCKETS):
                    continue
                act = ACTS[endpoint]
                named = "keep-roll" if callable(act) else act
                reach = MAY[named].get(role)  # type: ignore[index, arg-type]
                if callable(act):
                    reach = MAY["tune"].get(role)  # an empty change is nobody's: it falls under the lesser act
                with self.subTest(role=role, method=method, path=path):
                    status = self.open(client, method, path)
                    if reach is None:
                        self.assertEqual(status, 403)
                    elif reach == "all":
                        self.assertNotIn(status, (401, 403))
                    elif endpoint not in NARROWED_BY_THEMSELVES:
                        self.assertEqual(status, 403, "it is someone else's")

    def test_a_student_has_their_own_bench_whole(self) -> None:
        student = self.device("student", self.ines)
        made = self.ask(student, "POST", f"/api/instruments/{self.violin}/todays-tuning", json={"id": str(uuid4())})
        self.assertEqual(made.status_code, 200)
        tuning = made.json["tuning"]["id"]
        read = self.ask(
            student, "POST", f"/api/tunings/{tuning}/readings", json={"id": str(uuid4()), "string": "A", "typed": "-12"}
        )
        self.assertEqual(read.status_code, 200)
        entry = read.json["history"][0]
        self.assertEqual(entry["by"], "Ines Holm")
        self.assertEqual(read.json["instrument"]["note"], "")
        struck = self.ask(student, "POST", f"/api/readings/{entry['id']}/strike", json={"reason": "misheard"})
        self.assertEqual(struck.status_code, 200)
        for method, path in (
            ("GET", f"/api/tunings/{tuning}/fifths"),
            ("GET", f"/api/instruments/{self.violin}/card.svg"),
            ("PATCH", f"/api/instruments/{self.violin}/strings/A"),
            ("PATCH", f"/api/instruments/{self.violin}"),
        ):
            body = {"json": {"bridge": "leans"} if path.endswith(str(self.violin)) else {}} if method == "PATCH" else {}
            self.assertEqual(self.ask(student, method, path, **body).status_code, 200, path)
        self.assertEqual(
            self.ask(student, "PATCH", f"/api/instruments/{self.violin}", json={"label": "Mine"}).status_code, 403
        )
        listed = self.ask(student, "GET", "/api/instruments").json["instruments"]
        self.assertEqual([each["label"] for each in listed], ["violin of one"])

    def test_everyone_practises_as_themselves_and_a_teacher_sees_all(self) -> None:
        def begin(client: FlaskClient, person: Any = None, **on: Any) -> Any:
            body = {
                "id": str(uuid4()),
                "drill": "names",
                "person_id": None if person is None else str(person),
                "on": on,
            }
            return self.ask(client, "POST", "/api/practice/begin", json=body)

        student, other = self.device("student", self.ines), self.device("student", self.ole)
        helper, teacher = self.device("helper", self.mina), self.device("teacher", self.teacher)
        own = begin(student, self.ines)
        self.assertEqual(own.status_code, 200)
        go = {"go_id": own.json["go_id"]}
        for client, person in ((student, self.ole), (helper, self.ines), (other, self.ines)):
            self.assertEqual(begin(client, person).status_code, 403)
        self.assertEqual(begin(helper, self.mina).status_code, 200)
        self.assertEqual(begin(teacher, self.ines).json["go_id"], own.json["go_id"], "one go, from two devices")
        self.assertEqual(begin(student, self.ines, instrument_id=str(self.viola)).status_code, 403)
        self.assertEqual(begin(student, instrument_id=str(self.violin)).status_code, 200)
        for path in ("question", "end", "sound", "hands", "seen"):
            body = {"go": go} if path in ("sound", "hands") else go
            for client in (other, helper):
                self.assertEqual(self.ask(client, "POST", f"/api/practice/{path}", json=body).status_code, 403, path)
        answer = {"go": go, "id": str(uuid4()), "number": 0, "answer": {"choice": "G3"}}
        self.assertEqual(self.ask(other, "POST", "/api/practice/answer", json=answer).status_code, 403)
        for client in (student, helper):
            self.assertEqual(self.ask(client, "GET", f"/api/practice?person_id={self.ole}").status_code, 403)
            self.assertEqual(self.ask(client, "GET", "/api/practice/ready").status_code, 403)
            self.assertEqual(self.ask(client, "GET", "/api/practice/lesson").status_code, 403)
        seen = self.ask(student, "GET", "/api/practice").json
        self.assertEqual([each["name"] for each in seen["people"]], ["Ines Holm"])
        self.assertEqual(len(self.ask(teacher, "GET", "/api/practice").json["people"]), 4)

    def test_a_student_is_told_of_changes_to_their_own_instrument_alone(self) -> None:
        from pondus.web.changes import narrowed

        for told, kept in (
            ({"reach": "log", "instruments": {str(self.viola): 7}}, None),
            ({"reach": "log", "instruments": {str(self.viola): 7, str(self.violin): 3}}, {str(self.violin): 3}),
            ({"reach": "studio", "instruments": {str(self.viola): 8}}, {}),
        ):
            with self.subTest(told=told), self.app.test_request_context("/api/changes", base_url=BASE):
                g.device = DeviceFacts("student", uuid4(), self.ines)
                [event] = list(narrowed(f"data: {json.dumps(told)}\n\n")) or [None]
                self.assertEqual(None if event is None else json.loads(event[6:])["instruments"], kept)
                [first] = list(narrowed(f"event: live\ndata: {json.dumps(told)}\n\n"))
                self.assertTrue(first.startswith("event: live\ndata: "))
                self.assertEqual(json.loads(first.partition("data: ")[2])["instruments"], kept or {})

    def test_nothing_a_student_or_helper_is_told_holds_anothers_name(self) -> None:
        for role, person, hidden in (
            ("student", self.ines, ("Ole", "Strand", "Runa", "Vik", "Mina")),
            ("helper", self.mina, ("Strand", "Holm", "Vik")),
        ):
            client = self.device(role, person)  # type: ignore[arg-type]
            for path in (
                "/api/instruments",
                "/api/me",
                "/api/practice",
                "/api/settings",
                "/api/kinds",
                "/api/morning",
                "/api/morning/plan",
            ):
                answer = self.ask(client, "GET", path)
                for name in hidden:
                    self.assertNotIn(name, answer.get_data(as_text=True), f"{role} {path}")
            bench = self.ask(client, "POST", f"/api/instruments/{self.violin}/todays-tuning", json={"id": str(uuid4())})
            for name in hidden:
                self.assertNotIn(name, bench.get_data(as_text=True))

    def test_a_student_who_may_turn_fine_tuners_gets_no_peg_whatever_the_device(self) -> None:
        student = self.device("student", self.ines)
        asked = {"instrument": "violin", "string": "G", "heard": {"note": "F3", "cents": 0}, "who": "teacher"}
        advice = self.ask(student, "POST", "/api/advise", json=asked).json
        self.assertEqual([step["do"] for step in advice["steps"]], ["fetch-teacher"])
        made = self.ask(
            student, "POST", f"/api/instruments/{self.violin}/todays-tuning", json={"id": str(uuid4())}
        ).json
        path = f"/api/tunings/{made['tuning']['id']}"
        self.assertEqual(self.ask(student, "PATCH", path, json={"who": "teacher"}).status_code, 422)
        teacher = self.device("teacher", self.teacher)
        self.ask(teacher, "PATCH", path, json={"who": "teacher"})
        self.ask(
            teacher,
            "POST",
            f"{path}/readings",
            json={"id": str(uuid4()), "string": "G", "heard": {"note": "F3", "cents": 0}},
        )
        told = {
            whose: next(each for each in self.ask(client, "GET", path).json["strings"] if each["name"] == "G")["advice"]
            for whose, client in (("teacher", teacher), ("student", student))
        }
        self.assertIn("turn-peg", [step["do"] for step in told["teacher"]["steps"]])
        self.assertEqual([step["do"] for step in told["student"]["steps"]], ["fetch-teacher"])
        # On the teacher's tablet, in the student's hand, it is the student who is spoken to.
        self.ask(teacher, "PATCH", path, json={"who": "student-fine-tuners"})
        string = next(each for each in self.ask(teacher, "GET", path).json["strings"] if each["name"] == "G")
        self.assertEqual([step["do"] for step in string["advice"]["steps"]], ["fetch-teacher"])


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
            answer = self.ask(
                client, "POST", "/api/join", json={"code": which}, environ_base={"REMOTE_ADDR": "10.0.0.9"}
            )
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
            self.ask(
                self.device(None), "POST", "/api/join", json={"code": "x"}, environ_base={"REMOTE_ADDR": "10.0.0.5"}
            )
            self.assertEqual(list(connection.notifies(timeout=0.2)), [])
            with session_on(self.engine) as session:
                _, code = device_store.invite(session, "helper", person_id=None, name="")
            self.ask(
                self.device(None), "POST", "/api/join", json={"code": code}, environ_base={"REMOTE_ADDR": "10.0.0.5"}
            )
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
            self.assertEqual(
                self.ask(helper, "POST", f"/api/morning/stations/{other}/take", json=told).status_code, 403
            )

    def test_who_left_the_roll_is_out(self) -> None:
        teacher = self.device("teacher", self.teacher)
        leaver = uuid4()
        self.ask(teacher, "POST", "/api/people", json={"id": str(leaver), "name": "Tove", "role": "helper"})
        helper = self.device("helper", leaver)
        self.assertEqual(self.ask(helper, "GET", "/api/morning").status_code, 200)
        self.ask(teacher, "PATCH", f"/api/people/{leaver}", json={"retired": True})
        self.assertEqual(self.ask(helper, "GET", "/api/morning").status_code, 401)

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
