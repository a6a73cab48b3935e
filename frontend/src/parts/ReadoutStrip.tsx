// The strip that never leaves a visit: target, as found, as left, measured, and what is open.
import { Popover } from 'radix-ui'
import { Link } from 'react-router'
import type { PredictionFigures, VisitView } from '../api/client'
import { figure, reading, STATION_NAMES } from './format'

function Cell({
  name,
  children,
  wide,
  spare,
}: {
  name: string
  children: React.ReactNode
  wide?: boolean
  spare?: boolean
}) {
  return (
    <div
      className={`min-w-0 border-l border-bar-line pl-3 ${wide ? 'flex-[1.5]' : 'flex-1'} ${spare ? 'max-lg:hidden' : ''}`}
    >
      <div className="truncate text-xs text-bar-quiet">{name}</div>
      {children}
    </div>
  )
}

function Pair({
  name,
  found,
  left,
  digits,
  unit,
  bandFound,
  bandLeft,
  good,
  spare,
}: {
  name: string
  found?: number
  left?: number
  digits: number
  unit: string
  bandFound?: number
  bandLeft?: number
  good?: boolean
  /** Left out where the strip is narrow. */
  spare?: boolean
}) {
  return (
    <Cell name={`${name}${unit ? `, ${unit}` : ''}`} spare={spare}>
      <div className="reading truncate text-sm text-bar-quiet">
        {found == null ? '–' : figure(found, digits)}
        {bandFound != null && <span className="text-xs max-lg:hidden"> ± {figure(bandFound, 0)}</span>}
      </div>
      <div className={`reading truncate text-lg leading-5 font-semibold ${good ? 'text-good-on-bar' : ''}`}>
        {left == null ? '–' : figure(left, digits)}
        {bandLeft != null && (
          <span className="text-xs font-normal text-bar-quiet max-lg:hidden"> ± {figure(bandLeft, 0)}</span>
        )}
      </div>
    </Cell>
  )
}

const within = (value: number | undefined, target: number, tolerance: number) =>
  value != null && Math.abs(value - target) <= tolerance

export function ReadoutStrip({ visit }: { visit: VisitView }) {
  const { intake } = visit
  const found: PredictionFigures | null | undefined = visit.found
  const left: PredictionFigures | null | undefined = visit.left
  const measured = visit.runs.filter((run) => run.on_left).at(-1)
  return (
    <section
      className="print:hidden sticky bottom-0 z-10 flex min-h-18 items-center gap-3 bg-bar px-5 py-2 text-on-bar"
      aria-label="Readout"
    >
      <div className="w-20 shrink-0 self-stretch pt-4 text-right">
        <div className="text-xs leading-5 text-bar-quiet">as found</div>
        <div className="text-sm leading-5 font-semibold">as left</div>
      </div>
      <Pair
        name="Engagement"
        unit="rpm"
        digits={0}
        found={found?.engagement.bite_rpm}
        left={left?.engagement.bite_rpm}
        bandFound={found?.band?.bite_rpm}
        bandLeft={left?.band?.bite_rpm}
        good={within(left?.engagement.bite_rpm, intake.target_engagement_rpm, intake.target_engagement_tolerance_rpm)}
      />
      <Pair
        name="Shift"
        unit="rpm"
        digits={0}
        found={found?.shift.mean_rpm}
        left={left?.shift.mean_rpm}
        bandFound={found?.band?.mean_rpm}
        bandLeft={left?.band?.mean_rpm}
        good={within(left?.shift.mean_rpm, intake.target_shift_rpm, intake.target_shift_tolerance_rpm)}
      />
      <Pair spare name="Spread" unit="rpm" digits={0} found={found?.shift.spread_rpm} left={left?.shift.spread_rpm} />
      <Pair spare name="Low ratio" unit="" digits={2} found={found?.belt.low_ratio} left={left?.belt.low_ratio} />
      <Pair name="Least grip" unit="" digits={2} found={found?.shift.least_grip} left={left?.shift.least_grip} />
      <Cell name="Target, rpm" wide>
        <div className="reading truncate text-sm leading-5">
          {reading(intake.target_engagement_rpm, 'rpm')}{' '}
          <span className="text-xs text-bar-quiet">
            ± {reading(intake.target_engagement_tolerance_rpm, 'rpm')} eng.
          </span>
        </div>
        <div className="reading truncate text-sm leading-5">
          {reading(intake.target_shift_rpm, 'rpm')}{' '}
          <span className="text-xs text-bar-quiet">± {reading(intake.target_shift_tolerance_rpm, 'rpm')} shift</span>
        </div>
      </Cell>
      <Cell name="Measured, rpm">
        <div className="reading truncate text-sm leading-5">
          {reading(measured?.engagement_rpm, 'rpm')} <span className="text-xs text-bar-quiet">eng.</span>
        </div>
        <div className="reading truncate text-sm leading-5">
          {reading(measured?.shift_rpm, 'rpm')} <span className="text-xs text-bar-quiet">shift</span>
        </div>
      </Cell>
      <OpenItems visit={visit} />
    </section>
  )
}

function OpenItems({ visit }: { visit: VisitView }) {
  const count = visit.open.length
  if (visit.signed_off_at)
    return <div className="w-32 shrink-0 text-right text-sm">Signed off by {visit.signed_off_by}</div>
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`min-h-12 w-32 shrink-0 rounded-md px-3 text-sm font-bold ${count ? 'bg-[#c8410b] text-on-bar' : 'bg-[#2f6f5e] text-on-bar'}`}
      >
        {count === 0 ? 'Nothing open' : `${count} ${count === 1 ? 'thing' : 'things'} open`}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={10}
          className="z-20 w-96 rounded-md border border-line bg-card p-2 text-ink shadow-xl"
        >
          {count === 0 ? (
            <p className="p-2">Everything is in. The visit can be signed off at Hand-over.</p>
          ) : (
            <ul>
              {visit.open.map((item) => (
                <li key={item.station + item.field}>
                  <Popover.Close asChild>
                    <Link
                      to={`/visits/${visit.id}/${item.station}`}
                      className="flex min-h-11 items-center gap-3 rounded px-2 hover:bg-paper"
                    >
                      <span className="w-20 shrink-0 text-sm text-quiet">{STATION_NAMES[item.station]}</span>
                      <span>{item.what}</span>
                    </Link>
                  </Popover.Close>
                </li>
              ))}
            </ul>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
