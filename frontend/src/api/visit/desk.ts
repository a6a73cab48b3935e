// One visit on the desk: read, kept fresh, and what its stations need to write to it.
import { useQuery } from '@tanstack/react-query'
import { createContext, useContext, useEffect, useState } from 'react'
import type { Action } from '../outbox/action'
import type { Entry, Target } from '../outbox/entry'
import { type Binding, type Saved, useAct, useSaved } from '../outbox/saved'
import { cache, see } from '../server/cache'
import { api, must, type Prediction, type PredictionFigures, type VisitView } from '../server/client'
import { say } from '../server/notices'

export interface Desk {
  /** The visit as it is saved. */
  visit: VisitView
  closed: boolean
}

const DeskContext = createContext<Desk | null>(null)
export const DeskProvider = DeskContext.Provider

/** @example const { visit, closed } = useDesk() */
export function useDesk(): Desk {
  const desk = useContext(DeskContext)
  if (!desk) throw new Error('useDesk outside a visit')
  return desk
}

/** How often another hand's changes are looked for. */
const LOOK_MS = 10_000

export function useVisit(visitId: number) {
  const query = useQuery({
    queryKey: ['visit', visitId],
    queryFn: ({ signal }) =>
      must(api.GET('/api/visits/{visit_id}', { params: { path: { visit_id: visitId } }, signal })),
    refetchInterval: LOOK_MS,
  })
  const { data } = query
  const opened = data !== undefined
  const edit = data?.edit
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the page opens on is seen; what comes later may be another hand's
  useEffect(() => {
    if (edit !== undefined) see(visitId, edit)
  }, [visitId, opened])
  return query
}

/** A prediction with its curves: it never changes under its key, so it is read once. */
export function usePrediction(figures: PredictionFigures | null | undefined): Prediction | undefined {
  const key = figures?.key ?? ''
  const shown = useQuery({
    queryKey: ['prediction', key],
    queryFn: () => must(api.GET('/api/predictions/{key}', { params: { path: { key } } })),
    // One that is only typed comes with its answer and is kept nowhere: there is nothing to ask for.
    enabled: /^[0-9a-f]/.test(key),
    placeholderData: (last) => last,
    staleTime: Number.POSITIVE_INFINITY,
  }).data
  return key === '' ? undefined : shown
}

/** The pull's figures come first: steps are asked for once a set-up has stood so long. */
const STEPS_AFTER_MS = 700

/** What one step of each slot does around the set-up on the bench. */
export function useSteps(visit: VisitView) {
  const key = visit.left?.key
  const [standing, setStanding] = useState(key)
  useEffect(() => {
    const timer = window.setTimeout(() => setStanding(key), STEPS_AFTER_MS)
    return () => window.clearTimeout(timer)
  }, [key])
  return useQuery({
    queryKey: ['steps', standing, visit.kinds.primary_kind, visit.kinds.secondary_kind],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/setup/steps', { params: { path: { visit_id: visit.id } } })),
    enabled: standing != null && standing === key,
    placeholderData: (last) => last,
    staleTime: Number.POSITIVE_INFINITY,
  }).data?.steps
}

/** A full pull on the simulated strip, as found and as left; `working` while its figures are those of before what is
 * being typed. */
export function useStrip(visit: VisitView) {
  const saved = useDesk().visit.left
  const query = useQuery({
    queryKey: ['strip', visit.id, visit.found?.key, saved?.key],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/setup/strip', { params: { path: { visit_id: visit.id } } })),
    enabled: saved != null,
    placeholderData: (last) => last,
    staleTime: Number.POSITIVE_INFINITY,
  })
  return { strip: query.data, working: query.isFetching || saved?.key !== visit.left?.key }
}

export const subjectOf = (visit: VisitView) => `visit ${visit.id} ${visit.opened_at}`

/** A target within the visit's addresses. */
export const within = (visit: VisitView, path: string, rest: Partial<Target> = {}): Target => ({
  method: 'PATCH',
  path: `/api/visits/${visit.id}${path}`,
  ...rest,
})

export interface VisitField
  extends Pick<Binding, 'place' | 'label' | 'field' | 'group'>,
    Partial<Pick<Binding, 'beside'>> {
  station: string
  /** Of the visit's addresses. */
  path: string
  around?: Target['around']
  under?: string
  only?: boolean
  method?: Target['method']
  read: (visit: VisitView) => unknown
  show?: (value: unknown) => string
  send?: (text: string) => unknown
}

/**
 * Binds a field or a choice to one place in the visit.
 * @example const complaint = useVisitField({ station: 'intake', path: '/intake', place: 'complaint', field: 'complaint', label: 'Complaint', read: (visit) => visit.intake.complaint })
 */
export function useVisitField({
  station,
  path,
  around,
  under,
  only,
  method = 'PATCH',
  read,
  show,
  send,
  ...rest
}: VisitField): Saved {
  const { visit, closed } = useDesk()
  return useSaved({
    ...rest,
    subject: subjectOf(visit),
    place: `${station} ${rest.place}`,
    href: `/visits/${visit.id}/${station}#${rest.place}`,
    target: within(visit, path, { method, around, under, only }),
    stored: read(visit),
    read: (data) => read(data as VisitView),
    show: show ?? ((value) => String(value ?? '')),
    send,
    closed,
  })
}

export interface VisitAct {
  place: string
  label: string
  station: string
  path: string
  method?: Target['method']
  /** From the visit as it stands once what was typed has been saved. */
  body: (visit: VisitView) => Record<string, unknown>
  held?: boolean
  repeats?: boolean
  drops?: (entry: Entry) => boolean
  /** What is said when it is done; it can be undone from there. */
  said?: string
}

/**
 * A button that acts on the visit, with what is shown when it is pressed.
 * @example const owed = useVisitAct({ place: 'bolt owed', label: 'Bolt: torque owed', station: 'rebuild', path: '/rebuild/…', body: () => ({}) })
 */
export function useVisitAct(
  { place, label, station, path, method = 'POST', body, held, repeats, drops, said }: VisitAct,
  done?: () => void,
  refusedWith?: Parameters<typeof useAct>[2],
): Action {
  const { visit } = useDesk()
  return useAct(
    {
      subject: subjectOf(visit),
      place: `${station} ${place}`,
      label,
      href: `/visits/${visit.id}/${station}#${place}`,
      target: () => {
        const now = cache.getQueryData<VisitView>(['visit', visit.id]) ?? visit
        return within(visit, path, { method, around: body(now) })
      },
      held,
      repeats,
      drops,
    },
    () => {
      if (said) say(said, { undo: true })
      done?.()
    },
    refusedWith,
  )
}
