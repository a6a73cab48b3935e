// Text of a form that is not sent yet: kept in this browser, so that a reload loses nothing.
import { useSyncExternalStore } from 'react'

const readers = new Set<() => void>()

function follow(reader: () => void) {
  readers.add(reader)
  return () => {
    readers.delete(reader)
  }
}

/** One text by its name, the same wherever it is read on the page.
 * @example const [reason, setReason] = useDraft(`${subjectOf(visit)} unrepaired`) */
export function useDraft(name: string): [string, (text: string) => void] {
  const key = `jaxel.draft.${name}`
  const text = useSyncExternalStore(follow, () => localStorage.getItem(key) ?? '')
  const keep = (next: string) => {
    if (next) localStorage.setItem(key, next)
    else localStorage.removeItem(key)
    for (const reader of readers) reader()
  }
  return [text, keep]
}
