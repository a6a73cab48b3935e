"""Takes the pictures in docs/screenshots from the demo workshop: one of each main view.

make screenshots
"""

import re
from pathlib import Path

from playwright.sync_api import FilePayload, Page, sync_playwright

from tests.ui.browser import CHROMIUM, FLAGS, DemoServer
from tests.ui.run.test_told import afternoon

FOLDER = Path(__file__).parent / "screenshots"
DESK = {"viewport": {"width": 1280, "height": 800}}
VIEWS = {
    "shop-floor": ("/", DESK),
    "machine": ("/machines/1", DESK),
    "workshop": ("/workshop", DESK),
    "bring-in": ("/bring-in", DESK),
    "intake": ("/visits/2/intake", DESK),
    "belt": ("/visits/2/belt", DESK),
    "instruments": ("/visits/4/belt", DESK),
    "strip": ("/visits/9/strip#primary_arm_bushing", DESK),
    "belt-page": ("/belts/6", DESK),
    "guide": ("/guide/tower-and-button-primary", DESK),
    "parts": ("/parts", DESK),
    "set-up": ("/visits/2/set-up", DESK),
    "set-up-calibration": ("/visits/2/set-up", DESK),
    "rebuild": ("/visits/10/rebuild#primary.cover", DESK),
    "line-up": ("/visits/9/line-up", DESK),
    "road-test": ("/visits/3/road-test", DESK),
    "run": ("/visits/3/road-test", DESK),
    "compare": ("/visits/2/road-test", DESK),
    "hand-over": ("/visits/3/hand-over", DESK),
}


def ridden_and_compared(page: Page) -> None:
    """A run, the next change as it is offered, and a run on that, laid over each other."""
    address = page.url
    for gain, seed in ((1.07, 1), (1.06, 2)):
        page.goto(address)
        page.get_by_role("button", name=re.compile("^Begin")).click()
        last = page.locator("[data-run='last']")
        last.get_by_label("Log file of the run").wait_for(state="attached")
        file = FilePayload(name=f"lake strip {seed}.csv", mimeType="text/csv", buffer=afternoon(gain, seed))
        last.get_by_label("Log file of the run").set_input_files(file)
        page.locator("[data-verdict]:not([data-verdict='none'])").wait_for(timeout=60_000)
        page.goto(address)
        for label, words in (("Rider", "Maren"), ("Strip", "lake")):
            page.locator("[data-run='last']").get_by_label(label).fill(words)
            page.keyboard.press("Enter")
        page.wait_for_timeout(1500)
        if seed == 1:
            page.get_by_role("button", name="Open on the bench").click(timeout=60_000)
            page.get_by_label(re.compile("Why this change")).fill("the run held too little")
            page.get_by_role("button", name="Record as fitted").click()
            page.get_by_label(re.compile("Why this change")).wait_for(state="detached")
    page.get_by_role("button", name=re.compile("^Lay runs over")).click()
    page.locator("[data-difference]").first.wait_for(timeout=60_000)


def caliper_in_hand(page: Page) -> None:
    """A width read and not sent yet."""
    page.locator("[data-place='place_3']").focus()
    page.keyboard.press("Alt+i")
    page.get_by_role("button", name="Read", exact=True).click()
    page.get_by_role("button", name="Read again").wait_for()


ACTS = {"compare": ridden_and_compared, "instruments": caliper_in_hand}
"""What is done before a picture is taken."""


def main() -> None:
    """Take every picture anew."""
    FOLDER.mkdir(exist_ok=True)
    with DemoServer() as server, sync_playwright() as player:
        browser = player.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        for name, (path, options) in VIEWS.items():
            page = browser.new_context(**options, bypass_csp=True).new_page()
            page.goto(server.address + path)
            page.wait_for_load_state("networkidle")
            if name == "bring-in":
                for looks in ("Quad", "Roller variator"):
                    page.get_by_role("radio", name=looks).click()
                page.get_by_label("Belt as fitted, width").fill("30.4")
                page.get_by_text("1 measured").wait_for()
            if name == "run":
                page.locator("[data-open-log]").click()
                page.locator("[data-counted]").first.wait_for()
                page.locator("[data-verdict]").wait_for()
                page.locator("canvas").wait_for()
            if name in ACTS:
                ACTS[name](page)
            if name == "strip":
                for letter, play in (("A", "0.2"), ("B", "0.6")):
                    page.get_by_label(f"side play {letter}").fill(play)
                    page.keyboard.press("Enter")
                for word in ("Assembled", "cocked"):
                    page.get_by_role("radio", name=word, exact=True).click()
                page.get_by_role("radio", name="Press in bushings").click()
                page.locator("[data-order]").wait_for(state="attached")
            if name == "line-up":
                for label, gap in (("Front gap", "37.6"), ("Rear gap", "35.4")):
                    page.get_by_label(label).fill(gap)
                    page.keyboard.press("Enter")
                page.get_by_label("Shims behind").fill("1.5 + 1")
                page.keyboard.press("Tab")
                page.locator("[data-stack]").wait_for()
            if name.startswith("set-up"):
                page.locator("[data-answer='3']").wait_for(state="attached")
            if name == "set-up-calibration":
                page.get_by_role("tab", name="Calibration").click()
                page.get_by_text("What to measure next").wait_for()
            page.wait_for_function("!document.body.innerText.match(/Opening|Drawing|working…/)")
            page.screenshot(path=FOLDER / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    main()
