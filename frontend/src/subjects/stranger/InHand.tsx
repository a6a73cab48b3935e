// The reading in hand: its picture, how it is taken, and the fields that wait for it.
import { ToggleGroup } from 'radix-ui'
import { useEffect, useRef, useState } from 'react'
import { say } from '../../api/server/notices'
import { withUnit } from '../../api/server/units'
import { Keys } from '../../parts/field/reading'
import { figure, unitName } from '../../parts/format'
import { Asked } from './Asked'
import { HowTo } from './HowTo'
import type { Line } from './Readings'
import { Stands, Worth } from './Worth'

interface InHandProps {
  line: Line
  most: number
  typed: Record<string, { text: string; sent: string }>
  onType: (field: string, text: string, sent: string) => void
  onDrop: () => void
  onSo: () => void
  onNext: () => void
  focus: boolean
}

export function InHand({ line, most, typed, onType, onDrop, onSo, onNext, focus }: InHandProps) {
  const box = useRef<HTMLFieldSetElement>(null)
  const keys = useRef(new Keys())
  const before = useRef('')
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when it is taken in hand
  useEffect(() => {
    if (focus) box.current?.querySelector('input')?.focus()
  }, [])
  const enter = (event: React.KeyboardEvent<HTMLInputElement>, field: Line['fields'][number]) => {
    const reading = keys.current.take(event)
    if (event.key === 'Escape' && line.field === field.name && line.state !== 'half') {
      event.preventDefault()
      // One refused field at a time: the others were read by hand too.
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
    if (line.state === 'far' && line.meant) {
      onType(line.field, line.meant_typed, line.meant_typed)
      return
    }
    before.current = event.currentTarget.value
    const inputs = [...(box.current?.querySelectorAll('input') ?? [])]
    const next = inputs.slice(inputs.indexOf(event.currentTarget) + 1).find((input) => input.value === '')
    if (next) next.focus()
    else onNext()
  }
  const ways = [...new Set(line.fields.map((field) => field.way).filter(Boolean))]
  const begun = line.fields.find((field) => field.way && typed[field.name]?.text)?.way
  const [chosen, choose] = useState(ways[0] ?? '')
  const way = begun ?? chosen
  const fields = line.fields.filter((field) => !field.way || field.way === way)
  const many = fields.length > 3
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
        {ways.length > 1 && (
          <ToggleGroup.Root
            type="single"
            aria-label={`${line.name}, which way it is read`}
            value={way}
            onValueChange={(next) => {
              if (!next || next === way) return
              choose(next)
              onDrop()
            }}
            className="flex flex-wrap gap-1.5"
          >
            {ways.map((each) => (
              <ToggleGroup.Item
                key={each}
                value={each}
                className="min-h-11 rounded-md border-2 border-line px-3 text-sm font-semibold data-[state=on]:border-ink data-[state=on]:bg-ink data-[state=on]:text-paper"
              >
                {each}
              </ToggleGroup.Item>
            ))}
          </ToggleGroup.Root>
        )}
        {line.caution && <p className="border-l-4 border-watch pl-2 text-sm font-semibold">{line.caution}</p>}
        <div className={`grid gap-2 ${many ? 'grid-cols-2 md:grid-cols-4' : 'grid-cols-1 min-[480px]:grid-cols-3'}`}>
          {fields.map((field) => (
            <label key={field.name} className="min-w-0 text-sm text-quiet">
              {field.label}
              {field.optional && ', if any'}
              <span
                className={`mt-0.5 flex items-baseline rounded-md border-2 bg-paper px-2 focus-within:border-signal ${
                  line.field === field.name && line.state !== 'half' ? 'border-replace' : 'border-line'
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
                  aria-invalid={line.field === field.name && line.state !== 'half'}
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
        <Asked line={line} onSo={onSo} onMeant={(field, text) => onType(field, text, text)} onDrop={onDrop} />
        <div className="flex flex-wrap items-baseline gap-x-4 text-sm">
          {!line.reason && <Stands line={line} />}
          {line.notes.map((note) => (
            <span key={note} className="text-signal-words">
              {note}
            </span>
          ))}
          {Object.keys(typed).length > 0 && !line.reason && (
            <button type="button" className="min-h-11 text-quiet underline underline-offset-4" onClick={onDrop}>
              take it back
            </button>
          )}
        </div>
      </div>
    </fieldset>
  )
}
