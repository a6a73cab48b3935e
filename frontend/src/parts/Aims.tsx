// Engagement and shift, each on its own scale around its window: where the set-up aims and where it lands.
import type { CurvePoint, VisitView } from '../api/client'
import { Heading } from './Caution'
import { CurveTable } from './CurveTable'
import { EngagementScale } from './EngagementScale'
import { figure, told } from './format'
import { ShiftChart, ShiftKey } from './ShiftChart'

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

function Engages({ visit: { found, left } }: { visit: VisitView }) {
  if (!left) return null
  return (
    <span className="reading">
      {found && <span className="max-lg:hidden">as found {figure(found.engagement.bite_rpm, 0)} </span>}
      <b className="text-signal-words">as left {figure(left.engagement.bite_rpm, 0)}</b>
      {left.band && ` ± ${figure(left.band.bite_rpm, 0)}`}
      {` · snap ${told(left.engagement.snap_n, 'N')}`}
    </span>
  )
}
