// The part table: what the workshop orders, in which packs, at what price; and the tools it has.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { api, must, type PartsView } from '../api/client'
import { useAct, useSaved } from '../api/saved'
import { withUnit } from '../api/units'
import { Arrival } from '../parts/Arrival'
import { Bar } from '../parts/Bar'
import { Button, Done } from '../parts/Button'
import { Heading } from '../parts/Caution'
import { Remark } from '../parts/Field'
import { typed, unitName } from '../parts/format'
import { FIELD, PAUSE_MS } from './machine/act'

type Part = PartsView['parts'][number]
type Tool = PartsView['tools'][number]

const KEY = ['parts']

export function PartsPlace() {
  const view = useQuery({ queryKey: KEY, queryFn: () => must(api.GET('/api/parts')) }).data
  return (
    <>
      <Bar>Parts</Bar>
      <main id="work" tabIndex={-1} className="space-y-5 px-5 py-4 outline-none">
        <Arrival title="Parts" />
        {view ? (
          <>
            <section>
              <Heading aside="as the workshop types them">Part numbers</Heading>
              <ul className="space-y-2">
                {view.parts.map((part) => (
                  <PartRow key={part.id} part={part} />
                ))}
              </ul>
              <NewPart view={view} />
            </section>
            <section>
              <Heading aside="bought once; a tool at hand costs nothing next time">Tools that remedies need</Heading>
              <ul className="grid gap-2 sm:grid-cols-2 lg:grid-cols-3">
                {view.tools.map((tool) => (
                  <ToolRow key={tool.name} tool={tool} />
                ))}
              </ul>
            </section>
          </>
        ) : (
          <p className="text-lg">Opening the part table…</p>
        )}
      </main>
    </>
  )
}

const COLUMNS = [
  { field: 'number', label: 'Number', unit: null },
  { field: 'make', label: 'Make', unit: null },
  { field: 'price', label: 'Price of a pack', unit: '' },
  { field: 'pack', label: 'Pieces a pack', unit: '' },
  { field: 'life_km', label: 'Said to last', unit: 'km' },
  { field: 'superseded_by', label: 'Superseded by', unit: null },
  { field: 'supplier_note', label: 'Supplier note', unit: null },
] as const

function PartRow({ part }: { part: Part }) {
  const client = useQueryClient()
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
    <li className="rounded-md border border-line bg-card p-3" data-part={part.number}>
      <div className="flex items-center justify-between gap-3">
        <b className="first-letter:uppercase">{part.kind}</b>
        <button
          type="button"
          onClick={away.run}
          aria-label={`Remove ${part.number}`}
          className="min-h-11 text-sm underline underline-offset-4"
        >
          Remove
        </button>
      </div>
      <div className="grid grid-cols-2 gap-2 sm:grid-cols-4 xl:grid-cols-7">
        {COLUMNS.map((column) => (
          <Cell key={column.field} part={part} {...column} />
        ))}
      </div>
    </li>
  )
}

function Cell({ part, field, label, unit }: { part: Part } & (typeof COLUMNS)[number]) {
  const id = useId()
  const client = useQueryClient()
  const saved = useSaved({
    subject: `part ${part.id}`,
    place: field,
    label: `${part.number}: ${label}`,
    href: '/parts',
    target: { method: 'PATCH', path: `/api/parts/${part.id}` },
    field,
    stored: part[field],
    read: (data) => {
      client.setQueryData(KEY, data)
      return (data as PartsView).parts.find((each) => each.id === part.id)?.[field]
    },
    show: (value) => (unit == null ? String(value ?? '') : typed(value as number | null, unit)),
    send: (text) => (unit == null ? text : field === 'pack' ? Number(text) || 0 : withUnit(text, unit)),
    closed: false,
  })
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

function NewPart({ view }: { view: PartsView }) {
  const client = useQueryClient()
  const [number, type] = useState('')
  const [kind, choose] = useState(view.kinds[0] ?? '')
  const add = useAct(
    {
      subject: 'parts',
      place: 'new',
      label: 'New part number',
      href: '/parts',
      held: false,
      repeats: true,
      target: () => ({ method: 'POST', path: '/api/parts', around: { number, kind } }),
    },
    (data) => {
      type('')
      client.setQueryData(KEY, data)
    },
  )
  return (
    <form
      className="mt-3 grid max-w-2xl grid-cols-[1fr_1fr_auto] items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        add.run()
      }}
    >
      <label className="text-sm text-quiet">
        New part number
        <input value={number} maxLength={60} onChange={(event) => type(event.target.value)} className={FIELD} />
      </label>
      <label className="text-sm text-quiet">
        Of
        <select value={kind} onChange={(event) => choose(event.target.value)} className={FIELD}>
          {view.kinds.map((each) => (
            <option key={each}>{each}</option>
          ))}
        </select>
      </label>
      <Button action={add} submits data-main>
        Add it
      </Button>
      <Done action={add} />
    </form>
  )
}

function ToolRow({ tool }: { tool: Tool }) {
  const id = useId()
  const client = useQueryClient()
  const at = {
    subject: `tool ${tool.name}`,
    href: '/parts',
    target: { method: 'PATCH' as const, path: '/api/tools', around: { name: tool.name } },
    closed: false,
  }
  const taken = (data: unknown) => {
    client.setQueryData(KEY, data)
    return (data as PartsView).tools.find((each) => each.name === tool.name)
  }
  const price = useSaved({
    ...at,
    place: 'price',
    label: `${tool.name}: price`,
    field: 'price',
    stored: tool.price,
    read: (data) => taken(data)?.price,
    show: (value) => typed(value as number | null, ''),
    send: (text) => withUnit(text, ''),
  })
  const owned = useSaved({
    ...at,
    place: 'owned',
    label: `${tool.name}: at hand`,
    field: 'owned',
    stored: tool.owned,
    read: (data) => taken(data)?.owned,
    show: (value) => (value ? 'yes' : ''),
  })
  return (
    <li className="rounded-md border border-line bg-card p-3" data-tool={tool.name}>
      <b className="first-letter:uppercase">{tool.name}</b>
      <div className="flex items-end gap-4">
        <div>
          <label htmlFor={id} className="text-sm text-quiet">
            Price
          </label>
          <input
            id={id}
            value={price.text}
            maxLength={20}
            onChange={(event) => price.type(event.target.value, PAUSE_MS)}
            onBlur={price.leave}
            className={`reading ${FIELD}`}
          />
        </div>
        <label className="flex min-h-12 items-center gap-2">
          <input
            type="checkbox"
            checked={owned.text === 'yes'}
            onChange={(event) => owned.choose(event.target.checked)}
            className="size-6 accent-signal"
          />
          at hand
        </label>
      </div>
      <Remark saved={price} id={`${id}-price`} />
      <Remark saved={owned} id={`${id}-owned`} />
    </li>
  )
}
