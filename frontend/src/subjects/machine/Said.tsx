// What is said of a machine beside its set-up; of a bare clutch also the label for its cover.
import { Printer } from 'lucide-react'
import { useId } from 'react'
import { useSaved } from '../../api/outbox/saved'
import type { MachineView } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { Button } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { Remark } from '../../parts/field/Field'
import { typed, unitName } from '../../parts/format'
import { FIELD, hrefOf, PAUSE_MS, subjectOf } from './act'

interface SaidFieldProps {
  view: MachineView
  field: string
  label: string
  unit?: string
  options?: readonly { value: string; name: string }[]
}

const saidOf = (view: MachineView, field: string): unknown =>
  ({
    ...view.said,
    name: view.machine.name,
    rider: view.machine.rider,
    model: view.machine.model,
    kind: view.machine.kind,
  })[field as 'name']

/** One thing said of a machine, saved as it is typed. */
function SaidField({ view, field, label, unit = '', options }: SaidFieldProps) {
  const id = useId()
  const saved = useSaved({
    subject: subjectOf(view),
    place: `said ${field}`,
    label,
    href: hrefOf(view),
    target: { method: 'PATCH', path: `/api/machines/${view.machine.id}/said` },
    field,
    stored: saidOf(view, field),
    read: (data) => saidOf(data as MachineView, field),
    show: (value) => (typeof value === 'number' ? typed(value, unit) : String(value ?? '')),
    send: (text) => (unit ? withUnit(text, unit) : text),
    closed: false,
  })
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block text-sm text-quiet">
        {label}
        {unit && `, ${unitName(unit)}`}
      </label>
      {options ? (
        <select
          id={id}
          value={saved.text}
          disabled={saved.closed}
          aria-describedby={`${id}-remark`}
          onChange={(event) => saved.choose(event.target.value || null)}
          className={FIELD}
        >
          {options.map((each) => (
            <option key={each.value} value={each.value}>
              {each.name}
            </option>
          ))}
        </select>
      ) : (
        <input
          id={id}
          value={saved.text}
          disabled={saved.closed}
          maxLength={120}
          aria-describedby={`${id}-remark`}
          onChange={(event) => saved.type(event.target.value, PAUSE_MS)}
          onBlur={saved.leave}
          className={FIELD}
        />
      )}
      <Remark saved={saved} id={`${id}-remark`} />
    </div>
  )
}

const KINDS = [
  { value: 'sled', name: 'Sled' },
  { value: 'side-by-side', name: 'Side-by-side' },
  { value: 'quad', name: 'Quad' },
  { value: 'light vehicle', name: 'Light vehicle' },
] as const

export function Said({ view }: { view: MachineView }) {
  const bare = view.machine.kind === 'bare clutch'
  const kinds = (options: { key: string; name: string }[]) => [
    { value: '', name: 'not stated' },
    ...options.map((each) => ({ value: each.key, name: each.name })),
  ]
  return (
    <section className="min-w-0">
      <Heading>{bare ? 'The clutch' : 'The machine'}</Heading>
      <div className="grid gap-3 sm:grid-cols-2 xl:grid-cols-3">
        <SaidField view={view} field="name" label="Name" />
        <SaidField view={view} field="rider" label={bare ? 'Sent in by' : 'Rider or owner'} />
        {!bare && <SaidField view={view} field="model" label="Make and model, as its plate says" />}
        {!bare && <SaidField view={view} field="kind" label="Kind of machine" options={KINDS} />}
        {!bare && <SaidField view={view} field="tyre" label="Tyre or track" />}
        {view.half !== 'secondary' && (
          <SaidField view={view} field="primary_kind" label="Kind of primary" options={kinds(view.primaries)} />
        )}
        {view.half !== 'primary' && (
          <SaidField view={view} field="secondary_kind" label="Kind of secondary" options={kinds(view.secondaries)} />
        )}
        {bare && <SaidField view={view} field="taper" label="Taper" />}
        {bare && <SaidField view={view} field="offset_mm" label="Offset" unit="mm" />}
        {bare && <SaidField view={view} field="stamp" label="Stamp on it" />}
      </div>
      {view.label.length > 0 && <CoverLabel lines={view.label} />}
    </section>
  )
}

function CoverLabel({ lines }: { lines: string[] }) {
  return (
    <div className="mt-4">
      <h3 className="mb-1 text-sm font-semibold">Label for its cover</h3>
      <div className="flex flex-wrap items-end gap-4">
        <div className="min-w-64 rounded-md border-2 border-ink bg-card px-4 py-3" data-cover-label>
          {lines.map((line, index) => (
            <p key={line} className={index === 0 ? 'text-lg font-bold' : 'text-sm'}>
              {line}
            </p>
          ))}
        </div>
        <Button look="plain" onClick={() => window.print()}>
          <Printer size={18} aria-hidden="true" /> Print
        </Button>
      </div>
    </div>
  )
}
