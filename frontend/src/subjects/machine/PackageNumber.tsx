// A number of the package: touched, it is put right or changed.
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useAction } from '../../api/outbox/action'
import { api, type MachineView, refusalOf } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { Button, Refused } from '../../parts/Button'
import { plain, unitName } from '../../parts/format'
import { Close } from '../../parts/over/Over'
import { Panel } from '../../parts/over/Panel'
import { Quantity } from '../../parts/Quantity'
import { FIELD } from './act'
import { type How, HowChoice } from './How'

type Row = MachineView['package'][number]

/** A number of the package: touched, it may be put right or changed. */
export function PackageNumber({ view, row }: { view: MachineView; row: Row }) {
  const words = (
    <>
      <span className="text-quiet">{row.label}</span>
      <span className="reading whitespace-nowrap">
        {row.origin && (row.origin !== 'typical' || view.half) && (
          <span className={`mr-2 font-sans text-xs ${row.origin === 'typical' ? 'text-quiet' : 'text-keep'}`}>
            {row.origin}
          </span>
        )}
        <Quantity unit={row.unit}>{plain(row.value, row.unit)}</Quantity>
      </span>
    </>
  )
  if (!row.path) return <span className="flex min-h-11 items-center justify-between gap-3 px-1 text-sm">{words}</span>
  return (
    <NumberDialog view={view} row={row} path={row.path}>
      <button
        type="button"
        className="flex min-h-11 w-full items-center justify-between gap-3 rounded px-1 text-left text-sm hover:bg-paper"
      >
        {words}
        <span className="sr-only">{row.group}, put right or change</span>
      </button>
    </NumberDialog>
  )
}

const ORIGINS = ['measured', 'stamped', 'manual', 'rider says', 'typical', 'unknown']
interface NumberDialogProps {
  view: MachineView
  row: Row
  path: string
  children: React.ReactNode
}

function NumberDialog({ view, row, path, children }: NumberDialogProps) {
  const client = useQueryClient()
  const [open, setOpen] = useState(false)
  const [now, setNow] = useState('')
  const [origin, setOrigin] = useState('measured')
  const [how, setHow] = useState<How>('correction')
  const [reason, setReason] = useState('')
  const [asked, setAsked] = useState<{ words: string; meant?: string } | null>(null)
  const send = async (text: string, sure: boolean) => {
    setAsked(null)
    const answer = await api.POST('/api/machines/{machine_id}/numbers', {
      params: { path: { machine_id: view.machine.id } },
      body: { path, was: row.value, now: text, origin, how, reason, sure },
    })
    if (answer.data) {
      setOpen(false)
      setNow('')
      setReason('')
      await client.invalidateQueries()
      return ''
    }
    const refusal = refusalOf(answer)
    if (refusal.asks) {
      const meant = refusal.asks.meant.number
      setAsked({ words: refusal.asks.words, meant: meant == null ? undefined : String(meant) })
    }
    return refusal.reason
  }
  const put = useAction(() => send(withUnit(now, row.unit), false))
  const sure = useAction(() => send(withUnit(now, row.unit), true))
  const take = useAction(() => send(asked?.meant ?? '', true))
  return (
    <Panel opener={children} title={`${row.group}, ${row.label}`} open={open} onOpenChange={setOpen}>
      <form
        className="mt-3 space-y-3"
        onSubmit={(event) => {
          event.preventDefault()
          put.run()
        }}
      >
        <div className="grid grid-cols-2 gap-3">
          <label className="block text-sm text-quiet">
            Recorded {plain(row.value, row.unit)} {unitName(row.unit)}; it is
            <input
              value={now}
              maxLength={60}
              onChange={(event) => setNow(event.target.value)}
              className={`reading ${FIELD} text-xl font-semibold`}
            />
          </label>
          <label className="block text-sm text-quiet">
            How it is known
            <select value={origin} onChange={(event) => setOrigin(event.target.value)} className={FIELD}>
              {ORIGINS.map((each) => (
                <option key={each}>{each}</option>
              ))}
            </select>
          </label>
        </div>
        <HowChoice how={how} choose={setHow} />
        <label className="block text-sm text-quiet">
          {how === 'change' ? 'Reason for the change' : 'Remark, if any'}
          <input value={reason} maxLength={500} onChange={(event) => setReason(event.target.value)} className={FIELD} />
        </label>
        <Refused>{put.refused || sure.refused || take.refused}</Refused>
        {asked && (
          <div className="flex flex-wrap gap-2">
            {asked.words && (
              <Button look="plain" action={take}>
                {asked.words}
              </Button>
            )}
            <Button look="plain" action={sure}>
              Keep {now}
            </Button>
          </div>
        )}
        <div className="flex justify-end gap-3">
          <Close>
            <Button look="plain">Cancel</Button>
          </Close>
          <Button action={put} submits disabled={!now.trim()}>
            {how === 'correction' ? 'Put it right' : 'Record the change'}
          </Button>
        </div>
      </form>
    </Panel>
  )
}
