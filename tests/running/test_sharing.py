"""Pondus shared with a room: real TLS, a real authority, real sockets, all on loopback."""

import json
import os
import socket
import ssl
import tempfile
import threading
import time
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import uuid4

from cryptography import x509
from simple_websocket import Client, ConnectionClosed
from simple_websocket.errors import ConnectionError as Refused

from pondus.core.views.access import check_passphrase
from pondus.running.certificates import CERTIFICATE_LASTS, RENEWED_BEFORE, Certificates
from pondus.running.places import CannotStart, Home
from pondus.running.sharing import ShareOptions, Sharing
from pondus.running.welcome import made_up_passphrase
from tests.database import cluster, fresh_database
from tests.room import Device, set_teacher, shared_room

WITHIN_SECONDS = 60.0
HELLO = json.dumps({"instrument": "violin", "string": None, "a4": 440.0, "target": "tempered", "sample_rate": 48_000})


class TestCertificates(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "share"
        self.made = Certificates(self.folder)

    def read(self, file: Path) -> x509.Certificate:
        return x509.load_pem_x509_certificate(file.read_bytes())

    def test_keys_are_for_their_user_alone(self) -> None:
        self.made.ensure("pondus-1.local", ["192.168.1.20"])
        for key in (self.made.authority_key, self.made.key):
            self.assertEqual(key.stat().st_mode & 0o777, 0o600)
        self.assertEqual(self.folder.stat().st_mode & 0o777, 0o700)

    def test_the_authority_can_vouch_for_its_own_name_and_networks_alone(self) -> None:
        self.made.ensure("pondus-1.local", ["192.168.1.20"])
        limits = self.read(self.made.authority).extensions.get_extension_for_class(x509.NameConstraints)
        self.assertTrue(limits.critical)
        allowed = limits.value.permitted_subtrees or []
        names = [each.value for each in allowed if isinstance(each, x509.DNSName)]
        self.assertEqual(names, ["pondus-1.local", "localhost"])
        networks = [each.value for each in allowed if isinstance(each, x509.IPAddress)]
        self.assertTrue(all(each.is_private or each.is_loopback or each.is_link_local for each in networks))

    def test_it_is_made_anew_before_it_ends_and_when_an_address_changes_and_not_otherwise(self) -> None:
        self.assertTrue(self.made.ensure("pondus-1.local", ["192.168.1.20"]))
        first = self.made.certificate.read_bytes()
        authority = self.made.authority.read_bytes()
        self.assertFalse(self.made.ensure("pondus-1.local", ["192.168.1.20"]))
        self.assertEqual(self.made.certificate.read_bytes(), first)
        soon = datetime.now(UTC) + CERTIFICATE_LASTS - RENEWED_BEFORE + timedelta(hours=1)
        self.assertTrue(self.made.ensure("pondus-1.local", ["192.168.1.20"], now=soon))
        self.assertTrue(self.made.ensure("pondus-1.local", ["10.1.2.3"]))
        names = self.read(self.made.certificate).extensions.get_extension_for_class(x509.SubjectAlternativeName)
        told = {str(each) for each in names.value.get_values_for_type(x509.IPAddress)}
        self.assertEqual(told, {"10.1.2.3", "127.0.0.1"})
        self.assertEqual(self.made.authority.read_bytes(), authority, "devices trust it still")

    def test_half_an_authority_is_told_in_words(self) -> None:
        self.made.ensure("pondus-1.local", [])
        self.made.authority_key.unlink()
        with self.assertRaisesRegex(CannotStart, r"authority.key is gone"):
            self.made.ensure("pondus-1.local", [])
        self.made.authority_key.write_text("nonsense")
        with self.assertRaisesRegex(CannotStart, "damaged"):
            self.made.ensure("pondus-1.local", [])

    def test_a_damaged_certificate_is_replaced(self) -> None:
        self.made.ensure("pondus-1.local", [])
        self.made.certificate.write_text("nonsense")
        self.assertTrue(self.made.ensure("pondus-1.local", []))


class TestSharing(unittest.TestCase):
    def test_the_name_stays_and_the_addresses_are_told(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        names = set()
        for _ in range(2):
            sharing = Sharing(Home(folder), ShareOptions(port=9443, on="127.0.0.1"))
            sharing.begin()
            told = json.loads(sharing.share_file.read_text())
            names.add(told["name"])
            self.assertEqual(told["addresses"], ["127.0.0.1"])
            self.assertEqual(sharing.urls, [f"https://{told['name']}:9443", "https://127.0.0.1:9443"])
            self.assertFalse(sharing.refresh(), "nothing is new")
            sharing.end()
            self.assertFalse(sharing.share_file.exists())
        self.assertEqual(len(names), 1)

    def test_what_cannot_be_is_told_before_anything_is_begun(self) -> None:
        for options, said in (
            (ShareOptions(certificate=Path("/nowhere.crt")), "--key"),
            (ShareOptions(certificate=Path("/nowhere.crt"), key=Path("/nowhere.key")), "--name"),
            (ShareOptions(certificate=Path("/nowhere.crt"), key=Path("/nowhere.key"), name="a.example"), "isn't there"),
            (ShareOptions(on="not-an-address"), "isn't an address"),
        ):
            with self.subTest(said=said), self.assertRaisesRegex(CannotStart, said):
                options.check()

    def test_made_up_passphrases_can_be_used(self) -> None:
        made = {made_up_passphrase() for _ in range(50)}
        self.assertEqual(len(made), 50)
        for each in made:
            check_passphrase(each, name="Runa")


class TestRoom(unittest.TestCase):
    """One shared server on one studio."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.url = fresh_database()
        set_teacher(cls.url)
        cls.server, cls.sharing = cls.enterClassContext(shared_room(cls.url, port_file=cluster().port_file))

    def device(self) -> Device:
        return Device(self.server.address, self.sharing.certificates.authority)

    def test_whoever_trusts_the_authority_is_not_warned_and_others_are(self) -> None:
        self.assertEqual(self.device().ask("GET", "/api/me")[0], 200)
        with self.assertRaisesRegex(OSError, "CERTIFICATE_VERIFY_FAILED"):
            Device(self.server.address).ask("GET", "/api/me")
        by_name = Device(f"https://localhost:{self.server.port}", self.sharing.certificates.authority)
        self.assertEqual(by_name.ask("GET", "/api/me")[0], 200)

    def test_old_tls_and_plain_http_get_nothing(self) -> None:
        context = ssl.create_default_context(cafile=str(self.sharing.certificates.authority))
        context.set_ciphers("DEFAULT@SECLEVEL=0")
        context.minimum_version, context.maximum_version = ssl.TLSVersion.TLSv1, ssl.TLSVersion.TLSv1_1
        with socket.create_connection(("127.0.0.1", self.server.port), timeout=10) as plain, self.assertRaises(OSError):
            context.wrap_socket(plain, server_hostname="localhost")
        with socket.create_connection(("127.0.0.1", self.server.port), timeout=30) as plain:
            plain.sendall(b"GET /api/me HTTP/1.1\r\nHost: localhost\r\n\r\n")
            try:
                answer = plain.recv(4096)
            except ConnectionResetError:
                answer = b""
        self.assertNotIn(b"200 OK", answer)

    def test_a_renewed_certificate_is_shown_without_a_restart(self) -> None:
        def serial() -> int:
            context = ssl.create_default_context(cafile=str(self.sharing.certificates.authority))
            plain = socket.create_connection(("127.0.0.1", self.server.port), timeout=10)
            with plain, context.wrap_socket(plain, server_hostname="localhost") as secure:
                der = secure.getpeercert(binary_form=True)
            assert der is not None
            return x509.load_der_x509_certificate(der).serial_number

        before = serial()
        self.sharing.certificates.ensure(self.sharing.name, ["127.0.0.1", "10.9.8.7"])
        self.assertNotEqual(serial(), before)
        self.sharing.certificates.ensure(self.sharing.name, ["127.0.0.1"])

    def test_a_teacher_signs_in_and_lets_a_helper_in(self) -> None:
        teacher, helper = self.device(), self.device()
        self.assertEqual(teacher.ask("GET", "/api/morning")[0], 401)
        self.assertEqual(teacher.sign_in()[0], 200)
        self.assertEqual(len(teacher.jar), 2)
        for cookie in teacher.jar:  # the session's, and what tells this device from strangers later
            self.assertTrue(cookie.secure)
            self.assertTrue(cookie.name.startswith("__Host-"), cookie.name)
        code = teacher.let_in(helper, role="helper", name="by the door")
        self.assertEqual(helper.ask("GET", "/api/morning")[0], 200)
        self.assertEqual(helper.ask("GET", "/api/people")[0], 403)
        self.assertEqual(self.device().ask("POST", "/api/join", {"code": code})[0], 401)
        self.assertEqual(helper.ask("POST", "/api/sign-out")[0], 200)
        self.assertEqual(helper.ask("GET", "/api/morning")[0], 401)

    def test_a_foreign_name_is_not_answered(self) -> None:
        status, told = self.device().ask("GET", "/api/me", headers={"Host": "pondus.example"})
        self.assertEqual(status, 403)
        self.assertIn("isn't known as", told["error"]["message"])

    def socket_of(self, device: Device, path: str = "/api/listen") -> Client:
        headers = {"Cookie": device.cookie, "Origin": "https://127.0.0.1"}
        return Client(f"wss://127.0.0.1:{self.server.port}{path}", ssl_context=device.context, headers=headers)

    def test_sound_goes_over_tls_until_the_session_ends_and_strangers_are_not_heard(self) -> None:
        for path in ("/api/listen", "/api/simulated/live"):
            with self.assertRaisesRegex(Refused, "401"):
                self.socket_of(self.device(), path)
        teacher, helper = self.device(), self.device()
        teacher.sign_in()
        teacher.let_in(helper, role="helper", name="the listening one")
        listening = self.socket_of(helper)
        listening.send(HELLO)
        self.assertEqual(json.loads(listening.receive(timeout=60))["type"], "ready")
        _, told = teacher.ask("GET", "/api/devices")
        [mine] = [each for each in told["devices"] if each["name"] == "the listening one"]
        teacher.ask("DELETE", f"/api/devices/{mine['id']}")
        self.assertIn("Sign in first", self.last_word(listening))

    def test_a_simulated_instrument_falls_silent_when_the_session_ends(self) -> None:
        teacher, helper = self.device(), self.device()
        teacher.sign_in()
        teacher.let_in(helper, role="helper", name="the playing one")
        instrument = str(uuid4())
        teacher.ask("POST", "/api/instruments", {"id": instrument, "label": "Teal", "kind": "viola"})
        _, seen = helper.ask("PUT", f"/api/instruments/{instrument}/simulated", {"seed": 3})
        playing = self.socket_of(helper, "/api/simulated/live")
        playing.send(json.dumps({"instrument_id": seen["instrument_id"], "sample_rate": 24_000}))
        _, told = teacher.ask("GET", "/api/devices")
        [theirs] = [each for each in told["devices"] if each["name"] == "the playing one"]
        teacher.ask("DELETE", f"/api/devices/{theirs['id']}")
        said: object = b""
        with self.assertRaises(ConnectionClosed):
            while True:
                said = playing.receive(timeout=WITHIN_SECONDS) or said
        self.assertIn("Sign in first", str(said))

    def last_word(self, listening: Client) -> str:
        """What a socket says last, while sound goes on at the pace of sound."""
        heard, pause, until = "", threading.Event(), time.monotonic() + WITHIN_SECONDS
        while time.monotonic() < until:
            try:
                listening.send(bytes(2 * 2400))
                pause.wait(0.05)
                while (said := listening.receive(timeout=0)) is not None:
                    heard = str(said)
            except ConnectionClosed:
                return heard
        raise AssertionError("it goes on listening")

    def test_cookies_of_before_a_restore_let_nobody_in(self) -> None:
        from pondus.running.restoring import bring_back
        from pondus.store.database import engine_for

        teacher = self.device()
        teacher.sign_in()
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        saved = folder / "studio.dump"
        self.assertEqual(os.system(f"/usr/lib/postgresql/15/bin/pg_dump --format=custom --file={saved} '{self.url}'"), 0)
        self.assertEqual(teacher.ask("GET", "/api/people")[0], 200)
        engine = engine_for(self.url)
        bring_back(engine, saved)
        engine.dispose()
        self.assertEqual(teacher.ask("GET", "/api/people")[0], 401)
        self.assertEqual(teacher.sign_in()[0], 200, "passphrases come back with it")


if __name__ == "__main__":
    unittest.main()
