// Engagement and shift, each on its own scale around its window: where the set-up aims and where it lands.
import type { CurvePoint, VisitView } from '../../api/server/client'
import { Heading } from '../../parts/Caution'
import { CurveTable } from '../setup/charts/CurveTable'
import { EngagementScale, Engages } from '../setup/charts/EngagementScale'
import { ShiftChart, ShiftKey } from '../setup/charts/ShiftChart'

export function Aims({ visit, at }: { visit: VisitView; at?: CurvePoint }) {
  return (
    <>
      <section aria-label="Engagement against its window">
        <Heading aside={<Engages visit={visit} />}>Engagement</Heading>
        <EngagementScale visit={visit} />
      </section>
      <section aria-label="Shift at full throttle" className="flex flex-1 flex-col">
        <div className="-mb-1 flex flex-wrap items-center gap-x-3">
          <h2 className="text-base font-bold">Shift at full throttle</h2>
          <CurveTable visit={visit} />
          <span className="ml-auto">
            <ShiftKey visit={visit} />
          </span>
        </div>
        <ShiftChart visit={visit} at={at} />
      </section>
    </>
  )
}
