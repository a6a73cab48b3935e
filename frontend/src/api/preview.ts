// What a set-up would do while its numbers are still being typed: asked for at once, how sure it is a moment later, shown
// until they are saved.
import { useSyncExternalStore } from 'react'
import { cache } from './cache'
import { api, type PredictionFigures, type VisitView } from './client'
import { subjectOf } from './desk'
import { onItsWay, underWay, useEntries } from './outbox'

/** Keys in quick succession ask once. */
const PAUSE_MS = 12

interface Preview {
  visitId: number
  /** The saved figures it stands in for. */
  instead: string
  figures: PredictionFigures
}

let shown: Preview | null = null
let timer = 0
let asking: AbortController | null = null
const listeners = new Set<() => void>()

export const slotPlace = (which: string, key: string) => `slot.${which}.${key}`
const TRIED = `set-up ${slotPlace('left', '')}`

/** Asks what the numbers of a visit's slots that are on their way would do, in place of its saved figures. */
export function preview(visit: VisitView, instead: string) {
  window.clearTimeout(timer)
  timer = window.setTimeout(() => look(visit, instead), PAUSE_MS)
}

async function look(visit: VisitView, instead: string) {
  const tried = underWay(subjectOf(visit)).filter(({ place }) => place.startsWith(TRIED))
  const changes = tried.flatMap((entry) => Object.entries(entry.changes))
  asking?.abort()
  if (changes.length === 0) return
  asking = new AbortController()
  const { signal } = asking
  const numbers = Object.fromEntries(changes.map(([key, { now }]) => [key, now as string | number]))
  for (const banded of [false, true]) {
    try {
      const { data } = await api.POST('/api/visits/{visit_id}/setup/preview', {
        params: { path: { visit_id: visit.id } },
        body: { numbers, banded, fills: [], whole: false },
        signal,
      })
      const { figures, prediction, picture } = data ?? {}
      if (!figures) return
      cache.setQueryData(['prediction', figures.key], prediction)
      cache.setQueryData(['picture', figures.key], picture)
      shown = { visitId: visit.id, instead, figures }
      for (const listener of listeners) listener()
    } catch {
      return // Typed on, or the server is away: the field itself says so.
    }
  }
}

/** The visit with what is being typed in its slots, while that is not saved. */
export function usePreviewed(visit: VisitView | undefined): VisitView | undefined {
  const entries = useEntries()
  const now = useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => shown,
  )
  if (!visit || !now || now.visitId !== visit.id || now.instead !== visit.left?.key) return visit
  const typing = [...entries.values()].some((entry) => entry.place.startsWith(TRIED) && onItsWay(entry))
  return typing ? { ...visit, left: now.figures } : visit
}
