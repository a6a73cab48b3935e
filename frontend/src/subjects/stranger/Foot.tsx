// What is known of a stranger, always in sight, and the way into its visit.
import type { Action } from '../../api/outbox/action'
import type { StrangerView } from '../../api/server/client'
import { Button } from '../../parts/Button'
import { figure } from '../../parts/format'
import { notTaken } from './Worth'

export function Foot({ view, open }: { view?: StrangerView; open: Action }) {
  const left = (view?.look.lines ?? []).filter(notTaken)
  return (
    <footer className="sticky bottom-0 z-10 grid grid-cols-2 items-center gap-x-8 gap-y-1 bg-bar px-5 py-2.5 text-on-bar max-sm:py-1.5 sm:grid-cols-[auto_auto_1fr_auto]">
      <Figure
        name="Engagement, takes hold at"
        rpm={view?.look.engagement_rpm}
        sd={view?.look.engagement_sd_rpm}
        at="engagement"
      />
      <Figure name="Shift" rpm={view?.look.shift_rpm} sd={view?.look.shift_sd_rpm} at="shift" />
      {open.refused ? (
        <p role="alert" className="text-sm font-semibold max-sm:col-span-2">
          {open.refused}
        </p>
      ) : left.length > 0 ? (
        <p className="text-sm max-sm:col-span-2" data-not-taken>
          <b>Not taken: </b>
          {left.map((line) => line.name).join(', ')}
        </p>
      ) : (
        <Known view={view} />
      )}
      <div className="max-sm:col-span-2">
        <Button look="sign" action={open} wide data-main>
          Open the visit
        </Button>
      </div>
    </footer>
  )
}

function Figure({ name, rpm, sd, at }: { name: string; rpm?: number; sd?: number; at: string }) {
  return (
    <div>
      <p className="text-sm text-bar-quiet">{name}</p>
      <p className="reading text-2xl font-semibold" data-figure={at}>
        {rpm == null ? '–' : figure(rpm, 0)}{' '}
        <span className="text-base font-normal text-bar-quiet">
          ± <span data-sd={at}>{sd == null ? '–' : figure(sd, 0)}</span> rpm
        </span>
      </p>
    </div>
  )
}

function Known({ view }: { view?: StrangerView }) {
  if (!view) return <p />
  const counts = Object.entries(view.look.counts).sort(
    ([one], [two]) => Number(one === 'typical') - Number(two === 'typical'),
  )
  return (
    <div className="text-sm max-sm:col-span-2">
      <p className="text-bar-quiet max-sm:hidden">What is known</p>
      <p className="font-semibold" data-known>
        {counts.map(([origin, count]) => `${count} ${origin}`).join(' · ')}
      </p>
      <p className="text-bar-quiet max-sm:hidden">
        a run would bring it to ± {figure(view.look.engagement_after_run_rpm, 0)} and ±{' '}
        {figure(view.look.shift_after_run_rpm, 0)}
      </p>
    </div>
  )
}
