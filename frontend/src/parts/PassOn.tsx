// A machine or a signed visit as an open bundle: what goes along is ticked, the rest stays at home.
import { useState } from 'react'
import { useAction } from '../api/outbox/action'
import { api, must, refusalOf } from '../api/server/client'
import { followed, type Job, under } from '../api/server/jobs'
import { Button, buttonLook, Done } from './Button'
import { Close } from './over/Over'
import { Panel } from './over/Panel'
import { Progress } from './Progress'

const ALONG = [
  ['rider', "the rider's name"],
  ['prices', 'prices'],
  ['technicians', 'names of technicians'],
] as const

type Ticked = Record<(typeof ALONG)[number][0], boolean>

interface Made extends Job {
  name: string
  size: number
}

export function PassOn({
  of,
  id,
  opener,
  wide,
}: {
  of: 'machine' | 'visit'
  id: number
  opener: string
  wide?: boolean
}) {
  const [ticked, tick] = useState<Ticked>({ rider: false, prices: false, technicians: false })
  const [made, tell] = useState<Made>()
  const make = useAction(async () => {
    tell(undefined)
    const answer = await api.POST('/api/bundles/made', { body: { of, id, ...ticked } })
    if (!answer.data) return `Not made: ${refusalOf(answer).reason}.`
    const done = await followed<Made>(
      answer.data,
      (job) => must(api.GET('/api/bundles/made/{job}', { params: { path: { job } } })),
      tell,
    )
    return done.refused ? `Not made: ${done.refused.reason}.` : ''
  })
  const stop = () =>
    made && void api.POST('/api/bundles/made/{job}/cancel', { params: { path: { job: made.job } }, body: {} as never })
  return (
    <Panel
      opener={
        <Button look="plain" wide={wide}>
          {opener}
        </Button>
      }
      title={of === 'machine' ? 'Pass this machine on' : 'Pass this visit on'}
      about="An open bundle, a zip file that another Jaxel takes in: set-ups, signed visits, photos and logs. A visit that is open stays out. What is left out is struck from its words too; what was typed of anybody else stays."
    >
      <fieldset className="space-y-1">
        <legend className="font-semibold">Goes along only where ticked</legend>
        {ALONG.map(([key, words]) => (
          <label key={key} className="flex min-h-11 items-center gap-3">
            <input
              type="checkbox"
              className="size-6 accent-ink"
              checked={ticked[key]}
              onChange={(event) => {
                tick({ ...ticked, [key]: event.target.checked })
                tell(undefined)
              }}
            />
            {words}
          </label>
        ))}
      </fieldset>
      {made && under(made) && <Progress job={made} what="Bundle in the making" stop={stop} />}
      <Done action={make} />
      <div className="flex flex-wrap justify-end gap-3">
        <Close>
          <Button look="plain">Close</Button>
        </Close>
        {made?.state === 'done' ? (
          <a href={`/api/bundles/made/${made.job}/file`} className={buttonLook('main')} data-bundle>
            Keep the file, {Math.max(1, Math.round(made.size / 1000)).toLocaleString('en')} kB
          </a>
        ) : (
          <Button action={make} data-main>
            Make the bundle
          </Button>
        )}
      </div>
    </Panel>
  )
}
