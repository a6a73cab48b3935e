// Workshop: what it is called, who works here, in which units each reads, its wrenches, and what its stamps weigh.
import { useId } from 'react'
import { useDraft } from '../api/outbox/draft'
import { useAct, useSaved } from '../api/outbox/saved'
import type { WorkshopView } from '../api/server/client'
import { useWorkshop } from '../api/server/workshop'
import { Arrival } from '../parts/Arrival'
import { Button, Done, Refused } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { Notices } from '../parts/bar/Notices'
import { Heading } from '../parts/Caution'
import { Remark } from '../parts/field/Field'
import { reading } from '../parts/format'
import { Benches } from '../subjects/instruments/Benches'
import { Kept } from '../subjects/workshop/Kept'
import { ScoreCard } from '../subjects/workshop/ScoreCard'
import { UnitsChoice } from '../subjects/workshop/Units'
import { Wrenches } from '../subjects/workshop/Wrenches'

const FIELD = 'mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3 text-base text-ink'
const HERE = { subject: 'workshop', href: '/workshop' }
const PAUSE_MS = 700

export function WorkshopPlace() {
  const query = useWorkshop()
  return (
    <div className="flex min-h-dvh flex-col">
      <Bar>Workshop</Bar>
      <Notices />
      <main
        id="work"
        tabIndex={-1}
        className="relative mx-auto grid w-full max-w-4xl flex-1 content-start gap-x-10 gap-y-8 px-5 py-6 outline-none md:grid-cols-2"
      >
        <Arrival title="Workshop" />
        {query.error && <Refused className="md:col-span-2">{query.error.message}</Refused>}
        {query.data && (
          <>
            <div className="min-w-0 space-y-8">
              <Name held={query.data.name} />
              <Kept />
              <Hour held={query.data.hour_price ?? null} />
              <section className="min-w-0">
                <Heading aside="any unit may be typed at any time">Units it reads in</Heading>
                <UnitsChoice
                  whose="the workshop"
                  place="units"
                  path="/api/workshop/units"
                  held={query.data.units}
                  workshop={query.data}
                />
              </section>
              <Stamps stamps={query.data.stamps} />
              <ScoreCard />
            </div>
            <div className="min-w-0 space-y-8">
              <People people={query.data.people} workshop={query.data} />
              <Wrenches />
              <Benches />
            </div>
          </>
        )}
      </main>
    </div>
  )
}

function Name({ held }: { held: string }) {
  const id = useId()
  const saved = useSaved({
    ...HERE,
    place: 'name',
    label: 'Name of the workshop',
    target: { method: 'PATCH', path: '/api/workshop/name', only: true },
    field: 'name',
    stored: held,
    read: (data) => (data as WorkshopView).name,
    show: (name) => String(name ?? ''),
    closed: false,
  })
  return (
    <section className="min-w-0">
      <Heading aside="stands on every printed page">What it is called</Heading>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          saved.leave()
        }}
      >
        <label htmlFor={id} className="block text-sm text-quiet">
          Name of the workshop
        </label>
        <input
          id={id}
          value={saved.text}
          maxLength={120}
          aria-describedby={`${id}-remark`}
          onChange={(event) => saved.type(event.target.value, PAUSE_MS)}
          onBlur={saved.leave}
          className={FIELD}
        />
        <Remark saved={saved} id={`${id}-remark`} />
      </form>
    </section>
  )
}

/** What an hour of work costs: with it a repair is one sum beside another clutch. */
function Hour({ held }: { held: number | null }) {
  const id = useId()
  const saved = useSaved({
    ...HERE,
    place: 'hour_price',
    label: 'What an hour costs',
    target: { method: 'PATCH', path: '/api/workshop/hour', only: true },
    field: 'hour_price',
    stored: held,
    read: (data) => (data as WorkshopView).hour_price,
    show: (price) => (price == null ? '' : String(price)),
    send: (text) => (text.trim() === '' ? null : text),
    closed: false,
  })
  return (
    <section className="min-w-0">
      <Heading aside="empty: a repair is told in parts and minutes">What an hour costs</Heading>
      <label htmlFor={id} className="sr-only">
        What an hour costs
      </label>
      <input
        id={id}
        value={saved.text}
        maxLength={20}
        inputMode="decimal"
        aria-describedby={`${id}-remark`}
        onChange={(event) => saved.type(event.target.value, PAUSE_MS)}
        onBlur={saved.leave}
        className={`reading ${FIELD}`}
      />
      <Remark saved={saved} id={`${id}-remark`} />
    </section>
  )
}

function People({ people, workshop }: { people: WorkshopView['people']; workshop: WorkshopView }) {
  const [name, setName] = useDraft('person')
  const add = useAct(
    {
      ...HERE,
      place: 'add a person',
      label: `Add ${name}`,
      target: () => ({ method: 'POST', path: '/api/workshop/people', around: { name } }),
    },
    () => setName(''),
  )
  const here = people.filter((each) => !each.archived)
  const gone = people.filter((each) => each.archived)
  return (
    <section className="min-w-0">
      <Heading aside="chosen in the bar, no password">Who works here</Heading>
      {here.length === 0 && <p className="mb-3 text-quiet">Nobody yet: what is done here is entered as “bench”.</p>}
      <ul className="mb-4 divide-y divide-line border-y border-line empty:hidden">
        {here.map((each) => (
          <Person key={each.id} person={each} workshop={workshop} />
        ))}
      </ul>
      <form
        className="flex items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          if (name.trim()) add.run()
        }}
      >
        <label className="block min-w-0 flex-1 text-sm text-quiet">
          Name
          <input value={name} maxLength={120} onChange={(event) => setName(event.target.value)} className={FIELD} />
        </label>
        <Button look="plain" action={add} submits disabled={!name.trim()} data-main>
          Add
        </Button>
      </form>
      <Done action={add} className="mt-2" />
      {gone.length > 0 && (
        <>
          <h3 className="mt-6 mb-1 text-sm font-semibold">No longer here</h3>
          <ul className="divide-y divide-line border-y border-line text-quiet">
            {gone.map((each) => (
              <Person key={each.id} person={each} workshop={workshop} />
            ))}
          </ul>
        </>
      )}
    </section>
  )
}

function Person({ person, workshop }: { person: WorkshopView['people'][number]; workshop: WorkshopView }) {
  const verb = person.archived ? 'Bring back' : 'Archive'
  const move = useAct({
    ...HERE,
    place: `person ${person.id}`,
    label: `${verb} ${person.name}`,
    target: () => ({
      method: 'PATCH',
      path: `/api/workshop/people/${person.id}/archived`,
      around: { was: person.archived, now: !person.archived },
    }),
  })
  return (
    <li className="flex flex-wrap items-center justify-between gap-x-4 py-1">
      <span className="min-w-0 break-words">{person.name}</span>
      <Button look="plain" action={move} aria-label={`${verb} ${person.name}`}>
        {verb}
      </Button>
      <Done action={move} className="w-full text-sm" />
      {!person.archived && (
        <details className="w-full">
          <summary className="flex min-h-11 cursor-pointer items-center text-sm text-quiet">
            reads in {readsIn(person.units, workshop)}
          </summary>
          <div className="pb-3">
            <UnitsChoice
              whose={person.name}
              place={`units ${person.id}`}
              path={`/api/workshop/people/${person.id}/units`}
              held={person.units}
              workshop={workshop}
              follows
            />
          </div>
        </details>
      )}
    </li>
  )
}

function readsIn(units: WorkshopView['units'] | null, workshop: WorkshopView): string {
  if (!units) return "the workshop's units"
  const preset = workshop.presets.find((each) => JSON.stringify(each.units) === JSON.stringify(units))
  return preset ? preset.name.toLowerCase() : Object.values(units).join(', ')
}

/** A letter on an arm gets its mass from here, once one of its like has been weighed. */
function Stamps({ stamps }: { stamps: WorkshopView['stamps'] }) {
  const [stamp, setStamp] = useDraft('stamp')
  const [mass, setMass] = useDraft('stamp mass')
  const note = useAct(
    {
      ...HERE,
      place: 'stamp',
      label: `Stamp ${stamp}`,
      target: () => ({ method: 'POST', path: '/api/workshop/stamps', around: { stamp, mass_g: mass } }),
    },
    () => {
      setStamp('')
      setMass('')
    },
  )
  return (
    <section className="min-w-0">
      <Heading aside="weigh one, and its letter tells the rest">What a stamp weighs</Heading>
      <ul className="mb-3 divide-y divide-line border-y border-line empty:hidden">
        {stamps.map((each) => (
          <Stamp key={each.id} stamp={each} />
        ))}
      </ul>
      <form
        className="flex items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          if (stamp.trim() && mass.trim()) note.run()
        }}
      >
        <label className="block w-24 text-sm text-quiet">
          Stamp
          <input value={stamp} maxLength={20} onChange={(event) => setStamp(event.target.value)} className={FIELD} />
        </label>
        <label className="block min-w-0 flex-1 text-sm text-quiet">
          One weighs, g
          <input value={mass} maxLength={40} onChange={(event) => setMass(event.target.value)} className={FIELD} />
        </label>
        <Button look="plain" action={note} submits disabled={!stamp.trim() || !mass.trim()}>
          Note it
        </Button>
      </form>
      <Done action={note} className="mt-2" />
    </section>
  )
}

function Stamp({ stamp }: { stamp: WorkshopView['stamps'][number] }) {
  const forget = useAct({
    ...HERE,
    place: `stamp ${stamp.id}`,
    label: `Forget stamp ${stamp.stamp}`,
    target: () => ({ method: 'POST', path: `/api/workshop/stamps/${stamp.id}/forget`, around: {} }),
  })
  return (
    <li className="flex items-center justify-between gap-4 py-1">
      <span>
        <b>{stamp.stamp}</b> <span className="reading">{reading(stamp.mass_g, 'g')} g</span>
      </span>
      <Button look="plain" action={forget} aria-label={`Forget stamp ${stamp.stamp}`}>
        Forget
      </Button>
    </li>
  )
}
