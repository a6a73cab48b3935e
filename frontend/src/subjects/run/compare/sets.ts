// Two sets of runs, as the address names them and as the server sets them beside each other.
import { useQuery } from '@tanstack/react-query'
import { api, must, type RunToChoose, type VisitView } from '../../../api/server/client'
import { day } from '../../../parts/format'

export interface Sets {
  a: number[]
  b: number[]
}

/** Sets from an address, `1,2~3`; null where it names none. */
export function readSets(text: string | null): Sets | null {
  if (text == null) return null
  const [a = [], b = []] = text.split('~').map((some) =>
    some
      .split(',')
      .map(Number)
      .filter((each) => each > 0),
  )
  return { a, b }
}

export const writeSets = ({ a, b }: Sets) => `${a.join(',')}~${b.join(',')}`

/** Where a comparison starts: the runs of the last set-up beside those of the one ridden before it; of one set-up alone
 * its last run beside the rest. */
export function firstSets(visit: VisitView): Sets {
  const ridden = visit.runs.filter((run) => run.comparison.length > 0 || run.log?.counts)
  const last = ridden.at(-1)
  if (!last) return { a: [], b: [] }
  const b = ridden.filter((run) => run.revision_id === last.revision_id)
  const before = ridden.filter((run) => run.revision_id !== last.revision_id).at(-1)
  if (!before) return { a: b.slice(0, -1).map((run) => run.id), b: [last.id] }
  return {
    a: ridden.filter((run) => run.revision_id === before.revision_id).map((run) => run.id),
    b: b.map((run) => run.id),
  }
}

export function useRunsToChoose(visit: VisitView): RunToChoose[] | undefined {
  return useQuery({
    queryKey: ['compare', visit.id, visit.edit, 'runs'],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/compare/runs', { params: { path: { visit_id: visit.id } } })),
    placeholderData: (last) => last,
  }).data?.runs
}

export function useCompared(visit: VisitView, { a, b }: Sets, along: 'time' | 'speed' | 'distance') {
  return useQuery({
    queryKey: ['compare', visit.id, visit.edit, a, b, along],
    queryFn: () =>
      must(
        api.GET('/api/visits/{visit_id}/compare', {
          params: { path: { visit_id: visit.id }, query: { a: a.join(','), b: b.join(','), along } },
        }),
      ),
    enabled: a.length > 0 && b.length > 0,
    placeholderData: (last) => last,
    retry: false,
  })
}

/** What a run is called: by its number here, by its day elsewhere. */
export const nameOf = (run: RunToChoose, visitId: number) =>
  run.visit_id === visitId ? `run ${run.number}` : `run ${run.number} of ${day(run.day)}`

export function namesOf(runs: RunToChoose[] | undefined, ids: number[], visitId: number): string {
  const known = ids.flatMap((id) => runs?.filter((each) => each.run_id === id) ?? [])
  const numbers = known.map((each) => nameOf(each, visitId)).join(', ')
  const reason = known[0]?.reason
  return reason ? `${numbers} · ${reason}` : numbers
}
