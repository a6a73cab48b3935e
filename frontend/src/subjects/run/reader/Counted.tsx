// What a log counts as: read, what the same reader finds on a simulated run of the set-up, and both in the model's terms.
import type { RunLogView, VisitView } from '../../../api/server/client'
import { figure, signed } from '../../../parts/format'
import { FindingMark } from '../../../parts/marks'

const NAMES: Record<string, [string, number]> = {
  engagement_rpm: ['Engagement', 0],
  shift_mean_rpm: ['Shift', 0],
  slope_rpm: ['Slope', 0],
  full_shift_rpm: ['Full shift', 0],
  low_ratio: ['Low ratio', 2],
  high_ratio: ['Top ratio', 3],
}

export function Counted({ visit, log }: { visit: VisitView; log: RunLogView }) {
  const { intake } = visit
  const windows: Record<string, readonly [number, number]> = {
    engagement_rpm: [intake.target_engagement_rpm, intake.target_engagement_tolerance_rpm],
    shift_mean_rpm: [intake.target_shift_rpm, intake.target_shift_tolerance_rpm],
  }
  const named = new Set(log.counted.map((each) => each.figure))
  return (
    <div>
      <h3 className="mb-1 text-sm font-semibold">
        {log.counts ? 'As it counts' : 'Set aside; it would count so'}{' '}
        <span className="font-normal text-quiet">the same reader on a simulated run of this set-up, set beside it</span>
      </h3>
      {log.counted.length === 0 ? (
        <p className="text-sm text-quiet">
          {log.stale
            ? 'Being worked out, or its set-up was put right since.'
            : 'Nothing of this log can be set beside a simulated run.'}
        </p>
      ) : (
        <table className="w-full text-sm" aria-label="As it counts">
          <thead className="text-right text-quiet">
            <tr>
              <th className="text-left font-normal">figure</th>
              <th className="font-normal">read</th>
              <th className="pl-2 font-normal max-sm:hidden">simulated</th>
              <th className="pl-2 font-normal">miss</th>
              <th className="pl-2 font-normal">counts as</th>
              <th className="pl-2 text-left font-normal">window</th>
            </tr>
          </thead>
          <tbody>
            {log.counted.map((each) => {
              const [name, digits] = NAMES[each.figure] ?? [each.figure, 0]
              const aim = windows[each.figure]
              const inside = aim && Math.abs(each.counted - aim[0]) <= aim[1]
              return (
                <tr key={each.figure} className="border-t border-line" data-counted={each.figure}>
                  <th scope="row" className="py-0.5 text-left font-normal">
                    {name}
                  </th>
                  <td className="reading text-right">{figure(each.read, digits)}</td>
                  <td className="reading pl-2 text-right text-quiet max-sm:hidden">{figure(each.simulated, digits)}</td>
                  <td className="reading pl-2 text-right">{signed(each.read - each.simulated, digits)}</td>
                  <td className="reading pl-2 text-right whitespace-nowrap">
                    <b>{figure(each.counted, digits)}</b>{' '}
                    <span className="text-quiet">± {figure(each.sd, digits)}</span>
                  </td>
                  <td className="pl-2">
                    {aim && (
                      <span className="flex items-center gap-1.5">
                        <FindingMark finding={inside ? 'keep' : 'watch'} size={12} />
                        <span className="max-sm:sr-only">
                          {inside ? 'inside' : each.counted < aim[0] ? 'below' : 'above'}
                        </span>
                      </span>
                    )}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      )}
      {log.counted.length > 0 && log.summary.engagement_rpm.value != null && !named.has('engagement_rpm') && (
        <p className="text-sm text-quiet">
          Engagement was read; the simulated run, with what was logged of the throttle, shows none to set beside it.
        </p>
      )}
    </div>
  )
}
