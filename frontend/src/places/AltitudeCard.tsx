// The glovebox card on a page of its own: one machine, its altitudes, to print and fold.
import { Printer } from 'lucide-react'
import { useParams, useSearchParams } from 'react-router'
import { useVisit } from '../api/visit/desk'
import { Arrival } from '../parts/Arrival'
import { Button } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { figure } from '../parts/format'
import { AltitudeTable, useAltitude } from '../subjects/setup/Altitude'

export function AltitudeCard() {
  const { visitId } = useParams()
  const [query] = useSearchParams()
  const slot = query.get('slot') ?? 'arms'
  const visit = useVisit(Number(visitId)).data
  const { data, error } = useAltitude(visit ?? { id: Number(visitId), left: null }, slot)
  return (
    <>
      <Bar>Altitude card</Bar>
      <main id="work" tabIndex={-1} className="mx-auto max-w-2xl space-y-3 px-5 py-4 outline-none">
        <Arrival title="Altitude card" />
        {error ? (
          <p role="alert" className="text-replace">
            {error.message}
          </p>
        ) : data && visit ? (
          <article className="space-y-2 rounded-lg border-2 border-ink bg-card p-5 print:border print:p-3">
            <h1 className="text-xl font-bold break-words">{visit.machine.name}</h1>
            <p>
              Target {figure(visit.intake.target_shift_rpm, 0)} rpm, engages at{' '}
              {figure(visit.intake.target_engagement_rpm, 0)}. Everything else as fitted now.
            </p>
            <AltitudeTable table={data.table} name={data.slots[data.table.slot] ?? data.table.slot} />
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
