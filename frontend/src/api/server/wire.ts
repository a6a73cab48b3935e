// The line to the server: whether something has been on its way for longer than a hand waits without a word.
import { useSyncExternalStore } from 'react'

const SLOW_MS = 1500

let slow = 0
const listeners = new Set<() => void>()

function count(by: number) {
  slow += by
  for (const listener of listeners) listener()
}

/** `fetch`, watched. */
export async function watched(input: RequestInfo | URL, init?: RequestInit): Promise<Response> {
  let counted = false
  const timer = window.setTimeout(() => {
    counted = true
    count(1)
  }, SLOW_MS)
  try {
    return await fetch(input, init)
  } finally {
    window.clearTimeout(timer)
    if (counted) count(-1)
  }
}

/** Whether the server is being waited for. */
export function useSlow(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => slow > 0,
  )
}

const TOO_MANY = 429

/** Whether an answer says: not now. What is refused so waits and is sent again, as when the server is away. */
export const notNow = (status: number) => status >= 500 || status === TOO_MANY
