// One visit on the desk: read, kept fresh, and written one change at a time.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, useCallback, useContext, useRef, useState } from 'react'
import { type Action, useAction } from './action'
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

/** One write of a visit: what it says it replaces is what the page shows when its turn comes, `shown`. */
export type Send = (visitId: number, shown: VisitView) => Promise<Answer<VisitView>>

export type Outcome =
  | { kind: 'saved'; visit: VisitView }
  | { kind: 'refused'; refusal: Refusal }
  | { kind: 'elsewhere'; theirs: unknown }
  | { kind: 'offline' }

export interface Desk {
  visit: VisitView
  closed: boolean
  write: (send: Send) => Promise<Outcome>
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
    queryKey: ['steps', visit.left?.key, visit.kinds.primary_kind, visit.kinds.secondary_kind],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/setup/steps', { params: { path: { visit_id: visit.id } } })),
    enabled: visit.left != null,
    placeholderData: (last) => last,
    staleTime: Number.POSITIVE_INFINITY,
  }).data?.steps
}

/** A full pull on the simulated strip, as found and as left. */
export function useStrip(visit: VisitView) {
  return useQuery({
    queryKey: ['strip', visit.found?.key, visit.left?.key],
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

  // The server compares what a write replaces; what another hand changed meanwhile is shown, never overwritten.
  const attempt = async (send: Send): Promise<Outcome> => {
    try {
      const answer = await send(visitId, client.getQueryData<VisitView>(key) ?? (await read()))
      if (answer.data !== undefined) {
        await client.cancelQueries({ queryKey: key })
        client.setQueryData(key, answer.data)
        return { kind: 'saved', visit: answer.data }
      }
      const refusal = refusalOf(answer)
      if (answer.response.status !== 409) return { kind: 'refused', refusal }
      await client.invalidateQueries({ queryKey: key })
      if (refusal.field === 'edit' || !('theirs' in refusal)) return { kind: 'refused', refusal }
      return { kind: 'elsewhere', theirs: refusal.theirs }
    } catch {
      return { kind: 'offline' }
    }
  }
  const latest = useRef(attempt)
  latest.current = attempt

  const write = useCallback((send: Send): Promise<Outcome> => {
    const turn = queue.current.then(() => latest.current(send))
    queue.current = turn
    return turn
  }, [])
  return { query, write }
}

/** A button's write. */
export function useWrite(send: Send): Action {
  const { write } = useDesk()
  return useAction(async () => refusedWords(await write(send)))
}

/** A choice's writes, one after the other, with why the last one did nothing. */
export function useChoose(): { choose: (send: Send) => Promise<void>; refused: string } {
  const { write } = useDesk()
  const [refused, setRefused] = useState('')
  return { choose: async (send) => setRefused(refusedWords(await write(send))), refused }
}

/** Why a choice or a button did nothing, in words for the page; nothing where it was saved. */
function refusedWords(outcome: Outcome): string {
  if (outcome.kind === 'refused') return outcome.refusal.reason
  if (outcome.kind === 'elsewhere') return 'Changed elsewhere meanwhile: look at it again.'
  return outcome.kind === 'offline' ? 'Not saved: no connection to the server.' : ''
}
