// The glovebox card on a page of its own: one machine, its altitudes, to print and fold.
import { Printer } from 'lucide-react'
import { useState } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { withUnit } from '../api/server/units'
import { useVisit } from '../api/visit/desk'
import { Arrival } from '../parts/Arrival'
import { Button } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { day, figure, unitName } from '../parts/format'
import { AltitudeTable, useAltitude } from '../subjects/setup/Altitude'

export function AltitudeCard() {
  const { visitId } = useParams()
  const [query, setQuery] = useSearchParams()
  const slot = query.get('slot') ?? 'arms'
  const at = query.get('at') ?? ''
  const [typed, setTyped] = useState(at)
  const visit = useVisit(Number(visitId)).data
  const { data, error } = useAltitude(visit ?? { id: Number(visitId), left: null }, slot, at)
  return (
    <>
      <Bar>Altitude card</Bar>
      <main id="work" tabIndex={-1} className="mx-auto max-w-2xl space-y-3 px-5 py-4 outline-none">
        <Arrival title="Altitude card" />
        <form
          className="flex flex-wrap items-end gap-3 print:hidden"
          onSubmit={(event) => {
            event.preventDefault()
            setQuery({ slot, ...(typed.trim() && { at: withUnit(typed, 'm') }) }, { replace: true })
          }}
        >
          <label className="text-sm text-quiet">
            An altitude besides, {unitName('m')}
            <input
              value={typed}
              maxLength={20}
              onChange={(event) => setTyped(event.target.value)}
              className="block h-11 w-40 rounded-md border-2 border-line bg-card px-2 text-base text-ink"
            />
          </label>
          <Button look="plain" submits>
            Work it in
          </Button>
        </form>
        {error ? (
          <p role="alert" className="text-replace">
            {error.message}
          </p>
        ) : data && visit ? (
          <article className="space-y-2 rounded-lg border-2 border-ink bg-card p-5 print:border print:p-3">
            <p className="flex flex-wrap justify-between gap-x-4 text-sm text-quiet">
              <b className="text-ink">{data.workshop}</b> {day(new Date().toISOString())}
            </p>
            <h2 className="text-xl font-bold break-words">{visit.machine.name}</h2>
            <p>
              {visit.intake.target_typical ? 'Typical, nobody stated a target:' : 'Target'}{' '}
              {figure(visit.intake.target_shift_rpm, 0)} rpm, engages at {figure(visit.intake.target_engagement_rpm, 0)}
              . Everything else as fitted now.
            </p>
            <AltitudeTable
              table={data.table}
              name={data.slots[data.table.slot] ?? data.table.slot}
              also={data.also_m}
            />
            {data.shift_sd_rpm != null && data.engagement_sd_rpm != null && (
              <p className="text-sm">
                Computed, not ridden: engagement ± {figure(data.engagement_sd_rpm, 0)}, shift ±{' '}
                {figure(data.shift_sd_rpm, 0)} rpm here; a change of height adds its own.
              </p>
            )}
            <p className="text-sm text-quiet">
              Air cooled with height from {data.air}, standard pressure. All weights alike. Engine off, key out and
              cooled before the cover is touched; the manufacturer's manual wins.
            </p>
          </article>
        ) : (
          <p className="text-lg">Working the card out…</p>
        )}
        <p className="print:hidden">
          <Button onClick={() => window.print()} data-main>
            <Printer size={18} aria-hidden="true" /> Print
          </Button>
        </p>
      </main>
    </>
  )
}
