// One key through what is refused and what is open: first what stands refused on this page, then the visit's open things.
import { useCallback, useRef } from 'react'
import { useNavigate } from 'react-router'
import type { VisitView } from '../server/client'
import { useOpenItems } from './openItems'

const REFUSED = 'main [aria-invalid="true"]:not(:disabled)'

/** Goes to the next one, from where the hand is. */
export function useOpenThings(visit: VisitView | undefined): () => void {
  const items = useOpenItems(visit)
  const go = useNavigate()
  const at = useRef(-1)
  return useCallback(() => {
    const refused = [...document.querySelectorAll<HTMLElement>(REFUSED)]
    const now = document.activeElement
    const next =
      refused.find((each) => now && now.compareDocumentPosition(each) & Node.DOCUMENT_POSITION_FOLLOWING) ?? refused[0]
    if (next && next !== now) {
      next.focus()
      return
    }
    const links = items.map(({ href }) => href)
    if (links.length === 0) return
    // Where the hand is by now: a quick one presses again before the page is drawn.
    const here = window.location
    const standing = links.indexOf(`${here.pathname}${here.hash}`)
    // Who has just come to a station begins with what is open there.
    const first = here.hash ? -1 : links.findIndex((each) => each.startsWith(`${here.pathname}#`))
    at.current = first >= 0 ? first : ((standing < 0 ? at.current : standing) + 1) % links.length
    go(links[at.current] as string)
  }, [items, go])
}
