"""Kill -9 at the server, its workers and its database, over and over, while readings and moves come in.

The real ``start`` on a studio of its own. In each round one of the starting process, the server, a worker, the database
or one of its backends is killed at an unforeseen moment, and what a person would start again is started again. Four
writers go on throughout, each at an instrument of its own; whatever got no answer is sent again under the same id, as
the page does. With ``--two`` each round kills another one besides, within three seconds of the first, and whatever is
starting counts too. Prints for each victim how many rounds and how long until an entry was kept again; and at the end what
was answered as kept but is gone, what is there twice or was never sent, and two entries of one place in a log. Ends with 1
where there is any.

Run: ``bin/pondus bench kills [--rounds 50] [--seed 1] [--two]``.
"""

import argparse
import http.client
import json
import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from collections import defaultdict
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np

from pondus.running.ending import run_of
from pondus.running.server import Bind
from pondus.running.studio import answering

VICTIMS = "start", "server", "worker", "database", "backend"
WRITERS = 4
GIVES_UP_AFTER_SECONDS, SECOND_WITHIN_SECONDS = 120.0, 3.0


class Studio:
    """The real start at a home and a port of its own."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        self.process = self._started()

    def _started(self) -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "pondus", "start", "--port", str(self.port)]
        environment = {**os.environ, "PONDUS_HOME": str(self.folder)}
        with (self.folder / "start.log").open("ab") as log:
            return subprocess.Popen(command, env=environment, stdout=log, stderr=log)

    def is_own(self) -> bool:
        """Whether what answers at the port is this studio's server, and not another's on a port that was given anew."""
        return answering(Bind(self.port)) == run_of(self.folder / "studio", self.process.pid)

    def see_to_it(self) -> None:
        """Start again what ended, as a person would."""
        if self.process.poll() is not None:
            self.process = self._started()

    def end(self) -> None:
        """As Ctrl-C does."""
        if self.process.poll() is None:
            self.process.terminate()
            self.process.wait(60)

    def exported(self) -> Any:
        """All that is stored, by table."""
        file = self.folder / "export.json"
        command = [sys.executable, "-m", "pondus", "export", str(file)]
        subprocess.run(command, env={**os.environ, "PONDUS_HOME": str(self.folder)}, check=True, stdout=subprocess.DEVNULL)
        return json.loads(file.read_text())["tables"]

    def victim(self, kind: str, rng: random.Random) -> int | None:
        """The process to kill; None where there is none at the moment."""
        if kind == "start":
            return self.process.pid if self.process.poll() is None else None
        if kind in ("database", "backend"):
            lock = self.folder / "studio" / "cluster" / "postmaster.pid"
            try:
                postmaster = int(lock.read_text().split("\n", 1)[0])
            except (OSError, ValueError):
                return None
            found = [postmaster] if kind == "database" else _children(postmaster, "postgres")
        else:
            found = _children(self.process.pid, "python")
            if kind == "worker":
                found = [each for server in found for each in _children(server, "python")]
        return rng.choice(found) if found else None


def _children(parent: int, name: str) -> list[int]:
    found = []
    for each in Path("/proc").iterdir():
        if not each.name.isdigit():
            continue
        try:
            before, after = (each / "stat").read_text().rsplit(")", 1)
        except OSError:
            continue
        state, its_parent = after.split()[:2]
        if int(its_parent) == parent and state != "Z" and name in before:
            found.append(int(each.name))
    return found


def ask(port: int, path: str, body: object = None) -> tuple[int, Any]:
    """One request; status 0 where there was no answer."""
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(f"http://127.0.0.1:{port}{path}", data=data, headers={"Content-Type": "application/json"})
    try:
        with urllib.request.urlopen(request, timeout=10) as answer:
            return answer.status, json.load(answer)
    except urllib.error.HTTPError as error:
        with error:
            return error.code, error.read()
    except (OSError, http.client.HTTPException, ValueError):
        return 0, None


@dataclass
class Writer:
    """Someone at a bench, who sends again what got no answer, under the same id."""

    port: int
    place: int
    instrument: str = field(default_factory=lambda: str(uuid4()))
    tuning: str = field(default_factory=lambda: str(uuid4()))
    sent: list[str] = field(default_factory=list)
    kept: set[str] = field(default_factory=set)
    refused: list[tuple[int, Any]] = field(default_factory=list)
    kept_at: float = 0.0

    def work(self, ended: threading.Event) -> None:
        """Enter until told to stop; what was sent last is sent till it is answered."""
        self._send("/api/instruments", {"id": self.instrument, "label": f"Kept {self.place}", "kind": "violin"})
        self._send("/api/tunings", {"id": self.tuning, "instrument_id": self.instrument})
        rng = random.Random(self.place)
        while not ended.is_set():
            entry: dict[str, Any] = {"id": str(uuid4()), "string": rng.choice("GDAE")}
            self.sent.append(entry["id"])
            if rng.random() < 0.3:
                move = {"mechanism": "fine-tuner", "direction": "raise", "amount": 0.25, "unit": "turn"}
                done = self._send(f"/api/tunings/{self.tuning}/moves", {**entry, **move})
            else:
                done = self._send(f"/api/tunings/{self.tuning}/readings", {**entry, "typed": str(rng.randint(-30, 12))})
            if done:
                self.kept.add(entry["id"])
                self.kept_at = time.monotonic()
            ended.wait(0.02)

    def _send(self, path: str, body: object) -> bool:
        began = time.monotonic()
        while time.monotonic() - began < GIVES_UP_AFTER_SECONDS:
            status, said = ask(self.port, path, body)
            if status in (200, 201):
                return True
            if 400 <= status < 500:
                self.refused.append((status, said))
                return False
            time.sleep(0.1)
        self.refused.append((0, "no answer"))
        return False


@dataclass
class Outcome:
    """What the rounds came to."""

    back_after: dict[str, list[float]]
    sent: int
    lost: list[str]
    doubled: list[str]
    foreign: list[str]
    unordered: list[str]
    refused: list[tuple[int, Any]]

    @property
    def is_good(self) -> bool:
        """Nothing lost, nothing doubled."""
        return not (self.lost or self.doubled or self.foreign or self.unordered or self.refused)


def rounds(count: int, seed: int, *, two: bool = False) -> Outcome:
    """Kill ``count`` times (``two``: two things each time, within three seconds); each writer's entries are compared with the
    export at the end.
    """
    rng = random.Random(seed)
    folder = Path(tempfile.mkdtemp(prefix="pondus-kills-", dir="/tmp"))
    folder.chmod(0o755)
    studio = Studio(folder)
    writers = [Writer(studio.port, place) for place in range(WRITERS)]
    ended, back = threading.Event(), defaultdict[str, list[float]](list)
    threads = [threading.Thread(target=each.work, args=(ended,)) for each in writers]
    try:
        for each in threads:
            each.start()
        _await_kept(studio, writers, 0.0)
        for each in range(count):
            kind = VICTIMS[each % len(VICTIMS)]
            time.sleep(rng.uniform(0.05, 1.0))
            killed = _killed(studio, kind, rng)
            if killed is None:
                continue
            if two:
                time.sleep(rng.uniform(0.0, SECOND_WITHIN_SECONDS))
                studio.see_to_it()
                other = _another(studio, rng)
                kind, killed = (kind, killed) if other is None else (f"{kind}, then {other}", time.monotonic())
            # Entries that were under way may still be answered; what counts is each writer's next.
            _await_kept(studio, writers, killed + 0.3)
            back[kind].append(time.monotonic() - killed)
        ended.set()
        for each in threads:
            each.join()
        export = studio.exported()
    finally:
        ended.set()
        studio.end()
        shutil.rmtree(folder, ignore_errors=True)
    return _compared(writers, export, dict(back))


def _killed(studio: Studio, kind: str, rng: random.Random) -> float | None:
    """Kill one of this kind, and say when; None where for long there was none.

    What was killed just before may only be coming back, and what was chosen may have ended by itself meanwhile (a
    backend lives as long as its connection): then another is looked for.
    """
    until = time.monotonic() + GIVES_UP_AFTER_SECONDS
    while time.monotonic() < until:
        pid = studio.victim(kind, rng)
        if pid is not None and killed_now(pid):
            return time.monotonic()
        studio.see_to_it()
        time.sleep(0.05)
    return None


def _another(studio: Studio, rng: random.Random) -> str | None:
    """Kill whatever there is of some kind; which it was."""
    for kind in rng.sample(VICTIMS, len(VICTIMS)):
        pid = studio.victim(kind, rng)
        if pid is not None and killed_now(pid):
            return kind
    return None


def killed_now(pid: int) -> bool:
    """Kill this process; False where it had ended by itself."""
    try:
        os.kill(pid, signal.SIGKILL)
    except ProcessLookupError:
        return False
    return True


def _await_kept(studio: Studio, writers: list[Writer], since: float) -> None:
    until = time.monotonic() + GIVES_UP_AFTER_SECONDS
    while not (is_back := all(each.kept_at > since for each in writers) and studio.is_own()):
        if time.monotonic() > until:
            break
        studio.see_to_it()
        time.sleep(0.05)
    if not is_back:
        log = (studio.folder / "start.log").read_text(errors="replace")[-2000:]
        raise RuntimeError(f"after {GIVES_UP_AFTER_SECONDS:.0f} s nothing is kept again; the last words were: {log}")


def _compared(writers: list[Writer], export: Any, back: dict[str, list[float]]) -> Outcome:
    outcome = Outcome(back, sum(len(each.sent) for each in writers), [], [], [], [], [])
    for writer in writers:
        entries = [each for table in ("reading", "move") for each in export[table] if each["tuning_id"] == writer.tuning]
        ids = [each["id"] for each in entries]
        outcome.lost += sorted(writer.kept - set(ids))
        outcome.doubled += sorted({each for each in ids if ids.count(each) > 1})
        outcome.foreign += sorted(set(ids) - set(writer.sent))
        order = [each["seq"] for each in entries]
        outcome.unordered += [f"Kept {writer.place}: {order}"] if len(set(order)) < len(order) else []
        outcome.refused += writer.refused
    return outcome


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--rounds", type=int, default=50)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--two", action="store_true", help="kill two things each time, within three seconds")
    given = options.parse_args()
    outcome = rounds(given.rounds, given.seed, two=given.two)
    print(f"{'killed':26s} {'rounds':>6s} {'an entry kept again after: median':>34s} {'worst':>8s}")
    for kind, took in outcome.back_after.items():
        print(f"{kind:26s} {len(took):6d} {np.median(took):32.1f} s {max(took):6.1f} s")
    print(
        f"{outcome.sent} entries sent: {len(outcome.lost)} lost, {len(outcome.doubled)} doubled, {len(outcome.foreign)} never"
        f" sent, {len(outcome.unordered)} logs with two of one place, {len(outcome.refused)} refused"
    )
    for each in (*outcome.unordered, *outcome.refused):
        print(each)
    sys.exit(0 if outcome.is_good else 1)


if __name__ == "__main__":
    main()
