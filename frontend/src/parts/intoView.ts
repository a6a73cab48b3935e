// A long list keeps the row in hand in sight.

/** As the ref of a row in hand: scrolls its list, and nothing else, until the row is seen. */
export function intoView(element: HTMLElement | null) {
  const list = element?.closest('ul, ol')
  if (!element || !list) return
  const [row, box] = [element.getBoundingClientRect(), list.getBoundingClientRect()]
  if (row.top < box.top) list.scrollTop -= box.top - row.top
  else if (row.bottom > box.bottom) list.scrollTop += row.bottom - box.bottom
}
