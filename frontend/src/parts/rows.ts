// Rows of a list by the keyboard: from the field that finds them to the first, and from one to the next.
import { useEffect } from 'react'

const FIELD = '[data-finds]'
const ROW = '[data-row]'

/** ↓ or Enter in the field goes to the first row, ↓ and ↑ go along them, ↑ at the first goes back to the field. */
export function useRows() {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const from = event.target as HTMLElement | null
      const finds = from?.matches(FIELD)
      if (!from || !(finds || from.matches(ROW))) return
      if (event.key !== 'ArrowDown' && !(finds ? event.key === 'Enter' : event.key === 'ArrowUp')) return
      const all = [...document.querySelectorAll<HTMLElement>(`${FIELD}, ${ROW}`)]
      const next = all[all.indexOf(from) + (event.key === 'ArrowUp' ? -1 : 1)]
      if (!next || event.ctrlKey || event.altKey || event.metaKey) return
      event.preventDefault()
      next.focus()
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [])
}
