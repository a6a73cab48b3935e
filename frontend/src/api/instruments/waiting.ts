// The field that waits for a reading: the last one a hand was in, also while the drawer has the focus.
import { useSyncExternalStore } from 'react'

/** What came from a device: `quantity`, the unit its quantity is kept in. */
export interface Reading {
  device: string
  name: string
  value: number
  unit: string
  quantity: string
}

/** A field that takes readings: where it stands, what it is called, and what it does with one. */
export interface Waits {
  id: string
  label: string
  unit: string
  station: string
  place: string
  take: (reading: Reading) => void
}

const fields = new Map<string, () => Waits>()
const listeners = new Set<() => void>()
let id = ''
let shown: Waits | null = null

function tell() {
  shown = id ? (fields.get(id)?.() ?? null) : null
  for (const listener of listeners) listener()
}

/** A field that is on the page; answers how it leaves it. */
export function stands(field: string, of: () => Waits): () => void {
  fields.set(field, of)
  if (id === field) tell() // the hand was led here before the field stood
  return () => {
    fields.delete(field)
    if (id === field) waitAt('')
  }
}

/** Says which field waits from here on. */
export function waitAt(field: string) {
  if (id === field) return
  id = field
  tell()
}

/** The field that waits, as it is now. */
export const waiting = (): Waits | null => (id ? (fields.get(id)?.() ?? null) : null)

export function useWaiting(): Waits | null {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => shown,
  )
}

/** A reading in words, as it is sent: 35.42 mm. */
export const readingWords = ({ value, unit }: Pick<Reading, 'value' | 'unit'>) => `${value} ${unit}`
