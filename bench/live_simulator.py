"""Live sound of simulated instruments: does it keep pace, and does it starve whoever listens? By number of players.

Each player opens the simulator's socket and passes its sound on to the listening socket, as a browser does, while it is bowed
and its screw turned. Kept pace: seconds of sound per second; longest gap between two blocks of 50 ms (playback runs out past
about 150 ms); looks a second from the listener (15 are wanted).

Run: ``bin/pondus bench live_simulator [--players 1,4,12] [--seconds 8]``.
"""

import argparse
import json
import threading
import time
from uuid import uuid4

import numpy as np
import requests
from simple_websocket import Client, ConnectionClosed

from pondus.running.scratch_studio import RunningServer, scratch_cluster
from pondus.store.database import migrate
from pondus.web.app import WebConfig

RATE = 48_000
KINDS = ("violin", "viola", "cello")


class OnePlayer(threading.Thread):
    """One simulated instrument, bowed, turned, and listened to."""

    def __init__(self, server: RunningServer, place: int, seconds: float) -> None:
        super().__init__()
        self.server, self.kind, self.seconds = server, KINDS[place % 3], seconds
        self.arrived: list[float] = []
        self.samples = self.looks = self.settled = 0
        self.instrument = str(uuid4())

    def prepare(self) -> None:
        path = f"{self.server.address}/api/instruments"
        requests.post(path, json={"id": self.instrument, "label": f"Player {self.instrument[:4]}", "kind": self.kind})
        begun = requests.put(f"{path}/{self.instrument}/simulated", json={"seed": 3, "start": "morning"})
        self.instrument = begun.json()["instrument_id"]

    def run(self) -> None:
        sound = Client(f"ws://127.0.0.1:{self.server.port}/api/simulated/live")
        sound.send(json.dumps({"instrument_id": self.instrument, "sample_rate": RATE}))
        ear = Client(f"ws://127.0.0.1:{self.server.port}/api/listen")
        ear.send(json.dumps({"instrument": self.kind, "string": None, "sample_rate": RATE}))
        ear.receive(timeout=10)
        reader = threading.Thread(target=self.read, args=(ear,))
        reader.start()
        sound.send(json.dumps({"strings": ["G"], "how": "bow"}))
        started, turned = time.monotonic(), 0.0
        while time.monotonic() - started < self.seconds:
            block = sound.receive(timeout=5)
            self.arrived.append(time.monotonic())
            self.samples += len(block) // 2
            ear.send(block)
            if time.monotonic() - turned > 1.0:
                turned = time.monotonic()
                threading.Thread(target=self.turn).start()
        sound.close()
        ear.close()
        reader.join()

    def turn(self) -> None:
        path = f"{self.server.address}/api/instruments/{self.instrument}/simulated"
        requests.post(path, json={"string": "G", "turns": 0.1}, timeout=20)

    def read(self, ear: Client) -> None:
        try:
            while (said := ear.receive(timeout=5)) is not None:
                kind = json.loads(said)["type"]
                self.looks += kind == "reading"
                self.settled += kind == "settled"
        except ConnectionClosed:
            return


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--players", default="1,4,12")
    options.add_argument("--seconds", type=float, default=8.0)
    given = options.parse_args()
    with scratch_cluster() as cluster:
        url = cluster.ensure_database("bench")
        migrate(url)
        server = RunningServer(url, config=WebConfig(url))
        server.start()
        try:
            print(f"{'players':>7s} {'pace':>6s} {'gap 95%':>9s} {'longest':>9s} {'looks/s':>8s} {'settled':>8s}")
            for count in map(int, given.players.split(",")):
                _round(server, count, given.seconds)
        finally:
            server.stop()


def _round(server: RunningServer, count: int, seconds: float) -> None:
    players = [OnePlayer(server, place, seconds) for place in range(count)]
    for each in players:
        each.prepare()
    for each in players:
        each.start()
    for each in players:
        each.join()
    pace = min(each.samples / RATE / (each.arrived[-1] - each.arrived[0]) for each in players)
    gaps = np.concatenate([np.diff(each.arrived) for each in players]) * 1000.0
    looks = min(each.looks / seconds for each in players)
    settled = sum(each.settled for each in players)
    print(f"{count:7d} {pace:6.2f} {np.percentile(gaps, 95):6.0f} ms {gaps.max():6.0f} ms {looks:8.1f} {settled:8d}")


if __name__ == "__main__":
    main()
