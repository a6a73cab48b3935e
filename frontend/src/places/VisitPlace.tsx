// A visit: its stations in the order of the work, the strip that never leaves, and the station in hand.
import { Suspense, useMemo } from 'react'
import { Link, useParams } from 'react-router'
import type { Station, VisitView } from '../api/server/client'
import { LOADED_AT } from '../api/server/lastPage'
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
import { moment, STATION_NAMES, told } from '../parts/format'
import { PhotoRow } from '../parts/photos/PhotoRow'
import { Drawer, DrawerButton } from '../subjects/instruments/Drawer'
import { station } from './stations'

/** Stations that are photographed as a whole; elsewhere it is the item or the step in hand. */
const PHOTOGRAPHED = new Set<Station>(['intake', 'belt', 'line-up', 'road-test', 'hand-over'])

const FAULT_KEY = [{ key: 'f', what: 'a fault found', act: () => focusOn('[data-new-fault]') }]

/** The answers of the set-up bench by their places. */
const ANSWER_KEYS = [1, 2, 3].map((place) => ({
  key: String(place),
  what: `answer ${place} on the tray`,
  act: () => document.querySelector<HTMLElement>(`[data-answer="${place}"]`)?.click(),
}))

/** To the slot behind the one in hand, the first behind the last. */
function nextSlot() {
  const slots = [
    ...document.querySelectorAll<HTMLElement>('main [aria-label="Slots"] fieldset:has(input:not(:disabled))'),
  ]
  const here = slots.findIndex((each) => each.contains(document.activeElement))
  slots[(here + 1) % slots.length]?.querySelector<HTMLElement>('input:not(:disabled)')?.focus()
}

const SHELF_KEYS = [
  {
    key: 'p',
    what: 'parts of the shelf',
    act: () => document.querySelector<HTMLElement>('[data-shelf]')?.click(),
  },
  { key: 'c', what: 'what may be changed: the first slot, then the next one', act: nextSlot },
  { key: '↑ ↓', what: 'in a slot: one step up or down' },
]

const OWN_KEYS: Partial<Record<Station, readonly OwnKey[]>> = {
  intake: FAULT_KEY,
  'set-up': [...ANSWER_KEYS, ...SHELF_KEYS],
}

export function VisitPlace() {
  const { visitId, station: at } = useParams()
  const query = useVisit(Number(visitId))
  const visit = query.data
  // A page taken up again while the server is away is read, not written: what it replaces may have changed since.
  const old = query.data !== undefined && query.dataUpdatedAt < LOADED_AT
  const desk = useMemo(() => visit && { visit, closed: visit.signed_off_at != null || old }, [visit, old])
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
  const here = (at && at in STATION_NAMES ? at : 'intake') as Station
  return (
    <DeskProvider value={desk}>
      <AtStation visit={visit} here={here} seenAt={old ? query.dataUpdatedAt : undefined} />
    </DeskProvider>
  )
}

interface AtStationProps {
  visit: VisitView
  here: Station
  /** When this page was last seen here, of one that can only be read. */
  seenAt?: number
}

function AtStation({ visit, here, seenAt }: AtStationProps) {
  const Bench = station(here)
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
        <span className="max-lg:hidden">{head.filter(Boolean).map((each) => ` · ${each}`)}</span>
      </Bar>
      <StationRow visit={visit} here={here} />
      <main
        id="work"
        tabIndex={-1}
        className={`relative flex w-full min-h-0 flex-1 flex-col outline-none ${bench ? '' : 'px-5 py-3'}`}
        key={here}
      >
        {seenAt && (
          <p role="status" data-old className="mb-2 border-l-4 border-watch bg-card px-3 py-2 text-sm">
            The server is away. This is the visit as last seen here, {moment(seenAt)}: to read, until the server is
            back.
          </p>
        )}
        {!bench && (
          <div className="mb-3 print:hidden">
            <StationCaution visit={visit} station={here} />
          </div>
        )}
        <Suspense fallback={<h1 className="text-quiet">{STATION_NAMES[here]}…</h1>}>
          <Arrival
            title={`${STATION_NAMES[here]} · ${visit.machine.name}`}
            first={here === 'hand-over' ? undefined : WAITING}
          />
          <Bench />
          {PHOTOGRAPHED.has(here) && (
            <section aria-label="Photos" className="mt-5 border-t border-line pt-2 print:hidden">
              <PhotoRow visit={visit} subject={here} words={STATION_NAMES[here].toLowerCase()} />
            </section>
          )}
        </Suspense>
      </main>
      <ReadoutStrip visit={visit} />
      <Drawer visit={visit} />
      <Notices undo={undo} />
    </div>
  )
}
