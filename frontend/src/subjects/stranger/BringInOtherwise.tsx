// The other ways in: from a setup document, and like a machine the workshop knows.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { useAction } from '../../api/outbox/action'
import { useDraft } from '../../api/outbox/draft'
import { api, must, refusalOf } from '../../api/server/client'
import { Button, Refused } from '../../parts/Button'
import { Choice } from '../../parts/field/Choice'
import { Close } from '../../parts/over/Over'
import { Panel } from '../../parts/over/Panel'

const KINDS = [
  { value: 'sled', name: 'Sled' },
  { value: 'side-by-side', name: 'Side-by-side' },
  { value: 'quad', name: 'Quad' },
  { value: 'light vehicle', name: 'Light vehicle' },
] as const
const ORIGINS = ['manual', "part maker's sheet", 'common practice', 'from memory'] as const

export function FromFile({ children }: { children: React.ReactNode }) {
  const client = useQueryClient()
  const go = useNavigate()
  const [file, setFile] = useState<File | null>(null)
  const [kind, setKind] = useState<(typeof KINDS)[number]['value']>('sled')
  const [rider, setRider] = useDraft('rider')
  // One machine for one file, however often it is sent: an answer may be lost on its way.
  const token = useMemo(() => (file ? crypto.randomUUID() : ''), [file])
  const [origin, setOrigin] = useState<(typeof ORIGINS)[number]>(ORIGINS[0])
  const bring = useAction(async () => {
    if (!file) return 'choose a setup document first'
    const answer = await api.POST('/api/machines', {
      params: { query: { kind, rider, limit_origin: origin } },
      // The document goes as the bytes it is: the server reads it as it reads a file.
      body: {},
      bodySerializer: () => file,
      headers: { 'Content-Type': 'application/json', 'Jaxel-Once': token },
    })
    if (!answer.data) {
      const { field, reason } = refusalOf(answer)
      return `${field}: ${reason}`
    }
    setRider('')
    await client.invalidateQueries({ queryKey: ['floor'] })
    go(`/machines/${answer.data.machine.id}`)
    return ''
  })

  return (
    <Panel
      opener={children}
      title="From a file"
      about="A machine comes in from its setup document: engine, clutches, belt and vehicle in one JSON file."
    >
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault()
          bring.run()
        }}
      >
        <label className="block">
          <span className="text-sm text-quiet">Setup document</span>
          <input
            type="file"
            accept=".json,application/json"
            onChange={(event) => setFile(event.target.files?.[0] ?? null)}
            className="mt-1 block w-full rounded-md border-2 border-line bg-card p-2 file:mr-4 file:min-h-11 file:rounded file:border-0 file:bg-ink file:px-4 file:font-semibold file:text-paper"
          />
        </label>
        <Choice label="Kind of machine" value={kind} options={KINDS} choose={setKind} />
        <label className="block">
          <span className="text-sm text-quiet">Rider or owner</span>
          <input
            value={rider}
            maxLength={120}
            onChange={(event) => setRider(event.target.value)}
            className="mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3"
          />
        </label>
        <label className="block">
          <span className="text-sm text-quiet">Where its belt limit comes from</span>
          <select
            value={origin}
            onChange={(event) => setOrigin(event.target.value as typeof origin)}
            className="mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3"
          >
            {ORIGINS.map((each) => (
              <option key={each}>{each}</option>
            ))}
          </select>
        </label>
        {bring.refused && (
          <p role="alert" className="border-l-4 border-replace pl-3 break-words text-replace">
            Not brought in. {bring.refused}
          </p>
        )}
        <div className="flex justify-end gap-3">
          <Close>
            <Button look="plain">Cancel</Button>
          </Close>
          <Button action={bring} submits>
            Bring it in
          </Button>
        </div>
      </form>
    </Panel>
  )
}

export function LikeOne({ children }: { children: React.ReactNode }) {
  const client = useQueryClient()
  const go = useNavigate()
  const [like, setLike] = useState('')
  const [name, setName] = useDraft('like name')
  const [rider, setRider] = useDraft('like rider')
  const [token, renew] = useState(() => crypto.randomUUID())
  const known = useQuery({
    queryKey: ['floor', 'all'],
    queryFn: () => must(api.GET('/api/floor', { params: { query: { limit: 2000 } } })),
  }).data?.machines
  const copy = useAction(async () => {
    const machine_id = Number(like)
    if (!machine_id) return 'say which machine it is like'
    const answer = await api.POST('/api/machines/{machine_id}/copy', {
      params: { path: { machine_id } },
      body: { name, rider },
      headers: { 'Jaxel-Once': token },
    })
    if (!answer.data) return refusalOf(answer).reason
    setName('')
    setRider('')
    renew(crypto.randomUUID())
    await client.invalidateQueries({ queryKey: ['floor'] })
    go(`/machines/${answer.data.machine.id}`)
    return ''
  })
  const look = 'mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3'
  return (
    <Panel
      opener={children}
      title="Like one we know"
      about="Its set-up on a new belt. What was measured on the other is only typical of this one."
    >
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault()
          copy.run()
        }}
      >
        <label className="block">
          <span className="text-sm text-quiet">Like</span>
          <select aria-label="Like" value={like} onChange={(event) => setLike(event.target.value)} className={look}>
            <option value="">which one?</option>
            {known?.map(({ machine }) => (
              <option key={machine.id} value={machine.id}>
                {[machine.name, machine.rider].filter(Boolean).join(' · ')}
              </option>
            ))}
          </select>
        </label>
        <label className="block">
          <span className="text-sm text-quiet">Its own name</span>
          <input value={name} maxLength={120} onChange={(event) => setName(event.target.value)} className={look} />
        </label>
        <label className="block">
          <span className="text-sm text-quiet">Rider or owner</span>
          <input value={rider} maxLength={120} onChange={(event) => setRider(event.target.value)} className={look} />
        </label>
        <Refused>{copy.refused}</Refused>
        <div className="flex justify-end gap-3">
          <Close>
            <Button look="plain">Cancel</Button>
          </Close>
          <Button action={copy} submits>
            Bring it in
          </Button>
        </div>
      </form>
    </Panel>
  )
}
