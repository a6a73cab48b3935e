// The benches of a visit, each fetched when a hand goes there, or once the page in hand stands.
import type { Station } from '../api/server/client'
import { type Fetch, fetched } from './fetched'

const runs = () => import('../subjects/run/RoadTest')

const FETCH: Record<Station, Fetch> = {
  intake: () => import('../subjects/visit/Intake').then(({ Intake }) => ({ default: Intake })),
  belt: () => import('../subjects/belt/Belt').then(({ BeltStation }) => ({ default: BeltStation })),
  strip: () => import('../subjects/strip/Strip').then(({ Strip }) => ({ default: Strip })),
  'set-up': () => import('../subjects/setup/SetUp').then(({ SetUp }) => ({ default: SetUp })),
  rebuild: () => import('../subjects/rebuild/Rebuild').then(({ Rebuild }) => ({ default: Rebuild })),
  'line-up': () => import('../subjects/line_up/LineUp').then(({ LineUp }) => ({ default: LineUp })),
  'road-test': () => runs().then(({ RoadTest }) => ({ default: RoadTest })),
  'hand-over': () => import('../subjects/visit/HandOver').then(({ HandOver }) => ({ default: HandOver })),
}

const BENCHES = Object.fromEntries(Object.entries(FETCH).map(([key, fetch]) => [key, fetched(fetch)])) as Record<
  Station,
  ReturnType<typeof fetched>
>

export const station = (here: Station) => BENCHES[here]

/** Every bench, and what a log is read with. */
export const STATIONS: readonly Fetch[] = [
  ...Object.values(FETCH),
  () => runs().then(({ fetchTraces, RoadTest }) => fetchTraces().then(() => ({ default: RoadTest }))),
]
