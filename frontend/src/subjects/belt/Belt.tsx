// Belt: may this belt run on, and what has it already cost.
import { useState } from 'react'
import type { VisitView } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { Heading } from '../../parts/Caution'
import { SavedChoice } from '../../parts/field/Choice'
import { NumberField, TextField } from '../../parts/field/Field'
import { figure, reading, told, unitName } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { FigureTerm } from '../../parts/over/WhereFrom'
import { Quantity } from '../../parts/Quantity'
import { useSize } from '../../parts/size'
import { BeforeOff } from './BeforeOff'
import { BeltPicture } from './BeltPicture'
import { BackOn, GoesOn } from './GoesOn'
import { Life, useStart } from './Life'
import { Marks } from './Marks'
import { NoWidth } from './NoWidth'
import { Substitute } from './Substitute'
import { startName } from './TrendPlot'
import { WayOff } from './WayOff'

const DECISIONS = [
  { value: 'run on', name: 'Run on' },
  { value: 'spare', name: 'Keep as spare' },
  { value: 'discard', name: 'Discard' },
] as const

const UNMEASURED = [
  { value: 'no caliper at hand', name: 'Not measured: no caliper' },
  { value: 'it goes back on undisturbed', name: 'goes back undisturbed' },
  { value: 'not asked for', name: 'not asked for' },
] as const

const MOST_PLACES = 12

export function BeltStation() {
  const { visit } = useDesk()
  const { belt } = visit
  const measured = Object.keys(belt.widths_mm).map(Number)
  const [more, setMore] = useState(3)
  const [pointed, point] = useState<number | null>(null)
  const places = Math.max(3, more, ...measured)
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-2">
      <section className="min-w-0">
        <BeforeOff />
        <Heading aside={`belt ${belt.number}${belt.make_number ? `, ${belt.make_number}` : ''}`}>
          {belt.no_width ? 'No width' : `Width at ${places === 3 ? 'three' : places} places`}
        </Heading>
        <BeltPicture drawing={visit.setup.drawing} belt={belt} places={places} pointed={pointed} point={point} />
        {!belt.no_width && (
          <div className="mt-2 grid grid-cols-3 gap-3">
            {Array.from({ length: places }, (_, index) => index + 1).map((place) => (
              <NumberField
                key={place}
                label={`Place ${place}`}
                unit="mm"
                size="large"
                called={`Belt width at place ${place}`}
                place={`place_${place}`}
                field={`place_${place}`}
                station="belt"
                path="/belt/reading"
                method="PUT"
                around={{ place }}
                only
                walk="belt"
                read={(each) => each.belt.widths_mm[place] ?? null}
              />
            ))}
          </div>
        )}
        {!belt.no_width && <Assessment belt={belt} />}
        {!belt.no_width && measured.length === 0 && belt.decision !== 'discard' && (
          <div className="mt-2">
            <SavedChoice
              {...AT_BELT}
              label="Not measured because"
              place="unmeasured"
              field="unmeasured"
              compact
              options={UNMEASURED}
              none={{ name: 'It will be measured', value: '' }}
              read={(each) => each.belt.unmeasured}
            />
          </div>
        )}
        <Decision />
        <div className="mt-3 space-y-3">
          <Marks pointed={pointed} point={point} />
          {!belt.no_width && places < MOST_PLACES && (
            <button
              type="button"
              className="min-h-11 text-sm underline underline-offset-4"
              onClick={() => setMore(places + 1)}
            >
              One more place
            </button>
          )}
          {measured.length === 0 && <NoWidth />}
        </div>
      </section>
      <section className="min-w-0 space-y-4">
        {belt.replaced && <GoesOn />}
        {belt.on_again && <BackOn />}
        <WayOff />
        <Life otherwise={belt.no_width ? null : <WearScale belt={belt} />} />
        {!belt.no_width && <Costs visit={visit} />}
        <Substitute />
      </section>
    </div>
  )
}

function Assessment({ belt }: { belt: VisitView['belt'] }) {
  const found = belt.assessment
  if (!found) return <p className="mt-3 text-quiet">Measure, or let the caliper type: Enter goes to the next place.</p>
  return (
    <div className="mt-3 flex items-start gap-3 rounded-md border border-line bg-card px-4 py-3" aria-live="polite">
      <FindingMark finding={found.finding} />
      <p>
        <b className="capitalize">{found.finding}.</b> Mean{' '}
        <Quantity unit="mm" strong>
          {reading(found.mean_mm, 'mm', 1)}
        </Quantity>
        : {found.reason}.
      </p>
    </div>
  )
}

const AT_BELT = { station: 'belt', path: '/belt' }

function Decision() {
  const { belt } = useDesk().visit
  const { replaced } = belt
  const ways = belt.no_width ? DECISIONS.filter((each) => each.value === 'discard') : DECISIONS
  return (
    <div className="mt-4 space-y-3">
      <SavedChoice
        {...AT_BELT}
        label="Belt decision"
        place="decision"
        field="decision"
        after="belt"
        options={ways}
        none={{ name: 'Clear the decision', value: null }}
        read={(each) => each.belt.decision ?? null}
      />
      {belt.decision && (
        <TextField
          {...AT_BELT}
          label={replaced || belt.assessment?.finding === 'replace' ? 'Reason' : 'Reason, if there is more to say'}
          place="reason"
          field="reason"
          limit={500}
          read={(each) => each.belt.reason}
        />
      )}
    </div>
  )
}

/** New width to wear limit as a rule, with each place on it. */
function WearScale({ belt }: { belt: VisitView['belt'] }) {
  const [box, room] = useSize<HTMLDivElement>()
  const wide = Math.max(room.width, 200)
  const [from, to] = [belt.new_width_mm + 0.25, belt.limit_mm - 0.5]
  const at = (width: number) => 10 + ((from - Math.max(to, Math.min(from, width))) / (from - to)) * (wide - 20)
  const used = belt.assessment?.wear_used
  return (
    <div ref={box}>
      <Heading
        aside={
          used != null && (
            <>
              <b className="text-ink">
                <Quantity unit="%">{figure(used * 100, 0)}</Quantity>
              </b>{' '}
              of the wear used
            </>
          )
        }
      >
        Wear
      </Heading>
      <svg
        width={wide}
        height="100"
        className="block max-w-full"
        role="img"
        aria-label={[
          `Belt ${belt.number}: new ${told(belt.new_width_mm, 'mm')}, limit ${told(belt.limit_mm, 'mm')}`,
          ...Object.entries(belt.widths_mm).map(([place, width]) => `place ${place} ${told(width, 'mm')}`),
        ].join(', ')}
      >
        <rect
          x={at(belt.new_width_mm)}
          y="46"
          width={at(belt.limit_mm) - at(belt.new_width_mm)}
          height="16"
          className="fill-alu"
        />
        <rect
          x={at(belt.limit_mm)}
          y="46"
          width={wide - 10 - at(belt.limit_mm)}
          height="16"
          className="fill-replace"
          opacity="0.35"
        />
        {[
          { width: belt.new_width_mm, name: 'new', anchor: 'start' as const },
          { width: belt.limit_mm, name: 'limit', anchor: 'end' as const },
        ].map((end) => (
          <g key={end.name} className={end.name === 'limit' ? 'fill-replace stroke-replace' : 'fill-ink stroke-ink'}>
            <line x1={at(end.width)} x2={at(end.width)} y1="40" y2="76" strokeWidth="2" />
            <text x={at(end.width)} y="94" textAnchor={end.anchor} stroke="none" className="reading text-[14px]">
              {end.name} {told(end.width, 'mm')}
            </text>
          </g>
        ))}
        {Object.entries(belt.widths_mm).map(([place, width]) => (
          <path key={place} d={`M${at(width)},45l-8,-13h16Z`} className="fill-ink">
            <title>{`place ${place}: ${told(width, 'mm')}`}</title>
          </path>
        ))}
        {belt.assessment && (
          <text
            x={Math.min(Math.max(at(belt.assessment.mean_mm), 40), wide - 40)}
            y="24"
            textAnchor="middle"
            className="reading fill-ink text-[16px] font-semibold"
          >
            {reading(belt.assessment.mean_mm, 'mm', 1)} {unitName('mm')}
          </text>
        )}
      </svg>
      <p className="text-right text-xs text-quiet">limit: {belt.limit_origin}</p>
    </div>
  )
}

function Costs({ visit }: { visit: VisitView }) {
  const { belt } = visit
  const calibrated = Boolean(visit.left?.anchor?.length)
  const measured = belt.assessment != null
  const start = useStart(belt.id, belt.assessment?.mean_mm ?? belt.last_known_mm)
  const rows = [
    ...belt.costs,
    ...(start ? [{ key: 'pull', name: startName(), unit: 's', now: start.now, new: start.new }] : []),
  ]
  // Before a width is read a belt that is as new costs nothing: one column says it.
  const asNew = !measured && rows.every((row) => reading(row.now, row.unit) === reading(row.new, row.unit))
  return (
    <div>
      <Heading aside={calibrated ? 'same set-up, computed, its runs left out' : 'same set-up, computed'}>
        {asNew ? 'With a new belt' : measured ? 'What this width costs' : 'What the last known width costs'}
      </Heading>
      <table className="w-full">
        <thead className="text-right text-sm text-quiet">
          <tr>
            <th className="py-1 text-left font-normal">
              <span className="sr-only">Figure</span>
            </th>
            {!asNew && <th className="font-normal">this belt</th>}
            <th className="font-normal">new belt</th>
            <th className="w-14">
              <span className="sr-only">Unit</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            return (
              <tr key={row.name} className="border-t border-line">
                <td>
                  <FigureTerm visit={visit} figure={row.key} className="min-h-11 w-full underline decoration-line">
                    {row.name}
                  </FigureTerm>
                </td>
                {!asNew && (
                  <td className="reading text-right text-lg font-semibold" data-cost={row.name}>
                    {reading(row.now, row.unit)}
                  </td>
                )}
                <td className="reading text-right text-quiet">{reading(row.new, row.unit)}</td>
                <td className="pl-2 text-sm text-quiet">{unitName(row.unit)}</td>
              </tr>
            )
          })}
        </tbody>
      </table>
      {start?.warning && <p className="text-sm text-watch">{start.warning}</p>}
    </div>
  )
}
