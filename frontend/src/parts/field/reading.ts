// Readings and where they go: the next field that waits for one, or the next place for the hand.
import { say } from '../../api/server/notices'

/** Keys from an instrument follow each other faster than fingers do. */
const INSTRUMENT_MS = 35
const SHORTEST = 3

/** Tells an instrument's keys from a hand's, one key at a time. */
export class Keys {
  private text = ''
  private last = 0
  private fast = true

  /** Takes a key in; answers what an instrument sent when it ends its reading, else nothing. */
  take(event: { key: string; timeStamp: number }): string | null {
    const gap = event.timeStamp - this.last
    this.last = event.timeStamp
    if (event.key === 'Enter') {
      const sent = this.fast && gap <= INSTRUMENT_MS && this.text.length >= SHORTEST ? this.text : null
      this.text = ''
      this.fast = true
      return sent
    }
    if (event.key.length !== 1) return null
    if (this.text && gap > INSTRUMENT_MS) this.fast = false
    this.text += event.key
    return null
  }

  clear() {
    this.text = ''
    this.fast = true
  }
}

/** A hand's pause after which digits typed at nothing are forgotten. */
const FORGOTTEN_MS = 1500

let digits = ''
let typedAt = 0

/** A reading typed while no field waits for it must not press what has the focus. */
function guard(event: KeyboardEvent) {
  const target = event.target as HTMLElement | null
  if (!target || target.closest('input, textarea, [contenteditable]')) {
    digits = ''
    return
  }
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const now = event.timeStamp
  if (now - typedAt > FORGOTTEN_MS) digits = ''
  if (/^[\d.,+−-]$/.test(event.key)) {
    digits += event.key
    typedAt = now
    // A list would jump to the entry that begins with the digit.
    if (target.closest('select')) event.preventDefault()
  } else if (event.key === 'Enter' && /\d/.test(digits)) {
    event.preventDefault()
    event.stopPropagation()
    say(`A reading of ${digits} came in while no field waited for it. Touch the field it belongs to.`)
    digits = ''
  } else if (event.key !== 'Shift') digits = ''
}

window.addEventListener('keydown', guard, { capture: true })

const fields = () => [...document.querySelectorAll<HTMLInputElement>('main [data-walk]:not(:disabled)')]

/** The next field of a reading's walk that waits for one. */
export function nextOf(from: HTMLInputElement): HTMLInputElement | undefined {
  const all = fields().filter((each) => each.dataset.walk === from.dataset.walk)
  const here = all.indexOf(from)
  return [...all.slice(here + 1), ...all.slice(0, here)].find((each) => each.value === '')
}

/** From a reading to the next of its walk that waits for one; behind the last, to where the hand goes next. */
export function toNext(from: HTMLInputElement) {
  const walk = from.dataset.walk
  if (!walk) {
    from.select()
    return
  }
  const waits = nextOf(from)
  const after = document.querySelector<HTMLElement>(`main [data-after~="${walk}"]:not(:disabled)`)
  if (waits) waits.focus()
  else if (after) after.focus()
  else pastIt(from)
}

/** To what is pressed next behind a reading: the hand is not lost to the page, and the next reading lands on no other. */
export function pastIt(from: HTMLElement) {
  const pressed = [...document.querySelectorAll<HTMLElement>('main :is(button, a[href], summary):not(:disabled)')]
  const behind = (each: HTMLElement) =>
    Boolean(from.compareDocumentPosition(each) & Node.DOCUMENT_POSITION_FOLLOWING) && each.checkVisibility()
  const next = pressed.find((each) => behind(each) && !each.closest('[role="alert"]'))
  if (next) next.focus({ preventScroll: true })
  else from.blur()
}

const PATIENCE_MS = 2000

/** Puts the focus on the first thing there is of a list, as soon as it is there. */
export function focusOn(...selectors: string[]) {
  const until = performance.now() + PATIENCE_MS
  const look = () => {
    for (const selector of selectors) {
      const found = document.querySelector<HTMLElement>(selector)
      if (found) {
        found.focus({ preventScroll: false })
        return
      }
    }
    if (performance.now() < until) requestAnimationFrame(look)
  }
  look()
}
