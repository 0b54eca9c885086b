"""The installed page: it opens without network, shows what it last knew, keeps what is typed, and sends it later."""

from datetime import UTC, datetime

from playwright.sync_api import Route, expect
from sqlmodel import select

from pondus.running.scratch_studio import RunningServer
from pondus.store.database import engine_for, migrate, session_on
from pondus.store.tables import ReadingRow
from tests.browser.page import WORKERS
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
        came_back = datetime.now(UTC)
        context.set_offline(False)
        expect(page.get_by_text("1 entry waits")).to_have_count(0)
        engine = engine_for(self.url)
        with session_on(engine) as session:
            self.assertLess(max(session.exec(select(ReadingRow.at)).all()), came_back, "it stands at the time it was typed")
        engine.dispose()
        page.goto(self.server.address + "/roll")
        page.get_by_role("link", name="Ringed Plover").click()
        self.assert_history(page, "D4 +5", "A4 −12")

    def test_whoever_begins_or_turns_for_another_sees_what_waits(self) -> None:
        context = self.browser.new_context(viewport={"width": 390, "height": 844}, service_workers="block")
        page = self.add("violin", "Dotterel", context)
        instrument = page.url.split("/bench/")[1].split("?")[0]
        for path, heading in (("plain", "Dotterel: string by string"), ("two", "Dotterel: two people")):
            page.goto(f"{self.server.address}/{path}/{instrument}")
            expect(page.get_by_role("heading", name=heading)).to_be_visible()
            if path == "plain":
                page.get_by_role("radio", name="its letters").click()
            field = page.get_by_role("region", name="What it shows").get_by_role("button", name="A left: flat")
            expect(field).to_be_visible()
            context.set_offline(True)
            field.click()
            expect(page.get_by_role("main").get_by_text("1 entry waits:")).to_be_visible()
            context.set_offline(False)
            expect(page.get_by_role("main").get_by_text("1 entry waits:")).to_have_count(0)

    def test_what_was_entered_for_one_studio_never_goes_to_another_at_its_address(self) -> None:
        url = self.cluster.ensure_database(f"{self.database}_other")
        migrate(url)
        context = self.browser.new_context(viewport={"width": 820, "height": 1180}, service_workers="block")
        page = self.add("violin", "Ringed Plover", context)
        self.type_reading(page, "-12")
        bench = page.url
        self.server.stop(kill=True)
        self.line(page).press_sequentially("-37\n")
        expect(page.get_by_text("1 entry waits").first).to_be_visible()
        other = RunningServer(url, bind=self.server.bind, workers=WORKERS)
        other.start()
        try:
            expect(page.get_by_text("Another studio answers at this address now.")).to_be_visible()
            page.get_by_role("button", name="Open the other studio").click()
            expect(page.get_by_text("1 entry waits for another studio")).to_be_visible()
            expect(page.get_by_text("Ringed Plover")).to_have_count(0)
            fresh = context.new_page()
            self.addCleanup(fresh.close)
            fresh.goto(self.server.address + "/roll")
            expect(fresh.get_by_role("radio", name="violin", exact=True)).to_be_visible()
            expect(fresh.get_by_text("Ringed Plover")).to_have_count(0)
        finally:
            other.stop(kill=True)
        engine = engine_for(url)
        with session_on(engine) as session:
            self.assertEqual(session.query(ReadingRow).count(), 0)
        engine.dispose()
        self.server.start()
        page.goto(bench)
        self.assert_history(page, "A4 −37", "A4 −12")
        expect(page.get_by_text("waits for another studio")).to_have_count(0)

    def test_a_page_whose_parts_are_of_an_older_pondus_says_so_and_loads_the_new_one(self) -> None:
        page = self.open("/roll")
        newer: list[str] = []

        def renewed(route: Route) -> None:
            newer.append(route.request.url)
            answer = route.fetch()
            route.fulfill(response=answer, body=answer.text().replace("/assets/", "/assets/newer-", 1))

        page.route("**/assets/CareScreen*.js", lambda route: route.fulfill(status=404, body=""))
        page.route(self.server.address + "/", renewed)
        page.get_by_role("link", name="Care", exact=True).click()
        expect(page.get_by_text("Pondus was updated since this page was opened")).to_be_visible()
        self.assertTrue(newer)
        page.unroute("**/assets/CareScreen*.js")
        page.unroute(self.server.address + "/")
        expect(page.get_by_role("heading", name="Care")).to_be_attached()

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
        const key = `queries ${localStorage.getItem("pondus-studio")}`;
        const asked = opening.result.transaction("seen").objectStore("seen").get(key);
        asked.onsuccess = () => {
            opening.result.close();
            const benches = (asked.result?.state.queries ?? []).filter(query => query.queryKey[0] === "bench");
            resolve(benches.some(query => query.state.data.instrument.label === label
                && query.state.data.history.length > 0));
        };
    };
})
"""
