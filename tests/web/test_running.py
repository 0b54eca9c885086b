"""Starting and stopping: the real `start`, its database, signals, a busy port, a database that dies under it."""

import json
import os
import pty
import select
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import unittest
import urllib.error
import urllib.request
from pathlib import Path
from uuid import uuid4

from pondus.running.ending import run_of
from pondus.running.studio import ENDS_TOO_SOON_SECONDS
from tests.room import Device

ANSWERS_WITHIN_SECONDS, GONE_WITHIN_SECONDS = 40.0, 120.0
"""Bounds that only a fault reaches: a last checkpoint on a busy disk takes a while."""


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class RunningTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="pondus-run-", dir="/tmp"))
        self.folder.chmod(0o755)
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        pages = Path(__file__).parents[2] / "frontend" / "dist" / "index.html"
        if not pages.exists():
            self.skipTest("the pages aren't built; bin/pondus test builds them")

    def start(self, port: int) -> subprocess.Popen[str]:
        environment = {**os.environ, "PONDUS_HOME": str(self.folder)}
        process = subprocess.Popen(
            [sys.executable, "-m", "pondus", "start", "--port", str(port)],
            env=environment, text=True, stdout=subprocess.PIPE, stderr=subprocess.PIPE,
        )  # fmt: skip
        self.addCleanup(self.end, process)
        return process

    @staticmethod
    def end(process: subprocess.Popen[str]) -> None:
        if process.poll() is None:
            process.terminate()
            process.wait(GONE_WITHIN_SECONDS)
        for stream in (process.stdout, process.stderr):
            if stream is not None:
                stream.close()

    def ask(self, port: int, path: str, body: object = None) -> object:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            f"http://127.0.0.1:{port}{path}", data=data, headers={"Content-Type": "application/json"}
        )
        until = time.monotonic() + ANSWERS_WITHIN_SECONDS
        while True:
            try:
                with urllib.request.urlopen(request, timeout=5) as answer:
                    return json.load(answer)
            except (OSError, urllib.error.URLError):
                if time.monotonic() > until:
                    raise
                time.sleep(0.2)

    def database_pid(self) -> int:
        return int((self.folder / "studio" / "cluster" / "postmaster.pid").read_text().split("\n", 1)[0])

    def assert_gone(self, pid: int) -> None:
        until = time.monotonic() + GONE_WITHIN_SECONDS
        while Path(f"/proc/{pid}/exe").exists() and time.monotonic() < until:
            time.sleep(0.1)
        state = Path(f"/proc/{pid}/stat")
        self.assertTrue(not state.exists() or ") Z " in state.read_text())


class TestStudio(RunningTest):
    def test_keeps_what_was_saved_through_kills_and_ends_clean(self) -> None:
        port = free_port()
        process = self.start(port)
        instrument = {"id": str(uuid4()), "label": "Knot", "kind": "violin"}
        self.ask(port, "/api/instruments", instrument)

        os.kill(self.database_pid(), signal.SIGKILL)
        kept = self.ask(port, "/api/instruments")
        assert isinstance(kept, dict)
        self.assertEqual([each["label"] for each in kept["instruments"]], ["Knot"])

        busy = self.start(port)
        self.assertEqual(busy.wait(GONE_WITHIN_SECONDS), 2)
        assert busy.stderr is not None
        complaint = busy.stderr.read()
        self.assertIn(f"Port {port} is in use", complaint)
        self.assertNotIn("Traceback", complaint)

        database = self.database_pid()
        process.kill()
        process.wait()
        self.assert_gone(database)

        again = self.start(port)
        kept = self.ask(port, "/api/instruments")
        assert isinstance(kept, dict)
        self.assertEqual(len(kept["instruments"]), 1)
        database = self.database_pid()
        again.send_signal(signal.SIGHUP)
        again.wait(GONE_WITHIN_SECONDS)
        self.assert_gone(database)

    def test_of_two_homes_started_on_one_port_the_one_that_serves_nothing_says_so(self) -> None:
        port = free_port()
        with tempfile.TemporaryDirectory(prefix="pondus-run-", dir="/tmp") as other:
            Path(other).chmod(0o755)
            homes = (self.folder, Path(other))
            both = []
            for home in homes:
                self.folder = home
                both.append(self.start(port))
            self.folder = homes[0]
            until = time.monotonic() + GONE_WITHIN_SECONDS
            while all(each.poll() is None for each in both) and time.monotonic() < until:
                time.sleep(0.1)
            lost = [place for place, each in enumerate(both) if each.poll() is not None]
            self.assertEqual(len(lost), 1, "one of the two has ended")
            said = both[lost[0]].communicate(timeout=GONE_WITHIN_SECONDS)
            self.assertNotIn("is ready", said[0])
            self.assertIn(f"Port {port}", said[1])
            run = run_of(homes[1 - lost[0]] / "studio", both[1 - lost[0]].pid)
            self.assertEqual(self.ask(port, "/api/alive"), {"run": run})
            self.end(both[1 - lost[0]])

    def test_a_server_that_dies_is_started_again(self) -> None:
        port = free_port()
        process = self.start(port)
        self.ask(port, "/api/instruments", {"id": str(uuid4()), "label": "Knot", "kind": "violin"})
        assert process.stdout is not None
        self.assertIn("Pondus is ready", process.stdout.readline())
        # One that dies at once is not started again: it would only die again.
        time.sleep(ENDS_TOO_SOON_SECONDS + 1.0)
        children = Path(f"/proc/{process.pid}/task/{process.pid}/children").read_text().split()
        for each in children:
            if "pondus.running.serving" in Path(f"/proc/{each}/cmdline").read_text():
                os.kill(int(each), signal.SIGKILL)
        self.assertIn("Pondus is ready", process.stdout.readline())
        kept = self.ask(port, "/api/instruments")
        assert isinstance(kept, dict)
        self.assertEqual(len(kept["instruments"]), 1)
        self.assertIsNone(process.poll())


class Terminal:
    """A program at a terminal of its own: what it shows, and what is typed."""

    def __init__(self, arguments: list[str], environment: dict[str, str]) -> None:
        self.shown = ""
        self.pid, self.screen = pty.fork()
        if self.pid == 0:
            os.execve(arguments[0], arguments, environment)

    def wait_for(self, words: str) -> str:
        """Look at the screen until it shows these words; all that it showed since the last time."""
        until = time.monotonic() + ANSWERS_WITHIN_SECONDS * 3
        while words not in self.shown:
            ready, _, _ = select.select([self.screen], [], [], max(0.0, until - time.monotonic()))
            if not ready:
                raise AssertionError(f"no “{words}” on the screen, but: {self.shown}")
            self.shown += os.read(self.screen, 4096).decode(errors="replace")
        before, after = self.shown.split(words, 1)
        self.shown = after
        return before + words

    def type(self, line: str) -> None:
        """A line, and Enter."""
        os.write(self.screen, line.encode() + b"\n")

    def end(self) -> None:
        """Ctrl-C, and wait until it is gone."""
        os.write(self.screen, b"\x03")
        try:
            while os.read(self.screen, 4096):
                pass
        except OSError:  # the terminal has nobody on it any more
            pass
        os.waitpid(self.pid, 0)
        os.close(self.screen)


class TestFirstShare(RunningTest):
    def test_at_a_terminal_it_asks_who_teaches_and_lets_them_in(self) -> None:
        port, shared = free_port(), free_port()
        command = ["start", "--port", str(port), "--share", "--share-port", str(shared), "--on", "127.0.0.1"]
        environment = {**os.environ, "PONDUS_HOME": str(self.folder), "TERM": "xterm"}
        terminal = Terminal([sys.executable, "-m", "pondus", *command], environment)
        self.addCleanup(terminal.end)
        terminal.wait_for("Name: ")
        terminal.type("Runa")
        told = ""
        for asked, typed in (
            ("Passphrase (", "short"),
            ("Passphrase (", "four words of mine"),
            ("Once more: ", "others"),
            ("two different ones", None),
            ("Passphrase (", "four words of mine"),
            ("Once more: ", "four words of mine"),
        ):
            told += terminal.wait_for(asked)
            if typed is not None:
                terminal.type(typed)
        self.assertNotIn("words of mine", told, "a passphrase is never shown")
        terminal.wait_for("sign in here too? [y/N]: ")
        terminal.type("n")
        terminal.wait_for("Pondus is ready")
        self.assertRegex(terminal.wait_for(f":{shared}"), r"https://\S+:\d+$")
        terminal.wait_for("▀")  # the QR code, in blocks
        authority = next(self.folder.rglob("authority.crt"))
        device = Device(f"https://127.0.0.1:{shared}", authority)
        self.assertEqual(device.ask("GET", "/api/instruments")[0], 401)
        self.assertEqual(device.sign_in()[0], 200)
        self.assertEqual(device.ask("GET", "/api/instruments")[0], 200)
