// A clutch that came alone, and the machine it was mounted on: a dated link; each keeps its own history.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type MachineView, must } from '../../api/server/client'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { Choice } from '../../parts/field/Choice'
import { day } from '../../parts/format'
import { FIELD, useMachineAct } from './act'

export function Mounted({ view }: { view: MachineView }) {
  const bare = view.machine.kind === 'bare clutch'
  const there = view.mounted.find((each) => each.clutch_id === view.machine.id && !each.ended_on)
  if (!bare && view.mounted.length === 0) return null
  return (
    <section data-mounted>
      <Heading>{bare ? 'Mounted on' : 'Clutches mounted'}</Heading>
      <ul className="text-sm leading-6">
        {view.mounted.map((each) => {
          const other = bare ? { id: each.machine_id, name: each.machine } : { id: each.clutch_id, name: each.clutch }
          return (
            <li key={`${each.clutch_id} ${each.machine_id} ${each.mounted_on}`}>
              <Link
                to={`/machines/${other.id}`}
                className="inline-flex min-h-11 items-center underline underline-offset-4"
              >
                {other.name}
              </Link>
              , {each.side}, {day(each.mounted_on)}
              {each.ended_on ? ` to ${day(each.ended_on)}` : ' until now'} · {each.mounted_by}
              {each.took_off === 'gone' && ' · what it replaced is gone'}
              {each.took_off_id != null && (
                <>
                  {' '}
                  · what it replaced:{' '}
                  <Link
                    to={`/machines/${each.took_off_id}`}
                    className="inline-flex min-h-11 items-center underline underline-offset-4"
                  >
                    lies here
                  </Link>
                </>
              )}
            </li>
          )
        })}
      </ul>
      {bare && !there && <Mount view={view} />}
    </section>
  )
}

const OFF = [
  { value: 'bare clutch', name: 'Lies here as a bare clutch' },
  { value: 'gone', name: 'Gone' },
] as const

function Mount({ view }: { view: MachineView }) {
  const [machine, choose] = useState('')
  const [off, setOff] = useState<'bare clutch' | 'gone'>('bare clutch')
  const [on, setOn] = useState('')
  const mount = useMachineAct(view, 'mount', `Mount ${view.machine.name}`, '/mount', () => ({
    machine_id: Number(machine),
    took_off: off,
    on,
  }))
  const machines = useQuery({
    queryKey: ['floor', 'doubles'],
    queryFn: () => must(api.GET('/api/floor', { params: { query: { limit: 2000, shelf: true } } })),
  }).data?.machines.filter((each) => each.machine.kind !== 'bare clutch' && !each.archived)
  if (!view.half)
    return (
      <p className="text-sm text-quiet">Say first of which kind it is: a primary or a secondary, then it is mounted.</p>
    )
  return (
    <div className="space-y-2">
      <label className="block text-sm text-quiet">
        Mount this {view.half} on
        <select value={machine} onChange={(event) => choose(event.target.value)} className={FIELD}>
          <option value="">none: it lies on the shelf</option>
          {machines?.map(({ machine: each }) => (
            <option key={each.id} value={each.id}>
              {[each.name, each.rider].filter(Boolean).join(' · ')}
            </option>
          ))}
        </select>
      </label>
      {machine && (
        <>
          <label className="block text-sm text-quiet">
            On the day, today where empty
            <input type="date" value={on} onChange={(event) => setOn(event.target.value)} className={FIELD} />
          </label>
          <p className="text-sm text-quiet">The {view.half} it replaces</p>
          <Choice label={`The ${view.half} it replaces`} value={off} options={OFF} compact choose={setOff} />
          <Button action={mount}>Mount it</Button>
        </>
      )}
      <Done action={mount} />
    </div>
  )
}
