// The drawer of instruments: what can be read at the field that waits, and what has come in at this bench.
import { useQuery } from '@tanstack/react-query'
import { Ruler } from 'lucide-react'
import { Suspense, useEffect, useRef } from 'react'
import { Link } from 'react-router'
import { setBench, setDrawer, useBench, useDrawer } from '../../api/instruments/drawer'
import { readingWords, useWaiting, type Waits, waiting } from '../../api/instruments/waiting'
import { api, type DeviceView, must, type VisitView } from '../../api/server/client'
import { Button } from '../../parts/Button'
import { fetched } from '../../parts/fetched'
import { useHeard, useInstruments } from './heard'
import type { StandInsProps } from './StandIns'

/** Fetches the instruments: a server that goes away then leaves them in the drawer. */
export const fetchStandIns = () => import('./StandIns').then(({ StandIns }) => ({ default: StandIns }))

const StandIns = fetched<StandInsProps>(fetchStandIns)

/** Opens the drawer, from the bar. */
export function DrawerButton() {
  const open = useDrawer()
  return (
    <button
      type="button"
      aria-expanded={open}
      aria-label="Instruments"
      title="Instruments: Alt I"
      onClick={() => setDrawer(!open)}
      className={`flex min-h-11 min-w-11 items-center justify-center gap-2 rounded-md px-2 font-semibold ${
        open ? 'bg-signal text-on-signal' : 'hover:bg-bar-line'
      }`}
    >
      <Ruler size={20} aria-hidden="true" />
      <span className="max-2xl:sr-only">Instruments</span>
    </button>
  )
}

/** Alt I opens and shuts the drawer wherever the hand is; Escape shuts it from within. */
function useKey(open: boolean) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!event.altKey || event.code !== 'KeyI' || event.ctrlKey || event.metaKey) return
      event.preventDefault()
      if (open) leave()
      else setDrawer(true)
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [open])
}

/** Shuts the drawer; the hand is back at the field that waits. */
function leave() {
  const back = waiting()?.id
  setDrawer(false)
  if (back) document.getElementById(back)?.focus()
}

export function Drawer({ visit }: { visit: VisitView }) {
  const open = useDrawer()
  const waits = useWaiting()
  const kept = useInstruments(visit.id)
  const heard = useHeard(kept?.devices)
  const panel = useRef<HTMLElement>(null)
  useKey(open)
  useEffect(() => {
    if (!open) return
    // Where a device lies in the hand, it has the focus already.
    if (!panel.current?.contains(document.activeElement)) panel.current?.focus({ preventScroll: true })
    const field = document.getElementById(waiting()?.id ?? '')
    field?.scrollIntoView({ block: 'nearest' })
    // On a narrow screen the drawer lies over the lower half: what waits goes to the upper.
    const under = panel.current?.getBoundingClientRect().top ?? 0
    if (field && under > 0 && field.getBoundingClientRect().bottom > under) field.scrollIntoView({ block: 'start' })
    return () => setDrawer(false)
  }, [open])
  if (!open) return null
  return (
    <aside
      ref={panel}
      tabIndex={-1}
      aria-label="Instruments"
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          event.stopPropagation()
          leave()
        }
      }}
      className="fixed right-0 bottom-0 z-20 space-y-3 overflow-auto border-line bg-tray p-4 shadow-2xl outline-none max-lg:inset-x-0 max-lg:h-[48dvh] max-lg:border-t-2 lg:top-[6.75rem] lg:bottom-[4.5rem] lg:w-[26rem] lg:border-l-2 print:hidden"
    >
      <header className="flex items-center justify-between gap-3">
        <h2 className="text-lg font-bold">Instruments</h2>
        <Button look="plain" onClick={leave}>
          Close <kbd className="font-normal text-quiet">Esc</kbd>
        </Button>
      </header>
      <CameIn heard={heard} waits={waits} />
      {kept?.stand_ins && !visit.signed_off_at && (
        <Suspense>
          <StandIns visit={visit} devices={kept.devices} waits={waits} />
        </Suspense>
      )}
      {kept && !kept.stand_ins && <Real devices={kept.devices} />}
      <OwnBench />
    </aside>
  )
}

/** What devices of this bench sent while no field waited: held, and shown as long. */
function CameIn({ heard, waits }: { heard: ReturnType<typeof useHeard>; waits: Waits | null }) {
  if (heard.held.length === 0) return null
  return (
    <ul aria-label="Readings that came in" className="divide-y divide-line rounded-md border-2 border-watch bg-card">
      {heard.held.map((each) => (
        <li key={each.id} className="flex flex-wrap items-center gap-2 p-2">
          <span className="min-w-0 flex-1">
            <b className="reading text-lg">{readingWords(each)}</b>{' '}
            <span className="text-quiet">{each.instrument}</span>
            <span className="reading block text-sm text-quiet">held for {each.seconds_left} s more</span>
          </span>
          <Button look="main" disabled={!waits} onClick={() => heard.give(each)}>
            Send to {waits?.label ?? 'a field'}
          </Button>
          <Button look="plain" onClick={() => heard.letGo(each)}>
            Let it go
          </Button>
        </li>
      ))}
    </ul>
  )
}

/** In a workshop of its own nothing is made up: readings come from devices and hands. */
function Real({ devices }: { devices: DeviceView[] }) {
  return (
    <div className="space-y-2 rounded-md border border-line bg-card p-3 text-sm leading-snug">
      <p>Readings come from devices and hands; nothing here is made up. Three ways to a field:</p>
      <ul className="list-disc space-y-1 pl-5">
        <li>type it, in any unit: 1.394 in, 35 3/8, 160 lbf;</li>
        <li>a device with a keyboard lead types it, and its Enter goes to the next field;</li>
        <li>
          a device of this bench sends it:{' '}
          <code className="reading block overflow-x-auto rounded bg-paper p-1">
            python -m jaxel reading --bench {useBench() || 1} caliper 35.42 mm
          </code>
        </li>
      </ul>
      <p className="text-quiet">Devices known: {devices.map((each) => each.name.toLowerCase()).join(', ')}.</p>
    </div>
  )
}

/** Which bench this browser stands at. */
function OwnBench() {
  const here = useBench()
  const { data } = useQuery({ queryKey: ['benches'], queryFn: () => must(api.GET('/api/benches')) })
  const benches = data?.benches ?? []
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
      <label className="flex items-center gap-2">
        This browser stands at
        <select
          value={benches.some((each) => each.id === here) ? here : 0}
          onChange={(event) => setBench(Number(event.target.value))}
          className="h-11 rounded-md border border-line bg-card px-2 text-base"
        >
          <option value={0}>no bench</option>
          {benches.map((each) => (
            <option key={each.id} value={each.id}>
              {each.id} · {each.name}
            </option>
          ))}
        </select>
      </label>
      <Link to="/workshop" className="inline-flex min-h-11 items-center underline underline-offset-4">
        Benches and their devices
      </Link>
    </div>
  )
}
