// What was chosen is in sight: the row in a long list, the beginning of what it brings up.

/** As the ref of a row in hand: scrolls its list, and nothing else, until the row is seen. */
export function intoView(element: HTMLElement | null) {
  const list = element?.closest('ul, ol')
  if (!element || !list) return
  const [row, box] = [element.getBoundingClientRect(), list.getBoundingClientRect()]
  if (row.top < box.top) list.scrollTop -= box.top - row.top
  else if (row.bottom > box.bottom) list.scrollTop += row.bottom - box.bottom
}

/** How far down its window a beginning may stand and still be seen with what follows. */
const UPPER = 0.6

/**
 * Scrolls only where the beginning of what a row brings up is not in the upper part of what is seen; and, where both
 * scroll in one, as much further as shows the row and keeps the beginning.
 */
export function beginInSight(element: HTMLElement | null, row?: Element | null) {
  if (!element) return
  const scrolls = element.closest('[data-scrolls]')
  const seen = scrolls?.getBoundingClientRect()
  const [from, height] = [seen?.top ?? 0, seen?.height ?? window.innerHeight]
  const begins = () => element.getBoundingClientRect().top - from
  if (begins() < 0 || begins() > UPPER * height) element.scrollIntoView({ block: 'start' })
  const under = (row?.getBoundingClientRect().bottom ?? 0) - from - height
  if (scrolls && under > 0) scrolls.scrollTop += Math.min(under, begins())
}
