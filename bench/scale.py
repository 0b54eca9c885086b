"""Roll, ledger and sweep with 500 instruments and 1,000,000 readings behind them.

Fills a database of its own, then asks the application as a browser would. ``first``: an instrument nobody looked at yet, whose
tunings are worked out then; after that they are kept. The morning is asked for while instruments are being read.

Run: ``bin/pondus bench scale [--instruments 500] [--readings 1000000]``.
"""

import argparse
import http.client
import json
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from functools import partial
from uuid import UUID, uuid4

import numpy as np
from sqlalchemy.engine import Engine

from pondus.core.instruments import instrument_named
from pondus.core.instruments.targets import targets_hz
from pondus.running.scratch_studio import RunningServer, scratch_cluster
from pondus.store.database import engine_for, migrate, session_on
from pondus.store.instruments import add_instrument
from pondus.store.tables import InstrumentRow, StringRow

A_TUNING = 8
"""Readings in one: each string as found and as left."""


def fill(engine: Engine, *, instruments: int, readings: int) -> list[UUID]:
    """Instruments, each with years of tunings: every string read, turned, read again."""
    rng = np.random.default_rng(5)
    ids = [uuid4() for _ in range(instruments)]
    kinds = [("violin", "viola", "cello")[place % 3] for place in range(instruments)]
    with session_on(engine) as session:
        for place, (each, kind) in enumerate(zip(ids, kinds, strict=True)):
            row = InstrumentRow(id=each, label=f"Loan {place + 1:03d}", kind=kind, size="4/4")
            strings = [StringRow(instrument_id=each, name=name) for name in instrument_named(kind).string_names]
            add_instrument(session, row, strings)
    tunings = max(1, readings // instruments // A_TUNING)
    now = datetime.now(UTC)
    raw = engine.raw_connection()
    cursor = raw.cursor()
    for each, kind in zip(ids, kinds, strict=True):
        targets = targets_hz(instrument_named(kind))
        heard, moved, begun = [], [], []
        for number in range(tunings):
            tuning, at = uuid4(), now - timedelta(days=1 + tunings - number)
            begun.append((tuning, each, at))
            for place, (name, hz) in enumerate(targets.items()):
                off = float(rng.normal(-4.0, 5.0))
                start = at + timedelta(seconds=40 * place)
                heard.append((uuid4(), tuning, name, start, hz * 2 ** (off / 1200)))
                turns = -off / 30.0
                way = "raise" if turns > 0 else "lower"
                moved.append((uuid4(), tuning, name, start + timedelta(seconds=10), way, abs(turns)))
                left = hz * 2 ** (float(rng.normal(0.0, 1.0)) / 1200)
                heard.append((uuid4(), tuning, name, start + timedelta(seconds=20), left))
        with cursor.copy(
            "COPY tuning (id, instrument_id, started_at, a4, fifth_cents, approach, tolerance_cents, stance, who, spelling)"
            " FROM STDIN"
        ) as copy:
            for tuning, instrument, at in begun:
                copy.write_row((tuning, instrument, at, 440.0, 700.0, "fine-tuner-first", 3.0, "lap", "teacher", "sharps"))
        with cursor.copy("COPY reading (id, tuning_id, string, at, hz, source, sure_of_string) FROM STDIN") as copy:
            for row in heard:
                copy.write_row((*row, "microphone", False))
        with cursor.copy("COPY move (id, tuning_id, string, at, direction, amount, mechanism, unit) FROM STDIN") as copy:
            for row in moved:
                copy.write_row((*row, "fine-tuner", "turn"))
    raw.commit()
    cursor.execute("ANALYZE")
    raw.commit()
    raw.close()
    return ids


def timed(ask: Callable[[], object]) -> float:
    """Milliseconds of one answer."""
    started = time.perf_counter()
    ask()
    return 1000.0 * (time.perf_counter() - started)


def told(name: str, spent: list[float]) -> None:
    print(f"{name:44s} {np.median(spent):7.1f} ms median {np.percentile(spent, 95):7.1f} ms at 95 %  ({len(spent)} answers)")


class Asking:
    """One browser's connection to the running server."""

    def __init__(self, port: int) -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=120)

    def get(self, path: str) -> None:
        self._ask("GET", path, None)

    def read(self, instrument: UUID, rng: np.random.Generator) -> None:
        """Type four readings of an instrument."""
        line = " ".join(str(int(each)) for each in rng.normal(-4.0, 9.0, 4).clip(-45, 45))
        self._ask("POST", "/api/morning/heard", {"id": str(uuid4()), "instrument_id": str(instrument), "line": line})

    def _ask(self, method: str, path: str, body: object) -> None:
        headers = {"Content-Type": "application/json"}
        self.connection.request(method, path, None if body is None else json.dumps(body), headers)
        response = self.connection.getresponse()
        page = response.read()
        assert response.status == 200, page[:300]


def ask_all(client: Asking, ids: list[UUID], answers: int) -> None:
    """Every question, as one browser asks them."""
    rng = np.random.default_rng(3)
    for _ in range(16):
        client.get("/api/instruments")
    told("roll", [timed(lambda: client.get("/api/instruments")) for _ in range(answers)])
    some = [ids[int(place)] for place in rng.choice(len(ids), min(answers, len(ids)), replace=False)]
    ledgers = [partial(client.get, f"/api/instruments/{each}/ledger") for each in some]
    told("ledger, first look at an instrument", [timed(each) for each in ledgers])
    told("ledger", [timed(each) for each in ledgers])
    told("sweep, nothing read yet", [timed(lambda: client.get("/api/morning")) for _ in range(answers)])
    told("one instrument read (four strings)", [timed(partial(client.read, each, rng)) for each in some])
    spent = []
    for place, each in enumerate(some * 3):
        client.read(each, rng)
        if place % 3 == 2:
            spent.append(timed(lambda: client.get("/api/morning")))
    told("sweep, three instruments read since the last", spent)
    client.get("/api/care")
    told("care", [timed(lambda: client.get("/api/care")) for _ in range(answers)])


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--instruments", type=int, default=500)
    options.add_argument("--readings", type=int, default=1_000_000)
    options.add_argument("--answers", type=int, default=60)
    given = options.parse_args()
    with scratch_cluster() as cluster:
        url = cluster.ensure_database("scale")
        migrate(url)
        engine = engine_for(url)
        started = time.perf_counter()
        ids = fill(engine, instruments=given.instruments, readings=given.readings)
        print(f"filled in {time.perf_counter() - started:.0f} s")
        server = RunningServer(url)
        server.start()
        try:
            ask_all(Asking(server.port), ids, given.answers)
        finally:
            server.stop()
        engine.dispose()


if __name__ == "__main__":
    main()
