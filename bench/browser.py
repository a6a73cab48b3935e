"""How long a hand waits at the set-up bench: from a slot to the new curve and its band, and to the pull's figures.

python -m bench.browser
"""

import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from statistics import median, quantiles

from playwright.sync_api import Page, sync_playwright

from tests.ui.browser import CHROMIUM, FLAGS

TRIES = 40
AIMS_MS = (100, 150)
"""Median and 95th percentile from a slot to its curve; the band follows within BAND_MS, the pull's figures within
PULL_MS."""
BAND_MS = 400
PULL_MS = 1000
REST_MS = 1500

WATCH = """() => {
  // The moment a key is pressed, and the frame in which what follows from it has been painted.
  window.marks = {key: 0, curve: 0, band: 0, pull: 0}
  addEventListener('keydown', () => {
    marks.key = performance.now()
    marks.curve = marks.band = marks.pull = 0
  }, {capture: true})
  const stamp = name => requestAnimationFrame(() => setTimeout(() => { marks[name] = performance.now() }))
  new MutationObserver(changes => {
    for (const {target, attributeName} of changes) {
      // A quick answer's key begins with 0: the last one is of the last digit, the band's own comes behind it.
      const key = target.dataset.key
      if (attributeName === 'data-key' && (key[0] === '0' || !marks.curve)) stamp('curve')
      if (attributeName === 'd' && target.dataset.band !== undefined && target.getAttribute('d')) stamp('band')
      if (attributeName === 'data-pull' && target.dataset.pull === 'done') stamp('pull')
    }
  }).observe(document.body, {subtree: true, attributes: true})
}"""


WAIT = """name => new Promise((done, fail) => {
  const until = performance.now() + 5000
  const look = () => marks[name] ? done(marks[name] - marks.key)
    : performance.now() > until ? fail(new Error(`no ${name}`)) : setTimeout(look, 5)
  look()
})"""


def typed(page: Page) -> tuple[list[float], list[float]]:
    """Milliseconds from the last digit of another mass to its curve and to its band, Enter not pressed."""
    curves, bands, arms = [], [], page.get_by_label("each of 3")
    for turn in range(TRIES):
        arms.select_text()
        arms.press("Delete")
        arms.press_sequentially(f"{56 + turn / 10 + 0.01:.2f}", delay=60)
        bands.append(page.evaluate(WAIT, "band"))
        curves.append(page.evaluate(WAIT, "curve"))
        page.wait_for_timeout(REST_MS)
    return curves, bands


def entered(page: Page, what: str, shift: float) -> list[float]:
    """Milliseconds from Enter on another mass to what follows from it."""
    found, arms = [], page.get_by_label("each of 3")
    for turn in range(TRIES):
        arms.fill(f"{56 + turn / 10 + shift:.2f}")
        arms.press("Enter")
        found.append(page.evaluate(WAIT, what))
        page.wait_for_timeout(REST_MS)
    return found


@contextmanager
def served() -> Iterator[str]:
    """The demo workshop, served by a process of its own as at a bench; yields its address."""
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "jaxel", "serve", "--demo", "--database", f"{folder}/demo.db", "--port", "0"]
        process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        try:
            line = process.stdout.readline() if process.stdout else ""
            yield line.split()[-1]
        finally:
            process.kill()
            process.communicate()


def main() -> None:
    """Print how long each wait took, beside what it should take."""
    with served() as address, sync_playwright() as player:
        browser = player.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        page.goto(f"{address}/visits/2/set-up")
        page.wait_for_load_state("networkidle")
        page.evaluate(WATCH)
        digits, bands = typed(page)
        curves = entered(page, "curve", 0.03)
        page.get_by_role("tab", name="Pull").click()
        pulls = entered(page, "pull", 0.05)
        browser.close()
    print(f"{'':34}{'median ms':>11}{'95 % ms':>9}   aim")
    for name, took, aim in (
        ("slot typed to curve", digits, f"{AIMS_MS[0]}, {AIMS_MS[1]}"),
        ("slot typed to its band", bands, f"all within {BAND_MS}, worst {max(bands):.0f}"),
        ("slot entered to curve", curves, f"{AIMS_MS[0]}, {AIMS_MS[1]}"),
        ("slot entered to pull's figures", pulls, f"all within {PULL_MS}, worst {max(pulls):.0f}"),
    ):
        print(f"{name:34}{median(took):11.0f}{quantiles(took, n=20)[-1]:9.0f}   {aim}")


if __name__ == "__main__":
    main()
