// Fields that save what is typed as it is typed, lose nothing, and say why something was refused.
import { useEffect, useId, useRef, useState } from 'react'
import type { VisitView } from '../api/client'
import { type Send, useDesk } from '../api/desk'

const PAUSE_MS = 700

type State =
  | { kind: 'still' }
  | { kind: 'typing' }
  | { kind: 'saving' }
  | { kind: 'refused'; reason: string }
  | { kind: 'elsewhere'; theirs: string }
  | { kind: 'offline' }

interface Binding {
  /** Names the field in the browser's memory of what is not saved yet. */
  name: string
  read: (visit: VisitView) => unknown
  show: (value: unknown) => string
  /** Sends the text, with what it replaces. */
  send: (text: string, was: unknown) => Send
}

/** What an earlier page left unsaved in a field, and what the server held when the hand began. */
function recall(memory: string): { text: string; was: unknown } | null {
  const kept = localStorage.getItem(memory)
  return kept === null ? null : JSON.parse(kept)
}

/** Binds one text to one place in the visit: typed, saved after a pause or on leaving, restored after a reload. */
function useSavedText({ name, read, show, send }: Binding) {
  const { visit, write, closed } = useDesk()
  const memory = `jaxel.unsaved.${visit.id}.${visit.opened_at}.${name}`
  const stored = read(visit)
  const [unsaved] = useState(() => (closed ? null : recall(memory)))
  const [text, setText] = useState(unsaved ? unsaved.text : show(stored))
  const [state, setState] = useState<State>({ kind: 'still' })
  const base = useRef(unsaved ? unsaved.was : stored)
  const timer = useRef<number>(undefined)
  const latest = useRef({ text, send, read })
  latest.current = { ...latest.current, send, read }

  const remember = (unsent: string) =>
    localStorage.setItem(memory, JSON.stringify({ text: unsent, was: base.current ?? null }))
  const forget = () => localStorage.removeItem(memory)
  const adopt = (value: unknown) => {
    base.current = value
    latest.current.text = show(value)
    setText(show(value))
    forget()
    setState({ kind: 'still' })
  }

  const save = async (over = false) => {
    window.clearTimeout(timer.current)
    const sent = latest.current.text
    if (sent === show(base.current) && !over) {
      forget()
      setState({ kind: 'still' })
      return
    }
    setState({ kind: 'saving' })
    const outcome = await write(latest.current.send(sent, base.current))
    if (latest.current.text !== sent) {
      // Typed on meanwhile: what has just been saved is what the next save replaces.
      if (outcome.kind === 'saved') {
        base.current = latest.current.read(outcome.visit)
        remember(latest.current.text)
      }
      return
    }
    if (outcome.kind === 'saved') {
      adopt(latest.current.read(outcome.visit))
    } else if (outcome.kind === 'refused') setState({ kind: 'refused', reason: outcome.refusal.reason })
    else if (outcome.kind === 'elsewhere') {
      base.current = outcome.theirs
      setState({ kind: 'elsewhere', theirs: show(outcome.theirs) })
    } else {
      setState({ kind: 'offline' })
      timer.current = window.setTimeout(() => save(), 3000)
    }
  }

  // What the server holds shows here as long as nothing unsaved stands in the field.
  const settled = state.kind === 'still'
  const seen = JSON.stringify(stored)
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a newly stored value matters
  useEffect(() => {
    if (settled && localStorage.getItem(memory) === null) adopt(stored)
  }, [seen])

  // What an earlier page left unsaved is saved now.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the field appears
  useEffect(() => {
    if (unsaved) save()
    return () => window.clearTimeout(timer.current)
  }, [])

  const type = (next: string) => {
    setText(next)
    latest.current.text = next
    remember(next)
    setState({ kind: 'typing' })
    window.clearTimeout(timer.current)
    timer.current = window.setTimeout(() => save(), PAUSE_MS)
  }
  const leave = () => {
    if (state.kind === 'typing') save()
  }
  return { text, type, leave, state, closed, keepMine: () => save(true), takeTheirs: () => adopt(base.current) }
}

type Saved = ReturnType<typeof useSavedText>

function Remark({ saved, id }: { saved: Saved; id: string }) {
  const { state } = saved
  if (state.kind === 'refused')
    return (
      <p id={id} role="alert" className="mt-1 text-sm leading-snug text-replace">
        Not saved: {state.reason}
      </p>
    )
  if (state.kind === 'elsewhere')
    return (
      <div id={id} role="alert" className="mt-1 text-sm text-watch">
        Changed elsewhere to <b>{state.theirs || 'nothing'}</b>.
        <span className="mt-1 flex gap-2">
          <button type="button" className="min-h-11 rounded border border-current px-3" onClick={saved.takeTheirs}>
            Take it
          </button>
          <button type="button" className="min-h-11 rounded border border-current px-3" onClick={saved.keepMine}>
            Keep mine
          </button>
        </span>
      </div>
    )
  if (state.kind === 'offline')
    return (
      <p id={id} role="alert" className="mt-1 text-sm text-watch">
        Kept here; not on the server yet.
      </p>
    )
  return null
}

/** Enter goes to the next reading of the station, as a caliper that types and presses Enter expects. */
function toNextReading(from: HTMLElement) {
  const all = [...document.querySelectorAll<HTMLInputElement>('main input[data-reading]:not(:disabled)')]
  const next = all[all.indexOf(from as HTMLInputElement) + 1]
  if (next) {
    next.focus()
    next.select()
  } else from.blur()
}

interface NumberFieldProps {
  label: string
  unit?: string
  name: string
  read: (visit: VisitView) => number | null | undefined
  send: (text: string, was: unknown) => Send
  size?: 'normal' | 'large' | 'slot'
  hint?: React.ReactNode
  changed?: boolean
  /** A caliper's readings go in here first. */
  autoFocus?: boolean
  show?: (value: number | null | undefined) => string
}

const shown = (value: number | null | undefined) => (value == null ? '' : String(Number(value.toFixed(2))))

export function NumberField(props: NumberFieldProps) {
  const { label, unit, name, read, send, size = 'normal', hint, changed } = props
  const id = useId()
  const show = props.show ?? shown
  const saved = useSavedText({ name, read, send, show: (value) => show(value as number | null | undefined) })
  const tall = size === 'large' ? 'h-16 text-3xl' : size === 'slot' ? 'h-11 text-xl' : 'h-12 text-xl'
  const edge =
    saved.state.kind === 'refused'
      ? 'border-replace'
      : changed
        ? 'border-signal'
        : 'border-line focus-within:border-ink'
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block truncate text-sm text-quiet">
        {label}
      </label>
      <div
        className={`mt-1 flex items-baseline rounded-md border-2 bg-card px-2 focus-within:border-signal ${edge} ${tall}`}
      >
        <input
          id={id}
          data-reading
          // biome-ignore lint/a11y/noAutofocus: the caliper's first reading must land in the first place
          autoFocus={props.autoFocus}
          inputMode="text"
          autoComplete="off"
          enterKeyHint="next"
          disabled={saved.closed}
          value={saved.text}
          aria-invalid={saved.state.kind === 'refused'}
          aria-describedby={`${id}-remark`}
          onChange={(event) => saved.type(event.target.value)}
          onBlur={saved.leave}
          onKeyDown={(event) => {
            if (event.key !== 'Enter') return
            event.preventDefault()
            toNextReading(event.currentTarget)
          }}
          className="reading h-full w-full min-w-0 bg-transparent font-semibold outline-none"
        />
        {unit && <span className="reading pl-1 text-sm whitespace-nowrap text-quiet">{unit}</span>}
      </div>
      <Remark saved={saved} id={`${id}-remark`} />
      {hint && saved.state.kind !== 'refused' && <div className="reading mt-1 text-xs text-quiet">{hint}</div>}
    </div>
  )
}

interface TextFieldProps {
  label: string
  name: string
  read: (visit: VisitView) => string
  send: (text: string, was: unknown) => Send
  lines?: number
  placeholder?: string
}

export function TextField({ label, name, read, send, lines = 1, placeholder }: TextFieldProps) {
  const id = useId()
  const saved = useSavedText({ name, read, send, show: (value) => String(value ?? '') })
  const look =
    'mt-1 w-full rounded-md border-2 border-line bg-card px-2.5 py-2 text-base outline-none focus:border-signal placeholder:text-quiet'
  const common = {
    id,
    disabled: saved.closed,
    value: saved.text,
    placeholder,
    onBlur: saved.leave,
    'aria-describedby': `${id}-remark`,
  }
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block text-sm text-quiet">
        {label}
      </label>
      {lines > 1 ? (
        <textarea {...common} rows={lines} className={look} onChange={(event) => saved.type(event.target.value)} />
      ) : (
        <input {...common} className={`${look} h-12`} onChange={(event) => saved.type(event.target.value)} />
      )}
      <Remark saved={saved} id={`${id}-remark`} />
    </div>
  )
}
