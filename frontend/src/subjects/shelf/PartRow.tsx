// One part of the shelf: what it is, how many are here and where; all that is known of it one press away.
import { useQueryClient } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { useDraft } from '../../api/outbox/draft'
import { useAct, useSaved } from '../../api/outbox/saved'
import type { PartsView } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { Button, Done } from '../../parts/Button'
import { Remark } from '../../parts/field/Field'
import { figure, typed, unitName } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { FIELD, PAUSE_MS } from '../machine/act'
import { KEY, type Part } from './view'

const COLUMNS = [
  { field: 'number', label: 'Number', unit: null },
  { field: 'make', label: 'Make', unit: null },
  { field: 'place', label: 'Place', unit: null },
  { field: 'price', label: 'Price of a pack', unit: '' },
  { field: 'pack', label: 'Pieces a pack', unit: '' },
  { field: 'life_km', label: 'Said to last', unit: 'km' },
  { field: 'superseded_by', label: 'Superseded by', unit: null },
  { field: 'supplier_note', label: 'Supplier note', unit: null },
] as const

export function PartRow({ part, view, opened }: { part: Part; view: PartsView; opened: boolean }) {
  const [turned, turn] = useState<boolean>()
  const open = turned ?? opened
  const group = view.groups[part.kind]
  const { figures } = part
  return (
    <li data-part={part.number}>
      <div className="grid grid-cols-[1fr_6.5rem] items-center gap-x-3 px-3 py-1 sm:grid-cols-[9rem_1fr_6.5rem_7rem_5rem_3rem]">
        <div className="min-w-0">
          <b className="break-words">{part.number}</b>
          <span className="block text-xs text-quiet">
            <span className="first-letter:uppercase">{part.kind}</span>
            {part.make && ` · ${part.make}`}
          </span>
        </div>
        <div className="min-w-0 text-sm max-sm:col-span-2 max-sm:row-start-2">
          <span className="flex flex-wrap items-center gap-x-3">
            {figures ? (
              <span className="reading break-words">{figures.words}</span>
            ) : (
              group && <span className="text-quiet">not described yet</span>
            )}
            {figures?.line && figures.line.length > 1 && <ForceLine line={figures.line} />}
          </span>
          {figures?.flag && (
            <span className="flex items-center gap-1 text-watch">
              <FindingMark finding="watch" size={14} /> {figures.flag}
            </span>
          )}
          {figures?.sag != null && !figures.flag && (
            <span className="text-xs text-quiet">sag {figure(figures.sag * 100, 1)} %</span>
          )}
          {part.superseded_by && <span className="block text-xs text-quiet">now {part.superseded_by}</span>}
        </div>
        <Pieces part={part} />
        <span className="min-w-0 text-sm break-words text-quiet max-sm:hidden">{part.place}</span>
        <span className="reading text-right text-sm text-quiet max-sm:hidden">
          {part.price == null ? '–' : figure(part.price, part.price % 1 ? 2 : 0)}
          {part.pack > 1 && <span className="block text-xs">for {part.pack}</span>}
        </span>
        <button
          type="button"
          aria-expanded={open}
          onClick={() => turn(!open)}
          className="min-h-11 min-w-11 text-sm underline underline-offset-4 max-sm:col-span-2"
        >
          {open ? 'less' : 'more'}
        </button>
      </div>
      {open && <Whole part={part} view={view} group={group} />}
    </li>
  )
}

/** A spring's force over its length, as the tester gave it: longer to the right, softer. */
function ForceLine({ line }: { line: NonNullable<NonNullable<Part['figures']>['line']> }) {
  const [lengths, forces] = [line.map((p) => p.length_mm), line.map((p) => p.force_n)]
  const [short, long, most] = [Math.min(...lengths), Math.max(...lengths), Math.max(...forces)]
  const x = (mm: number) => 4 + ((long - mm) / Math.max(long - short, 1)) * 72
  const y = (n: number) => 25 - (n / most) * 22
  const sorted = [...line].sort((one, other) => other.length_mm - one.length_mm)
  const said = sorted.map((p) => `${figure(p.force_n, 0)} N at ${figure(p.length_mm, 0)} mm`).join(', ')
  return (
    <svg width="80" height="28" role="img" aria-label={`Measured: ${said}`}>
      <path d="M2 26H78" className="stroke-alu-deep" />
      <path
        d={sorted.map((p, i) => `${i ? 'L' : 'M'}${x(p.length_mm)},${y(p.force_n)}`).join('')}
        className="fill-none stroke-signal"
        strokeWidth="2"
      />
      {sorted.map((p) => (
        <circle key={p.length_mm} cx={x(p.length_mm)} cy={y(p.force_n)} r="2.6" className="fill-ink" />
      ))}
    </svg>
  )
}

/** Binds a field of a part to the server. */
function usePartField(part: Part, field: keyof Part, label: string, unit: string | null, path = '') {
  const client = useQueryClient()
  return useSaved({
    subject: `part ${part.id}`,
    place: field,
    label: `${part.number}: ${label}`,
    href: '/parts',
    target: { method: 'PATCH', path: `/api/parts/${part.id}${path}`, only: path !== '' },
    field,
    stored: part[field],
    read: (data) => {
      client.setQueryData(KEY, data)
      return (data as PartsView).parts.find((each) => each.id === part.id)?.[field]
    },
    show: (value) => (unit == null ? String(value ?? '') : typed(value as number | null, unit)),
    send: (text) => (unit == null ? text : ['pack', 'pieces'].includes(field) ? Number(text) : withUnit(text, unit)),
    closed: false,
  })
}

function Pieces({ part }: { part: Part }) {
  const id = useId()
  const saved = usePartField(part, 'pieces', 'pieces at hand', '', '/pieces')
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="sr-only">
        {part.number}, pieces at hand
      </label>
      <div className="flex h-11 items-baseline rounded-md border-2 border-line bg-card px-2 focus-within:border-signal">
        <input
          id={id}
          value={saved.text}
          maxLength={6}
          inputMode="numeric"
          placeholder="–"
          onChange={(event) => saved.type(event.target.value, PAUSE_MS)}
          onBlur={saved.leave}
          className="reading h-full w-full min-w-0 bg-transparent text-lg font-semibold outline-none"
        />
        <span className="text-xs text-quiet">here</span>
      </div>
      <Remark saved={saved} id={`${id}-remark`} />
    </div>
  )
}

function Whole({ part, view, group }: { part: Part; view: PartsView; group: string | undefined }) {
  const client = useQueryClient()
  const fits = usePartField(part, 'fits', 'made for', null)
  const away = useAct(
    {
      subject: `part ${part.id}`,
      place: 'remove',
      label: `Remove ${part.number}`,
      href: '/parts',
      held: false,
      target: () => ({ method: 'POST', path: `/api/parts/${part.id}/remove`, around: {} }),
    },
    (data) => client.setQueryData(KEY, data),
  )
  return (
    <div className="space-y-3 border-t border-line bg-paper px-3 py-3">
      {group && <Described part={part} columns={view.columns[group] ?? []} />}
      <div className="grid grid-cols-2 gap-2 sm:grid-cols-4 xl:grid-cols-5">
        {COLUMNS.map((column) => (
          <Cell key={column.field} part={part} {...column} />
        ))}
        {group && (
          <label className="min-w-0 text-sm text-quiet">
            Made for
            <select value={fits.text} onChange={(event) => fits.choose(event.target.value)} className={FIELD}>
              <option value="">any clutch it fits</option>
              {view.clutches.map((each) => (
                <option key={each.key} value={each.key}>
                  {each.name}
                </option>
              ))}
            </select>
            <Remark saved={fits} id={`fits-${part.id}`} />
          </label>
        )}
      </div>
      <button type="button" onClick={away.run} className="min-h-11 text-sm underline underline-offset-4">
        Remove {part.number} from the table
      </button>
      <Done action={away} />
    </div>
  )
}

function Cell({ part, field, label, unit }: { part: Part } & (typeof COLUMNS)[number]) {
  const id = useId()
  const saved = usePartField(part, field, label, unit)
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block truncate text-sm text-quiet">
        {label}
        {unit && `, ${unitName(unit)}`}
      </label>
      <input
        id={id}
        value={saved.text}
        maxLength={field === 'supplier_note' ? 500 : 60}
        onChange={(event) => saved.type(event.target.value, PAUSE_MS)}
        onBlur={saved.leave}
        className={`${unit == null ? '' : 'reading'} ${FIELD}`}
      />
      <Remark saved={saved} id={`${id}-remark`} />
    </div>
  )
}

type Cells = Record<string, string>

/** What a part is: its columns together, for half a spring is none; kept in this browser until they are saved. */
function Described({ part, columns }: { part: Part; columns: PartsView['columns'][string] }) {
  const client = useQueryClient()
  const [kept, keep] = useDraft(`part.${part.id}`)
  const typing: Cells = kept ? JSON.parse(kept) : {}
  const now: Cells = { ...part.cells, ...typing }
  const save = useAct(
    {
      subject: `part ${part.id}`,
      place: 'spec',
      label: `${part.number}: what it is`,
      href: '/parts',
      held: false,
      repeats: true,
      target: () => ({
        method: 'PATCH',
        path: `/api/parts/${part.id}/spec`,
        around: { was: part.cells, now: Object.fromEntries(columns.map(({ column }) => [column, now[column] ?? ''])) },
      }),
    },
    (data) => {
      keep('')
      client.setQueryData(KEY, data)
    },
  )
  return (
    <form
      className="space-y-2"
      onSubmit={(event) => {
        event.preventDefault()
        save.run()
      }}
    >
      <div className="grid grid-cols-2 items-end gap-2 sm:grid-cols-3 xl:grid-cols-5">
        {columns.map(({ column, name, unit }) => (
          <label key={column} className="min-w-0 text-sm text-quiet first-letter:uppercase">
            {name}
            {unit && `, ${unit === 'deg' ? '°' : unit}`}
            <input
              value={now[column] ?? ''}
              maxLength={500}
              onChange={(event) => keep(JSON.stringify({ ...typing, [column]: event.target.value }))}
              className={`reading ${FIELD}`}
            />
          </label>
        ))}
      </div>
      {kept && (
        <div className="flex flex-wrap gap-3">
          <Button action={save} submits>
            Save what it is
          </Button>
          <Button look="plain" onClick={() => keep('')}>
            Drop it
          </Button>
        </div>
      )}
      <Done action={save} />
    </form>
  )
}
