// What has not been acknowledged: kept in this browser until the server has it, and sent from any page.
//
// An entry is a field's change (text or choice) or an act (a button). There is one for each place of a subject; those
// of one subject are sent one after the other, in the order they came. A field's entry that is refused, asked about or
// changed elsewhere stays, visible and open, until it is mended or dropped.
import { useSyncExternalStore } from 'react'
import { cache, takeVisit } from '../server/cache'
import type { Refusal, VisitView } from '../server/client'
import { BENCH, hand } from '../server/hand'
import { say } from '../server/notices'
import { notNow, watched } from '../server/wire'
import { takeWorkshop } from '../server/workshop'
import { type Change, type Entry, idOf, onItsWay, type State, stuck } from './entry'
import { isKept, leftByClosed, ownLeft, PATIENCE_MS, remove, stillThere, write } from './kept'

const AWAY_MS = 2500

let entries: ReadonlyMap<string, Entry> = new Map()
let away = false
const due = new Map<string, number>()
const busy = new Set<string>()
/** How a mounted field reads itself from what its subject's writes answer. */
const readers = new Map<string, (data: unknown) => unknown>()
/** Who waits here for an act, told why it was not done, empty where it was. */
const waiting = new Map<string, (outcome: Outcome) => void>()
const listeners = new Set<() => void>()

export interface Outcome {
  /** Why it was not done, empty where it was. */
  refused: string
  /** What was likely meant, where it was asked about. */
  asks?: Refusal['asks']
  data?: unknown
}

function publish(next: ReadonlyMap<string, Entry>) {
  entries = next
  for (const listener of listeners) listener()
}

function keep(entry: Entry) {
  const id = idOf(entry.subject, entry.place)
  publish(new Map(entries).set(id, entry))
  write(id, entry)
}

function forget(id: string) {
  remove(id)
  window.clearTimeout(due.get(id))
  due.delete(id)
  const next = new Map(entries)
  next.delete(id)
  publish(next)
}

function setAway(now: boolean) {
  if (away === now) return
  away = now
  publish(new Map(entries))
}

/** Puts a field's entry in, to be sent after a pause. */
export function put(entry: Omit<Entry, 'state'>, pause: number) {
  const id = idOf(entry.subject, entry.place)
  keep({ ...entry, state: { kind: 'typing' } })
  window.clearTimeout(due.get(id))
  due.set(
    id,
    window.setTimeout(() => flush(id), pause),
  )
}

/** Holds a reading back that would overwrite another; the server has yet to judge it. */
export function hold(entry: Omit<Entry, 'state'>, reason: string) {
  const id = idOf(entry.subject, entry.place)
  window.clearTimeout(due.get(id))
  const meant = Object.fromEntries(Object.entries(entry.changes).map(([field, { now }]) => [field, now]))
  keep({ ...entry, state: { kind: 'asked', reason, words: entry.text, meant, held: true } })
}

/** Sends what is still being typed, at one place or at all. */
export function flush(only?: string) {
  for (const [id, entry] of entries) {
    if ((only && id !== only) || entry.state.kind !== 'typing') continue
    window.clearTimeout(due.get(id))
    keep({ ...entry, state: { kind: 'waiting' } })
  }
  pump()
}

export function flushPlace(subject: string, place: string) {
  flush(idOf(subject, place))
}

/** Takes entries out without sending them. */
export function drop(subject: string, which: (entry: Entry) => boolean) {
  for (const [id, entry] of entries) if (entry.subject === subject && which(entry)) forget(id)
}

/** Sends an entry again with its changes changed: overruling another hand, being sure, taking what was meant. */
export function resend(entry: Entry, changes: Record<string, Change>, text = entry.text) {
  keep({ ...entry, changes, text, state: { kind: 'waiting' } })
  pump()
}

/** Sends what is typed of a subject and waits for it; answers with what stays open of it. */
export async function settled(subject: string): Promise<Entry | undefined> {
  flush()
  const of = () => [...entries.values()].filter((entry) => entry.subject === subject)
  while (of().some((entry) => !stuck(entry)))
    await new Promise<void>((resolve) => {
      const once = () => {
        listeners.delete(once)
        resolve()
      }
      listeners.add(once)
    })
  return of()[0]
}

/** Does an act; `held`, whether it waits for a server that is away. */
export function act(
  entry: Pick<Entry, 'subject' | 'place' | 'label' | 'href' | 'target'>,
  held: boolean,
): Promise<Outcome> {
  const id = idOf(entry.subject, entry.place)
  return new Promise((resolve) => {
    waiting.set(id, resolve)
    const whole: Entry = { ...entry, text: '', changes: {}, token: crypto.randomUUID(), state: { kind: 'waiting' } }
    if (held) keep(whole)
    else publish(new Map(entries).set(id, whole))
    pump()
  })
}

function conclude(id: string, entry: Entry, outcome: Outcome) {
  forget(id)
  const told = waiting.get(id)
  waiting.delete(id)
  if (told) told(outcome)
  else if (outcome.refused) say(`${entry.label}: not done. ${outcome.refused}`)
  else say(`${entry.label}: done.`)
}

function pump() {
  for (const subject of new Set([...entries.values()].map((entry) => entry.subject))) void send(subject)
}

async function send(subject: string) {
  if (busy.has(subject)) return
  busy.add(subject)
  try {
    for (;;) {
      const next = [...entries].find(([, entry]) => entry.subject === subject && entry.state.kind === 'waiting')
      if (!next) return
      if (!(await sendOne(...next))) return
    }
  } finally {
    busy.delete(subject)
  }
}

/** Sends one entry; false where the server is away. */
async function sendOne(id: string, entry: Entry): Promise<boolean> {
  const sent = entry.changes
  keepState(id, { kind: 'sending' })
  let answer: Response
  let body: unknown
  try {
    answer = await post(entry)
    body = await answer.json()
  } catch {
    return gone(id, entry, '')
  }
  const refusal = (body as { error?: Refusal } | null)?.error
  if (notNow(answer.status)) return gone(id, entry, refusal?.reason ?? '')
  setAway(false)
  if (answer.ok) {
    await settle(entry.subject, body)
    saved(id, sent, body)
  } else if (refusal) refused(id, entry, sent, refusal)
  else refused(id, entry, sent, { field: 'request', reason: `the server answered ${answer.status}` })
  return true
}

function post(entry: Entry): Promise<Response> {
  const { method, path, around, under, only } = entry.target
  const changes = only ? Object.values(entry.changes)[0] : entry.changes
  return watched(path, {
    method,
    headers: {
      'Content-Type': 'application/json',
      'Jaxel-Hand': encodeURIComponent(hand()),
      ...(entry.token && { 'Jaxel-Once': entry.token }),
      ...(entry.instrument && { 'Jaxel-Instrument': entry.instrument }),
    },
    body: JSON.stringify({ ...around, ...(under ? { [under]: changes } : changes) }),
    signal: AbortSignal.timeout(PATIENCE_MS),
  })
}

function keepState(id: string, state: State) {
  const entry = entries.get(id)
  if (!entry) return
  if (!isKept(id)) publish(new Map(entries).set(id, { ...entry, state }))
  else keep({ ...entry, state })
}

/** The server is away: kept, and sent again until it is back; an act that does not wait is over. */
function gone(id: string, entry: Entry, reason: string): boolean {
  setAway(true)
  const held = isKept(id)
  if (!held && entries.has(id)) conclude(id, entry, { refused: reason || 'No connection to the server. Try again.' })
  for (const [each, other] of entries) {
    if (other.subject !== entry.subject) continue
    if (each === id || other.state.kind === 'waiting') keepState(each, { kind: 'away', reason })
  }
  return false
}

window.setInterval(() => {
  const waits = [...entries].filter(([, entry]) => entry.state.kind === 'away')
  if (waits.length === 0) {
    if (away) void knock()
    return
  }
  for (const [id] of waits) keepState(id, { kind: 'waiting' })
  pump()
}, AWAY_MS)

/** With nothing to send, whether the server is back. */
async function knock() {
  try {
    const answer = await fetch('/api/workshop', { signal: AbortSignal.timeout(PATIENCE_MS) })
    if (answer.ok) {
      setAway(false)
      await cache.invalidateQueries()
    }
  } catch {
    // still away
  }
}

/** A page found the server away or back while reading. */
export function heard(from: 'away' | 'back') {
  setAway(from === 'away' || [...entries.values()].some((entry) => entry.state.kind === 'away'))
}

async function settle(subject: string, body: unknown) {
  if (subject.startsWith('visit ')) await takeVisit(body as VisitView, hand() === BENCH ? '' : hand())
  else if (subject === 'workshop') takeWorkshop(body as Parameters<typeof takeWorkshop>[0])
  else await cache.invalidateQueries()
}

function saved(id: string, sent: Record<string, Change>, body: unknown) {
  const entry = entries.get(id)
  if (!entry) return
  if (entry.token) {
    conclude(id, entry, { refused: '', data: body })
    return
  }
  if (entry.changes === sent) {
    forget(id)
    // What was refused beside it may fit now: both ends of a spring move together.
    for (const [each, other] of entries)
      if (
        entry.group &&
        other.group === entry.group &&
        other.subject === entry.subject &&
        other.state.kind === 'refused'
      )
        keepState(each, { kind: 'waiting' })
    return
  }
  // Typed on meanwhile: what has just been saved is what the next save replaces.
  const read = readers.get(id)
  const field = Object.keys(sent)[0] ?? ''
  const was = read ? (read(body) ?? null) : sent[field]?.now
  const later = entry.changes[field]
  keep({ ...entry, changes: { ...entry.changes, ...(later && { [field]: { ...later, was } }) } })
}

function refused(id: string, entry: Entry, sent: Record<string, Change>, refusal: Refusal) {
  if (refusal.field === 'edit' || 'theirs' in refusal) void cache.invalidateQueries({ queryKey: ['visit'] })
  if (entry.token) {
    conclude(id, entry, {
      refused: refusal.field !== 'edit' && 'theirs' in refusal ? `${refusal.reason}: look at it again` : refusal.reason,
      asks: refusal.asks,
    })
    return
  }
  const standing = entries.get(id)
  if (!standing || standing.changes !== sent) return // typed on meanwhile: the next save is judged
  if ('theirs' in refusal && refusal.field !== 'edit') {
    const field = Object.keys(sent)[0] ?? ''
    const change = sent[field]
    const changes = change ? { [field]: { ...change, was: refusal.theirs ?? null } } : sent
    keep({ ...standing, changes, state: { kind: 'elsewhere', theirs: refusal.theirs } })
  } else if (refusal.asks)
    keepState(id, { kind: 'asked', reason: refusal.reason, words: refusal.asks.words, meant: refusal.asks.meant })
  else keepState(id, { kind: 'refused', reason: refusal.reason })
}

export function registerReader(subject: string, place: string, read: (data: unknown) => unknown): () => void {
  const id = idOf(subject, place)
  readers.set(id, read)
  return () => {
    if (readers.get(id) === read) readers.delete(id)
  }
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** Numbers, texts and choices on their way to the server, by place; what is refused or asked about is not. */
export function underWay(subject: string): Entry[] {
  return [...entries.values()].filter((entry) => entry.subject === subject && onItsWay(entry))
}

export function useEntry(subject: string, place: string): Entry | undefined {
  return useSyncExternalStore(subscribe, () => entries.get(idOf(subject, place)))
}

export function useEntries(): ReadonlyMap<string, Entry> {
  return useSyncExternalStore(subscribe, () => entries)
}

/** Whether any entry is such a one: told anew only when that changes. */
export function useSome(such: (entry: Entry) => boolean): boolean {
  return useSyncExternalStore(subscribe, () => [...entries.values()].some(such))
}

export function useAway(): boolean {
  return useSyncExternalStore(subscribe, () => away)
}

/** Takes an entry up as it stands: what was under way is sent anew. */
function takeUp(entry: Entry) {
  const open = entry.state.kind === 'refused' || entry.state.kind === 'asked' || entry.state.kind === 'elsewhere'
  if (!entries.has(idOf(entry.subject, entry.place)))
    keep({ ...entry, state: open ? entry.state : { kind: 'away', reason: '' } })
}

/** Takes up what earlier pages left behind: this tab's at once, and those of tabs that are closed. */
async function begin() {
  for (const entry of ownLeft()) takeUp(entry)
  for (const [id, entry] of entries) {
    if (!(await stillThere(entry))) forget(id)
    else if (entries.get(id)?.state.kind === 'away') keepState(id, { kind: 'waiting' })
  }
  pump()
  for await (const entry of leftByClosed()) takeUp(entry)
}

document.addEventListener('visibilitychange', () => document.hidden && flush())
window.addEventListener('online', () => pump())
void begin()
