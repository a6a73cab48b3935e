// Text of a form that is not sent yet: kept in this browser, so that a reload loses nothing.
import { useState } from 'react'

/** @example const [reason, setReason] = useDraft(`${subjectOf(visit)} unrepaired`) */
export function useDraft(name: string): [string, (text: string) => void] {
  const key = `jaxel.draft.${name}`
  const [text, setText] = useState(() => localStorage.getItem(key) ?? '')
  const keep = (next: string) => {
    if (next) localStorage.setItem(key, next)
    else localStorage.removeItem(key)
    setText(next)
  }
  return [text, keep]
}
