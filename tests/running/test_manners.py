"""Devices without manners beside one that has them: who sends slowly, opens too much, or says nothing, holds nobody up."""

import http.client
import select
import socket
import ssl
import threading
import unittest

from pondus.running.scratch_studio import RunningServer
from pondus.running.server import THREADS
from pondus.running.worker import CONNECTIONS_OF_ONE_ADDRESS
from pondus.web.at_once import LIMITS
from tests.database import fresh_database
from tests.room import Device, set_teacher, shared_room

WITHIN_SECONDS = 60
HEAD = b"POST /api/advise HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\n"


class Dripping(threading.Thread):
    """Connections that go on by a byte a second, until told to end."""

    def __init__(self, port: int, count: int, begin: bytes) -> None:
        super().__init__(daemon=True)
        self.ended = threading.Event()
        self.open = [socket.create_connection(("127.0.0.1", port)) for _ in range(count)]
        for each in self.open:
            each.sendall(begin)

    def run(self) -> None:
        while not self.ended.wait(1.0):
            for each in self.open:
                try:
                    each.sendall(b"x")
                except OSError:
                    continue

    def end(self) -> None:
        self.ended.set()
        self.join()
        for each in self.open:
            each.close()


class TestOnLoopback(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.server = RunningServer(fresh_database(), workers=1)
        cls.server.start()
        cls.addClassCleanup(cls.server.stop, kill=True)

    def answered(self) -> http.client.HTTPResponse:
        connection = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=WITHIN_SECONDS)
        self.addCleanup(connection.close)
        connection.request("GET", "/api/kinds")
        answer = connection.getresponse()
        answer.read()
        return answer

    def test_more_that_send_a_byte_a_second_than_there_are_threads(self) -> None:
        dripping = Dripping(self.server.port, THREADS + 20, b"GET /api/me HTTP/1.1\r\nX-Slow: ")
        dripping.start()
        self.addCleanup(dripping.end)
        self.assertEqual(self.answered().status, 200)

    def test_a_request_has_an_end_however_steadily_it_drips(self) -> None:
        drips = [
            Dripping(self.server.port, 1, begin)
            for begin in (b"GET /api/me HTTP/1.1\r\nX-Slow: ", HEAD + b"Content-Length: 900\r\n\r\n{")
        ]
        for dripping in drips:
            dripping.start()
            self.addCleanup(dripping.end)
        for dripping in drips:
            [one] = dripping.open
            readable, _, _ = select.select([one], [], [], WITHIN_SECONDS)
            self.assertTrue(readable, "it was neither answered nor closed")
            said = one.recv(4096)
            self.assertTrue(said == b"" or said.startswith(b"HTTP/1.1 4"), said)

    def test_a_head_in_pieces_and_two_requests_at_once_are_answered(self) -> None:
        request = b"GET /api/alive HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n"
        with socket.create_connection(("127.0.0.1", self.server.port), timeout=WITHIN_SECONDS) as one:
            for place in range(0, len(request), 7):
                one.sendall(request[place : place + 7])
            one.sendall(request + request)
            came = b""
            while came.count(b"HTTP/1.1 200") < 3:
                piece = one.recv(65_536)
                self.assertTrue(piece, came)
                came += piece

    def test_it_says_of_no_program_that_it_made_the_answer(self) -> None:
        self.assertIsNone(self.answered().getheader("Server"))


class TestInTheRoom(unittest.TestCase):
    def test_one_address_never_has_all_the_places(self) -> None:
        url = fresh_database()
        with shared_room(url, workers=1) as (server, sharing):
            opened = [self.connected(server.port) for _ in range(CONNECTIONS_OF_ONE_ADDRESS + 20)]
            closed: set[socket.socket] = set()
            while len(closed) < 20:
                readable, _, _ = select.select([each for each in opened if each not in closed], [], [], WITHIN_SECONDS)
                self.assertTrue(readable, f"only {len(closed)} were closed")
                closed |= set(readable)
            device = Device(server.address, sharing.certificates.authority)
            self.assertEqual(device.ask("GET", "/api/me")[0], 200, "another address comes in")
            for each in opened:
                each.close()

    def connected(self, port: int) -> socket.socket:
        made = socket.create_connection(("127.0.0.1", port), source_address=("127.0.0.2", 0))
        self.addCleanup(made.close)
        return made

    def test_one_device_has_so_many_streams_and_no_more(self) -> None:
        url = fresh_database()
        set_teacher(url)
        with shared_room(url, workers=1) as (server, sharing):
            device = Device(server.address, sharing.certificates.authority)
            device.sign_in()
            statuses = []
            for _ in range(LIMITS["stream"].of_device + 2):
                connection = http.client.HTTPSConnection("127.0.0.1", server.port, context=device.context)
                self.addCleanup(connection.close)
                connection.request("GET", "/api/changes", headers={"Cookie": device.cookie})
                answer = connection.getresponse()
                statuses.append(answer.status)
                if answer.status == 429:
                    self.assertTrue((answer.getheader("Retry-After") or "").isdigit())
            self.assertEqual(statuses, [200] * LIMITS["stream"].of_device + [429] * 2)

    def test_plain_words_at_the_encrypted_door_end_at_once(self) -> None:
        with shared_room(fresh_database(), workers=1) as (server, _):
            one = self.connected(server.port)
            one.sendall(b"GET / HTTP/1.1\r\nHost: localhost\r\n\r\n")
            readable, _, _ = select.select([one], [], [], WITHIN_SECONDS)
            self.assertTrue(readable)
            try:
                self.assertNotIn(b"HTTP/1.1 200", one.recv(4096))
            except (ConnectionResetError, ssl.SSLError):
                return


if __name__ == "__main__":
    unittest.main()
