// How sure this machine's figures are, and what to measure next.
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useAction } from '../../api/outbox/action'
import { useDraft } from '../../api/outbox/draft'
import { api, type MachineView, must, refusalOf } from '../../api/server/client'
import { Button, Refused } from '../../parts/Button'
import { figure } from '../../parts/format'
import { useLook } from '../stranger/look'
import { Readings, sentOf, type Typed } from '../stranger/Readings'
import { FIELD } from './act'
import { type How, HowChoice } from './How'

/** How sure this machine's figures are, and the readings that would tell most. */
export function KnownSoFar({ view }: { view: MachineView }) {
  const client = useQueryClient()
  const id = view.machine.id
  const [kept, keep] = useDraft(`readings ${id}`)
  const draft: Typed = kept ? JSON.parse(kept) : {}
  const [prefer, setPrefer] = useState<Record<string, string>>({})
  const [sure, setSure] = useState<string[]>([])
  const [minutes, setMinutes] = useState(10)
  const [how, setHow] = useState<How>('correction')
  const [reason, setReason] = useState('')
  const [shown, show] = useState(false)
  const params = { path: { machine_id: id } }
  const look = useLook(
    `machine ${id} ${view.setups.revisions[0]?.id}`,
    { readings: sentOf(draft), prefer, sure, minutes, shown },
    ({ shown, ...body }) =>
      shown ? must(api.POST('/api/machines/{machine_id}/look', { params, body })) : Promise.resolve(null),
  )
  const take = useAction(async () => {
    const body = { readings: sentOf(draft), prefer, sure, minutes, how, reason }
    const answer = await api.POST('/api/machines/{machine_id}/readings', { params, body })
    if (!answer.data) return refusalOf(answer).reason
    keep('')
    setReason('')
    await client.invalidateQueries()
    return ''
  })
  const write = (next: Typed) => keep(Object.keys(next).length ? JSON.stringify(next) : '')
  const drop = (reading: string) => {
    const next = { ...draft }
    delete next[reading]
    write(next)
    setPrefer({})
    setSure(sure.filter((each) => each !== reading))
  }
  return (
    <details
      className="rounded-md border border-line bg-card px-4"
      onToggle={(event) => show(event.currentTarget.open)}
    >
      <summary className="flex min-h-12 cursor-pointer flex-wrap items-center gap-x-3 font-bold">
        How sure, and what to measure next
        {look.data && (
          <span className="reading text-sm font-normal text-quiet">
            engagement ± {figure(look.data.engagement_sd_rpm, 0)}, shift ± {figure(look.data.shift_sd_rpm, 0)} rpm
          </span>
        )}
      </summary>
      {look.data && (
        <div className="space-y-3 pb-4">
          <Readings
            look={look.data}
            typed={draft}
            onType={(reading, field, text, sent) => {
              const fields = { ...draft[reading], [field]: { text, sent } }
              if (!text) delete fields[field]
              const next = { ...draft, [reading]: fields }
              if (Object.keys(fields).length === 0) delete next[reading]
              setSure(sure.filter((each) => each !== reading))
              write(next)
            }}
            onSo={(reading) => {
              const asked = look.of?.readings[reading]
              if (JSON.stringify(asked) === JSON.stringify(sentOf(draft)[reading])) setSure([...sure, reading])
            }}
            minutes={minutes}
            onMinutes={setMinutes}
            onDrop={drop}
            onPrefer={(path, reading) => setPrefer({ ...prefer, [path]: reading })}
          />
          {Object.keys(draft).length > 0 && (
            <div className="space-y-3 border-t border-line pt-3">
              <HowChoice how={how} choose={setHow} />
              {how === 'change' && (
                <label className="block text-sm text-quiet">
                  Reason for the change
                  <input
                    value={reason}
                    maxLength={500}
                    onChange={(event) => setReason(event.target.value)}
                    className={FIELD}
                  />
                </label>
              )}
              <Button action={take}>Enter these readings</Button>
              <Refused>{take.refused}</Refused>
            </div>
          )}
        </div>
      )}
    </details>
  )
}
