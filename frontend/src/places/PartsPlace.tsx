// The parts room: what is on the shelf, where it lies and whether it is good; what each make lasted; sheets in and out.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useAct } from '../api/outbox/saved'
import { api, must, type PartsView } from '../api/server/client'
import { Arrival } from '../parts/Arrival'
import { Button, Done } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { Heading } from '../parts/Caution'
import { told } from '../parts/format'
import { FIELD } from '../subjects/machine/act'
import { Lasted } from '../subjects/shelf/Lasted'
import { PartRow } from '../subjects/shelf/PartRow'
import { Sheet } from '../subjects/shelf/Sheet'
import { ToolRow } from '../subjects/shelf/ToolRow'
import { KEY, type Part } from '../subjects/shelf/view'

/** The shelf in the order hands look for things. */
const SHELVES = [
  { name: 'Springs', groups: ['primary_springs', 'secondary_springs'] },
  { name: 'Arms, rollers and loads', groups: ['weights', 'loads'] },
  { name: 'Helixes, shims, washers and spacers', groups: ['helixes', 'shims', 'washers', 'limiters'] },
  { name: 'Kits', groups: ['kits'] },
]

export function PartsPlace() {
  const view = useQuery({ queryKey: KEY, queryFn: () => must(api.GET('/api/parts')) }).data
  const [find, look] = useState('')
  const [fresh, enter] = useState('')
  const wanted = (part: Part) =>
    [part.number, part.kind, part.make, part.place, part.figures?.words]
      .join(' ')
      .toLowerCase()
      .includes(find.toLowerCase())
  return (
    <>
      <Bar>Parts room</Bar>
      <main id="work" tabIndex={-1} className="space-y-5 px-5 py-4 outline-none">
        <Arrival title="Parts" />
        {view ? (
          <>
            <div className="flex flex-wrap items-end gap-x-5 gap-y-2">
              <label className="min-w-52 flex-1 text-sm text-quiet">
                Find a part, a make, a place
                <input value={find} maxLength={60} onChange={(event) => look(event.target.value)} className={FIELD} />
              </label>
              <NewPart view={view} added={enter} />
              <Sheet />
            </div>
            {SHELVES.map(({ name, groups }) => (
              <Shelf
                key={name}
                name={name}
                view={view}
                fresh={fresh}
                parts={view.parts.filter((part) => groups.includes(view.groups[part.kind] ?? '') && wanted(part))}
              />
            ))}
            <Belts view={view} />
            <Shelf
              name="Other part numbers"
              view={view}
              fresh={fresh}
              parts={view.parts.filter((part) => !view.groups[part.kind] && wanted(part))}
            />
            <Lasted />
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
          <p className="text-lg">Opening the parts room…</p>
        )}
      </main>
    </>
  )
}

interface ShelfProps {
  name: string
  view: PartsView
  parts: Part[]
  /** The part just entered. */
  fresh: string
}

function Shelf({ name, view, parts, fresh }: ShelfProps) {
  if (parts.length === 0) return null
  return (
    <section aria-label={name}>
      <Heading>{name}</Heading>
      <p
        aria-hidden="true"
        className="grid grid-cols-[9rem_1fr_6.5rem_7rem_5rem_3rem] gap-x-3 px-3 pb-0.5 text-xs text-quiet max-sm:hidden"
      >
        <span>number, kind, make</span>
        <span>what it is, as measured or rated</span>
        <span>at hand</span>
        <span>place</span>
        <span className="text-right">price</span>
        <span />
      </p>
      <ul className="divide-y divide-line rounded-md border border-line bg-card">
        {parts.map((part) => (
          <PartRow key={part.id} part={part} view={view} opened={part.number === fresh} />
        ))}
      </ul>
    </section>
  )
}

function Belts({ view }: { view: PartsView }) {
  if (view.belts.length === 0) return null
  return (
    <section aria-label="Belts on the shelf">
      <Heading aside="which, whose, width now and narrowest, place">Belts on the shelf</Heading>
      <ul className="divide-y divide-line rounded-md border border-line bg-card">
        {view.belts.map((belt) => (
          <li key={belt.id} className="flex min-h-11 flex-wrap items-center gap-x-4 px-3">
            <Link
              to={`/belts/${belt.id}`}
              className="min-h-11 min-w-11 content-center font-semibold underline underline-offset-4"
            >
              Belt {belt.number}
            </Link>
            <span className="min-w-0 break-words text-quiet">{belt.machine}</span>
            <span className="reading ml-auto">
              {told(belt.width_mm, 'mm')}{' '}
              <span className="text-sm text-quiet">narrowest {told(belt.limit_mm, 'mm')}</span>
            </span>
            <span className="text-sm text-quiet">{belt.place || 'no place said'}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** A part just entered stands open: what it is comes next. */
function NewPart({ view, added }: { view: PartsView; added: (number: string) => void }) {
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
      added(number.trim())
      type('')
      client.setQueryData(KEY, data)
    },
  )
  return (
    <form
      className="grid max-w-xl grid-cols-[1fr_1fr_auto] items-end gap-2"
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
      <Done action={add} className="col-span-3" />
    </form>
  )
}
