// A spare belt put on the shelf.
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { MachineView } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { Button, Done } from '../../parts/Button'
import { unitName } from '../../parts/format'
import { FIELD, useMachineAct } from './act'

export function Shelf({ view }: { view: MachineView }) {
  const [width, wide] = useState('')
  const [number, call] = useState('')
  const client = useQueryClient()
  const put = useMachineAct(view, 'shelf', 'Spare belt', '/belts', () => ({
    width_mm: withUnit(width, 'mm'),
    make_number: number,
  }))
  return (
    <details>
      <summary className="flex min-h-11 cursor-pointer items-center text-sm underline underline-offset-4">
        Put a spare on the shelf
      </summary>
      <form
        className="space-y-2"
        onSubmit={async (event) => {
          event.preventDefault()
          await put.run()
          await client.invalidateQueries({ queryKey: ['machine'] })
        }}
      >
        <label className="block text-sm text-quiet">
          Its width, {unitName('mm')}
          <input
            value={width}
            maxLength={20}
            onChange={(event) => wide(event.target.value)}
            className={`reading ${FIELD}`}
          />
        </label>
        <label className="block text-sm text-quiet">
          Make's number, as read
          <input value={number} maxLength={60} onChange={(event) => call(event.target.value)} className={FIELD} />
        </label>
        <Button action={put} submits look="plain">
          Put it there
        </Button>
        <Done action={put} />
      </form>
    </details>
  )
}
