// A visit: its stations in the order of the work, the strip that never leaves, and the station in hand.
import { useMemo } from 'react'
import { Link, useParams } from 'react-router'
import type { Station, VisitView } from '../api/server/client'
import { DeskProvider, useVisit } from '../api/visit/desk'
import { Arrival, WAITING } from '../parts/Arrival'
import { Bar } from '../parts/bar/Bar'
import { Keys, type OwnKey } from '../parts/bar/Keys'
import { Notices } from '../parts/bar/Notices'
import { ReadoutStrip } from '../parts/bar/ReadoutStrip'
import { StationRow } from '../parts/bar/StationRow'
import { UndoButton, useUndo } from '../parts/bar/Undo'
import { StationCaution } from '../parts/Caution'
import { focusOn } from '../parts/field/reading'
import { STATION_NAMES, told } from '../parts/format'
import { BeltStation } from '../subjects/belt/Belt'
import { Drawer, DrawerButton } from '../subjects/instruments/Drawer'
import { LineUp } from '../subjects/line_up/LineUp'
import { Rebuild } from '../subjects/rebuild/Rebuild'
import { RoadTest } from '../subjects/run/RoadTest'
import { SetUp } from '../subjects/setup/SetUp'
import { Strip } from '../subjects/strip/Strip'
import { HandOver } from '../subjects/visit/HandOver'
import { Intake } from '../subjects/visit/Intake'

const BENCHES: Record<Station, () => React.ReactNode> = {
  intake: Intake,
  belt: BeltStation,
  strip: Strip,
  'set-up': SetUp,
  rebuild: Rebuild,
  'line-up': LineUp,
  'road-test': RoadTest,
  'hand-over': HandOver,
}

const FAULT_KEY = [{ key: 'f', what: 'a fault found', act: () => focusOn('[data-new-fault]') }]

/** The answers of the set-up bench by their places. */
const ANSWER_KEYS = [1, 2, 3].map((place) => ({
  key: String(place),
  what: `answer ${place} on the tray`,
  act: () => document.querySelector<HTMLElement>(`[data-answer="${place}"]`)?.click(),
}))

const SHELF_KEYS = [
  {
    key: 'p',
    what: 'parts of the shelf',
    act: () => document.querySelector<HTMLElement>('[data-shelf]')?.click(),
  },
  { key: '↑ ↓', what: 'in a slot: one step up or down', act: () => undefined },
]

const OWN_KEYS: Partial<Record<Station, readonly OwnKey[]>> = {
  intake: FAULT_KEY,
  'set-up': [...ANSWER_KEYS, ...SHELF_KEYS],
}

export function VisitPlace() {
  const { visitId, station } = useParams()
  const query = useVisit(Number(visitId))
  const visit = query.data
  const desk = useMemo(() => visit && { visit, closed: visit.signed_off_at != null }, [visit])
  if (!visit || !desk)
    return (
      <>
        <Bar />
        <main id="work" className="p-8 text-lg">
          <Arrival title="Visit" />
          {query.error ? `Cannot open this visit: ${query.error.message}.` : 'Opening the visit…'}
        </main>
      </>
    )
  const here = (station && station in BENCHES ? station : 'intake') as Station
  return (
    <DeskProvider value={desk}>
      <AtStation visit={visit} here={here} />
    </DeskProvider>
  )
}

function AtStation({ visit, here }: { visit: VisitView; here: Station }) {
  const Bench = BENCHES[here]
  const undo = useUndo(visit)
  const bench = here === 'set-up'
  const head = [visit.machine.rider, visit.intake.odometer_km != null && told(visit.intake.odometer_km, 'km')]
  return (
    <div
      className={`flex min-h-dvh flex-col ${bench ? 'one-view' : here === 'strip' || here === 'rebuild' ? 'one-view-wide' : ''}`}
    >
      <Bar
        tools={
          <>
            <DrawerButton />
            <UndoButton visit={visit} undo={undo} />
            <Keys visit={visit} undo={undo} own={OWN_KEYS[here]} />
          </>
        }
      >
        <Link
          to={`/machines/${visit.machine.id}`}
          className="inline-flex min-h-11 min-w-0 items-center text-on-bar underline decoration-bar-line underline-offset-4 hover:decoration-current"
        >
          {visit.machine.name}
        </Link>
        <span className="max-sm:hidden">{head.filter(Boolean).map((each) => ` · ${each}`)}</span>
      </Bar>
      <StationRow visit={visit} here={here} />
      <main
        id="work"
        tabIndex={-1}
        className={`relative flex w-full min-h-0 flex-1 flex-col outline-none ${bench ? '' : 'px-5 py-3'}`}
        key={here}
      >
        <Arrival title={`${STATION_NAMES[here]} · ${visit.machine.name}`} first={WAITING} />
        {!bench && (
          <div className="mb-3 print:hidden">
            <StationCaution visit={visit} station={here} />
          </div>
        )}
        <Bench />
      </main>
      <ReadoutStrip visit={visit} />
      <Drawer visit={visit} />
      <Notices undo={undo} />
    </div>
  )
}
