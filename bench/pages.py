"""What a page weighs over the wire, and how long a touch waits for its paint.

python -m bench.pages
"""

from statistics import median
from typing import Any

from playwright.sync_api import Browser, Page, sync_playwright

from bench.browser import served
from tests.ui.browser import CHROMIUM, FLAGS

PLACES = (
    "/", "/bring-in", "/machines/1", "/visits/2/intake", "/visits/2/belt", "/visits/9/strip", "/visits/2/set-up",
    "/visits/10/rebuild", "/visits/9/line-up", "/visits/2/road-test", "/visits/3/hand-over", "/parts", "/workshop",
    "/guide", "/belts/6",
)  # fmt: skip
AIM_KB, AIM_MS = 200, 100
STANDS_MS = 2400
"""Till a page stands."""

WATCH = """() => {
  window.waits = []
  new PerformanceObserver(list => {
    for (const entry of list.getEntries()) if (entry.interactionId) waits.push([entry.interactionId, entry.duration])
  }).observe({type: 'event', durationThreshold: 16, buffered: true})
}"""


def weight(browser: Browser, address: str) -> dict[str, float]:
    """What a page takes over the wire before the others are fetched [kB], by what it is, with nothing kept."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, service_workers="block")
    # A sparing browser fetches nothing ahead: what is counted is the page in hand.
    context.add_init_script("Object.defineProperty(navigator, 'connection', {value: {saveData: true}})")
    page = context.new_page()
    wire = context.new_cdp_session(page)
    wire.send("Network.enable")
    where: dict[str, str] = {}
    found = {"page": 0.0, "answers": 0.0}
    wire.on("Network.responseReceived", lambda event: where.update({event["requestId"]: event["response"]["url"]}))

    def came(event: dict[str, Any]) -> None:
        kind = "answers" if "/api/" in where.get(event["requestId"], "") else "page"
        found[kind] += event["encodedDataLength"] / 1000

    wire.on("Network.loadingFinished", came)
    page.goto(address)
    page.wait_for_timeout(STANDS_MS)
    context.close()
    return found


def touched(page: Page, address: str) -> list[float]:
    """Milliseconds from a touch or a key to the next paint, over a walk through a visit; the longest of each."""
    page.goto(f"{address}/visits/2/intake")
    page.wait_for_load_state("networkidle")
    page.evaluate(WATCH)
    for _ in range(3):
        for station in ("belt", "set-up", "rebuild", "road-test", "hand-over", "intake"):
            page.locator(f"nav [data-station={station}]").click()
            page.wait_for_timeout(500)
        page.get_by_role("radio", name="Trail").click()
        page.get_by_label("Temperature").click()
        page.keyboard.type("-11")
        page.get_by_role("radio", name="Mountain").click()
        page.wait_for_timeout(700)
    longest: dict[int, float] = {}
    for interaction, duration in page.evaluate("waits"):
        longest[interaction] = max(duration, longest.get(interaction, 0.0))
    return list(longest.values())


def main() -> None:
    """Print each page's weight and the waits, beside what they should be."""
    with served() as address, sync_playwright() as player:
        browser = player.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        print(f"{'':24}{'page kB':>9}{'answers kB':>12}   aim {AIM_KB} together")
        for place in PLACES:
            found = weight(browser, address + place)
            print(f"{place:24}{found['page']:9.0f}{found['answers']:12.0f}")
        waits = touched(browser.new_context(viewport={"width": 1280, "height": 800}).new_page(), address)
        print(f"a touch to its paint, {len(waits)} of 16 ms and more: median {median(waits):.0f} ms, aim {AIM_MS}")
        browser.close()


if __name__ == "__main__":
    main()
