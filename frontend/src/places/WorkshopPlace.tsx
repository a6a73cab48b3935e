// Workshop: what it is called, and who works here.
import { useQuery } from '@tanstack/react-query'
import { useId } from 'react'
import { api, must, type WorkshopView } from '../api/client'
import { useDraft } from '../api/draft'
import { useAct, useSaved } from '../api/saved'
import { Arrival } from '../parts/Arrival'
import { Bar } from '../parts/Bar'
import { Button, Done, Refused } from '../parts/Button'
import { Heading } from '../parts/Caution'
import { Remark } from '../parts/Field'
import { Notices } from '../parts/Notices'

const FIELD = 'mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3 text-base text-ink'
const HERE = { subject: 'workshop', href: '/workshop' }
const PAUSE_MS = 700

export function WorkshopPlace() {
  const query = useQuery({ queryKey: ['workshop'], queryFn: () => must(api.GET('/api/workshop')) })
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
            <Name held={query.data.name} />
            <People people={query.data.people} />
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

function People({ people }: { people: WorkshopView['people'] }) {
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
          <Person key={each.id} person={each} />
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
        <Button look="plain" action={add} submits disabled={!name.trim()}>
          Add
        </Button>
      </form>
      <Done action={add} className="mt-2" />
      {gone.length > 0 && (
        <>
          <h3 className="mt-6 mb-1 text-sm font-semibold">No longer here</h3>
          <ul className="divide-y divide-line border-y border-line text-quiet">
            {gone.map((each) => (
              <Person key={each.id} person={each} />
            ))}
          </ul>
        </>
      )}
    </section>
  )
}

function Person({ person }: { person: WorkshopView['people'][number] }) {
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
    </li>
  )
}
