"""A teacher's day and a parent's first time, on the pages: what comes before one is usable, what moves while one types, what is
kept of it in memory, and how many presses somebody new makes.

The demo studio on a server and a database of its own; a real browser at 1280×800 and 390×844. ``usable``: questions to
the API until the plan stands, and scripts until then. ``shift``: the browser's own layout shift over ten readings.
``memory``: the script's heap after 300 readings against after 30, rubbish collected. ``first time``: presses on a phone from
the first page of an empty studio until a made-up violin's A, plucked before a made-up microphone, has its move; then figures
typed, what is said being turned, until four strings are in tune. ``sweep``: seconds an instrument, typed as fast as the page
takes it.

Run: ``bin/pondus bench day [--readings 300]``.
"""

import argparse
import gzip
import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np
import soundfile
from playwright.sync_api import Browser, Page, Playwright, Response, sync_playwright

from bench.entering import entered, unfold
from pondus.core.pitch.notes import nearest_note
from pondus.core.simulated.turning import turn_head, turn_screw
from pondus.core.simulated.voice import sounded
from pondus.core.simulated.weather import begun, slipped
from pondus.core.simulated.wood import Wood, made
from pondus.demo.camp import demo_id
from pondus.demo.studio import fill
from pondus.running.scratch_studio import scratch_server

MOST_ENTRIES = 60
PARENT = (
    "I have one instrument and it sounds wrong",
    "violin, under the chin",
    "32.8 cm",
    "It stands straight",
    "One at every string",
    "Yes, or I am one",
)
SIZES = ((1280, 800), (390, 844))
SHIFTS = """
() => {
    window.shifted = window.shiftedAll = 0;
    new PerformanceObserver(list => {
        for (const each of list.getEntries()) {
            window.shiftedAll += each.value;
            if (!each.hadRecentInput) window.shifted += each.value;
        }
    }).observe({ type: "layout-shift" });
}
"""


def launched(playwright: Playwright, *flags: str) -> Browser:
    """A browser of this computer."""
    return playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", *flags])


def usable(browser: Browser, address: str) -> tuple[int, float, float]:
    """Questions to the API until the morning's plan stands, kB of scripts, gzipped, before it, and of the first of them."""
    page = browser.new_context(service_workers="block").new_page()
    asked: list[Response] = []

    def count(response: Response) -> None:
        asked.append(response)

    page.on("response", count)
    page.goto(f"{address}/morning")
    page.get_by_role("region", name="Pegs, or with care").wait_for()
    page.get_by_role("region", name="Who does what").wait_for()
    until = list(asked)
    scripts = [len(gzip.compress(each.body())) / 1000.0 for each in until if each.url.endswith(".js")]
    page.context.close()
    return sum("/api/" in each.url for each in until), sum(scripts), scripts[0]


def shift(browser: Browser, address: str, size: tuple[int, int]) -> tuple[float, float]:
    """The layout shift of ten readings at a bench: not within half a second of a key, as browsers count it; and all."""
    page = browser.new_page(viewport={"width": size[0], "height": size[1]})
    page.goto(f"{address}/bench/{demo_id('Sandpiper')}")
    page.get_by_role("button", name="A string").click()
    line = page.get_by_label("What does the tuner show")
    page.wait_for_timeout(1000)
    page.evaluate(SHIFTS)
    for typed in ("-12", "-8", "-3", "+2", "0", "-20", "-9", "-2", "+4", "0"):
        line.fill(typed)
        line.press("Enter")
        page.locator("[aria-busy=true]").first.wait_for(state="detached")
        page.wait_for_timeout(300)
    moved = page.evaluate("[window.shifted, window.shiftedAll]")
    page.close()
    return float(moved[0]), float(moved[1])


def memory(browser: Browser, address: str, readings: int) -> float:
    """By how many MB the heap grew from the thirtieth reading to the last."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{address}/bench/{demo_id('Sandpiper')}")
    page.get_by_role("button", name="A string").click()
    unfold(page)
    entered(page, 30)
    before = _heap(page)
    for _ in range((readings - 30) // 30):
        entered(page, 30)
    grown = _heap(page) - before
    page.close()
    return grown / 1e6


def _heap(page: Page) -> float:
    session = page.context.new_cdp_session(page)
    session.send("HeapProfiler.collectGarbage")
    return float(session.send("Runtime.getHeapUsage")["usedSize"])


def sweep(browser: Browser, address: str, instruments: int) -> float:
    """Seconds an instrument, in *Hear them all*."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{address}/sweep")
    box = page.get_by_role("textbox")
    box.wait_for()
    began = time.perf_counter()
    for _ in range(instruments):
        box.press_sequentially("-12 3 0 -5")
        box.press("Enter")
    took = time.perf_counter() - began
    page.close()
    return took / instruments


def first_time(playwright: Playwright, address: str, seed: int) -> tuple[int, int]:
    """Presses from the first page of an empty studio until the A that was plucked has its move; then how many figures are
    typed, with what is turned as it is said, give or take a fifth, until all four strings are in tune. Each is 12 to 45 flat.
    """
    rng = np.random.default_rng(seed)
    wood = begun(made("violin", seed=seed), "morning")
    for name in wood.now:
        wood = slipped(wood, name, -float(rng.uniform(12.0, 45.0)))
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "a.wav"
        soundfile.write(file, sounded(wood, ("A",), how="pluck", seconds=2.5, rate_hz=48_000), 48_000, subtype="PCM_16")
        flags = ["--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream"]
        browser = launched(playwright, *flags, f"--use-file-for-fake-audio-capture={file}")
        page = browser.new_page(viewport={"width": 390, "height": 844})
        page.goto(address)
        for name in PARENT:
            page.get_by_role("link", name=name).or_(page.get_by_role("button", name=name)).first.click()
        headline = page.get_by_role("region", name="Next move").get_by_role("heading", level=2)
        with page.expect_response(lambda answer: answer.url.endswith("/readings"), timeout=120_000) as heard:
            headline.filter(has_not_text="Play").filter(has_not_text="…").wait_for(timeout=120_000)
        page.get_by_role("button", name="Stop listening").click()
        page.get_by_role("radio", name="a tuner’s figures").click()
        entries = _typed_home(page, heard.value.json(), wood, rng)
        browser.close()
    return len(PARENT), entries


def _typed_home(page: Page, bench: Any, wood: Wood, rng: np.random.Generator) -> int:
    """How many figures are typed until the page says that it is good enough; ``bench``: as it stands when that begins."""
    line = page.get_by_label("What does the tuner show")
    good = page.get_by_role("heading", name="Good enough")
    entries, name = 0, "A"
    while not good.is_visible() and entries < MOST_ENTRIES:
        of = next(each for each in bench["strings"] if each["name"] == name)
        step = next(iter(of["advice"]["steps"]), None) if of["advice"] is not None else None
        if step is None:
            name = bench["next_string"] or name
        elif step["do"] == "turn-peg":
            wood = turn_head(wood, name, _by_hand(step, rng))
        elif step["amount"] is not None:
            wood = turn_screw(wood, name, _by_hand(step, rng))
        page.get_by_role("group", name="Strings").get_by_role("button", name=f"{name} string").click()
        shown = nearest_note(wood.hz(name))
        line.fill(f"{shown.name} {shown.cents:+.0f}")
        with page.expect_response(lambda answer: answer.url.endswith("/readings")) as coming:
            line.press("Enter")
        bench = coming.value.json()
        entries += 1
        page.locator("[aria-busy=true]").first.wait_for(state="detached")
    return entries


def _by_hand(step: dict[str, Any], rng: np.random.Generator) -> float:
    clockwise = 1.0 if step["rotation"] == "clockwise" else -1.0
    return clockwise * float(step["amount"]) * float(max(0.2, 1.0 + rng.normal(0.0, 0.2)))


def main() -> None:
    """Print the figures."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--readings", type=int, default=300)
    options.add_argument("--first", type=int, default=1, help="the first seed of five made-up violins")
    given = options.parse_args()
    with sync_playwright() as playwright:
        for seed in range(given.first, given.first + 5):
            with scratch_server() as address:
                presses, entries = first_time(playwright, address, seed)
            print(f"first time, {seed}: {presses} presses to the first move, {entries} figures until four strings are in tune")
        browser = launched(playwright)
        with scratch_server(fill=fill) as address:
            usable(browser, address)  # the studio's zone is told by the first browser
            requests, scripts, first = usable(browser, address)
            print(f"morning usable after {requests} questions; scripts {scripts:.0f} kB gzipped, the first {first:.0f}")
            for size in SIZES:
                told, moved = shift(browser, address, size)
                print(f"layout shift over ten readings at {size[0]} px: {told:.3f}, those a key brings too {moved:.3f}")
            print(f"sweep: {sweep(browser, address, 6):.1f} s an instrument, typed")
            print(f"memory: {memory(browser, address, given.readings):+.1f} MB over {given.readings} readings")
        browser.close()


if __name__ == "__main__":
    main()
