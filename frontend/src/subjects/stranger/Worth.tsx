// What a reading is worth, or was: what stands there now, and what it takes off each deviation.
import { signed } from '../../parts/format'
import type { Line } from './Readings'

/** A reading that moves a figure by less is told by its narrowing alone. */
const LEAST_MOVE_RPM = 10

/** What a line whose typed reading settles nothing is called. */
const NOT_TAKEN: Partial<Record<Line['state'], string>> = {
  refused: 'not taken',
  far: 'asked about',
  half: 'half read',
  asked: 'contradicts another',
}

export const notTaken = (line: Line) => line.state in NOT_TAKEN

export function Stands({ line }: { line: Line }) {
  if (notTaken(line))
    return (
      <span className={`text-sm max-md:order-last ${line.state === 'refused' ? 'text-replace' : 'text-watch'}`}>
        {[NOT_TAKEN[line.state], line.reason].filter(Boolean).join(': ')}
      </span>
    )
  return (
    <span className="text-sm text-quiet max-md:order-last">
      <b className={line.origin === 'measured' ? 'text-keep' : 'font-normal'}>{line.origin}</b> {line.stands}
    </span>
  )
}

/** What a reading takes off each deviation, with its sign: one that adds to it says so. */
const off = (line: Line) => `eng. ${less(line.engagement_rpm)}, shift ${less(line.shift_rpm)}`

const less = (rpm: number) => (Math.round(rpm) === 0 ? '0' : signed(-Math.round(rpm)))

/** How far a reading moved the figures themselves, where it did. */
function movedWords(line: Line): string {
  const parts = [
    ['engagement', line.engagement_moved_rpm],
    ['shift', line.shift_moved_rpm],
  ] as const
  return parts
    .filter(([, rpm]) => Math.abs(rpm) >= LEAST_MOVE_RPM)
    .map(([name, rpm]) => `${name} moved ${signed(Math.round(rpm))} rpm`)
    .join(', ')
}

export function Worth({ line, most }: { line: Line; most: number }) {
  const rpm = line.engagement_rpm + line.shift_rpm
  if (line.state === 'taken') {
    const moved = movedWords(line)
    return (
      <span className="reading text-right text-sm text-keep md:text-left">
        ± {off(line)}
        {moved && <span className="block text-ink">{moved}</span>}
      </span>
    )
  }
  return (
    <span className="flex items-center gap-2 max-md:justify-end">
      <span
        aria-hidden="true"
        className="h-3 shrink-0 rounded-sm bg-signal opacity-80 max-md:hidden"
        style={{ width: `${Math.max(2, (44 * rpm) / most)}px` }}
      />
      <span className="reading text-sm font-semibold whitespace-nowrap" data-worth={line.key}>
        ± {off(line)}
      </span>
    </span>
  )
}
