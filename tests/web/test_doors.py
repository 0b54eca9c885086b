"""Who comes in: known hosts, Pondus's own pages, JSON or forms with files, nothing too large, too deep or too often."""

import errno
import io
import json
import socket
import unittest
from datetime import UTC, datetime
from pathlib import Path
from unittest import mock
from uuid import uuid4

from flask import g
from sqlalchemy import text

from pondus.contracts.bench import TuningSettings
from pondus.core.errors import BadInput
from pondus.core.views.access import DeviceFacts
from pondus.running.scratch_studio import RunningServer
from pondus.store.database import engine_for, session_on
from pondus.store.errors import TooOften
from pondus.store.limits import count_asked
from pondus.web.app import PAGES, WebConfig, create_app
from pondus.web.doors import A_MINUTE, HEADERS
from pondus.web.tunings import _check_who
from tests.database import fresh_database


class DoorsTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.url = fresh_database()
        cls.app = create_app(WebConfig(database_url=cls.url))
        cls.addClassCleanup(cls.app.extensions["pondus_engine"].dispose)

    def setUp(self) -> None:
        self.client = self.app.test_client()

    def people(self) -> list[str]:
        return [each["name"] for each in self.client.get("/api/people").get_json()["people"]]


class TestWhatIsRefused(DoorsTest):
    def test_nesting_is_bounded_in_a_forms_fields_too(self) -> None:
        for target in ("[" * 990, '{"fifth_cents": ' * 500, "[[[[[[]]]]]]"):
            form = {"file": (io.BytesIO(b"RIFF"), "a.wav"), "instrument": "violin", "target": target}
            answer = self.client.post("/api/hear", data=form, content_type="multipart/form-data")
            self.assertIn(answer.status_code, (400, 422), answer.get_data(as_text=True))

    def test_a_student_begins_no_tuning_that_speaks_to_a_teacher(self) -> None:
        with self.app.test_request_context("/api/tunings", method="POST"):
            g.device = DeviceFacts("student", may="fine-tuners")
            with self.assertRaises(BadInput) as refused:
                _check_who(TuningSettings(who="teacher"))
            self.assertEqual(refused.exception.field, "who")
            _check_who(TuningSettings(who="student-fine-tuners"))

    def test_a_full_disk_is_said_wherever_it_shows(self) -> None:
        full = OSError(errno.ENOSPC, "No space left on device")
        with mock.patch("werkzeug.wrappers.Request._get_file_stream", side_effect=full):
            upload = {"id": str(uuid4()), "file": (io.BytesIO(b"label\nTeal\n"), "a.csv")}
            answer = self.client.post("/api/lists", data=upload, content_type="multipart/form-data")
        self.assertEqual(answer.status_code, 503)
        self.assertIn("is full", answer.get_json()["error"]["message"])
        engine = engine_for(self.url)
        with engine.begin() as connection:
            raised = "raise exception 'could not extend file' using errcode = '53100'"
            connection.execute(text(f"create function no_room() returns trigger language plpgsql as $$ begin {raised}; end $$"))
            connection.execute(text("create trigger no_room before insert on person execute function no_room()"))
        try:
            answer = self.client.post("/api/people", json={"id": str(uuid4()), "name": "Ida", "role": "player"})
            self.assertEqual((answer.status_code, answer.headers["Retry-After"].isdigit()), (503, True))
            self.assertIn("is full", answer.get_json()["error"]["message"])
            upload = {"id": str(uuid4()), "kind": "people", "file": (io.BytesIO(b"name,role\nIda,player\n"), "a.csv")}
            brought = self.client.post("/api/lists", data=upload, content_type="multipart/form-data")
            self.assertEqual(brought.status_code, 200)
            stored = self.client.post(f"/api/lists/{upload['id']}/confirm", json={"leave_out_bad": False})
            self.assertIn("is full", stored.get_data(as_text=True).splitlines()[-1])
        finally:
            with engine.begin() as connection:
                connection.execute(text("drop trigger no_room on person"))
            engine.dispose()

    def test_no_connection_free_is_said_with_when_to_try_again(self) -> None:
        busy = create_app(WebConfig(database_url=self.url))
        engine = busy.extensions["pondus_engine"]
        engine.pool._timeout = 0.01
        held = [engine.connect() for _ in range(engine.pool.size() + engine.pool._max_overflow)]
        try:
            answer = busy.test_client().get("/api/people")
        finally:
            for each in held:
                each.close()
            engine.dispose()
        self.assertEqual((answer.status_code, answer.headers.get("Retry-After")), (503, "5"))


class TestHostsAndOrigins(DoorsTest):
    def test_a_name_that_was_led_here_reads_nothing(self) -> None:
        for host in ("evil.example", "evil.example:8087", "127.0.0.1.evil.example", "pondus.local", ""):
            answer = self.client.get("/api/people", headers={"Host": host})
            self.assertIn(answer.status_code, (400, 403), host)
        for host in ("127.0.0.1:8087", "localhost", "[::1]:8087", "LOCALHOST:1"):
            self.assertEqual(self.client.get("/api/people", headers={"Host": host}).status_code, 200, host)

    def test_a_page_of_another_origin_changes_nothing(self) -> None:
        new = {"id": str(uuid4()), "name": "Mallory"}
        for origin in ("http://evil.example", "null", "http://localhost:9999", "https://localhost.evil.example", "http://["):
            answer = self.client.post("/api/people", json=new, headers={"Origin": origin})
            self.assertEqual(answer.status_code, 403, origin)
        cross = self.client.post("/api/people", json=new, headers={"Sec-Fetch-Site": "cross-site"})
        self.assertEqual(cross.status_code, 403)
        self.assertNotIn("Mallory", self.people())

    def test_its_own_page_and_a_shell_do(self) -> None:
        for place, headers in enumerate(({"Origin": "http://localhost"}, {}, {"Sec-Fetch-Site": "same-origin"})):
            new = {"id": str(uuid4()), "name": f"Ida {place}"}
            self.assertEqual(self.client.post("/api/people", json=new, headers=headers).status_code, 200)

    def test_every_answer_keeps_pages_safe(self) -> None:
        for path in ("/", "/api/people", "/api/nothing", "/mark.svg"):
            answer = self.client.get(path)
            for name, value in HEADERS.items():
                self.assertEqual(answer.headers.get(name), value, (path, name))
        self.assertEqual(self.client.get("/api/people").headers["Cache-Control"], "no-store")


class TestBodies(DoorsTest):
    def test_json_where_json_is_meant_and_forms_where_files_are(self) -> None:
        body = json.dumps({"id": str(uuid4()), "name": "Sly"})
        for kind in ("text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x", ""):
            answer = self.client.post("/api/people", data=body, content_type=kind)
            self.assertIn(answer.status_code, (400, 415), kind)
        self.assertEqual(self.client.post("/api/hear", json={"file": "x"}).status_code, 415)
        self.assertNotIn("Sly", self.people())

    def test_brackets_nested_by_the_thousand_are_a_sentence(self) -> None:
        for body in ("[" * 100_000, '{"a":' * 50_000, '{"id": "' + "[" * 50 + '"}'):
            answer = self.client.post("/api/people", data=body, content_type="application/json")
            self.assertIn(answer.status_code, (400, 422), body[:20])
            self.assertTrue(answer.get_json()["error"]["message"])

    def test_a_body_past_the_bound_is_refused_before_it_is_read(self) -> None:
        big = b'{"name": "' + b"x" * 1_100_000 + b'"}'
        self.assertEqual(self.client.post("/api/people", data=big, content_type="application/json").status_code, 413)

    def test_a_nul_anywhere_is_refused_in_words(self) -> None:
        for path, body in (
            ("/api/people", {"id": str(uuid4()), "name": "I\x00da"}),
            ("/api/people", {"id": str(uuid4()), "name": "Ida", "note": "\x00"}),
            ("/api/instruments", {"id": str(uuid4()), "label": "Kn\x00ot", "kind": "violin"}),
            ("/api/instruments", {"id": str(uuid4()), "label": "Knot", "kind": "violin", "strings": {"\x00": {}}}),
            ("/api/settings", {"zone": "Europe/\x00Berlin"}),
        ):
            answer = self.client.post(path, json=body) if path != "/api/settings" else self.client.patch(path, json=body)
            self.assertEqual(answer.status_code, 422, (path, body))
        self.assertEqual(self.client.get("/api/export/%00.csv").status_code, 404)
        self.assertEqual(self.client.get("/%00").status_code, 404)

    def test_what_is_dear_may_not_be_asked_for_without_end(self) -> None:
        engine = engine_for(self.url)
        self.addCleanup(engine.dispose)
        with session_on(engine) as session:
            for _ in range(A_MINUTE["lists"]):
                count_asked(session, "lists", at_most=10_000)
        began = datetime.now(UTC).minute
        form = {"id": str(uuid4()), "file": (io.BytesIO(b"name\nIda\n"), "p.csv")}
        answer = self.client.post("/api/lists", data=form, content_type="multipart/form-data")
        if datetime.now(UTC).minute == began:
            self.assertEqual(answer.status_code, 429)
            self.assertIn("wait a minute", answer.get_json()["error"]["message"])
        with self.assertRaises(TooOften), session_on(engine) as session:
            for _ in range(3):
                count_asked(session, "own", at_most=2)

    def test_files_of_the_builder_are_not_served(self) -> None:
        for path in ("/.stamp", "/assets/.stamp", "/.git/config", "/assets/../.stamp", "/assets/none.js"):
            self.assertEqual(self.client.get(path).status_code, 404, path)

    @unittest.skipUnless((PAGES / "index.html").exists(), "the pages aren't built")
    def test_pages_come_compressed_and_may_be_kept(self) -> None:
        page = self.client.get("/morning", headers={"Accept-Encoding": "gzip"})
        self.assertEqual((page.headers["Content-Encoding"], page.headers["Cache-Control"]), ("gzip", "no-cache"))
        script = next(path.name for path in (Path(PAGES) / "assets").glob("index-*.js"))
        answer = self.client.get(f"/assets/{script}", headers={"Accept-Encoding": "gzip"})
        self.assertEqual((answer.status_code, answer.headers["Content-Encoding"]), (200, "gzip"))
        self.assertIn("immutable", answer.headers["Cache-Control"])
        self.assertLess(len(answer.data), 150_000)
        plain = self.client.get(f"/assets/{script}", headers={"Accept-Encoding": "identity"})
        self.assertGreater(len(plain.data), len(answer.data))


class TestSockets(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.server = RunningServer(fresh_database(), workers=2)
        cls.server.start()
        cls.addClassCleanup(cls.server.stop)

    def handshake(self, path: str, **headers: str) -> str:
        """The first line that answers a socket's opening."""
        given = {"Host": f"127.0.0.1:{self.server.port}", **headers}
        lines = [f"GET {path} HTTP/1.1", *(f"{name}: {value}" for name, value in given.items())]
        lines += ["Upgrade: websocket", "Connection: Upgrade", "Sec-WebSocket-Version: 13"]
        lines += ["Sec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==", "", ""]
        with socket.create_connection(("127.0.0.1", self.server.port), timeout=60) as opened:
            opened.sendall("\r\n".join(lines).encode())
            return opened.recv(200).decode().split("\r\n")[0]

    def test_neither_socket_answers_a_page_of_another_origin(self) -> None:
        for path in ("/api/listen", "/api/simulated/live"):
            for headers in ({"Origin": "http://evil.example"}, {"Host": "evil.example"}, {"Origin": "null"}):
                self.assertIn(" 403 ", self.handshake(path, **headers), (path, headers))

    def test_its_own_page_and_a_shell_are_let_in(self) -> None:
        for headers in ({}, {"Origin": f"http://127.0.0.1:{self.server.port}"}):
            self.assertIn(" 101 ", self.handshake("/api/listen", **headers))
