// Fields that save what is typed as it is typed, lose nothing, and say why something was refused or is asked about.
import { useEffect, useId, useRef } from 'react'
import { useDrawer } from '../../api/instruments/drawer'
import { type Reading, readingWords, stands, useWaiting, type Waits, waitAt } from '../../api/instruments/waiting'
import type { Saved } from '../../api/outbox/saved'
import type { VisitView } from '../../api/server/client'
import { shown, stored, withUnit } from '../../api/server/units'
import { useVisitField, type VisitField } from '../../api/visit/desk'
import { typed, unitName } from '../format'
import { Keys, nextOf, toNext } from './reading'

const PAUSE_MS = 700

/** A question that comes later than this finds the hand elsewhere. */
const QUESTION_MS = 1500

const SMALL = 'min-h-11 rounded border-2 border-current px-3 font-semibold'

/** What stands between a field and the server, and what a hand can do about it. */
export function Remark({ saved, id }: { saved: Saved; id: string }) {
  const { state } = saved
  if (state.kind === 'refused')
    return (
      <div id={id} role="alert" className="mt-1 text-sm leading-snug break-words text-replace">
        Not saved: {state.reason}
        <button type="button" className={`${SMALL} mt-1 block`} onClick={saved.drop}>
          Drop it
        </button>
      </div>
    )
  if (state.kind === 'asked')
    return (
      <div id={id} role="alert" className="mt-1 text-sm leading-snug break-words text-watch">
        Not saved yet: {state.reason}.
        <span className="mt-1 flex flex-wrap gap-2">
          {state.words && (
            <button type="button" className={SMALL} onClick={saved.takeMeant}>
              {state.words} <kbd className="font-normal">Enter</kbd>
            </button>
          )}
          {!state.held && (
            <button type="button" className={SMALL} onClick={saved.insist}>
              Keep {saved.text}
            </button>
          )}
          <button type="button" className={SMALL} onClick={saved.drop}>
            Drop it
          </button>
        </span>
      </div>
    )
  if (state.kind === 'elsewhere')
    return (
      <div id={id} role="alert" className="mt-1 text-sm break-words text-watch">
        Changed elsewhere to <b>{saved.theirs || 'nothing'}</b>.
        <span className="mt-1 flex flex-wrap gap-2">
          <button type="button" className={SMALL} onClick={saved.takeTheirs}>
            Take it
          </button>
          <button type="button" className={SMALL} onClick={saved.insist}>
            Keep mine
          </button>
        </span>
      </div>
    )
  if (state.kind === 'away')
    return (
      <p id={id} role="alert" className="mt-1 text-sm text-watch">
        Kept here; not on the server yet{state.reason && `: ${state.reason}`}.
      </p>
    )
  return null
}

/** Keys every field knows: Escape drops what was refused or is asked about. */
function dropByKey(saved: Saved, event: React.KeyboardEvent) {
  const { kind } = saved.state
  if (event.key === 'Escape' && (kind === 'refused' || kind === 'asked' || kind === 'elsewhere')) {
    event.preventDefault()
    saved.drop()
  }
}

/** What is asked of a slot stands over its neighbours: neither it nor the work about it moves. */
function Aloft({ from, children }: { from: HTMLElement | null; children: React.ReactNode }) {
  const { left = 0, top = 0 } = from?.getBoundingClientRect() ?? {}
  const across = left > window.innerWidth / 2 ? 'right-0' : 'left-0'
  const up = top > window.innerHeight / 2 ? 'bottom-full mb-1' : 'top-full mt-1'
  return (
    <div
      className={`absolute z-30 w-72 rounded-md border border-line bg-card px-3 pb-2 shadow-xl empty:hidden ${across} ${up}`}
    >
      {children}
    </div>
  )
}

export type FieldPlace = Omit<VisitField, 'show'>

interface NumberFieldProps extends FieldPlace {
  /** As the server stores it; the hand reads and types in its own. */
  unit?: string
  size?: 'normal' | 'large' | 'slot'
  hint?: React.ReactNode
  changed?: boolean
  /** What the field is called where its label alone does not say it. */
  called?: string
  /** Named for those who listen only. */
  unlabelled?: boolean
  /** The row of readings it belongs to: Enter goes to the next of it that waits. */
  walk?: string
  onType?: () => void
  /** One step of the number, in the unit it is stored in, by ↑ and ↓. */
  step?: number
}

export function NumberField(props: NumberFieldProps) {
  const { label, unit = '', size = 'normal', hint, changed, called, unlabelled, walk, onType, step, ...place } = props
  const id = useId()
  const show = (value: unknown) => typed(value == null ? null : Number(value), unit)
  const saved = useVisitField({ ...place, label: called ?? label, show, send: (text) => withUnit(text, unit) })
  const keys = useRef(new Keys())
  const before = useRef('')
  const input = useRef<HTMLInputElement>(null)
  const entered = useRef(Number.NEGATIVE_INFINITY)
  const { kind } = saved.state
  const drawer = useDrawer()
  const waits = useWaiting()?.id === id && drawer
  const receive = (reading: Reading) => {
    const text = reading.unit === unitName(unit) ? String(reading.value) : readingWords(reading)
    const takes = unit ? `takes ${unitName(unit)}` : 'takes a plain number'
    if (reading.quantity !== unit)
      saved.hold(text, `a ${reading.name.toLowerCase()} reads ${reading.unit}, and this field ${takes}`, reading.device)
    else if (saved.text && saved.text !== text)
      saved.hold(text, `${saved.text}${unit ? ` ${unitName(unit)}` : ''} stands here already`, reading.device)
    else {
      saved.type(text, 0, reading.device)
      saved.leave()
      const next = walk && input.current ? nextOf(input.current) : undefined
      if (next) waitAt(next.id)
    }
    onType?.()
  }
  const own = useRef<Waits | null>(null)
  own.current = {
    id,
    label: called ?? label,
    unit,
    station: place.station,
    place: place.place,
    take: receive,
  }
  useEffect(() => stands(id, () => own.current as Waits), [id])
  // A question comes back to the hand that has just pressed Enter: the answer is under the same key.
  useEffect(() => {
    if (kind === 'asked' && performance.now() - entered.current < QUESTION_MS) input.current?.focus()
  }, [kind])
  const tall =
    size === 'large'
      ? 'h-16 text-3xl max-sm:text-2xl'
      : size === 'slot'
        ? `h-11 ${unitName(unit).length > 1 ? 'text-lg' : 'text-xl'}`
        : 'h-12 text-xl'
  // A pound and an inch are read to more places than a newton and a millimetre: a slot has no room for their names.
  const besideLabel = size === 'slot' && unitName(unit).length > 1 && shown(unit).name !== unit
  const bad = kind === 'refused' || kind === 'asked'
  const edge = bad
    ? 'border-replace'
    : waits
      ? 'border-signal ring-4 ring-band'
      : changed
        ? 'border-signal'
        : 'border-line focus-within:border-ink'

  const move = (steps: number) => {
    const stands = Number(saved.text.replace(',', '.'))
    if (!step || saved.closed || saved.text.trim() === '' || Number.isNaN(stands)) return
    saved.type(typed(stored(stands, unit) + step * steps, unit), PAUSE_MS)
    onType?.()
  }

  const enter = (event: React.KeyboardEvent<HTMLInputElement>) => {
    if (step && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      event.preventDefault()
      move(event.key === 'ArrowUp' ? 1 : -1)
      return
    }
    const reading = keys.current.take(event)
    dropByKey(saved, event)
    if (event.key !== 'Enter') return
    event.preventDefault()
    const held = before.current
    if (kind === 'asked' && !reading) {
      saved.takeMeant()
      return
    }
    if (reading && held && reading !== held) {
      saved.hold(reading, `${held}${unit ? ` ${unitName(unit)}` : ''} stands here already`)
      return
    }
    before.current = saved.text
    entered.current = performance.now()
    saved.leave()
    toNext(event.currentTarget)
  }

  return (
    <div className={size === 'slot' ? 'relative min-w-0' : 'min-w-0'}>
      <label
        htmlFor={id}
        className={
          unlabelled ? 'sr-only' : `block truncate text-sm ${waits ? 'font-bold text-signal-words' : 'text-quiet'}`
        }
        title={called ?? label}
      >
        {unlabelled ? (called ?? label) : label}
        {waits && (
          <>
            {' '}
            waits<span className="sr-only"> for a reading</span>
          </>
        )}
        {besideLabel && ` ${unitName(unit)}`}
      </label>
      <div
        data-size={size}
        className={`${unlabelled ? '' : 'mt-1'} flex items-baseline rounded-md border-2 bg-card px-2 focus-within:border-signal ${edge} ${tall}`}
      >
        <input
          ref={input}
          id={id}
          data-unsaved={kind === 'still' ? undefined : kind}
          data-walk={walk}
          data-place={place.place}
          placeholder=" "
          inputMode="text"
          autoComplete="off"
          enterKeyHint="next"
          maxLength={60}
          disabled={saved.closed}
          value={saved.text}
          aria-invalid={bad}
          aria-describedby={`${id}-remark ${id}-hint`}
          onFocus={() => {
            waitAt(id)
            before.current = saved.text
            keys.current.clear()
          }}
          onChange={(event) => {
            saved.type(event.target.value, PAUSE_MS)
            onType?.()
          }}
          onBlur={saved.leave}
          onKeyDown={enter}
          className="reading h-full w-full min-w-0 bg-transparent font-semibold outline-none"
        />
        {unit && !besideLabel && (
          <span className="reading pl-1 text-sm whitespace-nowrap text-quiet">{unitName(unit)}</span>
        )}
      </div>
      {size === 'slot' ? (
        <Aloft from={input.current}>
          <Remark saved={saved} id={`${id}-remark`} />
        </Aloft>
      ) : (
        <Remark saved={saved} id={`${id}-remark`} />
      )}
      {hint && (size === 'slot' || !bad) && (
        <div id={`${id}-hint`} className="reading mt-1 text-xs text-quiet">
          {hint}
        </div>
      )}
    </div>
  )
}

interface TextFieldProps extends FieldPlace {
  read: (visit: VisitView) => string
  lines?: number
  limit: number
  /** What the field is called where its label alone does not say it. */
  called?: string
  placeholder?: string
  /** The hand is led here while it is empty. */
  waits?: boolean
  /** What Enter does in a field of one line, once it is saved. */
  onEnter?: () => void
  after?: string
}

export function TextField(props: TextFieldProps) {
  const { label, called, lines = 1, limit, placeholder, waits, onEnter, after, ...place } = props
  const id = useId()
  const saved = useVisitField({ ...place, label: called ?? label })
  const look =
    'mt-1 w-full rounded-md border-2 border-line bg-card px-2.5 py-2 text-base focus:border-signal placeholder:text-quiet'
  const common = {
    id,
    disabled: saved.closed,
    value: saved.text,
    placeholder: placeholder ?? ' ',
    maxLength: limit,
    onBlur: saved.leave,
    'data-unsaved': saved.state.kind === 'still' ? undefined : saved.state.kind,
    'data-place': place.place,
    'data-waits': waits || undefined,
    'data-after': after,
    'aria-describedby': `${id}-remark`,
    'aria-invalid': saved.state.kind === 'refused',
  }
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block text-sm text-quiet">
        {label}
      </label>
      {lines > 1 ? (
        <textarea
          {...common}
          rows={lines}
          className={`${look} field-sizing-content max-h-60`}
          onKeyDown={(event) => dropByKey(saved, event)}
          onChange={(event) => saved.type(event.target.value, PAUSE_MS)}
        />
      ) : (
        <input
          {...common}
          className={`${look} h-12`}
          onKeyDown={(event) => {
            dropByKey(saved, event)
            if (event.key !== 'Enter') return
            event.preventDefault()
            saved.leave()
            onEnter?.()
          }}
          onChange={(event) => saved.type(event.target.value, PAUSE_MS)}
        />
      )}
      <Remark saved={saved} id={`${id}-remark`} />
    </div>
  )
}
