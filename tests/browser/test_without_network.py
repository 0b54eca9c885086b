"""The installed page: it opens without network, shows what it last knew, keeps what is typed, and sends it later."""

from playwright.sync_api import expect

from tests.browser.test_hands import HandsTest


class TestWithoutNetwork(HandsTest):
    def test_it_opens_keeps_what_is_typed_and_sends_it_later(self) -> None:
        context = self.browser.new_context(viewport={"width": 820, "height": 1180})
        page = self.add("viola", "Ringed Plover", context)
        self.type_reading(page, "-12")
        expect(page.get_by_text("A fine tuner up to A4")).to_be_visible()
        page.evaluate("navigator.serviceWorker.ready.then(() => null)")
        while not page.evaluate(KEPT, "Ringed Plover"):  # the test's own time limit ends this
            page.wait_for_timeout(100)
        context.set_offline(True)
        page.reload()
        expect(page.get_by_role("heading", name="Ringed Plover")).to_be_visible()
        expect(page.get_by_text("A fine tuner up to A4")).to_be_visible()
        page.get_by_role("button", name="D string").click()
        self.line(page).press_sequentially("+5\n")
        expect(page.get_by_text("1 entry waits").first).to_be_visible()
        page.close()
        page = context.new_page()
        self.addCleanup(page.close)
        page.goto(self.server.address + "/care")
        expect(page.get_by_text("1 entry waits")).to_be_visible()
        context.set_offline(False)
        expect(page.get_by_text("1 entry waits")).to_have_count(0)
        page.goto(self.server.address + "/roll")
        page.get_by_role("link", name="Ringed Plover").click()
        self.assert_history(page, "D4 +5", "A4 −12")

    def test_it_can_be_installed(self) -> None:
        page = self.open("/")
        told = page.evaluate("fetch(document.querySelector('link[rel=manifest]').href).then(found => found.json())")
        self.assertEqual((told["name"], told["start_url"], told["display"]), ("Pondus", "/", "standalone"))
        for icon in told["icons"]:
            found = page.request.get(self.server.address + icon["src"])
            self.assertEqual((found.status, found.headers["content-type"].partition(";")[0]), (200, icon["type"]))


KEPT = """
label => new Promise(resolve => {
    const opening = indexedDB.open("pondus");
    opening.onsuccess = () => {
        const asked = opening.result.transaction("seen").objectStore("seen").get("queries");
        asked.onsuccess = () => {
            opening.result.close();
            const benches = (asked.result?.state.queries ?? []).filter(query => query.queryKey[0] === "bench");
            resolve(benches.some(query => query.state.data.instrument.label === label
                && query.state.data.history.length > 0));
        };
    };
})
"""
