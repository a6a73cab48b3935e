// Archiving, restoring, and merging a second record of the same machine.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useAct } from '../../api/outbox/saved'
import { api, type MachineView, must } from '../../api/server/client'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { FIELD, hrefOf, subjectOf, useMachineAct } from './act'

/** Put away, brought back, or made one with its double. */
export function PutAway({ view }: { view: MachineView }) {
  const { archived } = view.said
  const verb = archived ? 'Restore' : 'Archive'
  const move = useAct({
    subject: subjectOf(view),
    href: hrefOf(view),
    place: 'archived',
    label: `${verb} ${view.machine.name}`,
    target: () => ({
      method: 'PATCH',
      path: `/api/machines/${view.machine.id}/archived`,
      around: { was: archived, now: !archived },
    }),
  })
  return (
    <section>
      <Heading>Put away</Heading>
      <div className="flex flex-wrap items-start gap-3">
        <Button look="plain" action={move}>
          {verb}
        </Button>
        {!archived && <Merge view={view} />}
      </div>
      <Done action={move} />
    </section>
  )
}

function Merge({ view }: { view: MachineView }) {
  const [double, choose] = useState('')
  const [sure, setSure] = useState(false)
  const merge = useMachineAct(view, 'merge', 'Merge a double', '/merge', () => ({ double: Number(double) }))
  const others = useQuery({
    queryKey: ['floor', 'doubles'],
    queryFn: () => must(api.GET('/api/floor', { params: { query: { limit: 2000, shelf: true } } })),
  }).data?.machines.filter((each) => each.machine.id !== view.machine.id)
  const name = others?.find((each) => String(each.machine.id) === double)?.machine.name
  return (
    <div className="min-w-64 flex-1">
      <label className="block text-sm text-quiet">
        <span className="sr-only">Merge a double</span>
        <select
          value={double}
          onChange={(event) => {
            choose(event.target.value)
            setSure(false)
          }}
          className={FIELD.replace('mt-1 ', '')}
        >
          <option value="">Merge a double of it…</option>
          {others?.map(({ machine }) => (
            <option key={machine.id} value={machine.id}>
              {[machine.name, machine.rider].filter(Boolean).join(' · ')}
            </option>
          ))}
        </select>
      </label>
      {double && (
        <div className="mt-2 space-y-2 border-l-4 border-watch pl-3">
          <p className="text-sm">
            Visits, set-ups, belts, limits and photos of “{name}” move to this record, whose set-up stays. It cannot be
            taken apart again.
          </p>
          <label className="flex min-h-11 items-center gap-3">
            <input
              type="checkbox"
              checked={sure}
              onChange={(event) => setSure(event.target.checked)}
              className="size-6 accent-signal"
            />
            They are one machine
          </label>
          <Button action={merge} disabled={!sure}>
            Merge
          </Button>
          <Done action={merge} />
        </div>
      )}
    </div>
  )
}
