// Road test: did it do what was predicted, and is it in the window.
import { Trash2 } from 'lucide-react'
import type { Comparison, VisitView } from '../../api/server/client'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { NumberField, TextField } from '../../parts/field/Field'
import { focusOn } from '../../parts/field/reading'
import { figure, reading, signed, told } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { Aims } from './Aims'

type Run = VisitView['runs'][number]
export function RoadTest() {
  const { visit, closed } = useDesk()
  const begin = useVisitAct(
    {
      place: 'run',
      label: 'Begin a run',
      station: 'road-test',
      path: '/runs',
      body: (now) => ({ revision_id: now.left_revision_id }),
    },
    () => focusOn('main [data-run="last"] input:placeholder-shown'),
  )
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-[11fr_10fr]">
      <section className="min-w-0 space-y-4">
        <Heading aside="rpm, full throttle, before and after on the same strip">Runs</Heading>
        <Baseline />
        {visit.runs.map((run, index) => (
          <RunCard key={run.id} run={run} number={index + 1} last={index === visit.runs.length - 1} />
        ))}
        {!closed && (
          <Button look="plain" wide action={begin} data-main data-place="run" data-after="run">
            {visit.runs.length === 0 ? 'Begin a run on the set-up as left' : 'Begin another run'}
          </Button>
        )}
        <Done action={begin} />
      </section>
      <div className="flex min-h-[28rem] min-w-0 flex-col gap-2 self-start">
        <Aims visit={visit} />
      </div>
    </div>
  )
}

function Baseline() {
  const { visit } = useDesk()
  if (visit.baseline.length === 0) return <p className="text-quiet">No baseline was measured at Intake.</p>
  return (
    <div className="rounded-md border border-line px-4 py-3">
      <h3 className="mb-1 font-semibold">Before, as found</h3>
      <Compared rows={visit.baseline} />
    </div>
  )
}

function RunCard({ run, number, last }: { run: Run; number: number; last: boolean }) {
  const { visit, closed } = useDesk()
  const mine = (each: VisitView) => each.runs.find((other) => other.id === run.id)
  const field = (name: 'engagement_rpm' | 'shift_rpm' | 'note', label: string) => ({
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
        const { engagement_rpm = null, shift_rpm = null, note = '' } = mine(now) ?? run
        return { engagement_rpm, shift_rpm, note }
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
      <div className="mt-3">
        <Compared rows={run.comparison} />
        {run.set_aside && (
          <p className="text-sm text-watch">
            Predicted that day of another set-up: {run.set_aside}. This run is not scored.
          </p>
        )}
      </div>
      <div className="mt-2">
        <TextField {...field('note', 'note')} label="Note" limit={1000} read={(each) => mine(each)?.note ?? ''} />
      </div>
    </fieldset>
  )
}

export function Compared({ rows }: { rows: Comparison[] }) {
  if (rows.length === 0) return null
  return (
    <table className="w-full text-sm [overflow-wrap:normal]">
      <thead className="text-right text-quiet">
        <tr>
          <th className="text-left font-normal">rpm</th>
          <th className="font-normal">predicted</th>
          <th className="pl-2 font-normal">measured</th>
          <th className="pl-2 font-normal">miss</th>
          <th className="pl-2 text-left font-normal sm:pl-4">target window</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.figure} className="border-t border-line">
            <td className="py-1.5 max-sm:text-xs">{row.figure}</td>
            <td className="reading text-right">
              {row.predicted_rpm == null ? (
                <span className="font-sans text-quiet">no prediction kept</span>
              ) : (
                <>
                  {figure(row.predicted_rpm, 0)}{' '}
                  <span className="whitespace-nowrap text-quiet">± {reading(row.band_rpm, 'rpm')}</span>
                </>
              )}
            </td>
            <td className="reading pl-2 text-right text-base font-semibold">{figure(row.measured_rpm, 0)}</td>
            <td
              className={`reading pl-2 text-right ${row.sure !== false ? '' : 'font-semibold text-replace'}`}
              data-miss={row.figure}
            >
              {row.miss_rpm == null ? '–' : signed(row.miss_rpm)}
            </td>
            <td className="pl-2 sm:pl-4">
              <span className="flex items-center gap-1 sm:gap-2">
                <FindingMark finding={row.in_target ? 'keep' : 'watch'} size={14} />
                {row.in_target ? 'inside' : 'outside'}
                {row.sure === false && ', miss beyond 2 σ'}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
