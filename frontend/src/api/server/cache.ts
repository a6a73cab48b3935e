// What was last read from the server, for every page; and of each visit, the edit the hand here has seen.
import { QueryClient } from '@tanstack/react-query'
import { useSyncExternalStore } from 'react'
import type { VisitView } from './client'

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

/** Takes what the server answered to a write from here by a hand, '' for one without a name. */
export async function takeVisit(visit: VisitView, by: string) {
  const key = ['visit', visit.id]
  await cache.cancelQueries({ queryKey: key })
  cache.setQueryData(key, visit)
  // The write just answered is the edit that follows the last one seen, or one that the log says this hand made: a
  // write that changed nothing is answered with another's.
  const mine = own.get(visit.id) ?? new Set()
  let edit = seen.get(visit.id) ?? visit.edit
  const last = visit.last_change
  const logged = by !== '' && last?.edit === visit.edit && last.by === by
  if (visit.edit === edit + 1 || logged) mine.add(visit.edit)
  own.set(visit.id, mine)
  while (mine.has(edit + 1)) edit += 1
  see(visit.id, edit)
}

/** Whether an edit of a visit was written from here. */
export const isOwn = (visitId: number, edit: number) => own.get(visitId)?.has(edit) ?? false
