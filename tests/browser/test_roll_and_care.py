"""The roll, the ledger and care in a real browser."""

import re
from uuid import uuid4

from playwright.sync_api import expect

from tests.browser.page import BrowserTest


class TestRollAndCare(BrowserTest):
    def test_people_are_cleared_and_get_instruments(self) -> None:
        self.add("violin", "Fieldfare")
        page = self.open("/roll")
        page.get_by_label("Name or initials").fill("Ines")
        page.get_by_role("button", name="Add", exact=True).click()
        people = page.get_by_role("region", name="People")
        expect(people).to_contain_text("Ines")
        expect(people).to_contain_text("fine tuners")
        page.get_by_role("button", name="Change Ines").click()
        page.get_by_label("5: pegs alone").check()
        expect(people).to_contain_text("pegs too")
        page.get_by_role("button", name="Change Fieldfare").click()
        page.get_by_label("Who has it").select_option(label="Ines")
        expect(page.get_by_role("link", name="Fieldfare")).to_contain_text("Ines")
        page.get_by_label("Label", exact=True).fill("Redwing")
        page.get_by_label("Label", exact=True).press("Enter")
        expect(page.get_by_role("link", name="Redwing")).to_be_visible()
        page.get_by_role("button", name="No longer in use").click()
        expect(page.get_by_text("No longer in use, 1")).to_be_visible()
        page.get_by_text("No longer in use, 1").click()
        page.get_by_role("button", name="Bring back").click()
        expect(page.get_by_role("button", name="Change Redwing")).to_be_visible()
        self.assertEqual(self.complaints, [])

    def test_faults_lead_to_the_luthier_and_back(self) -> None:
        page = self.add("cello", "Wheatear")
        page.get_by_role("link", name="Ledger").click()
        page.get_by_label("What", exact=True).select_option("fault")
        page.get_by_label("Which fault").select_option("bridge-moved")
        expect(page.get_by_text("don’t set it up yourself")).to_be_visible()
        page.get_by_role("button", name="Enter").click()
        expect(page.get_by_role("region", name="Care")).to_contain_text("the bridge leans")
        page.get_by_role("link", name="Care", exact=True).click()
        luthier = page.get_by_role("region", name="Luthier")
        expect(luthier).to_contain_text("the bridge is the luthier’s")
        luthier.get_by_role("button", name="Sent to the luthier").click()
        expect(luthier).to_contain_text("away since")
        page.get_by_role("link", name="Morning").click()
        expect(page.get_by_role("region", name="Luthier")).to_contain_text("Wheatear")
        page.get_by_role("link", name="Care", exact=True).click()
        luthier.get_by_role("button", name="It is back").click()
        expect(luthier).to_contain_text("nothing away")
        self.assertEqual(self.complaints, [])

    def test_a_new_string_and_the_room(self) -> None:
        page = self.add("violin", "Nightjar")
        page.get_by_role("link", name="Ledger").click()
        page.get_by_label("Which string").select_option("E")
        page.get_by_role("button", name="Enter").click()
        expect(page.get_by_text("New E string")).to_be_visible()
        expect(page.get_by_role("region", name="Next morning")).to_contain_text("0 days old")
        page.get_by_role("button", name="Strike out").click()
        expect(page.get_by_role("button", name="Bring back")).to_be_visible()
        page.get_by_role("link", name="Care", exact=True).click()
        room = page.get_by_role("region", name="The room")
        page.get_by_label("Humidity, %").fill("28")
        room.get_by_role("button", name="Enter").click()
        expect(room).to_contain_text("Dry: expect pegs to slip")
        page.get_by_label("Humidity, %").fill("280")
        room.get_by_role("button", name="Enter").click()
        expect(room.get_by_role("alert")).to_contain_text("280 % humidity can't be")
        self.assertEqual(self.complaints, [])

    def test_the_studios_days_are_where_it_is(self) -> None:
        page = self.add("violin", "Curlew")
        page.get_by_role("link", name="Care", exact=True).click()
        page.get_by_label("Days here are those of").select_option("Pacific/Auckland")
        page.reload()
        expect(page.get_by_label("Days here are those of")).to_have_value("Pacific/Auckland")
        self.assertEqual(self.complaints, [])

    def test_anything_is_found_by_two_letters_from_anywhere(self) -> None:
        self.add("violin", "V 10")
        self.add("cello", "Ärmel")
        page = self.add("viola", "V 2")
        page.get_by_label("What does the tuner show").press("Control+k")
        asked = page.get_by_role("combobox", name="Two letters of its label")
        asked.fill("ar")
        expect(page.get_by_role("listbox").get_by_role("option").first).to_contain_text("Ärmel")
        asked.press("Enter")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Ärmel")
        page.get_by_role("heading", level=1).click()
        page.keyboard.press("/")
        asked.fill("v")
        listed = page.get_by_role("listbox").get_by_role("option")
        expect(listed.first).to_contain_text("V 2")
        self.assertIn("V 10", listed.nth(1).inner_text())
        asked.fill("nobody")
        expect(page.get_by_text("Nothing here is called “nobody”.")).to_be_visible()
        asked.press("Escape")
        asked.press("Escape") if asked.is_visible() else None
        expect(asked).to_have_count(0)
        self.assertEqual(self.complaints, [])


class TestASmallStudio(BrowserTest):
    def test_a_day_begins_at_the_bench_of_the_one_tuned_last_and_from_three_on_with_the_morning(self) -> None:
        self.type_reading(self.add("violin", "Ouzel"), "-12")
        self.add("viola", "Sora")
        page = self.open("/")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Sora")
        self.add("cello", "Brant")
        page = self.open("/")
        expect(page).to_have_url(f"{self.server.address}/morning")
        self.assertEqual(self.complaints, [])

    def test_the_clock_is_the_studios_on_every_device(self) -> None:
        here = self.browser.new_context(timezone_id="Asia/Kolkata", service_workers="block")
        far = self.browser.new_context(timezone_id="Pacific/Auckland", service_workers="block")
        for context in (here, far):
            self.addCleanup(context.close)
        page = self.add("violin", "Whimbrel", context=here)
        page.request.patch(
            f"{self.server.address}/api/settings", data={"zone": "Asia/Kolkata"}, headers={"Origin": self.server.address}
        )
        self.type_reading(page, "A -12")
        there = self.open(page.url.removeprefix(self.server.address), context=far)
        times = [self.history(each).locator("time").first for each in (page, there)]
        expect(times[0]).to_have_text(re.compile(r"^\d\d:\d\d:\d\d$"))
        expect(times[1]).to_have_text(times[0].text_content() or "")
        self.assertEqual(self.complaints, [])

    def test_a_long_roll_is_narrowed_grouped_and_drawn_where_it_is_seen(self) -> None:
        context = self.browser.new_context(service_workers="block")
        self.addCleanup(context.close)
        headers = {"Origin": self.server.address}
        for number in range(1, 91):
            made = {
                "id": str(uuid4()),
                "label": f"School {number}",
                "kind": "violin",
                "details": {"class": f"{5 + number % 3}b"},
            }
            answer = context.request.post(f"{self.server.address}/api/instruments", data=made, headers=headers)
            self.assertEqual(answer.status, 200)
        page = self.open("/roll", context=context)
        roll = page.get_by_role("region", name="Instruments")
        expect(roll.get_by_role("link", name="School 1 ").first).to_be_visible()
        self.assertLess(roll.get_by_role("listitem").count(), 60)
        page.keyboard.press("End")
        expect(roll.get_by_role("link", name="School 90")).to_be_visible()
        roll.get_by_label("In order by").select_option("class")
        page.keyboard.press("Home")
        expect(roll.get_by_role("heading", name="5b")).to_contain_text("30")
        roll.get_by_label("Only those with").fill("7b 89")
        expect(roll.get_by_role("status")).to_contain_text("1 of ")
        expect(roll.get_by_role("link", name="School 89")).to_be_visible()
        page.get_by_role("heading", name="Instruments", exact=True).click()
        page.goto(f"{self.server.address}/sweep")
        waiting = page.get_by_role("region", name="Still to hear")
        expect(waiting.get_by_role("button", name="School 1 ").first).to_be_visible()
        waiting.get_by_role("button", name="School 12 ").scroll_into_view_if_needed()
        self.assertLess(waiting.get_by_role("listitem").count(), 60)
        page.keyboard.press("Control+k")
        page.get_by_role("combobox", name="Two letters").fill("6b school 7")
        page.get_by_role("option", name="School 7").first.click()
        expect(page.get_by_role("heading", name="School 7")).to_be_visible()
        self.assertEqual(self.complaints, [])
