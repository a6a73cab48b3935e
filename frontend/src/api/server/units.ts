// How the hand at this browser reads each unit the server answers in: the server's own table, kept for the next start.
import { useSyncExternalStore } from 'react'
import type { WorkshopView } from './client'

type Table = WorkshopView['shown']
export type Shown = Table[string]

const KEPT = 'jaxel.units'

function kept(): Table {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? '{}')
  } catch {
    return {}
  }
}

let table = kept()
const listeners = new Set<() => void>()

/** Takes the server's table; answers whether the hand reads in other units now. */
export function setUnits(next: Table): boolean {
  const text = JSON.stringify(next)
  if (text === JSON.stringify(table)) return false
  localStorage.setItem(KEPT, text)
  table = next
  for (const listener of listeners) listener()
  return true
}

/** Whether a browser has never been told how its hand reads. */
export const unitsUnknown = () => Object.keys(table).length === 0

/**
 * The table in use; another one draws every page anew.
 * @example const { name } = useUnits()['mm'] // 'in' for a hand that reads in inches
 */
export function useUnits(): Table {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => table,
  )
}

/** A unit nobody has a preference for is read as it is stored. */
export function shown(unit: string): Shown {
  return table[unit] ?? { name: unit, factor: 1, offset: 0, digits: DIGITS[unit] ?? 1 }
}

/** Until the first answer has come. */
const DIGITS: Record<string, number> = { rpm: 0, N: 0, km: 0, 'km/h': 0, '': 2, m: 0, '°C': 0, '%': 0, h: 0 }

export function inShown(value: number, unit: string): number {
  const { factor, offset } = shown(unit)
  return (value - offset) / factor
}

/** A value as it is stored, from what the hand reads. */
export function stored(value: number, unit: string): number {
  const { factor, offset } = shown(unit)
  return value * factor + offset
}

/** A number typed without a unit is meant in the unit its field shows. */
export function withUnit(text: string, unit: string): string {
  const { name } = shown(unit)
  return name === unit || !/\d/.test(text) || /[a-z°'"″′#µ·%]/i.test(text) ? text : `${text.trim()} ${name}`
}
