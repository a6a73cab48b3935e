// Every figure of both sets, what they differ by with its interval, and whether that is shown.
import type { ComparedView } from '../../../api/server/client'
import { inShown } from '../../../api/server/units'
import { figure, reading, told, unitName } from '../../../parts/format'

type Row = ComparedView['differences'][number]

const to = (kph: number) => `0–${reading(kph, 'km/h')} ${unitName('km/h')}`

const NAMES: Record<string, [() => string, string, number]> = {
  engagement_rpm: [() => 'Engagement', 'rpm', 0],
  shift_mean_rpm: [() => 'Mean shift', 'rpm', 0],
  spread_rpm: [() => 'Spread', 'rpm', 0],
  full_shift_rpm: [() => 'Full shift', 'rpm', 0],
  low_ratio: [() => 'Low ratio', '', 2],
  high_ratio: [() => 'Top ratio', '', 3],
  dip_rpm: [() => 'Drop after a chop', 'rpm', 0],
  recovery_s: [() => 'Back after a chop', 's', 2],
  to_30_mph_s: [() => to(48.28032), 's', 2],
  to_60_mph_s: [() => to(96.56064), 's', 2],
  to_200_m_s: [() => told(200, 'm'), 's', 2],
  to_400_m_s: [() => told(400, 'm'), 's', 2],
  top_kph: [() => 'Top speed', 'km/h', 1],
  wheel_power_kw: [() => 'Power at the wheel', 'kW', 1],
}

const nameOf = (field: string) => NAMES[field]?.[0]() ?? field

/** A value, or a difference of two, in the hand's unit. */
function shownIn(row: Row, value: number, difference = false): string {
  const [, unit, digits] = NAMES[row.figure] ?? [null, '', 0]
  const own = difference ? inShown(value, unit) - inShown(0, unit) : inShown(value, unit)
  return figure(own, digits)
}

function signedIn(row: Row, value: number): string {
  const words = shownIn(row, Math.abs(value), true)
  if (!/[1-9]/.test(words)) return words
  return value < 0 ? `−${words}` : `+${words}`
}

export function Differences({ found }: { found: ComparedView }) {
  return (
    <>
      <table className="w-full text-sm" aria-label="Differences">
        <thead className="text-right text-quiet">
          <tr>
            <th className="text-left font-normal">mean of pulls</th>
            <th className="font-normal">A</th>
            <th className="pl-2 font-normal">B</th>
            <th className="pl-2 font-normal">B less A</th>
            <th className="pl-2 font-normal">95 %</th>
            <th className="w-20 pl-3 font-normal max-sm:hidden">
              <span className="sr-only">its interval about no difference</span>
            </th>
            <th className="pl-2 font-normal">pulls</th>
            <th className="pl-2 text-left font-normal">so</th>
          </tr>
        </thead>
        <tbody>
          {found.differences.map((row) => (
            <tr
              key={row.figure}
              className={`border-t border-line ${row.real ? 'font-semibold' : ''}`}
              data-difference={row.figure}
              data-shown={row.real ? 'real' : 'not shown'}
              title={`${row.count_a} and ${row.count_b} pulls; chance ${figure(row.adjusted, 3)} of so much by noise alone, all figures looked at together`}
            >
              <th scope="row" className={`py-1 text-left ${row.real ? 'font-semibold' : 'font-normal'}`}>
                {nameOf(row.figure)}
                {NAMES[row.figure]?.[1] && (
                  <span className="font-normal text-quiet">, {unitName(NAMES[row.figure]?.[1] ?? '')}</span>
                )}
              </th>
              <td className="reading text-right">{shownIn(row, row.a)}</td>
              <td className="reading pl-2 text-right">{shownIn(row, row.b)}</td>
              <td className="reading pl-2 text-right whitespace-nowrap">{signedIn(row, row.difference)}</td>
              <td className="reading pl-2 text-right font-normal whitespace-nowrap text-quiet">
                ± {shownIn(row, row.half, true)}
              </td>
              <td className="pl-3 max-sm:hidden">
                <Whisker row={row} />
              </td>
              <td className="reading pl-2 text-right font-normal whitespace-nowrap text-quiet">
                {row.count_a}, {row.count_b}
              </td>
              <td className="pl-2">{row.real ? 'real' : <span className="text-quiet">not shown</span>}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {found.left_out.length > 0 && (
        <details className="mt-1 text-sm">
          <summary className="flex min-h-11 cursor-pointer items-center text-quiet">
            Not compared: {found.left_out.map((each) => nameOf(each.figure).toLowerCase()).join(', ')}
          </summary>
          <ul>
            {found.left_out.map((each) => (
              <li key={each.figure} className="border-t border-line py-0.5">
                {nameOf(each.figure)}: <span className="text-quiet">{each.why}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {found.differences.some((each) => each.air !== 0) && (
        <p className="mt-1 text-sm text-quiet">
          Taken out of B for its air:{' '}
          {found.differences
            .filter((each) => each.air !== 0)
            .map(
              (each) =>
                `${nameOf(each.figure).toLowerCase()} ${signedIn(each, each.air)} ± ${shownIn(each, each.air_sd, true)}`,
            )
            .join(', ')}
          .
        </p>
      )}
    </>
  )
}

const WIDE = 72

/** A difference with its interval about nothing: each figure in intervals of its own, so that all can be read alike. */
function Whisker({ row }: { row: Row }) {
  const at = (value: number) => WIDE / 2 + (Math.max(-3, Math.min(3, value / Math.max(row.half, 1e-9))) * WIDE) / 6.6
  const [low, middle, high] = [row.difference - row.half, row.difference, row.difference + row.half].map(at)
  return (
    <svg width={WIDE} height={16} aria-hidden="true" className="block">
      <line x1={WIDE / 2} x2={WIDE / 2} y1={0} y2={16} className="stroke-quiet" strokeDasharray="2 2" />
      <line x1={low} x2={high} y1={8} y2={8} className={row.real ? 'stroke-signal' : 'stroke-quiet'} strokeWidth={2} />
      <circle
        cx={middle}
        cy={8}
        r={4}
        className={row.real ? 'fill-signal' : 'fill-paper stroke-quiet'}
        strokeWidth={1.5}
      />
    </svg>
  )
}
