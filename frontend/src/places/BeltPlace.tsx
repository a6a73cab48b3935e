// A belt: what is read off it, its width through its life, its label for the shelf.
import { useQueryClient } from '@tanstack/react-query'
import { Printer } from 'lucide-react'
import { useId } from 'react'
import { Link, useParams } from 'react-router'
import { useDraft } from '../api/outbox/draft'
import { useAct, useSaved } from '../api/outbox/saved'
import type { BeltLifeView } from '../api/server/client'
import { withUnit } from '../api/server/units'
import { Arrival } from '../parts/Arrival'
import { Button, Done } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { Heading } from '../parts/Caution'
import { Remark } from '../parts/field/Field'
import { told, typed, unitName } from '../parts/format'
import { Others, useLife, useStart } from '../subjects/belt/Life'
import { Left, startName, TrendPlot } from '../subjects/belt/TrendPlot'
import { FIELD, PAUSE_MS } from '../subjects/machine/act'

export function BeltPlace() {
  const { beltId } = useParams()
  const life = useLife(Number(beltId))
  return (
    <>
      <Bar>
        {life && (
          <Link
            to={`/machines/${life.machine_id}`}
            className="inline-flex min-h-11 items-center underline underline-offset-4"
          >
            {life.machine}
          </Link>
        )}
      </Bar>
      <main id="work" tabIndex={-1} className="px-5 py-4 outline-none">
        <Arrival title={life ? `Belt ${life.number} · ${life.machine}` : 'Belt'} />
        {life ? <Page life={life} /> : <p className="text-lg">Opening the belt…</p>}
      </main>
    </>
  )
}

const SAID = [
  { field: 'make_number', label: "Make's number, as read", limit: 60 },
  { field: 'batch', label: 'Batch', limit: 60 },
  { field: 'bought_on', label: 'Bought, year-month-day', limit: 10 },
  { field: 'direction', label: 'Way it runs', limit: 120 },
  { field: 'place', label: 'Place on the shelf', limit: 60 },
  { field: 'length_mm', label: 'Round the outside', limit: 20, unit: 'mm' },
] as const

function Page({ life }: { life: BeltLifeView }) {
  const start = useStart(life.id, life.width_mm)
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.3fr)]">
      <section className="min-w-0 space-y-4">
        <Label life={life} />
        <div className="grid gap-3 sm:grid-cols-2 print:hidden">
          {SAID.map((each) => (
            <Said key={each.field} life={life} {...each} />
          ))}
        </div>
        {life.state === 'spare' && <Discard life={life} />}
      </section>
      <section className="min-w-0 space-y-4 print:hidden">
        <Heading>Width through its life</Heading>
        {life.points.length > 0 ? (
          <TrendPlot life={life} />
        ) : (
          <p className="text-quiet">Its width has not been measured with an odometer reading yet.</p>
        )}
        <Left life={life} />
        {start?.now != null && start.new != null && (
          <p>
            {startName()} on the simulated strip:{' '}
            <span className="reading font-semibold">{start.now.toFixed(2)} s</span> on it,{' '}
            <span className="reading">{start.new.toFixed(2)} s</span> on a new one.
          </p>
        )}
        {start?.warning && <p className="text-sm text-watch">{start.warning}</p>}
        <Others life={life} />
      </section>
    </div>
  )
}

/** Rolls a label printer takes [mm]. */
const WIDTHS_MM = ['62', '100']

/** What is printed and tied to it. */
function Label({ life }: { life: BeltLifeView }) {
  const [kept, keep] = useDraft('label width')
  const wide = kept || WIDTHS_MM[0]
  return (
    <div>
      <article
        className="flex gap-4 rounded-md border-2 border-ink bg-card p-4 print:gap-2 print:border print:p-2"
        style={{ '--label': `${wide}mm` } as React.CSSProperties}
        aria-label="Label"
        data-label
      >
        {life.coded && (
          <img
            src={`/api/belts/${life.id}/code.svg`}
            alt="Code that opens this page"
            className="size-32 shrink-0 bg-[#fff]"
          />
        )}
        <div className="min-w-0">
          <p className="text-lg font-bold break-words">
            Belt {life.number} · {life.machine}
          </p>
          <p className="reading text-3xl font-semibold">{told(life.width_mm, 'mm')}</p>
          <p className="text-sm">
            new {told(life.new_width_mm, 'mm')}, limit {told(life.limit_mm, 'mm')}
            <br />
            {told(life.use, life.unit)} on it{!life.life_known && ' since it is known here, before that not known'}
            {life.removed_on && `, removed ${life.removed_on}`}
            {life.direction && (
              <>
                <br />
                {life.direction}
              </>
            )}
            {life.make_number && (
              <>
                <br />
                {life.make_number} {life.batch}
              </>
            )}
          </p>
        </div>
      </article>
      <div className="mt-2 flex flex-wrap items-center gap-4 print:hidden">
        <Button look="plain" onClick={() => window.print()} data-main>
          <Printer size={18} aria-hidden="true" /> Print the label
        </Button>
        <label className="flex items-center gap-2 text-sm text-quiet">
          wide
          <select
            value={wide}
            onChange={(event) => keep(event.target.value)}
            className="h-11 rounded-md border-2 border-line bg-card px-2 text-base text-ink"
          >
            {WIDTHS_MM.map((each) => (
              <option key={each} value={each}>
                {each} mm
              </option>
            ))}
          </select>
        </label>
        <span className="text-quiet first-letter:uppercase">
          {life.state}
          {life.place && `, ${life.place}`}
        </span>
      </div>
    </div>
  )
}

interface SaidProps {
  life: BeltLifeView
  field: (typeof SAID)[number]['field']
  label: string
  limit: number
  /** Of a number, as the server stores it. */
  unit?: string
}

function Said({ life, field, label, limit, unit }: SaidProps) {
  const id = useId()
  const client = useQueryClient()
  const saved = useSaved({
    subject: `belt ${life.id}`,
    place: field,
    label,
    href: `/belts/${life.id}#${field}`,
    target: { method: 'PATCH', path: `/api/belts/${life.id}` },
    field,
    stored: life[field],
    read: (data) => {
      client.setQueryData(['belt', life.id, 0], data)
      return (data as BeltLifeView)[field]
    },
    show: (value) => (unit ? typed(value as number | null, unit) : String(value ?? '')),
    send: (text) => (unit ? withUnit(text, unit) : text),
    closed: false,
  })
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="text-sm text-quiet">
        {label}
        {unit && `, ${unitName(unit)}`}
      </label>
      <input
        id={id}
        value={saved.text}
        maxLength={limit}
        data-place={field}
        onChange={(event) => saved.type(event.target.value, PAUSE_MS)}
        onBlur={saved.leave}
        className={FIELD}
      />
      <Remark saved={saved} id={`${id}-remark`} />
    </div>
  )
}

function Discard({ life }: { life: BeltLifeView }) {
  const client = useQueryClient()
  const away = useAct(
    {
      subject: `belt ${life.id}`,
      place: 'discard',
      label: `Discard belt ${life.number}`,
      href: `/belts/${life.id}`,
      held: false,
      target: () => ({ method: 'POST', path: `/api/belts/${life.id}/discard`, around: {} }),
    },
    () => client.invalidateQueries({ queryKey: ['belt'] }),
  )
  return (
    <div className="print:hidden">
      <Button look="plain" action={away}>
        Discard it
      </Button>
      <Done action={away} />
    </div>
  )
}
