"""Pondus in the room: a teacher at the studio's computer, a helper's phone, a student's tablet, over HTTPS."""

import re
import unittest

from playwright.sync_api import Browser, BrowserContext, Error, Page, expect

from pondus.demo.camp import demo_id
from pondus.demo.studio import fill
from pondus.store.tables import InstrumentRow, PersonRow
from tests.browser.page import SIZES, BrowserTest, launched
from tests.room import PASSPHRASE, set_teacher, shared_room, store_of

PHONE = {"width": SIZES[2][0], "height": SIZES[2][1]}
TABLET = {"width": SIZES[1][0], "height": SIZES[1][1]}


class TestRoom(BrowserTest):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        fill(cls.url)
        set_teacher(cls.url, "Maren")
        cls.shared, cls.sharing = cls.enterClassContext(shared_room(cls.url, port_file=cls.cluster.port_file))
        cls.server.stop()
        cls.server.config = cls.server.config.__class__(
            database_url=cls.url, port_file=cls.cluster.port_file, share_file=cls.sharing.share_file
        )
        cls.server.start()

    def in_the_room(self, browser: Browser | None = None, **how: object) -> BrowserContext:
        """Another device's browser, which was told to go on after the warning."""
        how.setdefault("viewport", PHONE)
        context = (browser or self.browser).new_context(ignore_https_errors=True, **how)  # type: ignore[arg-type]
        self.addCleanup(context.close)
        return context

    def code_for(self, role: str, who: str | None = None) -> str:
        """The address of a code, as the teacher's screen shows it."""
        page = self.open("/devices")
        page.get_by_role("radio", name=role).click()
        if who is not None:
            page.get_by_role("combobox", name="Who").select_option(label=who)
        page.get_by_role("button", name="Show a code").click()
        address = page.get_by_text(re.compile(r"/join#")).inner_text()
        page.close()
        return re.sub(r"//[^:/]+", "//127.0.0.1", address)

    def come_in(self, context: BrowserContext, address: str) -> Page:
        page = context.new_page()
        page.goto(address)
        page.get_by_role("button", name="Come in").click()
        return page

    def test_the_browsers_real_warning_can_be_passed_and_the_microphone_works_then(self) -> None:
        browser = launched("--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream")
        self.addCleanup(browser.close)
        page = browser.new_page()
        with self.assertRaisesRegex(Error, "CERT_AUTHORITY_INVALID"):
            page.goto(self.shared.address)
        page.locator("#details-button").click()
        page.locator("#proceed-link").click()
        page.get_by_label("Name").fill("Maren")
        page.get_by_label("Passphrase").fill(PASSPHRASE)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="Morning")).to_be_attached()
        page.goto(f"{self.shared.address}/bench/{demo_id('Sandpiper')}")
        page.get_by_role("radio", name="microphone").click()
        page.get_by_role("button", name="Listen", exact=True).click()
        expect(page.get_by_role("button", name="Stop listening")).to_be_visible()
        expect(page.get_by_role("meter").or_(page.get_by_text("Quiet")).first).to_be_visible()
        self.assertTrue(page.evaluate("window.isSecureContext"))

    def test_a_helpers_phone_begins_its_next_instrument_and_the_teacher_sees_it(self) -> None:
        teacher = self.open("/morning")
        phone = self.come_in(self.in_the_room(), self.code_for("a helper", "Joost"))
        expect(phone.get_by_role("heading", name="Mine")).to_be_attached()
        if phone.get_by_role("button", name="I am here").count():
            phone.get_by_role("button", name="I am here").click()
        now = phone.get_by_role("region", name="Now")
        label = now.locator("p").first.inner_text()
        phone.get_by_role("button", name="Begin").click()
        expect(phone.get_by_role("heading", level=1)).to_contain_text(label)
        expect(teacher.get_by_text("Joost has it").first).to_be_visible()
        phone.goto(f"{self.shared.address}/mine")
        phone.get_by_role("button", name="Hand it over").click()
        expect(teacher.get_by_text("Joost has it")).to_have_count(0)
        self.assertEqual(phone.get_by_role("link", name="Roll").count(), 0)
        phone.goto(f"{self.shared.address}/morning")
        expect(phone.get_by_role("region", name="Who is there")).to_contain_text("Joost")
        expect(phone.get_by_role("button", name="Add a helper")).to_have_count(0)

    def test_a_students_tablet_opens_on_their_instrument_and_what_they_enter_bears_their_name(self) -> None:
        with store_of(self.url) as session:
            row = session.get_one(InstrumentRow, demo_id("Stint"))
            player = session.get_one(PersonRow, row.player_id)
        tablet = self.come_in(self.in_the_room(viewport=TABLET), self.code_for("a student", player.name))
        expect(tablet.get_by_role("heading", level=1)).to_contain_text("Stint")
        for place in ("Morning", "Roll", "Care", "Ledger"):
            expect(tablet.get_by_role("link", name=place)).to_have_count(0)
        self.type_reading(tablet, "-8")
        expect(self.history(tablet).locator("li").first).to_contain_text(f"by {player.name}")
        tablet.goto(f"{self.shared.address}/bench/{demo_id('Sandpiper')}")
        expect(tablet.get_by_text("isn't for this device")).to_be_visible()
        tablet.get_by_role("link", name="To where your day begins").click()
        expect(tablet.get_by_role("heading", level=1)).to_contain_text("Stint")

    def test_an_ended_session_leaves_nothing_behind_and_what_waits_is_kept(self) -> None:
        context = self.in_the_room()
        phone = self.come_in(context, self.code_for("a helper"))
        expect(phone.get_by_role("heading", name="Mine")).to_be_attached()
        phone.goto(f"{self.shared.address}/bench/{demo_id('Knot')}")
        expect(phone.get_by_label("What does the tuner show")).to_be_visible()
        context.set_offline(True)
        entry = phone.get_by_label("What does the tuner show")
        entry.fill("-7")
        entry.press("Enter")
        expect(entry).to_have_value("")
        teacher = self.open("/devices")
        teacher.get_by_role("button", name="Sign out a helper").first.click()
        expect(teacher.get_by_role("button", name="Sign out a helper")).to_have_count(0)
        context.set_offline(False)
        expect(phone.get_by_role("heading", name="Who is it?")).to_be_visible()
        expect(phone.get_by_role("status").filter(has_text="1 entry waits")).to_be_visible()
        seen = phone.evaluate(
            """() => new Promise(done => {
                const asked = indexedDB.open("pondus");
                asked.onsuccess = () => {
                    const all = asked.result.transaction("seen").objectStore("seen").get("queries");
                    all.onsuccess = () => done(JSON.stringify(all.result ?? null));
                };
            })"""
        )
        self.assertNotIn("Knot", seen)
        again = self.code_for("a helper")
        phone.goto(again)
        phone.get_by_role("button", name="Come in").click()
        expect(phone.get_by_role("heading", name="Mine")).to_be_attached()
        teacher.goto(f"{self.server.address}/bench/{demo_id('Knot')}")
        expect(self.history(teacher)).to_contain_text("−7")

    def test_a_page_that_is_left_open_on_the_devices_asks_seldom(self) -> None:
        page = self.open("/devices")
        expect(page.get_by_role("heading", name="Let a device in")).to_be_visible()
        page.wait_for_load_state("networkidle")
        asked: list[str] = []
        page.on("request", lambda request: asked.append(request.url))
        with page.expect_request(re.compile("/api/devices")):
            pass  # its own next look
        self.assertLess(len(asked), 6, asked)

    def test_codes_that_hold_no_more_say_so(self) -> None:
        address = self.code_for("a helper")
        self.come_in(self.in_the_room(), address)
        second = self.come_in(self.in_the_room(), address)
        expect(second.get_by_role("alert")).to_contain_text("Ask for a new one")


if __name__ == "__main__":
    unittest.main()
