"""From Enter to the strand, from Enter to the advice, and what an idle page asks for.

The demo studio on a server and a database of its own, a real browser at a bench. Readings are typed one after the other;
``shown`` is when the strand stands at what was typed, ``advised`` when the new advice is there, from the key's press, by
the page's clock; ``seen`` when a second browser at the same bench lists it. Then the page is left alone, and the requests
it makes are counted.

Run: ``bin/pondus bench entering [--readings 30] [--idle 60]``.
"""

import argparse

import numpy as np
from playwright.sync_api import Page, sync_playwright

from pondus.demo.camp import demo_id
from pondus.demo.studio import fill
from pondus.running.scratch_studio import scratch_server

ENTER = """
typed => new Promise(resolve => {
    const line = document.getElementById("entry");
    const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set;
    set.call(line, typed);
    line.dispatchEvent(new Event("input", { bubbles: true }));
    requestAnimationFrame(() => {
        const began = performance.now();
        const wanted = typed.replace("-", "−");
        let shown = null;
        const look = () => {
            const board = document.querySelector("[aria-label='String board'] svg").textContent;
            if (shown === null && board.includes(wanted)) shown = performance.now() - began;
            const history = document.querySelector("[aria-label='History of this tuning'] li")?.textContent ?? "";
            if (shown !== null && history.includes(wanted)) resolve([shown, performance.now() - began]);
            else requestAnimationFrame(look);
        };
        line.form.requestSubmit();
        requestAnimationFrame(look);
    });
})
"""


WATCH = """
() => {
    window.seenAt = {};
    const look = () => {
        const line = document.querySelector("[aria-label='History of this tuning'] li")?.textContent ?? "";
        const figure = line.match(/−\\d+/)?.[0];
        if (figure !== undefined) window.seenAt[figure.replace("−", "-")] ??= Date.now();
        requestAnimationFrame(look);
    };
    look();
}
"""


def seen_by_another(page: Page, other: Page, readings: int) -> list[float]:
    """What each reading typed on the one page took until it stood on the other, in ms."""
    other.evaluate(WATCH)
    took = []
    for place in range(readings):
        typed = f"-{10 + place}"
        began = page.evaluate("Date.now()")
        page.evaluate(ENTER, typed)
        other.wait_for_function("typed => typed in window.seenAt", arg=typed, timeout=20_000)
        took.append(other.evaluate("typed => window.seenAt[typed]", typed) - began)
    return took


def entered(page: Page, readings: int) -> list[tuple[float, float]]:
    """What each reading took, in ms: until it was shown, until it was advised on."""
    return [tuple(page.evaluate(ENTER, f"-{10 + place}")) for place in range(readings)]


def unfold(page: Page) -> None:
    """The history lies folded; what is entered is looked for there."""
    page.get_by_role("button", name="This tuning so far").click()


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--readings", type=int, default=30)
    options.add_argument("--idle", type=float, default=60.0, help="seconds a page is left alone")
    given = options.parse_args()
    with scratch_server(fill=fill) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/bench/{demo_id('Sandpiper')}")
        page.get_by_role("button", name="A string").click()
        unfold(page)
        entered(page, 3)
        took = np.array(entered(page, given.readings))
        other = browser.new_context().new_page()
        other.goto(page.url)
        unfold(other)
        other.locator("[aria-label='History of this tuning'] li").first.wait_for()
        seen = np.array(seen_by_another(page, other, given.readings))
        other.close()
        for said, column in (("shown", took[:, 0]), ("advised", took[:, 1]), ("seen", seen)):
            print(f"{said:8s} {np.median(column):6.0f} ms at the median, {np.percentile(column, 95):6.0f} ms at 95 %")
        for path in (f"/bench/{demo_id('Sandpiper')}", "/morning"):
            page.goto(address + path)
            page.wait_for_timeout(3000)
            asked: list[str] = []
            page.on("request", lambda request, asked=asked: asked.append(request.url))
            page.wait_for_timeout(1000.0 * given.idle)
            print(f"idle on {path.split('/')[1]}: {len(asked) * 60.0 / given.idle:.1f} requests a minute")
        browser.close()


if __name__ == "__main__":
    main()
