// What a log gives: each figure with its doubt, beside what the machine allows, or why there is none.
import type { FigurePart, RunLogView, RunSummary } from '../../../api/server/client'
import { inShown } from '../../../api/server/units'
import { figure, reading, unitName } from '../../../parts/format'

interface Row {
  name: string
  part: FigurePart
  unit: string
  digits: number
  /** What it is set beside. */
  of?: string
}

const MPH_30 = 48.28032
const MPH_60 = 96.56064

function rows(log: RunLogView, summary: RunSummary): Row[] {
  const to = (kph: number) => `0–${reading(kph, 'km/h')} ${unitName('km/h')}`
  const of = (ratio: number | null | undefined) => (ratio == null ? undefined : `of ${figure(ratio, 3)}`)
  const { shift, times, backshift } = summary
  return [
    {
      name: 'Engagement, first motion',
      part: summary.engagement_rpm,
      unit: 'rpm',
      digits: 0,
    },
    {
      name: 'Mean shift',
      part: shift.mean_rpm,
      unit: 'rpm',
      digits: 0,
    },
    { name: 'Spread', part: shift.spread_rpm, unit: 'rpm', digits: 0 },
    { name: 'Slope', part: shift.slope_rpm, unit: 'rpm', digits: 0 },
    { name: 'Shift starts', part: shift.start_rpm, unit: 'rpm', digits: 0 },
    { name: 'Full shift', part: shift.full_shift_rpm, unit: 'rpm', digits: 0 },
    { name: 'Over-run', part: shift.over_run_rpm, unit: 'rpm', digits: 0 },
    { name: 'Low ratio reached', part: summary.low_ratio, unit: '', digits: 2, of: of(log.low_ratio) },
    { name: 'Top ratio reached', part: summary.high_ratio, unit: '', digits: 3, of: of(log.high_ratio) },
    { name: 'Overall gearing', part: summary.overall_gearing, unit: '', digits: 2 },
    { name: 'Drop after a chop', part: backshift.dip_rpm, unit: 'rpm', digits: 0 },
    { name: 'Back after a chop', part: backshift.recovery_s, unit: 's', digits: 2 },
    { name: to(MPH_30), part: times.to_30_mph_s, unit: 's', digits: 2 },
    { name: to(MPH_60), part: times.to_60_mph_s, unit: 's', digits: 2 },
    { name: `${reading(200, 'm')} ${unitName('m')}`, part: times.to_200_m_s, unit: 's', digits: 2 },
    { name: `${reading(400, 'm')} ${unitName('m')}`, part: times.to_400_m_s, unit: 's', digits: 2 },
    { name: 'Power at the wheel', part: summary.wheel_power_kw, unit: 'kW', digits: 1 },
    { name: 'Torque at the wheel', part: summary.wheel_torque_nm, unit: 'N·m', digits: 0 },
    { name: 'Belt at most', part: summary.belt_temp_max_c, unit: '°C', digits: 0 },
    { name: 'At full throttle', part: summary.full_throttle_s, unit: 's', digits: 1 },
  ]
}

const PLAIN = new Set(['rpm', '', 's'])

function shownValue(row: Row, value: number): string {
  return PLAIN.has(row.unit) ? figure(value, row.digits) : reading(value, row.unit, row.unit === 'kW' ? 1 : 0)
}

/** A deviation in the hand's unit; an offset unit's difference has no offset. */
function doubt(row: Row): string {
  const { value, read_sd: sd } = row.part
  if (value == null || sd == null) return ''
  const own = PLAIN.has(row.unit) ? sd : Math.abs(inShown(value + sd, row.unit) - inShown(value, row.unit))
  // As many digits as show one that counts.
  const needed = own > 0 ? Math.ceil(-Math.log10(own * 1.05)) : 0
  return figure(own, Math.min(4, Math.max(row.digits, needed)))
}

export function Found({ log, summary }: { log: RunLogView; summary: RunSummary }) {
  const every = rows(log, summary)
  const read = every.filter((row) => row.part.value != null)
  const not = every.filter((row) => row.part.value == null)
  return (
    <div className="text-sm">
      <table className="w-full" aria-label="What the log gives">
        <thead className="text-quiet">
          <tr>
            <th className="text-left font-normal">found</th>
            <th className="text-right font-normal">read</th>
            <th className="pl-2 text-left font-normal">± this trace</th>
            <th className="pl-2 text-left font-normal">beside</th>
          </tr>
        </thead>
        <tbody>
          {read.map((row) => (
            <tr key={row.name} className="border-t border-line" data-figure={row.name} title={row.part.how ?? ''}>
              <th scope="row" className="text-left leading-6 font-normal">
                {row.name}
              </th>
              <td className="reading text-right font-semibold whitespace-nowrap">
                {shownValue(row, row.part.value ?? 0)}
              </td>
              <td className="reading pl-2 whitespace-nowrap text-quiet">
                ± {doubt(row)} {row.unit && unitName(row.unit)}
              </td>
              <td className="pl-2">{row.of && <span className="reading text-quiet">{row.of}</span>}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {not.length > 0 && (
        <details className="mt-1">
          <summary className="flex min-h-11 cursor-pointer items-center text-quiet">
            Not readable: {not.map((row) => row.name.toLowerCase()).join(', ')}
          </summary>
          <ul>
            {not.map((row) => (
              <li key={row.name} className="border-t border-line py-0.5">
                {row.name}: <span className="text-quiet">{row.part.why}</span>
                {row.part.bound != null && (
                  <span className="text-quiet">
                    ; at most {figure(row.part.bound, 0)} {row.unit}
                  </span>
                )}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  )
}
