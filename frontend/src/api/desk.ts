// One visit on the desk: read, kept fresh, and written one change at a time.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, useCallback, useContext, useRef } from 'react'
import {
  type Answer,
  api,
  must,
  type Prediction,
  type PredictionFigures,
  type Refusal,
  refusalOf,
  type VisitView,
} from './client'

export type Send = (visitId: number, edit: number) => Promise<Answer<VisitView>>

export type Outcome =
  | { kind: 'saved'; visit: VisitView }
  | { kind: 'refused'; refusal: Refusal }
  | { kind: 'elsewhere'; theirs: unknown }
  | { kind: 'offline' }

/** What a change replaces: where it stands in a visit, and what stood there when the hand began. */
export interface Replaces {
  read: (visit: VisitView) => unknown
  was: unknown
}

export interface Desk {
  visit: VisitView
  closed: boolean
  write: (send: Send, replaces?: Replaces) => Promise<Outcome>
}

const DeskContext = createContext<Desk | null>(null)
export const DeskProvider = DeskContext.Provider

export function useDesk(): Desk {
  const desk = useContext(DeskContext)
  if (!desk) throw new Error('useDesk outside a visit')
  return desk
}

/** A prediction with its curves: it never changes under its key, so it is read once. */
export function usePrediction(figures: PredictionFigures | null | undefined): Prediction | undefined {
  const key = figures?.key ?? ''
  const shown = useQuery({
    queryKey: ['prediction', key],
    queryFn: () => must(api.GET('/api/predictions/{key}', { params: { path: { key } } })),
    enabled: key !== '',
    placeholderData: (last) => last,
    staleTime: Number.POSITIVE_INFINITY,
  }).data
  return key === '' ? undefined : shown
}

/** What one step of each slot does around the set-up on the bench. */
export function useSteps(visit: VisitView) {
  return useQuery({
    queryKey: ['steps', visit.id, visit.edit],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/setup/steps', { params: { path: { visit_id: visit.id } } })),
    enabled: visit.left != null,
    placeholderData: (last) => last,
    staleTime: Number.POSITIVE_INFINITY,
  }).data?.steps
}

/** A full pull on the simulated strip, as found and as left. */
export function useStrip(visit: VisitView) {
  return useQuery({
    queryKey: ['strip', visit.id, visit.edit],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/setup/strip', { params: { path: { visit_id: visit.id } } })),
    enabled: visit.left != null && visit.found != null,
    placeholderData: (last) => last,
    staleTime: Number.POSITIVE_INFINITY,
  }).data
}

export function useVisit(visitId: number) {
  const client = useQueryClient()
  const key = ['visit', visitId]
  const read = () => must(api.GET('/api/visits/{visit_id}', { params: { path: { visit_id: visitId } } }))
  const query = useQuery({ queryKey: key, queryFn: read, refetchInterval: 20_000 })
  const queue = useRef<Promise<unknown>>(Promise.resolve())

  // Each write names the edit it was based on. After one made elsewhere the same write is tried again, unless it
  // would overwrite what the other hand put in the same field: then the field shows both.
  const attempt = async (send: Send, replaces?: Replaces): Promise<Outcome> => {
    try {
      const taken = (visit: VisitView) =>
        replaces !== undefined && JSON.stringify(replaces.read(visit)) !== JSON.stringify(replaces.was)
      let known = client.getQueryData<VisitView>(key) ?? (await read())
      for (let tries = 0; tries < 4; tries++) {
        if (taken(known)) return { kind: 'elsewhere', theirs: replaces?.read(known) }
        const answer = await send(visitId, known.edit)
        if (answer.data !== undefined) {
          await client.cancelQueries({ queryKey: key })
          client.setQueryData(key, answer.data)
          return { kind: 'saved', visit: answer.data }
        }
        const refusal = refusalOf(answer)
        if (answer.response.status !== 409 || refusal.field !== 'edit') return { kind: 'refused', refusal }
        known = await read()
        client.setQueryData(key, known)
        if (known.signed_off_at) return { kind: 'refused', refusal }
      }
      return { kind: 'offline' }
    } catch {
      return { kind: 'offline' }
    }
  }
  const latest = useRef(attempt)
  latest.current = attempt

  const write = useCallback((send: Send, replaces?: Replaces): Promise<Outcome> => {
    const turn = queue.current.then(() => latest.current(send, replaces))
    queue.current = turn
    return turn
  }, [])
  return { query, write }
}
