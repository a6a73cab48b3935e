// The workshop's benches: each with a token of its own, by which its devices are let in.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { setBench, useBench } from '../../api/instruments/drawer'
import { useAct } from '../../api/outbox/saved'
import { api, must, refusalOf } from '../../api/server/client'
import { Button, Done, Refused } from '../../parts/Button'
import { Heading } from '../../parts/Caution'

const FIELD = 'mt-1 h-11 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink'
const HERE = { subject: 'benches', href: '/workshop' }

type Bench = { id: number; name: string; made_by: string }

export function Benches() {
  const { data } = useQuery({ queryKey: ['benches'], queryFn: () => must(api.GET('/api/benches')) })
  return (
    <section className="min-w-0" aria-label="Benches">
      <Heading aside="where devices send their readings">Benches</Heading>
      <ul className="mb-3 divide-y divide-line border-y border-line empty:hidden">
        {data?.benches.map((each) => (
          <Row key={each.id} bench={each} />
        ))}
      </ul>
      <Add />
      <p className="mt-3 text-sm text-quiet">
        A device with a keyboard lead needs none of this: it types into the field that waits. One that sends needs its
        bench's token, and this program's address:
        <code className="reading mt-1 block overflow-x-auto rounded bg-card p-2">
          JAXEL_TOKEN=… python -m jaxel reading --bench 1 caliper 35.42 mm
        </code>
      </p>
    </section>
  )
}

function Row({ bench }: { bench: Bench }) {
  const here = useBench() === bench.id
  const client = useQueryClient()
  const [token, setToken] = useState('')
  const [fault, setFault] = useState('')
  const remove = useAct({
    ...HERE,
    place: `bench ${bench.id}`,
    label: `Remove bench ${bench.name}`,
    target: () => ({ method: 'POST', path: `/api/benches/${bench.id}/remove` }),
  })
  const renew = async () => {
    setFault('')
    const answer = await api
      .POST('/api/benches/{bench_id}/token', { params: { path: { bench_id: bench.id } }, body: {} as never })
      .catch(() => null)
    if (answer?.data) setToken(answer.data.token)
    else setFault(answer ? refusalOf(answer).reason : 'No connection to the server.')
    void client.invalidateQueries({ queryKey: ['benches'] })
  }
  return (
    <li className="flex flex-wrap items-center gap-2 py-2" data-bench={bench.id}>
      <span className="min-w-0 flex-1 break-words">
        <span className="reading text-quiet">{bench.id}</span> <b>{bench.name}</b>
      </span>
      <Button look={here ? 'done' : 'plain'} aria-pressed={here} onClick={() => setBench(here ? 0 : bench.id)}>
        {here ? 'This browser stands here' : 'Stand here'}
      </Button>
      <Button look="plain" onClick={renew}>
        New token
      </Button>
      <Button look="plain" action={remove} aria-label={`Remove bench ${bench.name}`}>
        Remove
      </Button>
      {token && (
        <p className="w-full text-sm" role="status">
          Its token, shown this once; one made before opens nothing any more:
          <code className="reading mt-1 block rounded bg-card p-2 text-base break-all select-all">{token}</code>
        </p>
      )}
      <Refused className="w-full text-sm">{fault}</Refused>
      <Done action={remove} className="w-full text-sm" />
    </li>
  )
}

function Add() {
  const id = useId()
  const [name, setName] = useState('')
  const add = useAct(
    {
      ...HERE,
      place: 'new bench',
      label: 'New bench',
      target: () => ({ method: 'POST', path: '/api/benches', around: { name } }),
    },
    () => setName(''),
  )
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        add.run()
      }}
    >
      <label htmlFor={id} className="min-w-40 flex-1 text-sm text-quiet">
        A new bench
        <input
          id={id}
          value={name}
          maxLength={60}
          className={FIELD}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <Button look="plain" action={add} submits disabled={!name.trim()}>
        Set it up
      </Button>
      <Done action={add} className="w-full text-sm" />
    </form>
  )
}
