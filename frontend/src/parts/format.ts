// Figures as they are read: in the hand's units, grouped thousands, a true minus, the digits each unit deserves.
import { inShown, shown } from '../api/server/units'

/** Formats made once: making one takes longer than all it is used for. */
const formats = new Map<number, Intl.NumberFormat>()

function formatOf(digits: number): Intl.NumberFormat {
  const known = formats.get(digits)
  if (known) return known
  const made = new Intl.NumberFormat('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits })
  formats.set(digits, made)
  return made
}

export function figure(value: number, digits: number): string {
  const nothing = value < 0 && Number(value.toFixed(digits)) === 0
  return formatOf(digits)
    .format(nothing ? 0 : value)
    .replace('-', '−')
}

/** What something is called with the clutch it is of behind it, where its name does not say so already. */
export const ofSide = (name: string, side: string) => (name.toLowerCase().includes(side) ? name : `${name}, ${side}`)

/** A value in the unit it is stored in, as the hand reads it; its unit's name is unitName's. */
export function reading(value: number | null | undefined, unit: string, finer = 0): string {
  return value == null ? '–' : figure(inShown(value, unit), shown(unit).digits + finer)
}

/** The same with its unit behind it. */
export function told(value: number | null | undefined, unit: string): string {
  return value == null ? '–' : `${reading(value, unit)}${unit === 'deg' ? '' : ' '}${unitName(unit)}`
}

export function signed(value: number, digits = 0): string {
  const text = figure(value, digits)
  return value > 0 && Number(value.toFixed(digits)) !== 0 ? `+${text}` : text
}

/** A difference in the unit it is stored in, as the hand reads it, with its sign. */
export function signedReading(value: number, unit: string, finer = 0): string {
  return signed(inShown(value, unit), shown(unit).digits + finer)
}

/** A recorded number whole: no more decimals than it was recorded with, one more than a reading deserves at most. */
export function plain(value: number, unit: string): string {
  const rounded = inShown(value, unit).toLocaleString('en-GB', { maximumFractionDigits: shown(unit).digits + 1 })
  return rounded.replace('-', '−')
}

/** A number as it stands in a field to be typed over. */
export function typed(value: number | null | undefined, unit: string): string {
  return value == null
    ? ''
    : String(
        Number(
          inShown(value, unit).toFixed(
            shown(unit).name === unit ? Math.max(2, shown(unit).digits) : shown(unit).digits,
          ),
        ),
      )
}

export function unitName(unit: string): string {
  return unit === 'deg' ? '°' : shown(unit).name
}

export function day(time: string): string {
  return new Date(time).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
}

/** One key leads to each station. */
export const STATION_KEYS = {
  intake: 'i',
  belt: 'b',
  strip: 't',
  'set-up': 's',
  rebuild: 'g',
  'line-up': 'l',
  'road-test': 'r',
  'hand-over': 'h',
} as const

export const STATION_NAMES = {
  intake: 'Intake',
  belt: 'Belt',
  strip: 'Strip & inspect',
  'set-up': 'Set-up',
  rebuild: 'Rebuild',
  'line-up': 'Line-up',
  'road-test': 'Road test',
  'hand-over': 'Hand-over',
} as const

/** A moment as a hand tells it: the day where it is not today. */
export function moment(at: number): string {
  const time = new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
  const on = new Date(at).toDateString()
  return on === new Date().toDateString() ? time : `${day(new Date(at).toISOString())}, ${time}`
}
