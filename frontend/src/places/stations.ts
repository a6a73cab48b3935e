// The benches of a visit, each fetched when a hand goes there, or once the page in hand stands.
import type { Station } from '../api/server/client'
import { type Fetch, fetched } from '../parts/fetched'

const runs = () => import('../subjects/run/RoadTest')
const setUp = () => import('../subjects/setup/SetUp')

const FETCH: Record<Station, Fetch> = {
  intake: () => import('../subjects/visit/Intake').then(({ Intake }) => ({ default: Intake })),
  belt: () => import('../subjects/belt/Belt').then(({ BeltStation }) => ({ default: BeltStation })),
  strip: () => import('../subjects/strip/Strip').then(({ Strip }) => ({ default: Strip })),
  'set-up': () => setUp().then(({ SetUp }) => ({ default: SetUp })),
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

/** Every bench, and what is behind some: what a log is read with, the views of a set-up, the instruments. */
export const STATIONS: readonly (() => Promise<unknown>)[] = [
  ...Object.values(FETCH),
  () => runs().then(({ fetchTraces }) => fetchTraces()),
  () => setUp().then(({ fetchViews }) => fetchViews()),
  () => import('../subjects/instruments/Drawer').then(({ fetchStandIns }) => fetchStandIns()),
]
