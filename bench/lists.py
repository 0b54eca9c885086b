"""A CSV of 100,000 readings brought into a running studio: looked through, stored, saved again, taken back; and the longest
that whoever waits sees nothing change.

Run: ``bin/pondus bench lists [--readings 100000]``.
"""

import argparse
import time
import urllib.request
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import numpy as np

from pondus.core.instruments import instrument_named
from pondus.running.scratch_studio import scratch_server

INSTRUMENTS = 50
STILL: list[float] = []
"""Seconds between a line of an answer and the next."""


def asked(address: str, path: str, body: bytes | None = None, kind: str = "application/json") -> bytes:
    request = urllib.request.Request(address + path, body, {"Content-Type": kind})
    with urllib.request.urlopen(request, timeout=300) as response:
        lines, before = [], time.perf_counter()
        for line in response:
            lines.append(line)
            STILL.append(time.perf_counter() - before)
            before = time.perf_counter()
        return b"".join(lines)


def brought(address: str, text: str) -> str:
    """Bring a list; its id."""
    key, mark = str(uuid4()), "x" * 24
    parts = [f'--{mark}\r\nContent-Disposition: form-data; name="id"\r\n\r\n{key}\r\n']
    parts.append(f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="r.csv"\r\n\r\n{text}\r\n--{mark}--\r\n')
    told = asked(address, "/api/lists", "".join(parts).encode(), f"multipart/form-data; boundary={mark}")
    assert b'"bad_count": 0' in told, told[-400:]
    return key


def readings(count: int) -> str:
    """A log as a tuner's owner may keep it: semicolons, decimal commas, days first."""
    rng = np.random.default_rng(9)
    rows = ["Label;String;Date;Time;Cents"]
    strings = instrument_named("violin").string_names
    start = datetime(2024, 1, 1, 8, tzinfo=UTC)
    for number in range(count):
        at = start + timedelta(days=number // (INSTRUMENTS * 8), seconds=20 * (number % 2_000))
        label = f"Loan {number // 8 % INSTRUMENTS}"
        cents = f"{rng.normal(-4.0, 6.0):+.1f}".replace(".", ",")
        rows.append(f"{label};{strings[number % 4]};{at:%d.%m.%Y};{at:%H:%M:%S};{cents}")
    return "\n".join(rows)


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--readings", type=int, default=100_000)
    given = options.parse_args()

    def timed(name: str, does: Callable[[], bytes | str]) -> bytes | str:
        STILL.clear()
        started = time.perf_counter()
        answer = does()
        print(f"{name:12s} {time.perf_counter() - started:6.1f} s, {max(STILL):4.1f} s without news")
        return answer

    with scratch_server() as address:
        roll = brought(address, "label,kind\n" + "\n".join(f"Loan {place},violin" for place in range(INSTRUMENTS)))
        asked(address, f"/api/lists/{roll}/confirm", b"{}")
        text = readings(given.readings)
        print(f"{given.readings} readings, {len(text) / 1e6:.1f} MB:")
        key = timed("look", lambda: brought(address, text))
        told = timed("store", lambda: asked(address, f"/api/lists/{key}/confirm", b"{}"))
        assert f'"rows_stored": {given.readings}'.encode() in bytes(told), told[-300:]  # type: ignore[arg-type]
        timed("save", lambda: asked(address, "/api/export/readings.csv"))
        timed("take back", lambda: asked(address, f"/api/lists/{key}/undo", b"{}"))


if __name__ == "__main__":
    main()
