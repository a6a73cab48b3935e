// What is seen of a set-up beside its clutches: its shift against the window, and what is behind it one press away.
import { Tabs } from 'radix-ui'
import { Suspense, useState } from 'react'
import type { CurvePoint, VisitView } from '../../api/server/client'
import { type Fetch, fetched } from '../../parts/fetched'
import { figure } from '../../parts/format'
import { PhotoRow } from '../../parts/photos/PhotoRow'
import { AGAINST, type Against, ShiftChart, ShiftKey } from './charts/ShiftChart'

const FETCH: Record<string, Fetch> = {
  pull: () => import('./Figures').then(({ Figures }) => ({ default: Figures })),
  calibration: () => import('./Calibration').then(({ Calibration }) => ({ default: Calibration })),
  'what-if': () => import('./WhatIf').then(({ WhatIf }) => ({ default: WhatIf })),
  altitude: () => import('./Altitude').then(({ Altitude }) => ({ default: Altitude })),
}
const BEHIND = Object.entries(FETCH).map(([key, fetch]) => [key, fetched(fetch)] as const)

/** Fetches what is behind the chart: a server that goes away then closes no view. */
export const fetchViews = () => Promise.allSettled(Object.values(FETCH).map((fetch) => fetch()))

const VIEWS = [
  { key: 'shift', name: 'Shift' },
  { key: 'pull', name: 'Pull' },
  { key: 'calibration', name: 'Calibration' },
  { key: 'what-if', name: 'What if' },
  { key: 'altitude', name: 'Altitude' },
  { key: 'photos', name: 'Photos' },
] as const

/** The shift against its window, and what else is known of the set-up, one press away. */
export function Views({ visit, at }: { visit: VisitView; at?: CurvePoint }) {
  const [view, setView] = useState<string>('shift')
  const [against, setAgainst] = useState<Against>('speed')
  const [backshift, setBackshift] = useState(false)
  const panel = 'min-h-0 flex-1 overflow-y-auto outline-none data-[state=inactive]:hidden'
  return (
    <Tabs.Root value={view} onValueChange={setView} className="flex min-h-0 flex-1 flex-col gap-1">
      <div className="short:hidden flex flex-wrap items-center justify-between gap-x-3 border-b border-line">
        <Tabs.List aria-label="Of this set-up" className="flex flex-wrap">
          {VIEWS.map(({ key, name }) => (
            <Tabs.Trigger
              key={key}
              value={key}
              className="min-h-11 min-w-11 px-2.5 text-sm text-quiet hover:bg-card data-[state=active]:border-b-4 data-[state=active]:border-signal data-[state=active]:font-bold data-[state=active]:text-ink"
            >
              {name}
              {key === 'calibration' && visit.fresh_runs > 0 && (
                <span className="text-signal-words"> ({visit.fresh_runs})</span>
              )}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        {view === 'shift' && (
          <span className="flex items-center gap-2 text-xs text-quiet">
            <label className="flex min-h-11 items-center gap-1">
              <input
                type="checkbox"
                checked={backshift}
                onChange={(event) => setBackshift(event.target.checked)}
                className="size-5 accent-signal"
              />
              backshift
              {backshift && visit.left?.backshift && ` ${figure(visit.left.backshift.mean_rpm, 0)}`}
            </label>
            <label className="flex items-center gap-1">
              against
              <select
                value={against}
                onChange={(event) => setAgainst(event.target.value as Against)}
                className="h-11 rounded border border-line bg-card px-1"
              >
                {Object.entries(AGAINST).map(([key, { name }]) => (
                  <option key={key} value={key}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
          </span>
        )}
      </div>
      <Tabs.Content value="shift" className="flex min-h-0 flex-1 flex-col outline-none data-[state=inactive]:hidden">
        <ShiftKey visit={visit} />
        <ShiftChart visit={visit} at={at} against={against} backshift={backshift} />
      </Tabs.Content>
      <Suspense>
        {BEHIND.map(([key, View]) => (
          <Tabs.Content key={key} value={key} className={panel}>
            <View />
          </Tabs.Content>
        ))}
        <Tabs.Content value="photos" className={panel}>
          <PhotoRow visit={visit} subject="set-up" words="set-up" />
        </Tabs.Content>
      </Suspense>
    </Tabs.Root>
  )
}
