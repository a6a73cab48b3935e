// One thing a hand asks for: done once at a time, its refusal in words.
import { useRef, useState } from 'react'

export interface Action {
  run: () => Promise<void>
  busy: boolean
  /** Why the last time did nothing; empty where it did. */
  refused: string
  /** Whether it is kept for a server that is away. */
  waits?: boolean
}

/** A bounced finger presses twice: another press so soon after an act's end is the same one. */
export const BOUNCE_MS = 500

/**
 * `act` answers with why it did nothing, empty where it did.
 * @example const open = useAction(async () => { await openVisit(); return 'Opened.' })
 */
export function useAction(act: () => Promise<string>): Action {
  const [busy, setBusy] = useState(false)
  const [refused, setRefused] = useState('')
  const under = useRef(false)
  const run = async () => {
    if (under.current) return
    under.current = true
    setBusy(true)
    try {
      setRefused(await act())
    } catch {
      setRefused('Not done: no connection to the server.')
    } finally {
      setBusy(false)
      window.setTimeout(() => {
        under.current = false
      }, BOUNCE_MS)
    }
  }
  return { run, busy, refused }
}
