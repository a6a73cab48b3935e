// Workshop: what it is called, and who works here.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useAction } from '../api/action'
import { type Answer, api, must, refusalOf, type WorkshopView } from '../api/client'
import { Bar } from '../parts/Bar'
import { Button, Refused } from '../parts/Button'
import { Heading } from '../parts/Caution'

const FIELD = 'mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3 text-base text-ink'

export function WorkshopPlace() {
  const query = useQuery({ queryKey: ['workshop'], queryFn: () => must(api.GET('/api/workshop')) })
  const client = useQueryClient()
  /** Shows what the server answered; returns why it refused. */
  const settle = async (answering: Promise<Answer<WorkshopView>>) => {
    const answer = await answering
    if (answer.data) client.setQueryData(['workshop'], answer.data)
    else await query.refetch()
    return answer.data ? '' : refusalOf(answer).reason
  }
  return (
    <div className="flex min-h-dvh flex-col">
      <Bar>Workshop</Bar>
      <main className="mx-auto grid w-full max-w-4xl flex-1 content-start gap-x-10 gap-y-8 px-5 py-6 md:grid-cols-2">
        {query.error && <Refused className="md:col-span-2">{query.error.message}</Refused>}
        {query.data && (
          <>
            <Name held={query.data.name} settle={settle} />
            <People people={query.data.people} settle={settle} />
          </>
        )}
      </main>
    </div>
  )
}

type Settle = (answering: Promise<Answer<WorkshopView>>) => Promise<string>

function Name({ held, settle }: { held: string; settle: Settle }) {
  // What is typed stays until it is kept, whatever another hand does meanwhile.
  const [typed, setTyped] = useState<string>()
  const name = typed ?? held
  const save = useAction(async () => {
    const refused = await settle(api.PATCH('/api/workshop/name', { body: { was: held, now: name } }))
    if (!refused) setTyped(undefined)
    return refused
  })
  return (
    <section>
      <Heading>What it is called</Heading>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault()
          save.run()
        }}
      >
        <label className="block text-sm text-quiet">
          Name of the workshop
          <input value={name} maxLength={120} onChange={(event) => setTyped(event.target.value)} className={FIELD} />
        </label>
        <Button action={save} disabled={name.trim() === held}>
          Keep this name
        </Button>
        <Refused>{save.refused}</Refused>
      </form>
    </section>
  )
}

function People({ people, settle }: { people: WorkshopView['people']; settle: Settle }) {
  const [name, setName] = useState('')
  const add = useAction(async () => {
    const refused = await settle(api.POST('/api/workshop/people', { body: { name } }))
    if (!refused) setName('')
    return refused
  })
  const here = people.filter((each) => !each.archived)
  const gone = people.filter((each) => each.archived)
  return (
    <section>
      <Heading aside="chosen in the bar, no password">Who works here</Heading>
      {here.length === 0 && <p className="mb-3 text-quiet">Nobody yet: what is done here is entered as “bench”.</p>}
      <ul className="mb-4 divide-y divide-line border-y border-line empty:hidden">
        {here.map((each) => (
          <Person key={each.id} person={each} settle={settle} />
        ))}
      </ul>
      <form
        className="flex items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          add.run()
        }}
      >
        <label className="block min-w-0 flex-1 text-sm text-quiet">
          Name
          <input value={name} maxLength={120} onChange={(event) => setName(event.target.value)} className={FIELD} />
        </label>
        <Button look="plain" action={add} disabled={!name.trim()}>
          Add
        </Button>
      </form>
      <Refused className="mt-2">{add.refused}</Refused>
      {gone.length > 0 && (
        <>
          <h3 className="mt-6 mb-1 text-sm font-semibold">No longer here</h3>
          <ul className="divide-y divide-line border-y border-line text-quiet">
            {gone.map((each) => (
              <Person key={each.id} person={each} settle={settle} />
            ))}
          </ul>
        </>
      )}
    </section>
  )
}

function Person({ person, settle }: { person: WorkshopView['people'][number]; settle: Settle }) {
  const move = useAction(() =>
    settle(
      api.PATCH('/api/workshop/people/{person_id}/archived', {
        params: { path: { person_id: person.id } },
        body: { was: person.archived, now: !person.archived },
      }),
    ),
  )
  return (
    <li className="flex flex-wrap items-center justify-between gap-x-4 py-1">
      <span className="min-w-0 break-words">{person.name}</span>
      <Button look="plain" action={move} aria-label={`${person.archived ? 'Bring back' : 'Archive'} ${person.name}`}>
        {person.archived ? 'Bring back' : 'Archive'}
      </Button>
      <Refused className="w-full text-sm">{move.refused}</Refused>
    </li>
  )
}
