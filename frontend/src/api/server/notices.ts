// A word about what just happened, said once: shown for a while and read aloud.
import { useSyncExternalStore } from 'react'

export interface Notice {
  id: number
  text: string
  /** Whether the last change may be taken back from here. */
  undo: boolean
}

const LASTS_MS = 12_000
let notice: Notice | null = null
let count = 0
let timer = 0
const listeners = new Set<() => void>()

function set(next: Notice | null) {
  notice = next
  for (const listener of listeners) listener()
}

export function say(text: string, { undo = false } = {}) {
  count += 1
  set({ id: count, text, undo })
  window.clearTimeout(timer)
  timer = window.setTimeout(() => set(null), LASTS_MS)
}

export function hush() {
  set(null)
}

export function useNotice(): Notice | null {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => notice,
  )
}
