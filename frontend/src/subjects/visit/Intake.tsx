// Intake: what came in, what is said of it, what is on it, and where it should land.
import type { VisitView } from '../../api/server/client'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { SavedChoice } from '../../parts/field/Choice'
import { NumberField, TextField } from '../../parts/field/Field'
import { focusOn } from '../../parts/field/reading'
import { SlotFields } from '../../parts/field/SlotFields'
import { figure, reading, signed } from '../../parts/format'
import { Quantity } from '../../parts/Quantity'
import { ClutchKinds } from '../kinds/ClutchKinds'
import { Faults } from './Faults'
import { Symptoms } from './Symptoms'

type Intake = VisitView['intake']

interface ReadingProps {
  name: keyof Intake
  label: string
  unit: string
  called: string
  /** Whether the hand is led past it where it is empty. */
  spare?: boolean
  hint?: React.ReactNode
}

function Reading({ name, spare, ...rest }: ReadingProps) {
  const { visit } = useDesk()
  return (
    <NumberField
      {...rest}
      place={name}
      field={name}
      station="intake"
      path="/intake"
      walk={spare ? undefined : 'intake'}
      read={(each) => each.intake[name]}
      beside={(other) => visit.intake[other as keyof Intake]}
    />
  )
}

const RIDING = [
  { value: 'trail', name: 'Trail' },
  { value: 'mountain', name: 'Mountain' },
  { value: 'mud', name: 'Mud' },
  { value: 'dune', name: 'Dune' },
  { value: 'towing', name: 'Towing' },
] as const

const RANGES = [
  { value: 'low', name: 'Low' },
  { value: 'high', name: 'High' },
  { value: 'one range', name: 'It has one range' },
] as const

export function Intake() {
  const { visit } = useDesk()
  const air = visit.found
  const bench = visit.scope === 'bench'
  const has = (station: string) => visit.stations.some((each) => each.station === station)
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-2">
      <section className="min-w-0 space-y-3">
        <Scope />
        <TextField
          label={bench ? 'What is wrong with it, in their words' : "Complaint, in the rider's words"}
          place="complaint"
          field="complaint"
          station="intake"
          path="/intake"
          lines={2}
          limit={2000}
          waits
          read={(each) => each.intake.complaint ?? ''}
        />
        {!visit.intake.complaint && <Routine />}
        {!bench && (
          <div className="grid grid-cols-2 gap-3 sm:grid-cols-3 xl:grid-cols-5">
            <Reading name="odometer_km" label="Odometer" called="Odometer" unit="km" />
            <Reading name="odometer_h" label="or hours" called="Hour meter" unit="h" spare />
            <Reading name="elevation_m" label="Altitude of use" called="Altitude of use" unit="m" />
            <Reading name="temperature_c" label="Temperature" called="Temperature" unit="°C" />
            <Reading name="humidity_pct" label="Humidity" called="Humidity" unit="%" />
          </div>
        )}
        {!bench && (has('set-up') || has('road-test')) && <Aims />}
        {!bench && visit.intake.odometer_km == null && visit.intake.odometer_h == null && (
          <SavedChoice
            label="No odometer reading"
            place="no_odometer"
            field="no_odometer"
            station="intake"
            path="/intake"
            compact
            options={[
              { value: 'cannot be read', name: 'Odometer cannot be read' },
              { value: 'has none', name: 'It has none' },
            ]}
            none={{ name: 'It will be read', value: '' }}
            read={(each) => each.intake.no_odometer ?? ''}
          />
        )}
        {!bench && <Symptoms />}
        {!bench && (
          <SavedChoice
            label="Riding"
            place="riding"
            field="riding"
            station="intake"
            path="/intake"
            options={RIDING}
            none={{ name: 'Clear riding', value: '' }}
            read={(each) => each.intake.riding}
          />
        )}
        {!bench && (
          <div className="grid items-center gap-x-3 sm:grid-cols-[auto_1fr]">
            <p className="text-sm text-quiet" title="Below about 20 mph low range spares the belt (common practice)">
              Range at walking pace
            </p>
            <SavedChoice
              label="Range used at walking pace"
              place="walking_range"
              field="walking_range"
              station="intake"
              path="/intake"
              compact
              options={RANGES}
              none={{ name: 'Clear the range', value: '' }}
              read={(each) => each.intake.walking_range}
            />
          </div>
        )}
        {air && !bench && (
          <p className="text-sm text-quiet">
            In this air the engine makes{' '}
            <b className="text-ink">
              <Quantity unit="%">{figure(air.power_factor * 100, 1)}</Quantity>
            </b>{' '}
            of its rated torque; density altitude{' '}
            <b className="text-ink">
              <Quantity unit="m">{reading(air.density_altitude_m, 'm')}</Quantity>
            </b>
            .
          </p>
        )}
        {has('road-test') && <NoTachometer />}
      </section>
      <div className="min-w-0">
        {has('set-up') ? (
          <Fitted />
        ) : (
          <section className="min-w-0">
            <Heading aside="what wears and what comes off follows from it">Of which kind</Heading>
            <ClutchKinds />
          </section>
        )}
        <Faults />
      </div>
    </div>
  )
}

/** What it does now and what it should do: one grid, engagement and shift under each other. */
function Aims() {
  const { visit, closed } = useDesk()
  const typical = visit.intake.target_typical
  return (
    <div>
      <div className="grid gap-x-3 sm:grid-cols-[1fr_2fr]">
        <fieldset className="min-w-0 space-y-1.5">
          <legend className="mb-0.5 text-sm font-bold">Baseline, untouched</legend>
          <Reading
            name="baseline_engagement_rpm"
            label="Engagement"
            called="Baseline engagement"
            unit="rpm"
            hint={miss(visit, 'Engagement')}
          />
          <Reading
            name="baseline_shift_rpm"
            label="Shift"
            called="Baseline shift"
            unit="rpm"
            hint={miss(visit, 'Shift')}
          />
        </fieldset>
        <fieldset className="min-w-0">
          <legend className="mb-0.5 text-sm font-bold">
            Target{' '}
            <span className="font-normal text-quiet">
              {typical ? 'as is typical: type yours' : 'shift at the rpm of peak power'}
            </span>
          </legend>
          <div className={visit.baseline.length > 0 ? 'space-y-6.5' : 'space-y-1.5'}>
            <Target name="target_engagement_rpm" tolerance="target_engagement_tolerance_rpm" label="Engagement" />
            <Target name="target_shift_rpm" tolerance="target_shift_tolerance_rpm" label="Shift" />
          </div>
        </fieldset>
      </div>
      {typical && !closed && (
        <SavedChoice
          label="Target"
          place="target_typical"
          field="target_typical"
          station="intake"
          path="/intake"
          compact
          options={[{ value: 'false', name: 'This is the target' }]}
          send={() => false}
          read={(each) => (each.intake.target_typical ? '' : 'false')}
        />
      )}
    </div>
  )
}

/** Nothing to complain of: said with one touch. */
function Routine() {
  return (
    <SavedChoice
      label="Nothing wrong"
      place="complaint_none"
      field="complaint"
      station="intake"
      path="/intake"
      compact
      options={[{ value: 'None, routine', name: 'None: routine' }]}
      read={(each) => each.intake.complaint ?? ''}
    />
  )
}

const SCOPES: Record<VisitView['scope'], string> = {
  belt: 'Intake, belt and hand-over: no rpm, no set-up asked for.',
  service: 'Intake, belt, strip, rebuild, line-up, road test and hand-over.',
  tune: 'Set-up and road test: every change with its rpm before and after.',
  rebuild: 'All there is.',
  bench: 'The clutch alone: its own half is asked; no machine, no belt, no run.',
}

/** What the visit is for: widened or narrowed at any time, nothing typed is lost. */
function Scope() {
  const { visit } = useDesk()
  if (visit.scopes.length < 2) return <p className="text-sm text-quiet">{SCOPES[visit.scope]}</p>
  return (
    <div>
      <Heading aside={SCOPES[visit.scope]}>What it is here for</Heading>
      <SavedChoice
        label="What it is here for"
        place="scope"
        field="scope"
        station="intake"
        path="/scope"
        only
        options={visit.scopes.map((each) => ({ value: each.key, name: each.name }))}
        read={(each) => each.scope}
      />
    </div>
  )
}

function NoTachometer() {
  return (
    <SavedChoice
      label="Tachometer"
      place="no_tachometer"
      field="no_tachometer"
      station="intake"
      path="/intake"
      options={[
        { value: 'false', name: 'It has a tachometer' },
        { value: 'true', name: 'No tachometer: no rpm is asked for' },
      ]}
      send={(value) => value === 'true'}
      read={(each) => each.intake.no_tachometer ?? false}
    />
  )
}

interface TargetProps {
  name: keyof Intake
  tolerance: keyof Intake
  label: string
}

function Target({ name, tolerance, label }: TargetProps) {
  const called = `Target ${label.toLowerCase()}`
  return (
    // biome-ignore lint/a11y/useSemanticElements: a fieldset in a fieldset would be announced twice
    <div role="group" aria-label={called} className="grid grid-cols-2 gap-3">
      <Reading name={name} label={label} called={called} unit="rpm" />
      <Reading name={tolerance} label="give or take" called={`${called}, give or take`} unit="rpm" />
    </div>
  )
}

function miss(visit: VisitView, figure: string): React.ReactNode {
  const row = visit.baseline.find((each) => each.figure === figure)
  return row?.miss_rpm != null && `predicted ${reading(row.predicted_rpm, 'rpm')} (${signed(row.miss_rpm)})`
}

const KNOWN_BY = { measured: 'last measured at', typical: 'typically', 'on record': 'on record at' } as const

function Fitted() {
  const { visit, closed } = useDesk()
  const confirm = useVisitAct(
    {
      place: 'fitted',
      label: 'What is fitted, looked at',
      station: 'intake',
      path: '/fitted',
      body: ({ setup }) => ({ draft: setup.found_draft }),
    },
    () => focusOn('nav [data-station="belt"]'),
  )
  const differs = visit.setup.found_slots.some((slot) => slot.numbers.some((number) => number.tried))
  const confirmed = visit.intake.fitted_confirmed && !differs
  return (
    <section className="min-w-0">
      <Heading
        aside={`as last recorded: put right what differs on the ${visit.scope === 'bench' ? 'clutch' : 'machine'}`}
      >
        What is fitted now
      </Heading>
      <div className="rounded-md border border-line bg-card p-3">
        <ClutchKinds />
        <SlotFields slots={visit.setup.found_slots} which="found" />
        <div className="mt-3 flex flex-wrap items-center gap-4 border-t border-line pt-3">
          <Button
            look={confirmed ? 'done' : 'main'}
            action={confirm}
            disabled={closed || confirmed}
            data-main
            data-after="intake"
            data-place="fitted"
          >
            {confirmed ? 'Looked at: this is fitted' : differs ? 'This is what is fitted' : 'Looked at, matches'}
          </Button>
          <span className="text-sm text-quiet" hidden={visit.scope === 'bench'}>
            Belt {visit.belt.number}, {KNOWN_BY[visit.belt.known_by]}{' '}
            <Quantity unit="mm">{reading(visit.belt.last_known_mm, 'mm')}</Quantity>
          </span>
        </div>
        <Done action={confirm} />
      </div>
    </section>
  )
}
