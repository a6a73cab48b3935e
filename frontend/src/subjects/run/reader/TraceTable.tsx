// The traces as a table: the stretch in sight, in as many rows as are read.
import type { RunLogView, VisitView } from '../../../api/server/client'
import { inShown } from '../../../api/server/units'
import { figure, unitName } from '../../../parts/format'
import { Panel } from '../../../parts/over/Panel'
import { type Run, useTraces } from '../log'

const ROWS = 200

const NAMES: Record<string, [string, number]> = {
  engine_rpm: ['engine', 0],
  secondary_rpm: ['secondary', 0],
  speed_kph: ['speed', 1],
  throttle_pct: ['throttle', 0],
  belt_temp_c: ['belt', 1],
}

interface TraceTableProps {
  visit: VisitView
  run: Run
  log: RunLogView
  points: readonly [number, number]
}

export function TraceTable({ visit, run, log, points }: TraceTableProps) {
  return (
    <Panel
      closes
      title="The stretch in sight"
      width="w-[50rem]"
      inside
      opener={
        <button type="button" className="-my-1 min-h-11 underline underline-offset-4">
          as a table
        </button>
      }
    >
      <Rows visit={visit} run={run} log={log} points={points} />
    </Panel>
  )
}

function Rows({ visit, run, log, points }: TraceTableProps) {
  const traces = useTraces(visit, run, points, ROWS)
  if (!traces) return <p className="text-quiet">Opening…</p>
  const middle = (least: number | null | undefined, most: number | null | undefined) =>
    least == null || most == null ? null : (least + most) / 2
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: scrolled by keys
    <section aria-label="Traces" tabIndex={0} className="min-h-0 overflow-auto">
      <table className="reading w-full text-right text-sm">
        <thead className="sticky top-0 bg-paper font-sans text-quiet">
          <tr>
            <th scope="col" className="px-2 font-normal">
              s
            </th>
            {traces.traces.map((each) => (
              <th key={each.field} scope="col" className="px-2 font-normal">
                {NAMES[each.field]?.[0] ?? each.field}, {unitName(each.unit)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {traces.stamps.map((stamp, index) => (
            <tr key={stamp} className="border-t border-line">
              <th scope="row" className="px-2 font-normal">
                {figure(stamp - log.from_s, 2)}
              </th>
              {traces.traces.map((each) => {
                const value = middle(each.least[index], each.most[index])
                return (
                  <td key={each.field} className="px-2">
                    {value == null ? '–' : figure(inShown(value, each.unit), NAMES[each.field]?.[1] ?? 1)}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
