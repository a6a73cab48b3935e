// Arriving at a page: its title, its one heading, and the focus where the next hand goes.
import { useEffect, useRef } from 'react'
import { useLocation } from 'react-router'
import { focusOn } from './field/reading'

/** What a hand writes in, or has opened: taking the focus from it would close it. */
const IN_HAND = 'main :is(input, textarea, select), [role="dialog"], [role="menu"]'

interface ArrivalProps {
  title: string
  /** Where the hand goes first here; else the heading. */
  first?: string
}

/** The first field that waits for something; how a belt lay is read by who comes to it before it is off. */
export const WAITING = 'main :is([data-walk]:not([data-walk="lie"]), [data-waits]):placeholder-shown:not(:disabled)'

export function Arrival({ title, first }: ArrivalProps) {
  const { hash, key } = useLocation()
  const top = useRef<HTMLHeadingElement>(null)
  useEffect(() => {
    document.title = `${title} · Jaxel`
  }, [title])
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each arrival
  useEffect(() => {
    const place = decodeURIComponent(hash.slice(1))
    // A hand that was quicker than the page is where it wants to be.
    if (!place && document.activeElement?.closest(IN_HAND)) return
    const named = CSS.escape(place)
    // The link past the bar names the work itself, also of a page that had not come when it was followed.
    if (place) focusOn(`[data-place="${named}"]`, `main#${named}`, 'main [data-main]:not(:disabled)')
    else if (first && document.querySelector(first)) focusOn(first)
    else top.current?.focus({ preventScroll: true })
  }, [key])
  return (
    <h1 ref={top} tabIndex={-1} className="sr-only">
      {title}
    </h1>
  )
}
