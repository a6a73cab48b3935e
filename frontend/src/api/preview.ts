// What a set-up would do while its numbers are still being typed: asked for at once, shown until they are saved.
import { useSyncExternalStore } from 'react'
import { cache } from './cache'
import { api, type PredictionFigures, type VisitView } from './client'
import { useEntries } from './outbox'

/** Keys in quick succession ask once. */
const PAUSE_MS = 30

interface Preview {
  visitId: number
  /** The saved figures it stands in for. */
  instead: string
  figures: PredictionFigures
}

let shown: Preview | null = null
let typed: { visitId: number; instead: string; numbers: Record<string, string> } | null = null
let timer = 0
let asking: AbortController | null = null
const listeners = new Set<() => void>()

export const slotPlace = (which: string, key: string) => `slot.${which}.${key}`

export function preview(visitId: number, instead: string, key: string, text: string) {
  const same = typed?.visitId === visitId && typed.instead === instead
  typed = { visitId, instead, numbers: { ...(same ? typed?.numbers : {}), [key]: text } }
  window.clearTimeout(timer)
  timer = window.setTimeout(look, PAUSE_MS)
}

async function look() {
  if (!typed) return
  asking?.abort()
  asking = new AbortController()
  const { visitId, instead, numbers } = typed
  try {
    const answer = await api.POST('/api/visits/{visit_id}/setup/preview', {
      params: { path: { visit_id: visitId } },
      body: { numbers },
      signal: asking.signal,
    })
    const { figures, prediction } = answer.data ?? {}
    if (!figures) return
    cache.setQueryData(['prediction', figures.key], prediction)
    shown = { visitId, instead, figures }
    for (const listener of listeners) listener()
  } catch {
    // Typed on, or the server is away: the field itself says so.
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
  const typing = [...entries.values()].some(({ place }) => place.includes(slotPlace('left', '')))
  return typing ? { ...visit, left: now.figures } : visit
}
