"""What every screen promises, looked for in the page itself: accessibility, nothing cut, nothing too small."""

from pathlib import Path
from typing import Any

from playwright.sync_api import Page

AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


def violations(page: Page) -> list[str]:
    """What axe-core (npm) finds wrong with the page as it stands: rule, and the first element it names."""
    if not page.evaluate("typeof axe === 'object'"):
        # Evaluated, not added as a script: the page's own policy allows none but its own.
        page.evaluate(AXE.read_text(encoding="utf-8"))
    found: dict[str, Any] = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
    return [
        f"{each['id']}: {each['help']}: {each['nodes'][0]['html'][:160]} {each['nodes'][0]['failureSummary'][:300]}"
        for each in found["violations"]
    ]


def sideways(page: Page) -> list[str]:
    """Elements that reach past the page's right edge, with the page itself where it scrolls sideways."""
    return page.evaluate(
        """() => {
          const { clientWidth: width, scrollWidth: wide } = document.documentElement
          const found = wide > width ? [`page: ${wide}`] : []
          const clipped = (e) => { for (let p = e; p; p = p.parentElement) {
            const s = getComputedStyle(p)
            if (p.classList.contains('sr-only') || s.overflowX === 'auto' || s.overflowX === 'scroll') return true
          } return false }
          for (const e of document.querySelectorAll('body *')) {
            const box = e.getBoundingClientRect()
            if (box.width && box.right > width + 1 && !clipped(e) && !(e instanceof SVGElement))
              found.push(`${e.tagName} ${e.textContent.slice(0, 40)} ${Math.round(box.right)}`)
          }
          return found
        }"""
    )


def small_words(page: Page, least: float = 11.95) -> list[str]:
    """Words set smaller than 12 px on the screen, in drawings too."""
    return page.evaluate(
        """least => {
          const found = []
          const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
          while (walker.nextNode()) {
            const e = walker.currentNode.parentElement
            if (!walker.currentNode.textContent.trim() || !e.checkVisibility() || e.closest('.sr-only, title')) continue
            let size = parseFloat(getComputedStyle(e).fontSize)
            if (e instanceof SVGElement && e.getScreenCTM) size *= Math.abs(e.getScreenCTM().a)
            if (size < least) found.push(`${size.toFixed(1)} ${walker.currentNode.textContent.trim().slice(0, 40)}`)
          }
          return found
        }""",
        least,
    )


def small_targets(page: Page, least: float = 43.5) -> list[str]:
    """What is pressed or typed into and is lower or narrower than 44 px."""
    return page.evaluate(
        """least => {
          const pressed = 'a, button, input:not([type=checkbox]), select, textarea, summary'
          const found = []
          for (const e of document.querySelectorAll(pressed)) {
            if (!e.checkVisibility() || e.closest('.sr-only') || e.matches('[href="#work"], [role=slider]')) continue
            const held = e.matches('input') && e.parentElement.matches('div, label')
            const { width, height } = (held ? e.parentElement : e).getBoundingClientRect()
            const name = (e.ariaLabel || e.textContent || e.dataset.place || e.id).slice(0, 40)
            if (width < least || height < least) found.push(`${name} ${Math.round(width)}×${Math.round(height)}`)
          }
          return found
        }""",
        least,
    )


def cut_words(page: Page) -> list[str]:
    """Words that are cut off by the box they stand in, but where the whole stands in a title."""
    return page.evaluate(
        """() => {
          const whole = '.sr-only, [title], input, textarea, select, details:not([open]) > :not(summary)'
          const found = []
          for (const e of document.querySelectorAll('body *')) {
            if (e instanceof SVGElement || !e.checkVisibility() || e.clientWidth <= 1 || e.closest(whole)) continue
            if (![...e.childNodes].some(node => node.nodeType === 3 && node.textContent.trim())) continue
            const { overflowX, overflowY } = getComputedStyle(e)
            const sideways = overflowX === 'hidden' && e.scrollWidth > e.clientWidth + 1
            if (sideways || (overflowY === 'hidden' && e.scrollHeight > e.clientHeight + 2))
              found.push(`${e.tagName} ${e.textContent.slice(0, 60)}`)
          }
          return found
        }"""
    )
