// Road test: did it do what was predicted, and is it in the window.
import { Trash2 } from 'lucide-react'
import { api, type Comparison, type VisitView } from '../api/client'
import { type Send, useDesk, useWrite } from '../api/desk'
import { Button, Refused } from '../parts/Button'
import { Heading } from '../parts/Caution'
import { NumberField, TextField } from '../parts/Field'
import { figure, reading, signed } from '../parts/format'
import { FindingMark } from '../parts/marks'
import { ShiftChart } from '../parts/ShiftChart'

type Run = VisitView['runs'][number]
const patchRun =
  (run_id: number, name: 'engagement_rpm' | 'shift_rpm' | 'note') =>
  (now: string, was: unknown): Send =>
  (visit_id) =>
    api.PATCH('/api/visits/{visit_id}/runs/{run_id}', {
      params: { path: { visit_id, run_id } },
      body: { [name]: { was, now } },
    })

export function RoadTest() {
  const { visit, closed } = useDesk()
  const begin = useWrite((visit_id, { left_revision_id: revision_id }) =>
    api.POST('/api/visits/{visit_id}/runs', { params: { path: { visit_id } }, body: { revision_id } }),
  )
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-[11fr_10fr]">
      <section className="space-y-4">
        <Heading aside="rpm, full throttle, before and after on the same strip">Runs</Heading>
        <Baseline />
        {visit.runs.map((run, index) => (
          <RunCard key={run.id} run={run} number={index + 1} />
        ))}
        {!closed && (
          <Button look="plain" wide action={begin}>
            {visit.runs.length === 0 ? 'Begin a run on the set-up as left' : 'Begin another run'}
          </Button>
        )}
        <Refused>{begin.refused}</Refused>
      </section>
      <section>
        <Heading>Shift at full throttle</Heading>
        <ShiftChart visit={visit} />
      </section>
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

function RunCard({ run, number }: { run: Run; number: number }) {
  const { visit, closed } = useDesk()
  const read = (id: number) => (each: VisitView) => each.runs.find((other) => other.id === id)
  const remove = useWrite((visit_id) =>
    api.POST('/api/visits/{visit_id}/runs/{run_id}/remove', {
      params: { path: { visit_id, run_id: run.id } },
      body: { engagement_rpm: run.engagement_rpm ?? null, shift_rpm: run.shift_rpm ?? null, note: run.note },
    }),
  )
  const name = run.on_left
    ? 'as left'
    : run.revision_id === visit.found_revision_id
      ? 'as found'
      : 'an earlier set-up of this visit'
  return (
    <div className="rounded-md border border-line bg-card px-4 py-3">
      <div className="mb-2 flex items-center justify-between gap-3">
        <h3 className="font-semibold">
          Run {number}, {name}{' '}
          <span className="font-normal text-quiet">· belt {reading(run.belt_width_mm, 'mm')} mm</span>
        </h3>
        {!closed && (
          <button
            type="button"
            onClick={remove.run}
            disabled={remove.busy}
            aria-label={`Take back run ${number}`}
            className="flex size-11 items-center justify-center rounded hover:bg-paper"
          >
            <Trash2 size={18} />
          </button>
        )}
      </div>
      <Refused>{remove.refused}</Refused>
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          label="Engagement"
          unit="rpm"
          name={`run.${run.id}.engagement`}
          autoFocus={run.engagement_rpm == null && run.shift_rpm == null}
          read={(each) => read(run.id)(each)?.engagement_rpm}
          send={patchRun(run.id, 'engagement_rpm')}
        />
        <NumberField
          label="Shift"
          unit="rpm"
          name={`run.${run.id}.shift`}
          read={(each) => read(run.id)(each)?.shift_rpm}
          send={patchRun(run.id, 'shift_rpm')}
        />
      </div>
      <div className="mt-3">
        <Compared rows={run.comparison} />
      </div>
      <div className="mt-2">
        <TextField
          label="Note"
          name={`run.${run.id}.note`}
          read={(each) => read(run.id)(each)?.note ?? ''}
          send={patchRun(run.id, 'note')}
        />
      </div>
    </div>
  )
}

export function Compared({ rows }: { rows: Comparison[] }) {
  if (rows.length === 0) return null
  return (
    <table className="w-full text-sm">
      <thead className="text-right text-quiet">
        <tr>
          <th className="text-left font-normal">rpm</th>
          <th className="font-normal">predicted</th>
          <th className="font-normal">measured</th>
          <th className="font-normal">miss</th>
          <th className="pl-4 text-left font-normal">target window</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.figure} className="border-t border-line">
            <td className="py-1.5">{row.figure}</td>
            <td className="reading text-right">
              {row.predicted_rpm == null ? (
                <span className="font-sans text-quiet">no prediction kept</span>
              ) : (
                <>
                  {figure(row.predicted_rpm, 0)} <span className="text-quiet">± {reading(row.band_rpm, 'rpm')}</span>
                </>
              )}
            </td>
            <td className="reading text-right text-base font-semibold">{figure(row.measured_rpm, 0)}</td>
            <td
              className={`reading text-right ${row.sure !== false ? '' : 'font-semibold text-replace'}`}
              data-miss={row.figure}
            >
              {row.miss_rpm == null ? '–' : signed(row.miss_rpm)}
            </td>
            <td className="pl-4">
              <span className="flex items-center gap-2">
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
