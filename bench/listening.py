"""Live listening: how long from a sound's arrival to the reading it leads to, by number of listeners.

Real WebSocket clients send real sound to the real server, in real time; each block of 2048 samples, as the page sends
them, carries on the sound. The players don't play in unison: each begins a little later than the one before.
A reading is due when the 50 ms of sound that complete it have been sent; the latency is from that send to its arrival.

Run: ``bin/pondus bench listening [--listeners 1,8,24] [--seconds 6]``.
"""

import argparse
import http.client
import json
import ssl
import threading
import time
from dataclasses import dataclass, replace

import numpy as np
from simple_websocket import Client, ConnectionClosed

from pondus.core.simulated.sound import Tone, plucked
from pondus.running.scratch_studio import scratch_server

RATE, BLOCK = 48_000, 2048
LOOK = RATE // 20
STRINGS = (("violin", 440.0), ("violin", 196.0), ("viola", 131.0), ("cello", 66.0), ("violin", 655.0), ("cello", 220.0))


def sound_of(place: int, seconds: float) -> bytes:
    """Plucks of one string, one every two seconds, with a little room noise."""
    rng = np.random.default_rng(place)
    hz = STRINGS[place % len(STRINGS)][1]
    pluck = plucked(Tone(hz, 1.5, RATE, stiffness=1e-4, weak_fundamental_db=-25 if hz < 140 else 0), rng)
    one = np.concatenate([rng.normal(0, 1e-4, RATE // 2), pluck])
    whole = np.tile(one, int(np.ceil(seconds * RATE / len(one))))[: int(seconds * RATE)]
    return (np.clip(whole, -1, 1) * 32767).astype("<i2").tobytes()


@dataclass(frozen=True)
class Way:
    """How a client reaches the server: on loopback, or shared, by HTTPS and signed in (``authority``: whom to trust)."""

    port: int
    authority: str | None = None
    cookies: tuple[str, ...] = ("",)
    lag: str = "?may_lag=true"

    def of(self, place: int) -> "Way":
        """The way of one client among many, who is signed in as a device of its own."""
        return replace(self, cookies=(self.cookies[place % len(self.cookies)],))

    @property
    def headers(self) -> dict[str, str]:
        """What a signed-in page sends along."""
        return {} if self.authority is None else {"Cookie": self.cookies[0], "Origin": f"https://127.0.0.1:{self.port}"}

    def connection(self) -> http.client.HTTPConnection:
        """A connection for requests."""
        if self.authority is None:
            return http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        trusting = ssl.create_default_context(cafile=self.authority)
        return http.client.HTTPSConnection("127.0.0.1", self.port, timeout=60, context=trusting)

    def listening(self) -> Client:
        """A socket for sound."""
        if self.authority is None:
            return Client(f"ws://127.0.0.1:{self.port}/api/listen")
        trusting = ssl.create_default_context(cafile=self.authority)
        headers = {"Cookie": self.cookies[0], "Origin": "https://127.0.0.1"}
        return Client(f"wss://127.0.0.1:{self.port}/api/listen", ssl_context=trusting, headers=headers)


class OneListener(threading.Thread):
    """One client: sends in real time, notes when each reading arrives."""

    def __init__(self, way: Way, place: int, seconds: float) -> None:
        super().__init__()
        self.way, self.place = way, place
        self.sound = sound_of(place, seconds)
        self.latencies: list[float] = []
        self.settled: list[float] = []
        self.named: list[float] = []
        self.settled_after: list[float] = []
        """By the clock, from a pluck's beginning as it was sent, in milliseconds; however many looks were passed over."""

    def run(self) -> None:
        client = self.way.listening()
        kind = STRINGS[self.place % len(STRINGS)][0]
        client.send(json.dumps({"instrument": kind, "string": None, "a4": 440, "target": "tempered", "sample_rate": RATE}))
        client.receive(timeout=10)
        sent_at: list[float] = []
        started = time.monotonic() + 0.37 * self.place % 2.0
        reader = threading.Thread(target=self.read, args=(client, sent_at, started))
        reader.start()
        for number, start in enumerate(range(0, len(self.sound), 2 * BLOCK)):
            due = started + number * BLOCK / RATE
            time.sleep(max(0.0, due - time.monotonic()))
            sent_at.append(time.monotonic())
            client.send(self.sound[start : start + 2 * BLOCK])
        reader.join(5)
        client.close()
        reader.join()

    @staticmethod
    def said(client: Client) -> str | None:
        try:
            return client.receive(timeout=10)
        except ConnectionClosed:
            return None

    def read(self, client: Client, sent_at: list[float], started: float) -> None:
        looks = 0
        named_pluck = -1
        while (said := self.said(client)) is not None:
            now = time.monotonic()
            message = json.loads(said)
            into_pluck = (looks * LOOK / RATE) % 2.0 - 0.5
            if message["type"] == "reading":
                looks += 1
                completing = min(len(sent_at) - 1, (looks * LOOK - 1) // BLOCK)
                self.latencies.append(1000 * (now - sent_at[completing]))
                pluck = int(looks * LOOK / RATE // 2.0)
                if message["string"] is not None and pluck != named_pluck:
                    named_pluck = pluck
                    self.named.append(1000 * ((looks * LOOK / RATE) % 2.0 - 0.5))
            elif message["type"] == "settled":
                self.settled.append(1000 * into_pluck)
                self.settled_after.append(1000 * ((now - started - 0.5) % 2.0))


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--listeners", default="1,8,24")
    options.add_argument("--seconds", type=float, default=6.0)
    given = options.parse_args()
    with scratch_server() as address:
        port = int(address.rpartition(":")[2])
        print(f"{'listeners':>9s} {'readings/s each':>15s} {'latency median':>14s} {'95 %':>8s} {'99 %':>8s}"
              f" {'named by':>9s} {'settled by (95 %)':>17s}")  # fmt: skip
        for count in (int(each) for each in given.listeners.split(",")):
            print(heard_by(port, count, given.seconds))


def heard_by(port: int, count: int, seconds: float) -> str:
    """A line of the table: so many listeners at once."""
    listeners = [OneListener(Way(port), place, seconds) for place in range(count)]
    for each in listeners:
        each.start()
    for each in listeners:
        each.join()
    latencies = np.concatenate([each.latencies for each in listeners])
    settled = np.concatenate([each.settled for each in listeners])
    named = np.concatenate([each.named for each in listeners])
    if not latencies.size or not settled.size or not named.size:
        return f"{count:9d} heard nothing that settled"
    return (
        f"{count:9d} {len(latencies) / count / seconds:15.1f} {np.median(latencies):11.1f} ms"
        f" {np.percentile(latencies, 95):5.1f} ms {np.percentile(latencies, 99):5.1f} ms"
        f" {np.percentile(named, 95):6.0f} ms {np.percentile(settled, 95):14.0f} ms"
    )


if __name__ == "__main__":
    main()
