// The manual's limit for the item in hand, stated where it is missed: of this machine, or of every clutch of its kind.
import { useState } from 'react'
import { useAct } from '../../api/outbox/saved'
import { cache } from '../../api/server/cache'
import type { KindView, WearItem } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { useDesk } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { unitName } from '../../parts/format'
import { FIELD } from '../machine/act'

export function OwnLimit({ kind, known }: { kind: KindView; known: WearItem }) {
  const { visit } = useDesk()
  const [value, type] = useState('')
  const [whole, all] = useState(false)
  const unit = known.measure?.unit ?? ''
  const state = useAct(
    {
      subject: `kind ${kind.key}`,
      place: `limit ${known.key}`,
      label: `Limit of ${known.name.toLowerCase()}`,
      href: `/guide/${kind.key}`,
      held: false,
      repeats: true,
      target: () => ({
        method: 'POST',
        path: `/api/guide/kinds/${kind.key}/limits`,
        around: {
          item: known.key,
          value: withUnit(value, unit),
          origin: 'manual',
          machine_id: whole ? null : visit.machine.id,
        },
      }),
    },
    () => {
      type('')
      cache.invalidateQueries({ queryKey: ['kind', kind.key] })
      cache.invalidateQueries({ queryKey: ['visit', visit.id] })
    },
  )
  return (
    <form
      className="grid grid-cols-[minmax(0,1fr)_auto] items-end gap-2 sm:grid-cols-[minmax(0,1fr)_auto_auto]"
      onSubmit={(event) => {
        event.preventDefault()
        state.run()
      }}
    >
      <label className="text-sm text-quiet">
        Limit of our manual{unit && `, ${unitName(unit)}`}
        <input
          value={value}
          maxLength={20}
          onChange={(event) => type(event.target.value)}
          className={`reading ${FIELD}`}
        />
      </label>
      <label className="flex min-h-12 items-center gap-2 text-sm">
        <input
          type="checkbox"
          checked={whole}
          onChange={(event) => all(event.target.checked)}
          className="size-6 accent-signal"
        />
        every clutch of this kind
      </label>
      <Button action={state} submits look="plain">
        State it
      </Button>
      <Done action={state} className="col-span-full" />
    </form>
  )
}
