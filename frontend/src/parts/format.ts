// Figures as they are read: grouped thousands, a true minus, the digits each unit deserves.
const DIGITS: Record<string, number> = {
  rpm: 0,
  mm: 1,
  g: 1,
  N: 0,
  deg: 1,
  km: 0,
  'km/h': 0,
  '': 2,
  m: 0,
  '°C': 0,
  '%': 0,
}

export function figure(value: number, digits: number): string {
  const rounded = value.toLocaleString('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits })
  return rounded.replace('-', '−')
}

export function reading(value: number | null | undefined, unit: string): string {
  return value == null ? '–' : figure(value, DIGITS[unit] ?? 1)
}

export function signed(value: number, digits = 0): string {
  const text = figure(value, digits)
  return value > 0 && Number(value.toFixed(digits)) !== 0 ? `+${text}` : text
}

/** A number as it stands in a field to be typed over. */
export function typed(value: number | null | undefined): string {
  return value == null ? '' : String(Number(value.toFixed(3)))
}

export function unitName(unit: string): string {
  return unit === 'deg' ? '°' : unit
}

export function day(time: string): string {
  return new Date(time).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
}

/** One key leads to each station. */
export const STATION_KEYS = {
  intake: 'i',
  belt: 'b',
  'set-up': 's',
  'road-test': 'r',
  'hand-over': 'h',
} as const

export const STATION_NAMES = {
  intake: 'Intake',
  belt: 'Belt',
  'set-up': 'Set-up',
  'road-test': 'Road test',
  'hand-over': 'Hand-over',
} as const
