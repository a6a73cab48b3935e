// What is worth measuring next: one reading in hand with its picture, the others in the order of their worth.
import { useState } from 'react'
import type { LookView } from '../../api/server/client'
import { Button } from '../../parts/Button'
import { figure } from '../../parts/format'
import { Best } from './Best'
import { InHand } from './InHand'
import { Stands, Worth } from './Worth'

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
  /** A reading far from what is typical is so all the same. */
  onSo: (reading: string) => void
  minutes: number
  onMinutes: (minutes: number) => void
  /** Readings asked for elsewhere on the page. */
  elsewhere?: readonly string[]
}

/** Less than this a reading is not asked for: it stands under “more readings”. */
const LEAST_RPM = 1

export function Readings({
  look,
  typed,
  onType,
  onDrop,
  onPrefer,
  onSo,
  minutes,
  onMinutes,
  elsewhere = [],
}: ReadingsProps) {
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
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="text-base font-bold">Worth measuring next</h2>
        <p className="text-sm text-quiet">± rpm off engagement and shift, the best minute first</p>
      </div>
      <Best look={look} minutes={minutes} onMinutes={onMinutes} onPick={pick} />
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
          onSo={() => onSo(hand.key)}
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
              className="grid min-h-11 w-full grid-cols-[1fr_auto] items-center gap-x-4 px-3 py-1.5 text-left hover:bg-card md:grid-cols-[minmax(9rem,14rem)_1fr_14.5rem_3.5rem]"
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
