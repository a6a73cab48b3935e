// A visit: its stations in the order of the work, the strip that never leaves, and the station in hand.
import { Link, useParams } from 'react-router'
import type { Station } from '../api/client'
import { DeskProvider, useVisit } from '../api/desk'
import { Bar } from '../parts/Bar'
import { Caution } from '../parts/Caution'
import { ReadoutStrip } from '../parts/ReadoutStrip'
import { StationRow } from '../parts/StationRow'
import { BeltStation } from '../stations/Belt'
import { HandOver } from '../stations/HandOver'
import { Intake } from '../stations/Intake'
import { RoadTest } from '../stations/RoadTest'
import { SetUp } from '../stations/SetUp'

const BENCHES: Record<Station, () => React.ReactNode> = {
  intake: Intake,
  belt: BeltStation,
  'set-up': SetUp,
  'road-test': RoadTest,
  'hand-over': HandOver,
}

export function VisitPlace() {
  const { visitId, station } = useParams()
  const { query, write } = useVisit(Number(visitId))
  const visit = query.data
  if (!visit)
    return (
      <>
        <Bar />
        <main className="p-8 text-lg">
          {query.error ? `Cannot open this visit: ${query.error.message}.` : 'Opening the visit…'}
        </main>
      </>
    )
  const here = (station && station in BENCHES ? station : 'intake') as Station
  const Bench = BENCHES[here]
  const head = [
    visit.machine.rider,
    visit.intake.odometer_km != null && `${Math.round(visit.intake.odometer_km).toLocaleString('en-GB')} km`,
  ]
  return (
    <DeskProvider value={{ visit, write, closed: visit.signed_off_at != null }}>
      <div className="flex min-h-dvh flex-col">
        <Bar>
          <Link to={`/machines/${visit.machine.id}`} className="text-on-bar underline-offset-4 hover:underline">
            {visit.machine.name}
          </Link>
          {head.filter(Boolean).map((each) => ` · ${each}`)}
          {query.isError && ' · no connection, showing what was last read'}
        </Bar>
        <StationRow visit={visit} here={here} />
        <main className="w-full flex-1 px-5 py-3" key={here}>
          <div className="mb-3 print:hidden">
            <Caution text={visit.stations.find((each) => each.station === here)?.caution ?? ''} />
          </div>
          <Bench />
        </main>
        <ReadoutStrip visit={visit} />
      </div>
    </DeskProvider>
  )
}
