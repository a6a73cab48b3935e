// Fields, choices and buttons on the outbox: what each shows while the server has not acknowledged it.
import { useEffect, useRef, useState } from 'react'
import { say } from '../server/notices'
import { type Action, BOUNCE_MS } from './action'
import type { Entry, State, Target } from './entry'
import { act, drop, flushPlace, hold, type Outcome, put, registerReader, resend, settled, useEntry } from './outbox'

/** Where what is typed belongs: its subject, its place there, what it is called, and the page it is mended on. */
export interface Place {
  subject: string
  place: string
  label: string
  href: string
  group?: string
}

export interface Binding extends Place {
  target: Target
  /** The field's name in the request. */
  field: string
  stored: unknown
  /** Reads the field from what a write answers. */
  read: (data: unknown) => unknown
  show: (value: unknown) => string
  /** What is sent of what is typed, where it is not the text itself. */
  send?: (text: string) => unknown
  /** What stands in a field beside this one that a question may touch. */
  beside?: (field: string) => unknown
  closed: boolean
}

export type Standing = State | { kind: 'still' }

export interface Saved {
  text: string
  state: Standing
  closed: boolean
  /** What another hand put here meanwhile, as it is shown. */
  theirs: string
  /** `instrument`, the device that read it. */
  type: (text: string, pause: number, instrument?: string) => void
  /** A choice: sent at once. */
  choose: (now: unknown) => void
  leave: () => void
  drop: () => void
  takeTheirs: () => void
  /** Stands by what is typed: over another hand's value, or a value that was asked about. */
  insist: () => void
  takeMeant: () => void
  /** Holds a reading back that would overwrite what stands here. */
  hold: (text: string, reason: string, instrument?: string) => void
}

/** @example const name = useSaved({ ...where, target, field: 'name', stored: machine.name, read: (answer) => answer.name, show: String, closed: false }) */
export function useSaved({ target, field, stored, read, show, send, beside, closed, ...where }: Binding): Saved {
  const meant = send ?? ((text: string) => text)
  const entry = useEntry(where.subject, where.place)
  const latest = useRef({ read })
  latest.current = { read }
  const { subject, place } = where
  useEffect(() => registerReader(subject, place, (data) => latest.current.read(data)), [subject, place])

  const was = () => (entry?.changes[field] ? entry.changes[field].was : (stored ?? null))
  const entryOf = (now: unknown, text: string, instrument?: string): Omit<Entry, 'state'> => ({
    ...where,
    instrument,
    target,
    text,
    changes: { [field]: { was: was(), now } },
  })
  const away = () => drop(subject, (each) => each.place === place)
  const enter = (now: unknown, text: string, pause: number, instrument?: string) => {
    // What stands there already needs no saving, unless something else is on its way.
    if (text === show(was()) && entry?.state.kind !== 'sending') away()
    else put(entryOf(now, text, instrument), pause)
  }
  const state: Standing = entry?.state ?? { kind: 'still' }
  return {
    text: entry ? entry.text : show(stored),
    state,
    closed,
    theirs: state.kind === 'elsewhere' ? show(state.theirs) : '',
    type: (text, pause, instrument) => enter(meant(text), text, pause, instrument),
    choose: (now) => enter(now, show(now), 0),
    leave: () => flushPlace(subject, place),
    drop: away,
    takeTheirs: away,
    insist: () => {
      const changes = Object.entries(entry?.changes ?? {}).map(([name, each]) => [
        name,
        { ...each, sure: (state.kind === 'asked' && !state.held) || each.sure },
      ])
      if (entry) resend(entry, Object.fromEntries(changes))
    },
    takeMeant: () => {
      // Asked without a likely meaning: there is nothing to take.
      if (!entry || state.kind !== 'asked' || Object.keys(state.meant).length === 0) return
      const own = state.meant[field]
      // What was likely meant may touch a second field, as the question said.
      const changes = Object.entries(state.meant).map(([name, now]) => [
        name,
        { was: name === field ? was() : (beside?.(name) ?? null), now, sure: !state.held },
      ])
      resend(
        entry,
        Object.fromEntries(changes),
        own == null ? entry.text : typeof own === 'number' ? show(own) : String(own),
      )
    },
    hold: (text, reason, instrument) => hold(entryOf(meant(text), text, instrument), reason),
  }
}

export interface Acting extends Place {
  /** What is sent, once what was typed before has been saved. */
  target: () => Target
  /** Whether it waits for a server that is away. */
  held?: boolean
  /** Whether a second press soon after the first is meant. */
  repeats?: boolean
  /** Entries it makes idle: what is put back need not be saved. */
  drops?: (entry: Entry) => boolean
}

async function attempt({ target, held = true, drops, ...where }: Acting): Promise<Outcome> {
  if (drops) drop(where.subject, drops)
  const open = await settled(where.subject)
  if (open) return { refused: `${open.label} is not saved: mend it or drop it first.` }
  return act({ ...where, target: target() }, held)
}

/**
 * A button's act, once at a time: kept while the server is away where `held`, refused in words where it cannot be.
 * @example const archive = useAct({ ...where, target, body: () => ({ was: false, now: true }) })
 */
export function useAct(
  where: Acting,
  done?: (data: unknown) => void,
  refusedWith?: (reason: string, asks?: Outcome['asks']) => void,
): Action {
  const entry = useEntry(where.subject, where.place)
  const [refused, setRefused] = useState('')
  const under = useRef(false)
  const run = async () => {
    if (under.current) return
    under.current = true
    setRefused('')
    const page = window.location.pathname
    const outcome = await attempt(where)
    if (window.location.pathname !== page) {
      // The page was left: what became of it is said wherever the hand is now.
      under.current = false
      say(outcome.refused ? `${where.label}: not done. ${outcome.refused}` : `${where.label}: done.`)
      return
    }
    setRefused(outcome.refused)
    window.setTimeout(
      () => {
        under.current = false
      },
      outcome.refused || where.repeats ? 0 : BOUNCE_MS,
    )
    if (outcome.refused) refusedWith?.(outcome.refused, outcome.asks)
    else done?.(outcome.data)
  }
  const waits = entry?.state.kind === 'away'
  return { run, busy: entry !== undefined, refused, waits }
}
