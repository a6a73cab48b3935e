// An entry: a field's change or an act that the server has not acknowledged, and where it stands.

export interface Change {
  was: unknown
  now: unknown
  sure?: boolean
}

/** Where changes go: the body is `around` with the changes by field beside it, under a name, or the only one spread. */
export interface Target {
  method: 'PATCH' | 'PUT' | 'POST'
  path: string
  around?: Record<string, unknown>
  under?: string
  only?: boolean
}

export type State =
  | { kind: 'typing' }
  | { kind: 'waiting' }
  | { kind: 'sending' }
  | { kind: 'away'; reason: string }
  | { kind: 'refused'; reason: string }
  | { kind: 'elsewhere'; theirs: unknown }
  | { kind: 'asked'; reason: string; words: string; meant: Record<string, unknown>; held?: boolean }

export interface Entry {
  subject: string
  place: string
  /** Its name for a person, and the page where it is mended. */
  label: string
  href: string
  target: Target
  /** What stands in the field. */
  text: string
  /** A field's changes; an act has none. */
  changes: Record<string, Change>
  /** An act's token: one sent twice is done once. */
  token?: string
  /** The device that read it, where no hand typed it. */
  instrument?: string
  /** A refusal here may be mended by another entry of the same group. */
  group?: string
  state: State
}

/** What an entry is known by: there is one for each place of a subject. */
export const idOf = (subject: string, place: string) => `${subject} ${place}`

export function onItsWay({ state }: Entry): boolean {
  return state.kind === 'typing' || state.kind === 'waiting' || state.kind === 'sending' || state.kind === 'away'
}

/** Whether an entry stands open: the hand must know of it, here or later. */
export function stuck({ state }: Entry): boolean {
  return state.kind === 'refused' || state.kind === 'asked' || state.kind === 'elsewhere' || state.kind === 'away'
}
