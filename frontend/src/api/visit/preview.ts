// What a set-up would do while its numbers are still being typed: asked for at once, how sure it is a moment later, shown
// until they are saved.
import { useMemo, useSyncExternalStore } from 'react'
import { type Entry, onItsWay } from '../outbox/entry'
import { underWay, useSome } from '../outbox/outbox'
import { cache } from '../server/cache'
import { api, type PredictionFigures, type VisitView } from '../server/client'
import { subjectOf } from './desk'

/** How sure it is, and the picture, cost more: they are asked for when the keys have come to rest. */
const REST_MS = 60

const rest = (signal: AbortSignal) =>
  new Promise<void>((done, fail) => {
    window.setTimeout(done, REST_MS)
    signal.addEventListener('abort', () => fail(signal.reason))
  })

interface Preview {
  visitId: number
  /** The saved figures it stands in for. */
  instead: string
  figures: PredictionFigures
  lies: VisitView['lies']
}

let shown: Preview | null = null
let asking: AbortController | null = null
/** What is typed while an answer is on its way is asked for when that has come: one at a time, the last one always. */
let busy = false
let waiting: (() => void) | null = null
const listeners = new Set<() => void>()

export const slotPlace = (which: string, key: string) => `slot.${which}.${key}`
const TRIED = `set-up ${slotPlace('left', '')}`

/** Asks what the numbers of a visit's slots that are on their way would do, in place of its saved figures. */
export function preview(visit: VisitView, instead: string) {
  asking?.abort()
  // What was typed is on its way once this event is over.
  window.queueMicrotask(() => look(visit, instead))
}

async function look(visit: VisitView, instead: string) {
  if (busy) {
    waiting = () => look(visit, instead)
    return
  }
  busy = true
  await ask(visit, instead, false)
  busy = false
  const next = waiting
  waiting = null
  if (next) {
    next()
    return
  }
  asking = new AbortController()
  try {
    await rest(asking.signal)
    await ask(visit, instead, true, asking.signal)
  } catch {
    // Typed on: the next answer says how sure it is.
  }
}

async function ask(visit: VisitView, instead: string, banded: boolean, signal?: AbortSignal) {
  const tried = underWay(subjectOf(visit)).filter(({ place }) => place.startsWith(TRIED))
  const changes = tried.flatMap((entry) => Object.entries(entry.changes))
  if (changes.length === 0) return
  const numbers = Object.fromEntries(changes.map(([key, { now }]) => [key, now as string | number]))
  try {
    const { data } = await api.POST('/api/visits/{visit_id}/setup/preview', {
      params: { path: { visit_id: visit.id } },
      body: { numbers, banded, fills: [], whole: false },
      signal,
    })
    const { figures, lies, prediction, picture } = data ?? {}
    if (!figures || !lies || signal?.aborted) return
    cache.setQueryData(['prediction', figures.key], prediction)
    if (picture) cache.setQueryData(['picture', figures.key], picture)
    shown = { visitId: visit.id, instead, figures, lies }
    for (const listener of listeners) listener()
  } catch {
    // The server is away: the field itself says so.
  }
}

const onTheTray = (entry: Entry) => entry.place.startsWith(TRIED) && onItsWay(entry)

/** The visit with what is being typed in its slots, while that is not saved. */
export function usePreviewed(visit: VisitView): VisitView {
  const typing = useSome(onTheTray)
  const now = useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => shown,
  )
  return useMemo(
    () =>
      typing && now?.visitId === visit.id && now.instead === visit.left?.key
        ? { ...visit, left: now.figures, lies: now.lies }
        : visit,
    [visit, typing, now],
  )
}
