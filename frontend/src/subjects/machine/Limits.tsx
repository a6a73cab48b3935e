// The limits with where they come from.
import { useState } from 'react'
import { useDraft } from '../../api/outbox/draft'
import type { MachineView } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { Button, Done } from '../../parts/Button'
import { told, unitName } from '../../parts/format'
import { FIELD, useMachineAct } from './act'

const LIMIT_ORIGINS = ['manual', "part maker's sheet", 'common practice', 'from memory'] as const
type LimitOrigin = (typeof LIMIT_ORIGINS)[number]
const LIMITS = [
  { what: 'belt_width_min_mm', name: 'Belt, narrowest', unit: 'mm' },
  { what: 'rev_limit_rpm', name: 'Engine, highest speed', unit: 'rpm' },
] as const

/** The limits with where they come from; two that conflict stand side by side. */
export function Limits({ view }: { view: MachineView }) {
  const [what, setWhat] = useState<(typeof LIMITS)[number]['what']>('belt_width_min_mm')
  const [value, setValue] = useDraft(`limit ${view.machine.id}`)
  const [origin, setOrigin] = useState<LimitOrigin>('manual')
  const unit = LIMITS.find((each) => each.what === what)?.unit ?? ''
  const state = useMachineAct(view, 'state limit', 'Limit', '/limits', () => ({
    what,
    value: withUnit(value, unit),
    origin,
  }))
  return (
    <section className="mt-4">
      <h3 className="mb-1 text-sm font-semibold">Limits</h3>
      <ul className="space-y-1 text-sm">
        {view.limits.map((limit) => (
          <LimitLine key={limit.id} view={view} limit={limit} />
        ))}
      </ul>
      <details>
        <summary className="flex min-h-11 cursor-pointer items-center text-sm underline underline-offset-4">
          state a limit
        </summary>
        <form
          className="space-y-2 text-sm"
          onSubmit={(event) => {
            event.preventDefault()
            state.run().then(() => setValue(''))
          }}
        >
          <select
            aria-label="Which limit"
            value={what}
            onChange={(event) => setWhat(event.target.value as typeof what)}
            className={FIELD}
          >
            {LIMITS.map((each) => (
              <option key={each.what} value={each.what}>
                {each.name}
              </option>
            ))}
          </select>
          <label className="block text-quiet">
            Its value, {unitName(unit)}
            <input value={value} maxLength={40} onChange={(event) => setValue(event.target.value)} className={FIELD} />
          </label>
          <label className="block text-quiet">
            Where it comes from
            <select value={origin} onChange={(event) => setOrigin(event.target.value as LimitOrigin)} className={FIELD}>
              {LIMIT_ORIGINS.map((each) => (
                <option key={each}>{each}</option>
              ))}
            </select>
          </label>
          <Button look="plain" wide action={state} submits disabled={!value.trim()}>
            State it
          </Button>
          <Done action={state} />
        </form>
      </details>
    </section>
  )
}

function LimitLine({ view, limit }: { view: MachineView; limit: MachineView['limits'][number] }) {
  const withdraw = useMachineAct(
    view,
    `withdraw limit ${limit.id}`,
    `Withdraw ${limit.name}`,
    `/limits/${limit.id}/withdraw`,
    () => ({}),
  )
  return (
    <li className={`flex flex-wrap items-center gap-x-3 ${limit.holds ? '' : 'text-quiet'}`}>
      <span className="min-w-0 flex-1">
        {limit.name} <b className="reading">{told(limit.value, limit.unit)}</b>
        <span className="block text-xs text-quiet">
          {limit.origin}
          {limit.conflicts && (
            <b className="text-watch"> · {limit.holds ? 'holds; others differ' : 'differs, does not hold'}</b>
          )}
        </span>
      </span>
      <button
        type="button"
        onClick={withdraw.run}
        aria-label={`Withdraw ${limit.name}, ${limit.origin}`}
        className="min-h-11 px-1 text-xs underline underline-offset-4"
      >
        withdraw
      </button>
      <Done action={withdraw} className="w-full" />
    </li>
  )
}
