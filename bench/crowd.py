"""Many at once: forty clients that ask as the pages do, 24 of them listening, ten readings typed a second.

A camp's morning (the demo studio) on a database and a server of its own. Each client is a page: the morning is told of
changes and asks for the sorted instruments and the plan then, once a second at most (``--untold``: every four seconds;
``--exact``: as they are, not as they were a moment ago), a bench asks for its tuning when it is opened and after it typed.
Beside them may be a device without manners (`bench.attacks`), from another address. Prints, per kind of request, how many,
their 50th, 95th and 99th percentile, answers of 500 and more; and deadlocks in the database's log.

Run: ``bin/pondus bench crowd [--seconds 120] [--clients 40] [--listeners 24] [--readings 10] [--attack streams]
[--untold] [--exact] [--shared] [--clients-first]``. The clients take their share of the same cores, a third of them;
real ones are machines of their own. ``--clients-first`` (as root) lets them go first, so that what they wait for is the
server alone; the work they make stays on its cores.
"""

import argparse
import http.client
import json
import multiprocessing
import os
import random
import tempfile
import threading
import time
from collections import defaultdict
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np

from bench.attacks import ATTACKS, attack
from bench.listening import OneListener, Way
from pondus.demo.camp import LOANS, demo_id
from pondus.demo.studio import fill
from pondus.running.places import Home
from pondus.running.scratch_studio import RunningServer, free_port, scratch_cluster
from pondus.running.sharing import ShareOptions, Sharing
from pondus.running.studio import shared_server
from pondus.store import devices as device_store
from pondus.store.database import engine_for, migrate, session_on
from pondus.web.access import cookie_named
from pondus.web.app import WebConfig

EVERY_SECONDS, TOLD_SECONDS = 4.0, 1.0
"""How often a page that is open on the morning asks by itself, and at most when it is told of changes."""

Asked = tuple[str, float, int]
"""What was asked, how long it took in milliseconds, and the answer's status (0: none)."""


class Page:
    """One browser's connection: keeps it open, notes how long each answer took."""

    def __init__(self, way: Way) -> None:
        self.way, self.asked = way, list[Asked]()
        self.connection = way.connection()
        self.lagged = False

    def ask(self, said: str, method: str, path: str, body: object | None = None) -> Any:
        """One request, noted."""
        began = time.perf_counter()
        status, content = 0, b""
        for _ in range(2):
            try:
                headers = {**self.way.headers, **({} if body is None else {"Content-Type": "application/json"})}
                self.connection.request(method, path, None if body is None else json.dumps(body), headers)
                answer = self.connection.getresponse()
                status, content = answer.status, answer.read()
                self.lagged = self.lagged or answer.getheader("Pondus-Ask-Again") is not None
                break
            except (http.client.HTTPException, OSError):  # a kept connection that was closed meanwhile is opened anew
                self.connection.close()
        self.asked.append((said, 1000.0 * (time.perf_counter() - began), status))
        return json.loads(content) if status == 200 else None


def watch_morning(page: Page, until: float, rng: random.Random) -> None:
    """The morning, left open."""
    time.sleep(rng.uniform(0.0, EVERY_SECONDS))
    while time.monotonic() < until:
        page.ask("morning", "GET", "/api/morning")
        page.ask("plan", "GET", "/api/morning/plan")
        time.sleep(EVERY_SECONDS)


def follow_morning(page: Page, until: float, rng: random.Random) -> None:
    """The morning, left open, told of changes."""
    time.sleep(rng.uniform(0.0, TOLD_SECONDS))
    stream = page.way.connection()
    stream.request("GET", "/api/changes", headers=page.way.headers)
    told = stream.getresponse()
    while time.monotonic() < until:
        if not page.lagged and not told.readline().startswith(b'data: {"reach'):
            continue
        page.lagged = False
        page.ask("morning", "GET", f"/api/morning{page.way.lag}")
        page.ask("plan", "GET", f"/api/morning/plan{page.way.lag}")
        time.sleep(TOLD_SECONDS)
    stream.close()


def type_at_bench(page: Page, until: float, rng: random.Random, every: float) -> None:
    """A bench at which someone types: opens it, reads and turns its strings, goes on to the next instrument."""
    time.sleep(rng.uniform(0.0, every))
    while time.monotonic() < until:
        loan = rng.choice(LOANS)
        path = f"/api/instruments/{demo_id(loan.label)}/todays-tuning"
        bench = page.ask("bench opened", "POST", path, {"id": str(uuid4())})
        for _ in range(8):
            if bench is None or time.monotonic() > until:
                break
            due = time.monotonic() + every * rng.uniform(0.5, 1.5)
            bench = _enter(page, bench, rng)
            time.sleep(max(0.0, due - time.monotonic()))


def _enter(page: Page, bench: Any, rng: random.Random) -> Any:
    string = rng.choice(bench["strings"])
    tuning = bench["tuning"]["id"]
    made = {"id": str(uuid4()), "string": string["name"], "made_on": bench["log_version"]}
    step = string["advice"]["steps"][0] if string["advice"] and string["advice"]["steps"] else None
    if step is not None and step["amount"] and rng.random() < 0.3:
        mechanism = "peg" if step["do"] == "turn-peg" else "fine-tuner"
        move = {"mechanism": mechanism, "direction": step["pitch"], "amount": step["amount"], "unit": step["unit"]}
        page.ask("move", "POST", f"/api/tunings/{tuning}/moves", {**made, **move})
    return page.ask("reading", "POST", f"/api/tunings/{tuning}/readings", {**made, "typed": f"{rng.randint(-30, 12)}"})


FIRST = -10
"""How urgent clients are that go first (`nice`)."""


def pages(way: Way, count: int, typing: int, readings: float, seconds: float, told: bool, urgent: int, results: Any) -> None:
    """A process of clients: ``typing`` of them at benches, the others on the morning."""
    os.nice(urgent)
    until = time.monotonic() + seconds
    every = typing / readings if readings else 1e9
    clients = [Page(way.of(place)) for place in range(count)]
    watch = follow_morning if told else watch_morning
    threads = []
    for place, page in enumerate(clients):
        rng = random.Random(place)
        work = (type_at_bench, (page, until, rng, every)) if place < typing else (watch, (page, until, rng))
        threads.append(threading.Thread(target=work[0], args=work[1]))
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    results.put([one for page in clients for one in page.asked])


def listeners(way: Way, count: int, seconds: float, urgent: int, results: Any) -> None:
    """A process of listening clients."""
    os.nice(urgent)
    ears = [OneListener(way.of(place), place, seconds) for place in range(count)]
    for each in ears:
        each.start()
    for each in ears:
        each.join()
    results.put([after for each in ears for after in each.settled_after])


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--seconds", type=float, default=120.0)
    options.add_argument("--clients", type=int, default=40)
    options.add_argument("--listeners", type=int, default=24)
    options.add_argument("--readings", type=float, default=10.0, help="typed a second, by all together")
    options.add_argument("--attack", choices=list(ATTACKS), help="what a device without manners does meanwhile")
    options.add_argument("--exact", action="store_true", help="pages ask for the morning as it is now")
    options.add_argument("--untold", action="store_true", help="pages ask by the clock, as where nobody tells them")
    options.add_argument("--clients-first", action="store_true", help="clients don't wait for the server's cores")
    options.add_argument("--shared", action="store_true", help="by HTTPS, signed in, as in a room")
    given = options.parse_args()
    with scratch_cluster() as cluster:
        url = cluster.ensure_database("pondus")
        migrate(url)
        fill(url)
        with _shared(url, given) if given.shared else _on_loopback(url, cluster.port_file) as way:
            asked, heard = run(replace(way, lag="" if given.exact else way.lag), given)
        log = (cluster.home.folder / "database.log").read_text(errors="replace")
    report(asked, heard, log)


@contextmanager
def _on_loopback(url: str, port_file: Path) -> Iterator[Way]:
    server = RunningServer(url, config=WebConfig(url, port_file=port_file))
    server.start()
    try:
        yield Way(server.port)
    finally:
        server.stop()


@contextmanager
def _shared(url: str, given: argparse.Namespace) -> Iterator[Way]:
    """As in a room: HTTPS, every client a helper's device; the last one's is for an attack."""
    engine = engine_for(url)
    with session_on(engine) as session:
        studio = device_store.sign_in_row(session).studio
        cookies = []
        for _ in range(max(given.clients, given.listeners) + 1):
            entered = device_store.let_in(session, "helper", person_id=None, name="a helper", kind="tablet")
            cookies.append(f"{cookie_named(studio, is_secure=True)}={entered.token}")
    engine.dispose()
    with tempfile.TemporaryDirectory() as folder:
        sharing = Sharing(Home(Path(folder)), ShareOptions(port=free_port(), on="127.0.0.1"))
        sharing.begin()
        watched = shared_server(WebConfig(database_url=url), sharing)
        server = RunningServer(url, config=watched.config, bind=watched.bind)
        server.start()
        try:
            yield Way(server.port, str(sharing.certificates.authority), tuple(cookies))
        finally:
            server.stop()
            sharing.end()


def run(way: Way, given: argparse.Namespace) -> tuple[list[Asked], list[float]]:
    """The crowd, for as long as it was told; what each asked, and how long after a pluck its reading came in milliseconds."""
    spawn = multiprocessing.get_context("spawn")
    results, heard, ended = spawn.Queue(), spawn.Queue(), spawn.Event()
    typing = max(1, given.clients // 2) if given.readings else 0
    urgent = FIRST if given.clients_first else 0
    started = [
        spawn.Process(
            target=pages, args=(way, given.clients, typing, given.readings, given.seconds, not given.untold, urgent, results)
        ),
        spawn.Process(target=listeners, args=(way, given.listeners, given.seconds, urgent, heard)),
    ]
    if given.attack is not None:
        started.append(spawn.Process(target=attack, args=(way, given.attack, ended)))
    for each in started:
        each.start()
    asked, late = results.get(), heard.get()
    ended.set()
    for each in started:
        each.join()
    return asked, late


def report(asked: list[Asked], heard: list[float], log: str) -> None:
    """The table, and what went wrong."""
    kinds: dict[str, list[Asked]] = defaultdict(list)
    for one in asked:
        kinds[one[0]].append(one)
    print(f"{'asked for':14s} {'times':>6s} {'50 %':>9s} {'95 %':>9s} {'99 %':>9s} {'5xx':>5s} {'none':>5s}")
    for said, ones in [*sorted(kinds.items()), ("all", asked)]:
        took = np.array([each[1] for each in ones])
        wrong, none = sum(each[2] >= 500 for each in ones), sum(each[2] == 0 for each in ones)
        at = [f"{np.percentile(took, share):6.0f} ms" for share in (50, 95, 99)]
        print(f"{said:14s} {len(ones):6d} {' '.join(at)} {wrong:5d} {none:5d}")
    if heard:
        after = f"{np.median(heard):.0f} ms after the pluck at the median, {np.percentile(heard, 95):.0f} ms at 95 %"
        print(f"plucks heard live: {len(heard)} readings, {after}")
    print(f"deadlocks in the database's log: {log.count('deadlock detected')}")


if __name__ == "__main__":
    main()
