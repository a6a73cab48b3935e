// A tool that remedies need: what it costs once, and whether it is at hand.
import { useQueryClient } from '@tanstack/react-query'
import { useId } from 'react'
import { useSaved } from '../../api/outbox/saved'
import type { PartsView } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { Remark } from '../../parts/field/Field'
import { typed } from '../../parts/format'
import { FIELD, PAUSE_MS } from '../machine/act'
import { KEY, type Tool } from './view'

export function ToolRow({ tool }: { tool: Tool }) {
  const id = useId()
  const client = useQueryClient()
  const at = {
    subject: `tool ${tool.name}`,
    href: '/parts',
    target: { method: 'PATCH' as const, path: '/api/tools', around: { name: tool.name } },
    closed: false,
  }
  const taken = (data: unknown) => {
    client.setQueryData(KEY, data)
    return (data as PartsView).tools.find((each) => each.name === tool.name)
  }
  const price = useSaved({
    ...at,
    place: 'price',
    label: `${tool.name}: price`,
    field: 'price',
    stored: tool.price,
    read: (data) => taken(data)?.price,
    show: (value) => typed(value as number | null, ''),
    send: (text) => withUnit(text, ''),
  })
  const owned = useSaved({
    ...at,
    place: 'owned',
    label: `${tool.name}: at hand`,
    field: 'owned',
    stored: tool.owned,
    read: (data) => taken(data)?.owned,
    show: (value) => (value ? 'yes' : ''),
  })
  return (
    <li className="rounded-md border border-line bg-card p-3" data-tool={tool.name}>
      <b className="first-letter:uppercase">{tool.name}</b>
      <div className="flex items-end gap-4">
        <div>
          <label htmlFor={id} className="text-sm text-quiet">
            Price
          </label>
          <input
            id={id}
            value={price.text}
            maxLength={20}
            onChange={(event) => price.type(event.target.value, PAUSE_MS)}
            onBlur={price.leave}
            className={`reading ${FIELD}`}
          />
        </div>
        <label className="flex min-h-12 items-center gap-2">
          <input
            type="checkbox"
            checked={owned.text === 'yes'}
            onChange={(event) => owned.choose(event.target.checked)}
            className="size-6 accent-signal"
          />
          at hand
        </label>
      </div>
      <Remark saved={price} id={`${id}-price`} />
      <Remark saved={owned} id={`${id}-owned`} />
    </li>
  )
}
