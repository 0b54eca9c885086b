"""Every route and both sockets, asked by everyone there is, against the core's table."""

import json
import re
import unittest
from collections.abc import Iterator
from typing import Any, get_args
from uuid import uuid4

from flask.testing import FlaskClient

from pondus.core.views.access import MAY, Act
from pondus.web.access import ACTS, NARROWED_BY_THEMSELVES, OPEN
from pondus.web.app import WebConfig, create_app
from tests.web.room import BASE, Room

UNDOCUMENTED = [
    ("GET", "/api/changes"),
    ("GET", "/api/listen"),
    ("GET", "/api/simulated/live"),
    ("GET", "/api/practice/live"),
    ("GET", "/api/openapi.json"),
]
SOCKETS = ("/api/listen", "/api/simulated/live", "/api/practice/live")


class TestTable(unittest.TestCase):
    def test_every_act_has_its_row_and_every_row_its_act(self) -> None:
        self.assertEqual(set(MAY), set(get_args(Act)))

    def test_every_view_has_its_act(self) -> None:
        app = create_app(WebConfig(database_url="postgresql://nobody@127.0.0.1:1/none"))
        self.assertEqual(set(app.view_functions) - OPEN - {"static"}, set(ACTS))


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
        self.assertEqual(self.ask(student, "PATCH", f"/api/instruments/{self.violin}", json={"label": "Mine"}).status_code, 403)
        listed = self.ask(student, "GET", "/api/instruments").json["instruments"]
        self.assertEqual([each["label"] for each in listed], ["violin of one"])

    def test_everyone_practises_as_themselves_and_a_teacher_sees_all(self) -> None:
        def begin(client: FlaskClient, person: Any = None, **on: Any) -> Any:
            body = {"id": str(uuid4()), "drill": "names", "person_id": None if person is None else str(person), "on": on}
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
        from pondus.web.streams import narrowed

        for told, kept in (
            ({"reach": "log", "instruments": {str(self.viola): 7}}, None),
            ({"reach": "log", "instruments": {str(self.viola): 7, str(self.violin): 3}}, {str(self.violin): 3}),
            ({"reach": "studio", "instruments": {str(self.viola): 8}}, {}),
        ):
            with self.subTest(told=told):
                event = narrowed(json.dumps(told), frozenset([self.violin]))
                self.assertEqual(None if event is None else json.loads(event)["instruments"], kept)
                self.assertEqual(narrowed(json.dumps(told), None), json.dumps(told))

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
        made = self.ask(student, "POST", f"/api/instruments/{self.violin}/todays-tuning", json={"id": str(uuid4())}).json
        path = f"/api/tunings/{made['tuning']['id']}"
        self.assertEqual(self.ask(student, "PATCH", path, json={"who": "teacher"}).status_code, 422)
        teacher = self.device("teacher", self.teacher)
        self.ask(teacher, "PATCH", path, json={"who": "teacher"})
        self.ask(
            teacher, "POST", f"{path}/readings", json={"id": str(uuid4()), "string": "G", "heard": {"note": "F3", "cents": 0}}
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


if __name__ == "__main__":
    unittest.main()
