// What the set-up bench asks of the server beside the visit: pictures, the shelf, answers, shares, calibration.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useSyncExternalStore } from 'react'
import { cache } from '../server/cache'
import {
  type AnswerView,
  api,
  type ClutchPicture,
  must,
  type PredictionFigures,
  type VisitView,
} from '../server/client'
import { useDesk } from './desk'

const still = { staleTime: Number.POSITIVE_INFINITY, placeholderData: <T>(last: T) => last }

/** Both clutches as found and as left; while a slot is typed in, as left with what is typed. */
export function usePictures(visit: VisitView): { found?: ClutchPicture | null; left?: ClutchPicture | null } {
  const saved = useDesk().visit.left
  const path = { visit_id: visit.id }
  const stand = useQuery({
    queryKey: ['pictures', visit.id, visit.found?.key, saved?.key],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/setup/picture', { params: { path } })),
    ...still,
  }).data
  const typing = useQuery<ClutchPicture | null>({
    queryKey: ['picture', visit.left?.key],
    queryFn: () => null,
    enabled: false,
  }).data
  const [found, left] = [stand?.found, typing ?? stand?.left]
  return useMemo(() => ({ found, left }), [found, left])
}

/** The shelf for this visit: what could go in each slot, and why it cannot. */
export function useShelf(visit: VisitView) {
  const path = { visit_id: visit.id }
  return useQuery({
    queryKey: ['shelf', visit.id, visit.edit],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/setup/shelf', { params: { path } })),
    ...still,
    staleTime: 10_000,
  }).data
}

/** What each of several changes on the tray does of the whole. */
export function useShares(visit: VisitView) {
  const path = { visit_id: visit.id }
  const tried = Object.keys(visit.setup.draft).length > 1
  const { data } = useQuery({
    queryKey: ['shares', visit.id, visit.left?.key, visit.left_revision_id],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/setup/shares', { params: { path } })),
    enabled: tried,
    ...still,
  })
  return tried ? data?.shares : undefined
}

/** How often a search under way is looked at. */
const LOOK_MS = 250

/** A search over the shelf, `measured` on every run so far: begun anew whenever what it looks at may have changed; the same question is one search. */
export function useSearch(visit: VisitView, may: string[] | undefined, measured = false) {
  const path = { visit_id: visit.id }
  const begun = useQuery({
    queryKey: ['plan', visit.id, visit.edit, may, measured],
    queryFn: () => must(api.POST('/api/visits/{visit_id}/setup/plan', { params: { path }, body: { may, measured } })),
    placeholderData: (last) => last,
    staleTime: 30_000,
    refetchOnWindowFocus: false,
    retry: false,
  })
  const search = begun.data?.search ?? ''
  const looked = useQuery({
    queryKey: ['search', visit.id, search],
    queryFn: () =>
      must(api.GET('/api/visits/{visit_id}/setup/plan/{search}', { params: { path: { ...path, search } } })),
    enabled: begun.data?.state === 'searching',
    refetchInterval: (query) => (query.state.data?.state === 'searching' || !query.state.data ? LOOK_MS : false),
    retry: false,
  })
  const view = looked.data && looked.data.search === search ? looked.data : begun.data
  const cancel = async () => {
    const answer = await api.POST('/api/visits/{visit_id}/setup/plan/{search}/cancel', {
      params: { path: { ...path, search } },
      body: {},
    })
    if (answer.data) cache.setQueryData(['search', visit.id, search], answer.data)
  }
  const again = () => {
    cache.removeQueries({ queryKey: ['search', visit.id, search] })
    begun.refetch()
  }
  return { view, cancel, again, error: begun.error }
}

/** What the visit's predictions stand on. */
export function useCalibration(visit: VisitView) {
  const path = { visit_id: visit.id }
  return useQuery({
    queryKey: ['calibration', visit.id, visit.calibration?.id, visit.left?.key],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/setup/calibration', { params: { path } })),
    ...still,
  }).data
}

interface Ghost {
  visitId: number
  figures: PredictionFigures
}

let ghost: Ghost | null = null
let asked = 0
const listeners = new Set<() => void>()

function show(next: Ghost | null) {
  ghost = next
  for (const listener of listeners) listener()
}

/** Shows what an answer would do behind what is on the bench, or nothing. */
export async function ghostOf(visit: VisitView, answer: AnswerView | null) {
  asked += 1
  const mine = asked
  if (!answer) {
    show(null)
    return
  }
  const { data } = await api.POST('/api/visits/{visit_id}/setup/preview', {
    params: { path: { visit_id: visit.id } },
    body: { fills: answer.fills, whole: true, banded: false, numbers: {} },
  })
  if (mine !== asked || !data?.figures) return
  cache.setQueryData(['prediction', data.figures.key], data.prediction)
  show({ visitId: visit.id, figures: data.figures })
}

/** The figures of the answer under the hand. */
export function useGhost(visit: VisitView): PredictionFigures | undefined {
  const now = useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => ghost,
  )
  useEffect(() => () => show(null), [])
  return now?.visitId === visit.id ? now.figures : undefined
}
