// One thing a hand asks for: done once at a time, its refusal in words.
import { useState } from 'react'

export interface Action {
  run: () => Promise<void>
  busy: boolean
  /** Why the last time did nothing; empty where it did. */
  refused: string
}

/** `act` answers with why it did nothing, empty where it did. */
export function useAction(act: () => Promise<string>): Action {
  const [busy, setBusy] = useState(false)
  const [refused, setRefused] = useState('')
  const run = async () => {
    if (busy) return
    setBusy(true)
    try {
      setRefused(await act())
    } catch {
      setRefused('Not done: no connection to the server.')
    } finally {
      setBusy(false)
    }
  }
  return { run, busy, refused }
}
