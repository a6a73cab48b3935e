"""What is kept of the workshop: its last backup, its log, a machine passed on and taken in again."""

import io
import re
import zipfile

from playwright.sync_api import FilePayload, expect

from tests.ui.cases.set_up_bench_case import Case


class Kept(Case):
    def test_the_log_tells_who_changed_what(self):
        page = self.page
        self.open("/workshop")
        expect(page.locator("[data-backup]")).to_contain_text("No backup yet")
        page.get_by_label("What an hour costs").fill("95")
        page.keyboard.press("Tab")
        page.get_by_label("Name", exact=True).fill("Tove")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Archive Tove")).to_be_visible()
        page.get_by_role("link", name="Log", exact=True).click()
        first, second = page.locator("[data-line]").nth(0), page.locator("[data-line]").nth(1)
        expect(first).to_contain_text("Tove")
        expect(first).to_contain_text("added")
        expect(second).to_contain_text("hour price")
        expect(second).to_contain_text("95")
        self.accessible()
        page.get_by_label("Of what").select_option("part")
        expect(page.locator("[data-line]").filter(has_text="hour price")).to_have_count(0)
        page.get_by_label("What it is called").fill("FB-A57")
        expect(page.locator("[data-line]").first).to_contain_text("FB-A57")
        with page.expect_download() as table:
            page.get_by_role("link", name="As a table").click()
        text = table.value.path().read_text(encoding="utf-8")
        self.assertTrue(text.startswith("# jaxel-log 1\n"), text[:60])
        self.assertTrue(all(",FB-A57," in line for line in text.splitlines()[2:]))

    def test_a_machine_is_passed_on_and_known_when_it_comes_back(self):
        page = self.page
        self.open("/machines/1")
        page.get_by_role("button", name="Pass it on").click()
        self.accessible()
        page.get_by_role("button", name="Make the bundle").click()
        with page.expect_download() as made:
            page.locator("[data-bundle]").click()
        data = made.value.path().read_bytes()
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            words = b"".join(archive.read(each) for each in archive.namelist() if each.startswith("machines/"))
        self.assertNotIn(b"Maren T.", words)
        self.open("/workshop")
        page.get_by_role("button", name="Take a bundle in").click()
        file = FilePayload(name="machine.zip", mimeType="application/zip", buffer=data)
        page.get_by_label("Bundle", exact=True).set_input_files(file)
        brings = page.locator("[data-brings]")
        expect(brings).to_contain_text("Tarnhowe 840 mountain sled")
        expect(brings).to_contain_text(re.compile("Visits that are here, the same.*2026"))
        self.accessible()
        page.get_by_role("button", name="Take it in").click()
        expect(brings).to_contain_text("Taken in.")

    def test_what_is_no_bundle_is_refused_in_words(self):
        page = self.page
        self.open("/workshop")
        page.get_by_role("button", name="Take a bundle in").click()
        file = FilePayload(name="x.zip", mimeType="application/zip", buffer=b"PK nothing of the sort")
        page.get_by_label("Bundle", exact=True).set_input_files(file)
        expect(page.get_by_role("alert")).to_contain_text("the bundle is no zip file, or is cut off")
        expect(page.get_by_role("button", name="Take it in")).to_have_count(0)
