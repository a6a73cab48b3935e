// Who is at this browser: chosen without a password, named in every write.
import { useSyncExternalStore } from 'react'
import { cache } from './cache'
import { api } from './client'

const KEPT = 'jaxel.hand'
export const BENCH = 'bench'

const listeners = new Set<() => void>()

export function hand(): string {
  return localStorage.getItem(KEPT) || BENCH
}

const leaving = new Set<() => void>()

/** What is to be forgotten when another hand comes to this browser. */
export const whenHandsChange = (forget: () => void) => leaving.add(forget)

export function setHand(name: string) {
  localStorage.setItem(KEPT, name)
  // What the one before saw goes with it; and this one may read in other units.
  for (const forget of leaving) forget()
  cache.invalidateQueries()
  for (const listener of listeners) listener()
}

/** @example const here = useHand() // 'bench' until somebody said who it is */
export function useHand(): string {
  return useSyncExternalStore((listener) => {
    listeners.add(listener)
    window.addEventListener('storage', listener)
    return () => {
      listeners.delete(listener)
      window.removeEventListener('storage', listener)
    }
  }, hand)
}

api.use({
  onRequest({ request }) {
    request.headers.set('Jaxel-Hand', encodeURIComponent(hand()))
    // Times in words are told in the zone they are read in.
    request.headers.set('Jaxel-Zone', Intl.DateTimeFormat().resolvedOptions().timeZone)
  },
})
