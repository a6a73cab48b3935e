// Whether the drawer of instruments is open, and which bench this browser stands at.
import { useSyncExternalStore } from 'react'

const BENCH = 'jaxel.bench'
const listeners = new Set<() => void>()
let open = false

function tell() {
  for (const listener of listeners) listener()
}

const follow = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

export function setDrawer(now: boolean) {
  open = now
  if (now) document.documentElement.dataset.drawer = 'open'
  else delete document.documentElement.dataset.drawer
  tell()
}

export const useDrawer = () => useSyncExternalStore(follow, () => open)

/** The bench whose devices this browser hears, 0 for none. */
export const bench = () => Number(localStorage.getItem(BENCH) ?? 0)

export function setBench(id: number) {
  if (id) localStorage.setItem(BENCH, String(id))
  else localStorage.removeItem(BENCH)
  tell()
}

export const useBench = () => useSyncExternalStore(follow, bench)
