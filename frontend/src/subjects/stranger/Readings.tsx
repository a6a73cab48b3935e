// What is worth measuring next: one reading in hand with its picture, the others in the order of their worth.
import { useEffect, useRef, useState } from 'react'
import type { LookView } from '../../api/server/client'
import { say } from '../../api/server/notices'
import { withUnit } from '../../api/server/units'
import { Button } from '../../parts/Button'
import { Keys } from '../../parts/field/reading'
import { figure, signed, unitName } from '../../parts/format'
import { HowTo } from './HowTo'

export type Line = LookView['lines'][number]

/** What is typed, by reading and field: as the hand typed it, and as it is sent. */
export type Typed = Record<string, Record<string, { text: string; sent: string }>>

export const sentOf = (typed: Typed): Record<string, Record<string, string>> =>
  Object.fromEntries(
    Object.entries(typed).map(([key, fields]) => [
      key,
      Object.fromEntries(Object.entries(fields).map(([name, { sent }]) => [name, sent])),
    ]),
  )

interface ReadingsProps {
  look: LookView
  typed: Typed
  onType: (reading: string, field: string, text: string, sent: string) => void
  onDrop: (reading: string) => void
  onPrefer: (path: string, reading: string) => void
  /** Readings asked for elsewhere on the page. */
  elsewhere?: readonly string[]
}

/** Less than this a reading is not asked for: it stands under “more readings”. */
const LEAST_RPM = 1
/** A reading that moves a figure by less is told by its narrowing alone. */
const LEAST_MOVE_RPM = 10

export function Readings({ look, typed, onType, onDrop, onPrefer, elsewhere = [] }: ReadingsProps) {
  const [picked, pick] = useState<string | null>(null)
  const [all, showAll] = useState(false)
  // Once a hand has gone on with Enter, the next reading takes it up as it comes.
  const [walking, walk] = useState(false)
  const lines = look.lines.filter((line) => !elsewhere.includes(line.key))
  const counts = (line: Line) =>
    line.state !== 'open' || Math.abs(line.engagement_rpm) + Math.abs(line.shift_rpm) >= LEAST_RPM
  const first = lines.find((line) => line.state === 'open' && counts(line))
  const hand = lines.find((line) => line.key === picked) ?? first
  const most = Math.max(1, ...lines.map((line) => line.engagement_rpm + line.shift_rpm))
  const shown = lines.filter((line) => line.key !== hand?.key && (all || counts(line)))
  const small = lines.filter((line) => !counts(line)).length
  return (
    <section aria-label="Worth measuring next" className="min-w-0">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="text-base font-bold">Worth measuring next</h2>
        <p className="text-sm text-quiet">± rpm off engagement and shift, the best minute first</p>
      </div>
      {look.questions.map((question) => (
        <div key={question.path} role="alert" className="mb-2 border-l-4 border-watch bg-card p-3">
          <p>
            <b>Two readings of {question.name} contradict each other.</b> Which holds? Until you say, neither does.
          </p>
          <div className="mt-2 flex flex-wrap gap-2">
            {question.readings.map((reading, index) => (
              <Button key={reading} look="plain" onClick={() => onPrefer(question.path, reading)}>
                {question.words[index]}
              </Button>
            ))}
          </div>
        </div>
      ))}
      {hand && (
        <InHand
          key={hand.key}
          line={hand}
          most={most}
          typed={typed[hand.key] ?? {}}
          onType={(field, text, sent) => {
            pick(hand.key)
            onType(hand.key, field, text, sent)
          }}
          onDrop={() => onDrop(hand.key)}
          onNext={() => {
            walk(true)
            pick(null)
          }}
          focus={picked !== null || walking}
        />
      )}
      <ul>
        {shown.map((line) => (
          <li key={line.key} className="border-b border-line">
            <button
              type="button"
              data-reading={line.key}
              onClick={() => pick(line.key)}
              className="grid min-h-11 w-full grid-cols-[1fr_auto] items-center gap-x-4 px-3 py-1.5 text-left hover:bg-card md:grid-cols-[minmax(9rem,14rem)_1fr_13rem_3.5rem]"
            >
              <span className="font-semibold">{line.name}</span>
              <Stands line={line} />
              <Worth line={line} most={most} />
              <span className="reading text-right text-sm text-quiet max-md:hidden">{figure(line.minutes, 0)} min</span>
            </button>
          </li>
        ))}
      </ul>
      {small > 0 && (
        <button
          type="button"
          className="min-h-11 text-sm text-quiet underline underline-offset-4"
          onClick={() => showAll(!all)}
        >
          {all ? 'only those that matter' : `more readings (${small}), worth less than ${LEAST_RPM} rpm`}
        </button>
      )}
    </section>
  )
}

function Stands({ line }: { line: Line }) {
  if (line.state === 'refused')
    return <span className="text-sm text-replace max-md:order-last">not taken: {line.reason}</span>
  if (line.state === 'asked') return <span className="text-sm text-watch max-md:order-last">contradicts another</span>
  return (
    <span className="text-sm text-quiet max-md:order-last">
      <b className={line.origin === 'measured' ? 'text-keep' : 'font-normal'}>{line.origin}</b> {line.stands}
    </span>
  )
}

/** What a reading takes off each deviation, with its sign: one that adds to it says so. */
const off = (line: Line) => `eng. ${less(line.engagement_rpm)}, shift ${less(line.shift_rpm)}`

const less = (rpm: number) => (Math.round(rpm) === 0 ? '0' : signed(-Math.round(rpm)))

/** How far a reading moved the figures themselves, where it did. */
function movedWords(line: Line): string {
  const parts = [
    ['engagement', line.engagement_moved_rpm],
    ['shift', line.shift_moved_rpm],
  ] as const
  return parts
    .filter(([, rpm]) => Math.abs(rpm) >= LEAST_MOVE_RPM)
    .map(([name, rpm]) => `${name} moved ${signed(Math.round(rpm))} rpm`)
    .join(', ')
}

function Worth({ line, most }: { line: Line; most: number }) {
  const rpm = line.engagement_rpm + line.shift_rpm
  if (line.state === 'taken') {
    const moved = movedWords(line)
    return (
      <span className="reading text-right text-sm text-keep md:text-left">
        ± {off(line)}
        {moved && <span className="block text-ink">{moved}</span>}
      </span>
    )
  }
  return (
    <span className="flex items-center gap-2 max-md:justify-end">
      <span
        aria-hidden="true"
        className="h-3 rounded-sm bg-signal opacity-80 max-md:hidden"
        style={{ width: `${Math.max(2, (60 * rpm) / most)}px` }}
      />
      <span className="reading text-sm font-semibold whitespace-nowrap" data-worth={line.key}>
        ± {off(line)}
      </span>
    </span>
  )
}

interface InHandProps {
  line: Line
  most: number
  typed: Record<string, { text: string; sent: string }>
  onType: (field: string, text: string, sent: string) => void
  onDrop: () => void
  onNext: () => void
  focus: boolean
}

function InHand({ line, most, typed, onType, onDrop, onNext, focus }: InHandProps) {
  const box = useRef<HTMLFieldSetElement>(null)
  const keys = useRef(new Keys())
  const before = useRef('')
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when it is taken in hand
  useEffect(() => {
    if (focus) box.current?.querySelector('input')?.focus()
  }, [])
  const enter = (event: React.KeyboardEvent<HTMLInputElement>, field: Line['fields'][number]) => {
    const reading = keys.current.take(event)
    if (event.key === 'Escape' && event.currentTarget.value) {
      event.preventDefault()
      // One field at a time: the others were read by hand too.
      onType(field.name, '', '')
    }
    if (event.key !== 'Enter' || event.ctrlKey || event.metaKey) return
    event.preventDefault()
    const held = before.current
    if (reading && held && reading !== held) {
      // An instrument does not write over what stands here.
      onType(field.name, held, withUnit(held, field.unit))
      say(
        `A reading of ${reading} came in where ${held} stands already. Clear it first, or touch the field it belongs to.`,
      )
      return
    }
    before.current = event.currentTarget.value
    const inputs = [...(box.current?.querySelectorAll('input') ?? [])]
    const next = inputs.slice(inputs.indexOf(event.currentTarget) + 1).find((input) => input.value === '')
    if (next) next.focus()
    else onNext()
  }
  const many = line.fields.length > 3
  return (
    <fieldset
      ref={box}
      data-in-hand={line.key}
      className="mb-1 grid gap-x-4 gap-y-2 rounded-md border-2 border-signal bg-card p-3 sm:grid-cols-[9.5rem_1fr]"
    >
      <legend className="sr-only">{line.name}</legend>
      <HowTo drawing={line.drawing} words={line.how} />
      <div className="min-w-0 space-y-1.5">
        <div className="flex flex-wrap items-baseline justify-between gap-x-4">
          <h3 className="text-lg leading-6 font-bold">{line.name}</h3>
          <span className="flex items-center gap-3">
            <Worth line={line} most={most} />
            <span className="reading text-sm text-quiet">{figure(line.minutes, 0)} min</span>
          </span>
        </div>
        <p className="text-sm leading-snug">
          {line.how}
          {line.hold && (
            <span className="text-quiet"> · hold still: {line.hold[0]?.toLowerCase() + line.hold.slice(1)}</span>
          )}
        </p>
        {line.caution && <p className="border-l-4 border-watch pl-2 text-sm font-semibold">{line.caution}</p>}
        <div className={`grid gap-2 ${many ? 'grid-cols-2 md:grid-cols-4' : 'grid-cols-1 min-[480px]:grid-cols-3'}`}>
          {line.fields.map((field) => (
            <label key={field.name} className="min-w-0 text-sm text-quiet">
              {field.label}
              {field.optional && ', if any'}
              <span
                className={`mt-0.5 flex items-baseline rounded-md border-2 bg-paper px-2 focus-within:border-signal ${
                  line.field === field.name ? 'border-replace' : 'border-line'
                } h-12`}
              >
                <input
                  value={typed[field.name]?.text ?? ''}
                  inputMode="text"
                  autoComplete="off"
                  enterKeyHint="next"
                  maxLength={60}
                  data-field={`${line.key}.${field.name}`}
                  aria-label={`${line.name}, ${field.label}`}
                  aria-invalid={line.field === field.name}
                  onChange={(event) => onType(field.name, event.target.value, withUnit(event.target.value, field.unit))}
                  onFocus={(event) => {
                    before.current = event.currentTarget.value
                    keys.current.clear()
                  }}
                  onKeyDown={(event) => enter(event, field)}
                  className="reading h-full w-full min-w-0 bg-transparent text-xl font-semibold text-ink outline-none"
                />
                {field.unit !== 'text' && (
                  <span className="reading pl-1 whitespace-nowrap">{unitName(field.unit)}</span>
                )}
              </span>
            </label>
          ))}
        </div>
        <div className="flex flex-wrap items-baseline gap-x-4 text-sm">
          <Stands line={line} />
          {line.notes.map((note) => (
            <span key={note} className="text-signal-words">
              {note}
            </span>
          ))}
          {Object.keys(typed).length > 0 && (
            <button type="button" className="min-h-11 text-quiet underline underline-offset-4" onClick={onDrop}>
              take it back
            </button>
          )}
        </div>
      </div>
    </fieldset>
  )
}
