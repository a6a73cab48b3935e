// A bundle from elsewhere: looked at first, then taken in or left.
import { useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { useAction } from '../../api/outbox/action'
import { api, must, refusalOf } from '../../api/server/client'
import { followed, type Job, under } from '../../api/server/jobs'
import type { components } from '../../api/server/schema'
import { Button, Done } from '../../parts/Button'
import { Close } from '../../parts/over/Over'
import { Panel } from '../../parts/over/Panel'
import { Progress } from '../../parts/Progress'

type Brought = components['schemas']['BundleInView']

const PART = 4 * 1024 * 1024
const MOST = 200_000_000

async function sent(file: File, tell: (job: Job) => void): Promise<{ held?: string; refused?: string }> {
  if (file.size > MOST) return { refused: 'it is larger than 200 MB: take it in by the command' }
  const begun = await api.POST('/api/bundles/coming', { body: { size: file.size } })
  if (!begun.data) return { refused: refusalOf(begun).reason }
  const held = begun.data.held
  for (let number = 0; number * PART < file.size; number += 1) {
    tell({ job: '', state: 'working', share: (number * PART) / file.size, refused: null })
    const answer = await api.PUT('/api/bundles/coming/{held}/parts/{number}', {
      params: { path: { held, number } },
      body: file.slice(number * PART, (number + 1) * PART) as never,
      bodySerializer: (body) => body as unknown as BodyInit,
      headers: { 'Content-Type': 'application/octet-stream' },
    })
    if (!answer.data) return { refused: refusalOf(answer).reason }
  }
  return { held }
}

export function BundleIn() {
  const client = useQueryClient()
  const file = useRef<HTMLInputElement>(null)
  const [held, hold] = useState<string>()
  const [found, tell] = useState<Brought>()
  const [job, follow] = useState<Job>()
  const [taken, take] = useState(false)

  const watch = async (path: '/api/bundles/coming/{held}/look' | '/api/bundles/coming/{held}/take', key: string) => {
    const answer = await api.POST(path, { params: { path: { held: key } }, body: {} as never })
    if (!answer.data) return `Not taken in: ${refusalOf(answer).reason}.`
    const done = await followed(
      answer.data,
      (each) => must(api.GET('/api/bundles/coming/{job}', { params: { path: { job: each } } })),
      follow,
    )
    if (done.refused) return `Not taken in: the ${done.refused.field} ${done.refused.reason}.`
    if (done.state === 'done') tell(done)
    return done.state === 'given up' ? 'Given up: nothing of it was kept.' : ''
  }
  const look = useAction(async () => {
    const chosen = file.current?.files?.[0]
    if (!chosen) return 'Choose a file first.'
    tell(undefined)
    take(false)
    const came = await sent(chosen, follow)
    if (file.current) file.current.value = ''
    if (!came.held) return `Not taken in: ${came.refused}.`
    hold(came.held)
    return watch('/api/bundles/coming/{held}/look', came.held)
  })
  const keep = useAction(async () => {
    if (!held) return ''
    const refused = await watch('/api/bundles/coming/{held}/take', held)
    if (!refused) {
      take(true)
      await client.invalidateQueries()
    }
    return refused
  })
  const stop = () =>
    job?.job &&
    void api.POST('/api/bundles/coming/{job}/cancel', { params: { path: { job: job.job } }, body: {} as never })
  return (
    <Panel
      opener={<Button look="plain">Take a bundle in</Button>}
      title="A bundle from elsewhere"
      about="A zip file another Jaxel made of a machine or a visit. It is looked at first; what is here stays as it is."
    >
      <input
        ref={file}
        type="file"
        accept=".zip,application/zip"
        aria-label="Bundle"
        className="min-h-11 w-full text-sm"
        onChange={look.run}
      />
      {job && under(job) && <Progress job={job} what="Bundle" stop={stop} />}
      <Done action={look} />
      {found && <Brings found={found} taken={taken} />}
      <Done action={keep} />
      <div className="flex flex-wrap justify-end gap-3">
        <Close>
          <Button look="plain">Close</Button>
        </Close>
        {found && !taken && (
          <Button action={keep} data-main>
            Take it in
          </Button>
        )}
      </div>
    </Panel>
  )
}

function Brings({ found, taken }: { found: Brought; taken: boolean }) {
  const lines = [
    [taken ? 'Machines that came' : 'Machines that would come', found.new_machines],
    ['Machines known here', found.known_machines],
    [taken ? 'Visits that came' : 'Visits that would come', found.new_visits],
    ['Visits that are here, the same', found.known_visits],
  ] as const
  return (
    <section aria-label="What it brings" className="space-y-2 text-sm" role="status" data-brings>
      {taken && <p className="text-base font-semibold text-keep">Taken in.</p>}
      <dl className="divide-y divide-line border-y border-line">
        {lines.map(([name, some]) => (
          <div key={name} className="flex gap-4 py-1">
            <dt className="w-56 shrink-0 text-quiet">{name}</dt>
            <dd className="min-w-0 wrap-anywhere">{some.length ? some.join(', ') : 'none'}</dd>
          </div>
        ))}
        <div className="flex gap-4 py-1">
          <dt className="w-56 shrink-0 text-quiet">Photos and logs that are new</dt>
          <dd className="reading">
            {found.photos}, {found.logs}
          </dd>
        </div>
      </dl>
      {found.differences.length > 0 && (
        <>
          <p className="font-semibold">Said otherwise here: what is here stays</p>
          <ul className="max-h-60 divide-y divide-line overflow-auto border-y border-line">
            {found.differences.map((each) => (
              <li key={`${each.of}${each.name}${each.field}`} className="py-1 wrap-anywhere">
                {each.name}, {each.field.replaceAll('_', ' ')}: <b>{each.here || 'nothing'}</b> here,{' '}
                {each.there || 'nothing'} there
              </li>
            ))}
          </ul>
        </>
      )}
      {found.beside.map((name) => (
        <p key={name} className="text-watch">
          {name} was worked on here since: its set-up here stays in force, and what comes stands as its past.
        </p>
      ))}
    </section>
  )
}
