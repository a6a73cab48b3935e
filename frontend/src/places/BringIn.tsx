// Bringing a machine in from its setup document.
import { useQueryClient } from '@tanstack/react-query'
import { Dialog } from 'radix-ui'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { useAction } from '../api/action'
import { api, refusalOf } from '../api/client'
import { useDraft } from '../api/draft'
import { Button } from '../parts/Button'
import { Choice } from '../parts/Choice'

const KINDS = [
  { value: 'sled', name: 'Sled' },
  { value: 'side-by-side', name: 'Side-by-side' },
  { value: 'quad', name: 'Quad' },
] as const
const ORIGINS = ['manual, entered by the workshop', 'common practice', 'from memory'] as const

export function BringIn({ children }: { children: React.ReactNode }) {
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
    <Dialog.Root>
      <Dialog.Trigger asChild>{children}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-[#22262a99]" />
        <Dialog.Content className="fixed top-1/2 left-1/2 z-40 max-h-[92dvh] w-[34rem] max-w-[94vw] -translate-1/2 space-y-4 overflow-auto rounded-lg bg-paper p-6 shadow-2xl">
          <Dialog.Title className="text-xl font-bold">Bring in a machine</Dialog.Title>
          <Dialog.Description className="text-quiet">
            A machine comes in from its setup document: engine, clutches, belt and vehicle in one JSON file.
          </Dialog.Description>
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
              <Dialog.Close asChild>
                <Button look="plain">Cancel</Button>
              </Dialog.Close>
              <Button action={bring} submits>
                Bring it in
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
