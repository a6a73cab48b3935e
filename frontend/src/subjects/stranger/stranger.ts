// A stranger as it is typed: kept in this browser until its visit is open, and as it is sent.
import { useMemo, useState } from 'react'
import { useDraft } from '../../api/outbox/draft'
import type { StrangerBody } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import type { Typed } from './Readings'
import { sentOf } from './Readings'

export interface Stranger {
  machine: StrangerBody['machine']
  primary: string
  secondary: string
  engine: string
  bare: boolean
  name: string
  rider: string
  complaint: string
  taper: string
  offset: string
  stamp: string
  typed: Typed
  prefer: Record<string, string>
  /** Tells one stranger from the next: however often it is sent, it comes in once. */
  once: string
}

const fresh = (): Stranger => ({
  machine: 'sled',
  primary: '',
  secondary: '',
  engine: '',
  bare: false,
  name: '',
  rider: '',
  complaint: '',
  taper: '',
  offset: '',
  stamp: '',
  typed: {},
  prefer: {},
  once: crypto.randomUUID(),
})

/** What is typed of a stranger stays in this browser until the visit is open. */
export function useStranger(): [Stranger, (change: Partial<Stranger>) => void, () => void] {
  const [kept, keep] = useDraft('bring-in')
  const [start] = useState(fresh)
  const draft = useMemo<Stranger>(() => {
    try {
      return kept ? { ...start, ...JSON.parse(kept) } : start
    } catch {
      return start
    }
  }, [kept, start])
  return [draft, (change) => keep(JSON.stringify({ ...draft, ...change })), () => keep('')]
}

export const bodyOf = (stranger: Stranger): StrangerBody => ({
  machine: stranger.machine,
  primary_kind: stranger.primary || null,
  secondary_kind: stranger.secondary || null,
  engine: stranger.engine || null,
  bare: stranger.bare,
  name: stranger.name,
  rider: stranger.rider,
  complaint: stranger.complaint,
  readings: sentOf(stranger.typed),
  prefer: stranger.prefer,
  taper: stranger.taper,
  offset_mm: withUnit(stranger.offset, 'mm') || null,
  stamp: stranger.stamp,
})
