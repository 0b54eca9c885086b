"""A school of 500 instruments and 60 people, five years behind it, in a real browser: how soon each page is there, what it
costs on the way, how much of it is drawn, how soon somebody is found.

Run: ``bin/pondus bench whole_school [--instruments 500] [--years 5] [--pictures FOLDER]``.
"""

import argparse
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import UUID

from playwright.sync_api import Browser, BrowserContext, Page, sync_playwright
from pydantic import TypeAdapter
from sqlalchemy.engine import Engine
from sqlmodel import select

from bench.scale import A_TUNING, fill, told
from pondus.core.hands.summary import TuningSummary
from pondus.core.instruments import instrument_named
from pondus.running.scratch_studio import RunningServer, scratch_cluster
from pondus.store.database import engine_for, migrate, session_on
from pondus.store.summaries import newest_of_all
from pondus.store.tables import InstrumentRow, PersonRow, StringRow, SummaryRow

PEOPLE, CLASSES, ROOMS, WEEKS, KEPT = 60, 18, 6, 40, 4
PAGES = {
    "roll": ("/roll", "section[aria-label=Instruments] li"),
    "morning": ("/morning", "section[aria-label='Still to hear'] li"),
    "sweep": ("/sweep", "section[aria-label='Still to hear'] li"),
    "care": ("/care", "section[aria-label='Strings due'] li"),
    "paper": ("/paper", "section[aria-label=Cards]"),
}


def school(engine: Engine, ids: list[UUID]) -> None:
    """People who have every other instrument; each with class, teacher, place, a size of its kind, strings of some age;
    and what the newest tunings came to, as it is kept when they are entered.
    """
    with session_on(engine) as session:
        people = [PersonRow(name=f"Player {number + 1}", role="player", cleared=[1, 2]) for number in range(PEOPLE)]
        session.add_all(people)
        session.flush()
        for place, key in enumerate(ids):
            row = session.get_one(InstrumentRow, key)
            row.label = f"V {place + 1}" if place % 3 == 0 else f"Loan {place + 1}"
            row.size = instrument_named(row.kind).full_size
            row.player_id = people[place % PEOPLE].id if place % 2 == 0 else None
            row.details = {
                "class": f"{5 + place % CLASSES // 3}{'abc'[place % 3]}",
                "teacher": f"Teacher {place % 7}",
                "place": f"Room {place % ROOMS}",
            }
            session.add(row)
        strings = session.exec(select(StringRow)).all()
        for place, string in enumerate(strings):
            string.put_on = (datetime.now(UTC) - timedelta(days=10 + place * 7 % 420)).date()
            session.add(string)
    with session_on(engine) as session:
        for key, newest in newest_of_all(session, KEPT).items():
            for one in newest:
                content = TypeAdapter(TuningSummary).dump_python(one, mode="json")
                session.add(SummaryRow(tuning_id=one.tuning_id, instrument_id=key, started_at=one.started_at, content=content))


def opened(context: BrowserContext, address: str, path: str, line: str) -> tuple[Page, float, int, int]:
    """The page, once its first line stands there: after how many ms; bytes over the wire, and those of the API's answers."""
    page = context.new_page()
    network = page.context.new_cdp_session(page)
    network.send("Network.enable")
    asked: dict[str, str] = {}
    came: dict[str, int] = {}
    network.on("Network.requestWillBeSent", lambda event: asked.update({event["requestId"]: event["request"]["url"]}))
    network.on("Network.loadingFinished", lambda event: came.update({event["requestId"]: int(event["encodedDataLength"])}))
    started = time.perf_counter()
    page.goto(f"{address}{path}")
    page.locator(line).first.wait_for()
    spent = 1000.0 * (time.perf_counter() - started)
    page.wait_for_timeout(500)
    told = sum(size for key, size in came.items() if "/api/" in asked.get(key, ""))
    return page, spent, sum(came.values()), told


def look(browser: Browser, address: str, pictures: Path | None) -> None:
    """Each page, at its second visit, and a find from it."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    print(f"{'page':10} {'there after':>12} {'over the wire':>11} {'of the API':>11} {'elements':>6} {'high':>8}")
    for name, (path, line) in PAGES.items():
        opened(context, address, path, line)[0].close()  # a page that was open before
        page, spent, came, told_by_api = opened(context, address, path, line)
        elements = page.evaluate("document.querySelectorAll('*').length")
        high = page.evaluate("document.documentElement.scrollHeight")
        print(f"{name:10} {spent:9.0f} ms {came / 1000:8.0f} kB {told_by_api / 1000:8.0f} kB {elements:6d} {high:6d} px")
        if pictures is not None:
            page.screenshot(path=pictures / f"school-{name}.png")
        page.close()
    page = opened(context, address, *PAGES["roll"])[0]
    spent = []
    for number in (8, 77, 177, 278, 377, 477):
        page.keyboard.press("/")
        box = page.get_by_role("combobox", name="Two letters")
        box.wait_for()
        page.keyboard.type(f"loan {number}"[:-1])
        started = time.perf_counter()
        page.keyboard.type(str(number)[-1])
        page.get_by_role("listbox").get_by_role("option").first.wait_for()
        spent.append(1000.0 * (time.perf_counter() - started))
        page.keyboard.press("Escape")
        box.wait_for(state="hidden")
    told("found, after the last letter", spent)
    narrow = page.get_by_label("Only those with").first
    narrow.fill("7b")
    started = time.perf_counter()
    page.get_by_role("status").filter(has_text=" of ").first.wait_for()
    told("the roll narrowed", [1000.0 * (time.perf_counter() - started)])
    started = time.perf_counter()
    answer = page.request.get(f"{address}/api/cards.pdf?per_page=4", timeout=120_000)
    print(f"cards of all: {time.perf_counter() - started:.1f} s, {len(answer.body()) / 1e6:.1f} MB, status {answer.status}")
    page.context.close()


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--instruments", type=int, default=500)
    options.add_argument("--years", type=int, default=5)
    options.add_argument("--pictures", type=Path, default=None)
    given = options.parse_args()
    with scratch_cluster() as cluster, sync_playwright() as playwright:
        url = cluster.ensure_database("school")
        migrate(url)
        engine = engine_for(url)
        readings = given.instruments * given.years * WEEKS * A_TUNING
        school(engine, fill(engine, instruments=given.instruments, readings=readings))
        server = RunningServer(url)
        server.start()
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        try:
            look(browser, server.address, given.pictures)
        finally:
            browser.close()
            server.stop()
            engine.dispose()


if __name__ == "__main__":
    main()
