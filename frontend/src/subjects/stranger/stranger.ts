// A stranger as it is typed: kept in this browser until its visit is open, and as it is sent.
import { useMemo, useState } from 'react'
import { useDraft } from '../../api/outbox/draft'
import type { StrangerBody } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import type { Typed } from './Readings'
import { sentOf } from './Readings'

export interface Stranger {
  /** Empty until somebody says. */
  machine: NonNullable<StrangerBody['machine']> | ''
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
  /** Readings that lie far from what is typical and are so. */
  sure: string[]
  minutes: number
  /** Tells one stranger from the next: however often it is sent, it comes in once. */
  once: string
}

/** What is typed of a reading, and with it what was said of it. */
export function typedInto(draft: Stranger, reading: string, field: string, text: string, sent: string) {
  const fields = { ...draft.typed[reading], [field]: { text, sent } }
  if (!text) delete fields[field]
  const typed = { ...draft.typed, [reading]: fields }
  if (Object.keys(fields).length === 0) delete typed[reading]
  return { typed, sure: draft.sure.filter((each) => each !== reading) }
}

export function without(draft: Stranger, reading: string) {
  const typed = { ...draft.typed }
  delete typed[reading]
  return { typed, prefer: {}, sure: draft.sure.filter((each) => each !== reading) }
}

const fresh = (): Stranger => ({
  machine: '',
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
  sure: [],
  minutes: 10,
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

/** Said to be not known: an answer too, and no kind. */
export const UNKNOWN = "don't know"

const kindOf = (said: string) => (said === UNKNOWN ? null : said || null)

export const bodyOf = (stranger: Stranger): StrangerBody => ({
  machine: stranger.machine || null,
  primary_kind: kindOf(stranger.primary),
  secondary_kind: kindOf(stranger.secondary),
  engine: kindOf(stranger.engine),
  bare: stranger.bare,
  name: stranger.name,
  rider: stranger.rider,
  complaint: stranger.complaint,
  readings: sentOf(stranger.typed),
  prefer: stranger.prefer,
  sure: stranger.sure,
  minutes: stranger.minutes,
  taper: stranger.taper,
  offset_mm: withUnit(stranger.offset, 'mm') || null,
  stamp: stranger.stamp,
})
