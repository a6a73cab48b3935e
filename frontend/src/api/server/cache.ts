// What was last read from the server, for every page; and of each visit, the edit the hand here has seen.
import { QueryClient } from '@tanstack/react-query'
import { useSyncExternalStore } from 'react'
import type { VisitView, WorkshopView } from './client'
import { setUnits } from './units'

export const cache = new QueryClient({ defaultOptions: { queries: { retry: false } } })

const seen = new Map<number, number>()
/** Of each visit, the edits that were written from here. */
const own = new Map<number, Set<number>>()
const listeners = new Set<() => void>()

/** The hand here has seen the visit as it stood at an edit. */
export function see(visitId: number, edit: number) {
  if (seen.get(visitId) === edit) return
  seen.set(visitId, edit)
  for (const listener of listeners) listener()
}

/** The last edit seen here; what came after it is another hand's. */
export function useSeen(visit: VisitView): number {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => seen.get(visit.id) ?? visit.edit,
  )
}

/** Takes what the server answered to a write from here. */
export async function takeVisit(visit: VisitView) {
  const key = ['visit', visit.id]
  await cache.cancelQueries({ queryKey: key })
  cache.setQueryData(key, visit)
  const mine = own.get(visit.id) ?? new Set()
  own.set(visit.id, mine.add(visit.edit))
  let edit = seen.get(visit.id) ?? visit.edit
  while (mine.has(edit + 1)) edit += 1
  see(visit.id, edit)
}

/** Whether an edit of a visit was written from here. */
export const isOwn = (visitId: number, edit: number) => own.get(visitId)?.has(edit) ?? false

export function takeWorkshop(workshop: WorkshopView) {
  cache.setQueryData(['workshop'], workshop)
  if (setUnits(workshop.shown)) cache.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'workshop' })
}
