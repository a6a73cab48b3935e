// Line-up: are the clutches in line, which way to move and with which shims, and does the belt lie as it should.
import type { VisitView } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { Heading } from '../../parts/Caution'
import { SavedChoice, SavedSelect } from '../../parts/field/Choice'
import { NumberField, TextField } from '../../parts/field/Field'
import { Tick } from '../../parts/field/Tick'
import { figure, reading, signed, signedReading, told, unitName } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { BreakIn } from './BreakIn'
import { PlanView } from './PlanView'
import { Shims } from './Shims'

type Read = VisitView['line_up']['read']

const AT = { station: 'line-up', path: '/line-up' }
const WAYS = [
  { value: 'gaps', name: 'Two gaps of a bar' },
  { value: 'points', name: 'Offset at two points' },
] as const
const ORIGINS = ['', 'manual', "part maker's sheet", 'common practice', 'from memory']

interface MeasuredProps {
  field: keyof Read
  label: string
  unit?: string
  hint?: React.ReactNode
}

/** A number of the line-up. */
function Measured({ field, label, unit = 'mm', hint }: MeasuredProps) {
  return (
    <NumberField
      {...AT}
      label={label}
      unit={unit}
      place={field}
      field={field}
      walk="line-up"
      hint={hint}
      read={(visit) => visit.line_up.read[field]}
    />
  )
}

export function LineUp() {
  const { visit } = useDesk()
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)]">
      <section className="min-w-0 space-y-4" aria-label="Readings">
        <Bar />
        <BeltOn />
      </section>
      <section className="min-w-0 space-y-3" aria-label="What follows">
        <PlanView />
        <Verdict />
        <Shims />
        <LeftSo />
        {visit.break_in?.station === 'line-up' && <BreakIn />}
      </section>
    </div>
  )
}

function Bar() {
  const { visit } = useDesk()
  const { read } = visit.line_up
  return (
    <div className="space-y-3">
      <Heading aside="bar flat on the secondary, past the primary's face">The bar</Heading>
      <SavedChoice
        {...AT}
        label="How it is measured"
        place="way"
        field="way"
        compact
        options={WAYS}
        none={{ name: 'Not measured', value: '' }}
        read={(now) => now.line_up.read.way ?? ''}
      />
      {visit.line_up.alignment == null && (
        <SavedChoice
          {...AT}
          label="Not measured because"
          place="unmeasured"
          field="unmeasured"
          compact
          options={[
            { value: 'not disturbed', name: 'Not disturbed' },
            { value: 'not measured: no bar for it', name: 'Not measured: no bar' },
          ]}
          none={{ name: 'It will be measured', value: '' }}
          read={(now) => now.line_up.read.unmeasured ?? ''}
        />
      )}
      {read.way === 'gaps' && (
        <div className="grid grid-cols-3 gap-3">
          <Measured field="front_mm" label="Front gap" />
          <Measured field="rear_mm" label="Rear gap" />
          <Measured field="base_mm" label="Between them" />
        </div>
      )}
      {read.way === 'points' && (
        <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
          <Measured field="near_mm" label="Near offset" />
          <Measured field="near_at_mm" label="at, from secondary" />
          <Measured field="far_mm" label="Far offset" />
          <Measured field="far_at_mm" label="at, from secondary" />
        </div>
      )}
      {read.way && (
        <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
          <Measured field="nominal_mm" label="It should be" />
          <Measured
            field="offset_tolerance_mm"
            label="give or take"
            hint={read.offset_tolerance_mm == null ? `else ${told(visit.line_up.offset.value, 'mm')}, from memory` : ''}
          />
          <Measured
            field="toe_tolerance_deg"
            label="toe, give or take"
            unit="deg"
            hint={read.toe_tolerance_deg == null ? `else ${told(visit.line_up.toe.value, 'deg')}, from memory` : ''}
          />
          <SavedSelect
            {...AT}
            label="Said by"
            place="origin"
            field="origin"
            options={ORIGINS.map((each) => ({ value: each, name: each || 'nobody yet' }))}
            send={(value) => value}
            className="mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-1"
            read={(now) => now.line_up.read.origin ?? ''}
          />
        </div>
      )}
    </div>
  )
}

/** The belt on: how it lies, the adjuster, and turned until it rides at the rim. */
function BeltOn() {
  const { visit } = useDesk()
  const { belt, model_deflection_mm: model, model_ride_mm: modelRide, ride, seating_turns: turns } = visit.line_up
  return (
    <div className="space-y-3">
      <Heading aside={visit.belt.way_round}>Belt on</Heading>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <Measured
          field="deflection_mm"
          label="Deflection"
          hint={model == null ? '' : `model ${reading(model, 'mm')}`}
        />
        <Measured field="wanted_deflection_mm" label="manual: it should be" />
        <Measured
          field="ride_mm"
          label="Below the rim"
          hint={modelRide == null ? '' : `model ${reading(modelRide, 'mm')}`}
        />
        <Measured field="per_turn_mm" label="Adjuster, per turn" />
      </div>
      {belt && (
        <p className="flex items-start gap-2" data-belt-lie>
          <span className="mt-1">
            <FindingMark finding={belt.right ? 'keep' : 'watch'} size={16} />
          </span>
          <span>
            {belt.right ? 'Lies as it should' : belt.off_mm > 0 ? 'Too slack' : 'Too tight'}:{' '}
            <b className="reading">{signedReading(belt.off_mm, 'mm')}</b> {unitName('mm')} against {belt.source}{' '}
            {told(belt.wanted_mm, 'mm')}.
            {belt.turns != null && !belt.right && (
              <>
                {' '}
                Adjuster <b className="reading">{figure(Math.abs(belt.turns), 1)}</b> turns{' '}
                {belt.turns > 0 ? 'so that the secondary closes further' : 'so that it stands further open'}.
              </>
            )}
          </span>
        </p>
      )}
      {ride != null && (
        <p className="text-sm" data-ride>
          {ride.where === 'there' && 'Rides where the model has it.'}
          {ride.where === 'lower' &&
            `Rides ${told(ride.off_mm, 'mm')} lower in the secondary than the model has it: narrow, or not seated yet.`}
          {ride.where === 'higher' &&
            `Rides ${told(-ride.off_mm, 'mm')} higher in the secondary than the model has it.`}
        </p>
      )}
      <div className="grid items-end gap-3 sm:grid-cols-[10rem_minmax(0,1fr)]">
        <Measured
          field="turned"
          label="Turned by hand"
          unit="turns"
          hint={`${turns} to ${turns + 2}, common practice`}
        />
        <Tick
          {...AT}
          label="The belt rides at the rim of the secondary, the opening tool is out: only then may the engine turn"
          stop
          place="seated"
          field="seated"
          read={(now) => now.line_up.read.seated ?? false}
        />
      </div>
    </div>
  )
}

/** Offset and toe against their tolerance, and which way it must move. */
function Verdict() {
  const { visit } = useDesk()
  const { alignment, out, offset, toe } = visit.line_up
  if (!alignment) return null
  return (
    <div className="space-y-2" data-verdict>
      <dl className="grid grid-cols-2 gap-3">
        <Figure
          name={`Offset, ${unitName('mm')}`}
          value={alignment.offset_mm == null ? '–' : signedReading(alignment.offset_mm, 'mm', 1)}
          within={`± ${reading(offset.value, 'mm')} · ${offset.origin}`}
          finding={alignment.offset_mm == null ? '' : offset.out ? 'replace' : 'keep'}
        />
        <Figure
          name="Toe, ° and over the base"
          value={signed(alignment.toe_deg, 2)}
          within={`${signedReading(alignment.toe_mm, 'mm')} ${unitName('mm')} · ± ${figure(toe.value, 1)}° · ${toe.origin}`}
          finding={toe.out ? 'replace' : 'keep'}
        />
      </dl>
      {out.map((words) => (
        <p key={words} className="font-semibold first-letter:uppercase" data-out>
          {words}.
        </p>
      ))}
    </div>
  )
}

/** Why it stays out, where it does. */
function LeftSo() {
  const { visit } = useDesk()
  if (visit.line_up.out.length === 0) return null
  return (
    <TextField
      {...AT}
      label="Left so because"
      place="reason"
      field="reason"
      limit={500}
      read={(now) => now.line_up.read.reason ?? ''}
    />
  )
}

function Figure({ name, value, within, finding }: { name: string; value: string; within: string; finding: string }) {
  return (
    <div className="rounded-md border border-line bg-card px-3 py-2">
      <dt className="text-sm text-quiet">{name}</dt>
      <dd className="flex flex-wrap items-baseline gap-x-3">
        <span className="reading text-2xl font-bold">{value}</span>
        {finding && <FindingMark finding={finding} size={16} />}
        <span className="text-sm text-quiet">{within}</span>
      </dd>
    </div>
  )
}
