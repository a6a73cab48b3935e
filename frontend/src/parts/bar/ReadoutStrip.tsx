// The strip that never leaves a visit: target, as found, as left, measured, and what is open.

import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import type { PredictionFigures, VisitView } from '../../api/server/client'
import { inShown } from '../../api/server/units'
import { useOpenItems } from '../../api/visit/openItems'
import { usePreviewed } from '../../api/visit/preview'
import { figure, reading, STATION_NAMES, unitName } from '../format'
import { Aside } from '../over/Aside'
import { Close } from '../over/Over'
import { Term } from '../over/Term'
import { WhereFrom } from '../over/WhereFrom'

function Cell({
  name,
  term,
  more,
  children,
  wide,
  spare,
  phone = true,
}: {
  name: string
  /** Its word in the glossary. */
  term?: string
  /** Where it comes from. */
  more?: React.ReactNode
  children: React.ReactNode
  wide?: boolean
  spare?: boolean | 'wide'
  /** Whether a phone has room for it. */
  phone?: boolean
}) {
  return (
    <div
      className={`min-w-0 border-l border-bar-line pl-3 ${wide ? 'flex-[1.5]' : 'flex-1'} ${spare === 'wide' ? 'max-2xl:hidden' : spare ? 'max-lg:hidden' : ''} ${phone ? '' : 'max-md:hidden'}`}
    >
      {term ? (
        <Term term={term} more={more} className="block min-h-11 w-full min-w-0">
          <span className="block truncate text-xs text-bar-quiet">{name}</span>
          {children}
        </Term>
      ) : (
        <>
          <span className="block truncate text-xs text-bar-quiet">{name}</span>
          {children}
        </>
      )}
    </div>
  )
}

function Pair({
  visit,
  name,
  term,
  found,
  left,
  digits,
  unit,
  bandFound,
  bandLeft,
  good,
  spare,
}: {
  visit: VisitView
  name: string
  term?: string
  found?: number
  left?: number
  digits: number
  unit: string
  bandFound?: number
  bandLeft?: number
  good?: boolean
  /** Left out where the strip is narrow, or unless it is wide. */
  spare?: boolean | 'wide'
}) {
  return (
    <Cell
      name={`${name}${unit ? `, ${unitName(unit)}` : ''}`}
      spare={spare}
      term={term}
      more={term && <WhereFrom visit={visit} figure={term} />}
    >
      <span className="reading block truncate text-sm text-bar-quiet">
        {found == null ? '–' : figure(inShown(found, unit), digits)}
        {bandFound != null && <span className="text-xs max-md:block max-md:leading-3"> ± {figure(bandFound, 0)}</span>}
      </span>
      <span className={`reading block truncate text-lg leading-5 font-semibold ${good ? 'text-good-on-bar' : ''}`}>
        {left == null ? '–' : figure(inShown(left, unit), digits)}
        {bandLeft != null && (
          <span className="text-xs font-normal text-bar-quiet max-md:block max-md:leading-3">
            {' '}
            ± {figure(bandLeft, 0)}
          </span>
        )}
      </span>
    </Cell>
  )
}

export function ReadoutStrip({ visit: saved }: { visit: VisitView }) {
  const visit = usePreviewed(saved)
  const { intake } = visit
  const found: PredictionFigures | null | undefined = visit.found
  const left: PredictionFigures | null | undefined = visit.left
  const { lies } = visit
  const measured = visit.runs.filter((run) => run.on_left).at(-1)
  return (
    <section
      className="strip z-10 flex min-h-18 items-center gap-3 bg-bar px-5 py-2 text-on-bar max-sm:px-3 print:hidden"
      aria-label="Readout"
    >
      <Said visit={visit} />
      <div className="w-16 shrink-0 self-stretch pt-4 text-right max-sm:hidden">
        <div className="text-xs leading-5 text-bar-quiet">as found</div>
        <div className="text-sm leading-5 font-semibold">as left</div>
      </div>
      <Pair
        visit={visit}
        name="Engagement"
        term="engagement"
        unit="rpm"
        digits={0}
        found={found?.engagement.bite_rpm}
        left={left?.engagement.bite_rpm}
        bandFound={found?.band?.bite_rpm}
        bandLeft={left?.band?.bite_rpm}
        good={lies.engagement === 'inside'}
      />
      <Pair
        visit={visit}
        spare
        name="Hit"
        term="hit"
        unit="N"
        digits={0}
        found={found?.engagement.hit_n}
        left={left?.engagement.hit_n}
      />
      <Pair
        visit={visit}
        name="Shift"
        term="shift"
        unit="rpm"
        digits={0}
        found={found?.shift.mean_rpm}
        left={left?.shift.mean_rpm}
        bandFound={found?.band?.mean_rpm}
        bandLeft={left?.band?.mean_rpm}
        good={lies.shift === 'inside'}
      />
      <Pair
        visit={visit}
        spare
        name="Spread"
        term="spread"
        unit="rpm"
        digits={0}
        found={found?.shift.spread_rpm}
        left={left?.shift.spread_rpm}
      />
      <Pair
        visit={visit}
        spare="wide"
        name="Low ratio"
        term="low_ratio"
        unit=""
        digits={2}
        found={found?.belt.low_ratio}
        left={left?.belt.low_ratio}
      />
      <Pair
        visit={visit}
        spare
        name="Least grip"
        term="grip"
        unit=""
        digits={2}
        found={found?.shift.least_grip}
        left={left?.shift.least_grip}
      />
      {visit.scope === 'bench' ? (
        <Cell name="Reckoned with" wide phone={false}>
          <div className="text-sm leading-5">a typical other half,</div>
          <div className="text-sm leading-5">belt and machine</div>
        </Cell>
      ) : (
        <OnMachine intake={intake} measured={measured} />
      )}
      <OpenItems visit={visit} />
    </section>
  )
}

interface OnMachineProps {
  intake: VisitView['intake']
  measured: VisitView['runs'][number] | undefined
}

/** What a machine should do, and what it did: a clutch that lies on a bench has neither. */
function OnMachine({ intake, measured }: OnMachineProps) {
  return (
    <>
      <Cell name={intake.target_typical ? 'Typical, rpm' : 'Target, rpm'} term="window" wide phone={false}>
        <span className="reading block truncate text-sm leading-5">
          {reading(intake.target_engagement_rpm, 'rpm')}{' '}
          <span className="text-xs text-bar-quiet">
            ± {reading(intake.target_engagement_tolerance_rpm, 'rpm')} eng.
          </span>
        </span>
        <span className="reading block truncate text-sm leading-5">
          {reading(intake.target_shift_rpm, 'rpm')}{' '}
          <span className="text-xs text-bar-quiet">± {reading(intake.target_shift_tolerance_rpm, 'rpm')} shift</span>
        </span>
      </Cell>
      <Cell name="Measured, rpm" phone={false}>
        <span className="reading block truncate text-sm leading-5">
          {reading(measured?.measured_engagement_rpm, 'rpm')} <span className="text-xs text-bar-quiet">eng.</span>
        </span>
        <span className="reading block truncate text-sm leading-5">
          {reading(measured?.measured_shift_rpm, 'rpm')} <span className="text-xs text-bar-quiet">shift</span>
        </span>
      </Cell>
    </>
  )
}

/** The strip read aloud once a change has settled. */
function Said({ visit }: { visit: VisitView }) {
  const { left, lies } = visit
  const told = (where?: string) => (where ? `, ${where} the window` : '')
  const words = left
    ? `As left: engagement ${figure(left.engagement.bite_rpm, 0)} rpm${told(lies.engagement)}; shift ${figure(left.shift.mean_rpm, 0)} rpm${told(lies.shift)}.`
    : (visit.fault?.reason ?? '')
  return (
    <p className="sr-only" role="status" data-said>
      {useDeferredWords(words)}
    </p>
  )
}

/** Words once they have stood for a moment: figures that run past need no reading. */
function useDeferredWords(words: string): string {
  const [said, say] = useState(words)
  useEffect(() => {
    const timer = window.setTimeout(() => say(words), 800)
    return () => window.clearTimeout(timer)
  }, [words])
  return said
}

function OpenItems({ visit }: { visit: VisitView }) {
  const open = useOpenItems(visit)
  const count = open.length
  if (visit.signed_off_at)
    return <div className="w-32 shrink-0 text-right text-sm break-words">Signed off by {visit.signed_off_by}</div>
  return (
    <Aside
      label="Open things"
      side="top"
      align="end"
      className="w-96 p-2"
      opener={
        <button
          type="button"
          className={`min-h-12 w-32 shrink-0 rounded-md px-3 text-sm font-bold ${count ? 'bg-[#c8410b] text-on-bar' : 'bg-[#2f6f5e] text-on-bar'}`}
        >
          {count === 0 ? 'Nothing open' : `${count} ${count === 1 ? 'thing' : 'things'} open`}
        </button>
      }
    >
      {count === 0 ? (
        <p className="p-2">Everything is in. The visit can be signed off at Hand-over.</p>
      ) : (
        <ul>
          {open.map((item) => (
            <li key={item.href + item.what}>
              <Close leads>
                <Link to={item.href} className="flex min-h-11 items-center gap-3 rounded px-2 hover:bg-paper">
                  <span className="w-20 shrink-0 text-sm text-quiet">{STATION_NAMES[item.station]}</span>
                  <span className="min-w-0 break-words">{item.what}</span>
                </Link>
              </Close>
            </li>
          ))}
        </ul>
      )}
    </Aside>
  )
}
