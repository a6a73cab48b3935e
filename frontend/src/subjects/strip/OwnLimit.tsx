// The manual's limit for the item in hand, stated where it is missed: of this machine, or of every one of its model.
import { useState } from 'react'
import { useAct } from '../../api/outbox/saved'
import { cache } from '../../api/server/cache'
import type { KindView, WearItem } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { useDesk } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { unitName } from '../../parts/format'
import { FIELD } from '../machine/act'
import { named, OfModel, THIS_MACHINE, whose } from '../machine/OfModel'

export function OwnLimit({ kind, known }: { kind: KindView; known: WearItem }) {
  const { visit } = useDesk()
  const [value, type] = useState('')
  const [of, setOf] = useState(THIS_MACHINE)
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
          machine_id: visit.machine.id,
          ...whose(of),
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
      className="grid grid-cols-[minmax(0,1fr)_auto] items-end gap-2 sm:grid-cols-[minmax(0,1fr)_auto]"
      onSubmit={(event) => {
        event.preventDefault()
        state.run()
      }}
    >
      <label className="text-sm text-quiet">
        Limit this machine’s manual gives{unit && `, ${unitName(unit)}`}
        <input
          value={value}
          maxLength={20}
          onChange={(event) => type(event.target.value)}
          className={`reading ${FIELD}`}
        />
      </label>
      <Button action={state} submits look="plain" disabled={value.trim() === '' || !named(of)}>
        State it
      </Button>
      <OfModel value={of} set={setOf} model={visit.machine.model} />
      <Done action={state} className="col-span-full" />
    </form>
  )
}
