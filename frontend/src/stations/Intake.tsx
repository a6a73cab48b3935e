// Intake: what came in, what is said of it, what is on it, and where it should land.
import { api, type VisitView } from '../api/client'
import { type Send, useChoose, useDesk, useWrite } from '../api/desk'
import type { paths } from '../api/schema'
import { Button, Refused } from '../parts/Button'
import { Heading } from '../parts/Caution'
import { Choice } from '../parts/Choice'
import { NumberField, TextField } from '../parts/Field'
import { reading, signed } from '../parts/format'
import { Quantity } from '../parts/Quantity'
import { SlotFields } from '../parts/SlotFields'

type Intake = VisitView['intake']
type IntakeChanges = NonNullable<
  paths['/api/visits/{visit_id}/intake']['patch']['requestBody']
>['content']['application/json']

const patchIntake =
  (body: IntakeChanges): Send =>
  (visit_id) =>
    api.PATCH('/api/visits/{visit_id}/intake', { params: { path: { visit_id } }, body })

const sends = (name: keyof IntakeChanges) => (now: string, was: unknown) => patchIntake({ [name]: { was, now } })

interface ReadingProps {
  name: keyof Intake & keyof IntakeChanges
  label: string
  unit: string
  hint?: React.ReactNode
}

function Reading({ name, label, unit, hint }: ReadingProps) {
  return (
    <NumberField
      label={label}
      unit={unit}
      hint={hint}
      name={`intake.${name}`}
      send={sends(name)}
      read={(visit) => visit.intake[name] as number | null}
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

export function Intake() {
  const { visit, closed } = useDesk()
  const { choose, refused } = useChoose()
  const air = visit.found
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-2">
      <section className="space-y-4">
        <Heading>What came in</Heading>
        <TextField
          label="Complaint, in the rider's words"
          name="intake.complaint"
          lines={2}
          read={(each) => each.intake.complaint ?? ''}
          send={sends('complaint')}
        />
        <Choice
          label="Riding"
          value={visit.intake.riding || null}
          options={RIDING}
          disabled={closed}
          choose={(now) => choose((id, shown) => patchIntake({ riding: { was: shown.intake.riding, now } })(id, shown))}
        />
        <Refused>{refused}</Refused>
        <div className="grid grid-cols-2 gap-3 xl:grid-cols-4">
          <Reading name="odometer_km" label="Odometer" unit="km" />
          <Reading name="elevation_m" label="Altitude of use" unit="m" />
          <Reading name="temperature_c" label="Temperature" unit="°C" />
          <Reading name="humidity_pct" label="Humidity" unit="%" />
        </div>
        {air && (
          <p className="text-sm text-quiet">
            In this air the engine makes{' '}
            <b className="text-ink">
              <Quantity unit="%">{reading(air.power_factor * 100, 'g')}</Quantity>
            </b>{' '}
            of its rated torque; density altitude{' '}
            <b className="text-ink">
              <Quantity unit="m">{reading(air.density_altitude_m, 'm')}</Quantity>
            </b>
            .
          </p>
        )}
        <div className="grid grid-cols-[1fr_2fr] gap-x-6">
          <section className="row-span-3 grid grid-rows-subgrid">
            <Heading>Baseline, untouched</Heading>
            <Reading name="baseline_engagement_rpm" label="Engagement" unit="rpm" hint={miss(visit, 'Engagement')} />
            <Reading name="baseline_shift_rpm" label="Shift" unit="rpm" hint={miss(visit, 'Shift')} />
          </section>
          <section className="row-span-3 grid grid-rows-subgrid">
            <Heading aside="shift at the rpm of peak power">Target</Heading>
            <div className="grid grid-cols-2 gap-3">
              <Reading name="target_engagement_rpm" label="Engagement" unit="rpm" />
              <Reading name="target_engagement_tolerance_rpm" label="give or take" unit="rpm" />
            </div>
            <div className="grid grid-cols-2 gap-3">
              <Reading name="target_shift_rpm" label="Shift" unit="rpm" />
              <Reading name="target_shift_tolerance_rpm" label="give or take" unit="rpm" />
            </div>
          </section>
        </div>
      </section>
      <Fitted />
    </div>
  )
}

function miss(visit: VisitView, figure: string): React.ReactNode {
  const row = visit.baseline.find((each) => each.figure === figure)
  return row?.miss_rpm != null && `predicted ${reading(row.predicted_rpm, 'rpm')} (${signed(row.miss_rpm)})`
}

function Fitted() {
  const { visit, closed } = useDesk()
  const confirm = useWrite((visit_id, { setup }) =>
    api.POST('/api/visits/{visit_id}/fitted', {
      params: { path: { visit_id } },
      body: { draft: setup.found_draft },
    }),
  )
  const differs = visit.setup.found_slots.some((slot) => slot.numbers.some((number) => number.tried))
  const confirmed = visit.intake.fitted_confirmed && !differs
  return (
    <section>
      <Heading aside="as last recorded: put right what differs on the machine">What is fitted now</Heading>
      <div className="rounded-md border border-line bg-card p-3">
        <ClutchKinds />
        <SlotFields slots={visit.setup.found_slots} which="found" />
        <div className="mt-3 flex flex-wrap items-center gap-4 border-t border-line pt-3">
          <Button look={confirmed ? 'done' : 'main'} action={confirm} disabled={closed || confirmed}>
            {confirmed ? 'Looked at: this is fitted' : differs ? 'This is what is fitted' : 'Looked at, matches'}
          </Button>
          <span className="text-sm text-quiet">
            Belt {visit.belt.number}, last known at{' '}
            <Quantity unit="mm">{reading(visit.belt.last_known_mm, 'mm')}</Quantity>
          </span>
        </div>
        <Refused className="mt-2">{confirm.refused}</Refused>
      </div>
    </section>
  )
}

/** Of which kind each clutch is: asked while it is not stated, as the slots come from there. */
function ClutchKinds() {
  const { visit, closed } = useDesk()
  const { kinds } = visit
  const { choose, refused } = useChoose()
  const state = (name: 'primary_kind' | 'secondary_kind', now: string | null) =>
    choose((visit_id, shown) =>
      api.PATCH('/api/visits/{visit_id}/kinds', {
        params: { path: { visit_id } },
        body: { [name]: { was: shown.kinds[name] ?? null, now } },
      }),
    )
  return (
    <div className="mb-3 grid gap-3 border-b border-line pb-3 sm:grid-cols-2">
      <KindOfClutch
        label="Kind of primary"
        value={kinds.primary_kind}
        options={kinds.primaries}
        disabled={closed}
        choose={(key) => state('primary_kind', key)}
      />
      <KindOfClutch
        label="Kind of secondary"
        value={kinds.secondary_kind}
        options={kinds.secondaries}
        disabled={closed}
        choose={(key) => state('secondary_kind', key)}
      />
      <Refused className="text-sm sm:col-span-2">{refused}</Refused>
    </div>
  )
}

interface KindOfClutchProps {
  label: string
  value?: string | null
  options: VisitView['kinds']['primaries']
  disabled: boolean
  choose: (key: string | null) => void
}

function KindOfClutch({ label, value, options, disabled, choose }: KindOfClutchProps) {
  return (
    <label className="block min-w-0 text-sm text-quiet">
      {label}
      <select
        value={value ?? ''}
        disabled={disabled}
        onChange={(event) => choose(event.target.value || null)}
        className={`mt-1 h-12 w-full rounded-md border-2 bg-card px-2 text-base text-ink ${value ? 'border-line' : 'border-watch'}`}
      >
        <option value="">kind not stated</option>
        {options.map((kind) => (
          <option key={kind.key} value={kind.key}>
            {kind.name}
          </option>
        ))}
      </select>
    </label>
  )
}
