// The workshop's torque wrenches: what each reaches, and when it is to be checked.
import { useQuery } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { useDraft } from '../../api/outbox/draft'
import { useAct, useSaved } from '../../api/outbox/saved'
import { api, must } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { Remark } from '../../parts/field/Field'
import { figure, reading, unitName } from '../../parts/format'

const FIELD = 'mt-1 h-11 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink'
const HERE = { subject: 'wrenches', href: '/workshop' }

function useWrenches() {
  return useQuery({ queryKey: ['wrenches'], queryFn: () => must(api.GET('/api/wrenches')) })
}

type Own = NonNullable<ReturnType<typeof useWrenches>['data']>['wrenches'][number]

export function Wrenches() {
  const { data } = useWrenches()
  return (
    <section className="min-w-0" aria-label="Wrenches">
      <Heading aside="range, step, day of checking">Torque wrenches</Heading>
      <ul className="mb-3 divide-y divide-line border-y border-line empty:hidden">
        {data?.wrenches.map((each) => (
          <Row key={each.id} wrench={each} />
        ))}
      </ul>
      <Add />
    </section>
  )
}

function Row({ wrench }: { wrench: Own }) {
  const verb = wrench.retired ? 'Bring back' : 'Retire'
  const retire = useAct({
    ...HERE,
    place: `wrench ${wrench.id}`,
    label: `${verb} ${wrench.name}`,
    target: () => ({
      method: 'PATCH',
      path: `/api/wrenches/${wrench.id}`,
      around: { retired: { was: wrench.retired, now: !wrench.retired } },
    }),
  })
  return (
    <li
      className={`flex flex-wrap items-end justify-between gap-x-3 gap-y-1 py-2 ${wrench.retired ? 'text-quiet' : ''}`}
      data-wrench={wrench.name}
    >
      <span className="w-full min-w-0">
        <b>{wrench.name}</b>{' '}
        <span className="reading">
          {wrench.kind === 'multiplier'
            ? `${figure(wrench.ratio ?? 0, 1)} to 1, up to ${reading(wrench.high_nm, 'N·m')} ${unitName('N·m')}`
            : `${reading(wrench.low_nm, 'N·m')}–${reading(wrench.high_nm, 'N·m')} ${unitName('N·m')}, step ${reading(wrench.step_nm, 'N·m', 1)}`}
        </span>
        <span className="block text-sm text-quiet">
          {wrench.overdue && <b className="text-watch">overdue for checking since {wrench.due_on}</b>}
          {wrench.length_mm != null &&
            `${wrench.overdue ? ' · ' : ''}${reading(wrench.length_mm, 'mm')} ${unitName('mm')} grip to square`}
        </span>
      </span>
      {wrench.kind === 'wrench' && !wrench.retired && <CheckedUntil wrench={wrench} />}
      <span className="ml-auto">
        <Button look="plain" action={retire} aria-label={`${verb} ${wrench.name}`}>
          {verb}
        </Button>
      </span>
      <Done action={retire} className="w-full text-sm" />
    </li>
  )
}

/** The day of its next checking, moved on when it comes back from one. */
function CheckedUntil({ wrench }: { wrench: Own }) {
  const id = useId()
  const saved = useSaved({
    ...HERE,
    place: `wrench ${wrench.id} due`,
    label: `${wrench.name}: to be checked on`,
    field: 'due_on',
    target: { method: 'PATCH', path: `/api/wrenches/${wrench.id}` },
    stored: wrench.due_on,
    read: (data) => (data as { wrenches: Own[] }).wrenches.find((each) => each.id === wrench.id)?.due_on,
    show: (value) => String(value ?? ''),
    closed: false,
  })
  return (
    <div className="w-40">
      <label htmlFor={id} className="block text-sm text-quiet">
        To be checked on
      </label>
      <input
        id={id}
        type="date"
        value={saved.text}
        onChange={(event) => saved.choose(event.target.value)}
        aria-describedby={`${id}-remark`}
        className={FIELD}
      />
      <Remark saved={saved} id={`${id}-remark`} />
    </div>
  )
}

function Add() {
  const [name, setName] = useDraft('wrench name')
  const [kind, setKind] = useState<'wrench' | 'multiplier'>('wrench')
  const [kept, keep] = useDraft('wrench form')
  const typed: Record<string, string> = kept ? JSON.parse(kept) : {}
  const setTyped = (next: Record<string, string>) => keep(Object.keys(next).length > 0 ? JSON.stringify(next) : '')
  const torque = (field: string) => (typed[field]?.trim() ? withUnit(typed[field] ?? '', 'N·m') : null)
  const add = useAct(
    {
      ...HERE,
      place: 'wrench',
      label: `Wrench ${name}`,
      target: () => ({
        method: 'POST',
        path: '/api/wrenches',
        around: {
          name,
          kind,
          low: kind === 'wrench' ? torque('low') : null,
          high: torque('high'),
          step: kind === 'wrench' ? torque('step') : null,
          length_mm: typed.length?.trim() ? withUnit(typed.length, 'mm') : null,
          ratio: kind === 'multiplier' && typed.ratio?.trim() ? typed.ratio : null,
          due_on: typed.due ?? '',
        },
      }),
      held: false,
    },
    () => {
      setName('')
      setTyped({})
    },
  )
  const field = (key: string, label: string, type = 'text') => (
    <label className="block min-w-24 flex-1">
      {label}
      <input
        type={type}
        className={FIELD}
        value={typed[key] ?? ''}
        maxLength={30}
        onChange={(event) => setTyped({ ...typed, [key]: event.target.value })}
      />
    </label>
  )
  return (
    <form
      className="space-y-2 text-sm text-quiet"
      onSubmit={(event) => {
        event.preventDefault()
        if (name.trim()) add.run()
      }}
    >
      <div className="flex flex-wrap gap-2">
        <label className="block min-w-40 flex-[2]">
          Another wrench
          <input className={FIELD} value={name} maxLength={60} onChange={(event) => setName(event.target.value)} />
        </label>
        <label className="block">
          It is a
          <select className={FIELD} value={kind} onChange={(event) => setKind(event.target.value as typeof kind)}>
            <option value="wrench">torque wrench</option>
            <option value="multiplier">multiplier</option>
          </select>
        </label>
      </div>
      <div className="flex flex-wrap gap-2">
        {kind === 'wrench' ? (
          <>
            {field('low', `From, ${unitName('N·m')}`)}
            {field('high', `to, ${unitName('N·m')}`)}
            {field('step', 'in steps of')}
            {field('length', `Grip to square, ${unitName('mm')}`)}
          </>
        ) : (
          <>
            {field('ratio', 'Ratio, to 1')}
            {field('high', `Up to, ${unitName('N·m')}`)}
          </>
        )}
        {field('due', 'To be checked on', 'date')}
      </div>
      <Button look="plain" action={add} submits disabled={!name.trim()}>
        Enter it
      </Button>
      <Done action={add} />
    </form>
  )
}
