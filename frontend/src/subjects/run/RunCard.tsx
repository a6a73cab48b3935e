// One run of the road test: what was read off a tachometer, its log, and what both say beside the prediction.
import { Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import type { VisitView } from '../../api/server/client'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { NumberField, TextField } from '../../parts/field/Field'
import { focusOn } from '../../parts/field/reading'
import { told } from '../../parts/format'
import { Compared } from './Compared'
import type { Run } from './log'
import { SendLog } from './SendLog'

export function RunCard({ run, number, last, open }: { run: Run; number: number; last: boolean; open: () => void }) {
  const { visit, closed } = useDesk()
  const [more, setMore] = useState(false)
  const rolled = more || run.second_roll_on_rpm != null || run.third_roll_on_rpm != null
  const mine = (each: VisitView) => each.runs.find((other) => other.id === run.id)
  const field = (
    name: 'engagement_rpm' | 'second_roll_on_rpm' | 'third_roll_on_rpm' | 'shift_rpm' | 'note' | 'rider' | 'strip',
    label: string,
  ) => ({
    place: last && run.on_left ? name : `run.${run.id}.${name}`,
    field: name,
    called: `Run ${number}, ${label}`,
    station: 'road-test',
    path: `/runs/${run.id}`,
    beside: (other: string) => run[other as keyof Run],
  })
  const remove = useVisitAct(
    {
      place: `run.${run.id}.remove`,
      label: `Take back run ${number}`,
      station: 'road-test',
      path: `/runs/${run.id}/remove`,
      body: (now) => {
        const { engagement_rpm, second_roll_on_rpm, third_roll_on_rpm, shift_rpm, note, rider, strip } =
          mine(now) ?? run
        return { engagement_rpm, second_roll_on_rpm, third_roll_on_rpm, shift_rpm, note, rider, strip }
      },
      drops: (entry) => entry.target.path.endsWith(`/runs/${run.id}`),
      said: `Run ${number} taken back.`,
    },
    () => focusOn('[data-after="run"]'),
  )
  const name = run.on_left
    ? 'as left'
    : run.revision_id === visit.found_revision_id
      ? 'as found'
      : 'an earlier set-up of this visit'
  return (
    <fieldset
      className="min-w-0 rounded-md border border-line bg-card px-4 pt-1 pb-3"
      data-run={last ? 'last' : undefined}
      aria-label={`Run ${number}`}
    >
      <div className="flex min-h-11 items-center justify-between gap-3">
        <h3 className="font-semibold">
          Run {number}, {name} <span className="font-normal text-quiet">· belt {told(run.belt_width_mm, 'mm')}</span>
        </h3>
        {!closed && (
          <button
            type="button"
            onClick={remove.run}
            disabled={remove.busy}
            aria-label={`Take back run ${number}`}
            title="Take back"
            className="flex size-11 items-center justify-center rounded hover:bg-paper"
          >
            <Trash2 size={18} aria-hidden="true" />
          </button>
        )}
      </div>
      <Done action={remove} />
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          {...field('engagement_rpm', 'engagement')}
          label="Engagement"
          unit="rpm"
          walk="run"
          read={(each) => mine(each)?.engagement_rpm}
        />
        <NumberField
          {...field('shift_rpm', 'shift')}
          label="Shift"
          unit="rpm"
          walk="run"
          read={(each) => mine(each)?.shift_rpm}
        />
      </div>
      {rolled ? (
        <div className="mt-2 grid grid-cols-2 gap-3">
          <NumberField
            {...field('second_roll_on_rpm', 'second roll-on')}
            label="Second roll-on"
            unit="rpm"
            walk="run"
            read={(each) => mine(each)?.second_roll_on_rpm}
          />
          <NumberField
            {...field('third_roll_on_rpm', 'third roll-on')}
            label="Third roll-on"
            unit="rpm"
            walk="run"
            read={(each) => mine(each)?.third_roll_on_rpm}
          />
        </div>
      ) : (
        !closed && (
          <button
            type="button"
            className="flex min-h-11 items-center gap-1 text-sm text-quiet underline underline-offset-4"
            onClick={() => setMore(true)}
          >
            <Plus size={14} aria-hidden="true" />
            more roll-ons: they count as their mean
          </button>
        )
      )}
      {run.log && (
        <div className="mt-2 flex flex-wrap items-center gap-3">
          <Button look="plain" onClick={open} data-open-log={run.id}>
            Open its log
          </Button>
          <span className="min-w-0 truncate text-sm text-quiet">
            {run.log.name}
            {run.log.counts ? ', whose figures go before typed ones' : ', set aside: what was typed counts'}
          </span>
        </div>
      )}
      {!closed && !run.log && <SendLog visit={visit} run={run.id} drawn={open} />}
      <div className="mt-3">
        <Compared rows={run.comparison} />
        {run.set_aside && (
          <p className="text-sm text-watch">
            Predicted that day of another set-up: {run.set_aside}. This run is not scored.
          </p>
        )}
      </div>
      <div className="mt-2 grid grid-cols-2 gap-3">
        <TextField {...field('rider', 'rider')} label="Rider" limit={120} read={(each) => mine(each)?.rider ?? ''} />
        <TextField {...field('strip', 'strip')} label="Strip" limit={120} read={(each) => mine(each)?.strip ?? ''} />
      </div>
      <div className="mt-2">
        <TextField {...field('note', 'note')} label="Note" limit={1000} read={(each) => mine(each)?.note ?? ''} />
      </div>
    </fieldset>
  )
}
