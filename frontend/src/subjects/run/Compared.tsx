// What was predicted beside what was measured: the miss, and whether it lies in the window.
import type { Comparison } from '../../api/server/client'
import { figure, reading, signed } from '../../parts/format'
import { FindingMark } from '../../parts/marks'

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
            <td className="reading pl-2 text-right whitespace-nowrap">
              <span className="text-base font-semibold">{figure(row.measured_rpm, 0)}</span>{' '}
              <span className="text-quiet">± {figure(row.measured_sd_rpm, 0)}</span>
            </td>
            <td
              className={`reading pl-2 text-right ${row.sure !== false ? '' : 'font-semibold text-replace'}`}
              data-miss={row.figure}
            >
              {row.miss_rpm == null ? '–' : signed(row.miss_rpm)}
            </td>
            <td className="pl-2 sm:pl-4">
              <span className="flex items-center gap-1 sm:gap-2">
                {row.in_target != null && <FindingMark finding={row.in_target ? 'keep' : 'watch'} size={14} />}
                {row.in_target == null ? 'none stated' : row.in_target ? 'inside' : 'outside'}
                {row.sure === false && ', miss beyond 2 σ'}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
