// The rider's word of a set-up: better, worse or no change, and where. Two presses, no number.
import { X } from 'lucide-react'
import { useState } from 'react'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'

const PLACES = [
  ['take-up', 'Take-up'],
  ['mid', 'Middle'],
  ['top', 'Top'],
  ['back-shift', 'Back-shift'],
] as const

const WORDS = ['better', 'no change', 'worse'] as const

type Place = (typeof PLACES)[number][0]
type Word = (typeof WORDS)[number]

export function RiderWords() {
  const { visit, closed } = useDesk()
  const [note, setNote] = useState('')
  const [picked, pick] = useState<{ place: Place; word: Word } | null>(null)
  const say = useVisitAct(
    {
      station: 'road-test',
      place: 'rider-word',
      label: "Rider's word",
      path: '/words',
      body: (now) => ({ revision_id: now.left_revision_id, note, ...picked }),
      said: "Rider's word kept.",
    },
    () => {
      setNote('')
      pick(null)
    },
  )
  if (closed && visit.words.length === 0) return null
  return (
    <section aria-label="Rider's word" className="min-w-0">
      <Heading aside="of the set-up as left, beside the one before it: a direction, never a number">
        Rider’s word
      </Heading>
      {visit.words.length > 0 && (
        <ul className="mb-2 text-sm">
          {visit.words.map((each) => (
            <Said key={each.id} word={each} />
          ))}
        </ul>
      )}
      {!closed && (
        <>
          <div className="grid grid-cols-[auto_repeat(3,1fr)] items-center gap-1">
            {PLACES.map(([place, name]) => (
              <div key={place} className="contents">
                <span className="pr-2 text-sm">{name}</span>
                {WORDS.map((word) => {
                  const on = picked?.place === place && picked.word === word
                  return (
                    <button
                      key={word}
                      type="button"
                      aria-pressed={on}
                      aria-label={`${name}: ${word}`}
                      onClick={() => pick(on ? null : { place, word })}
                      className={`min-h-11 rounded-md border-2 px-2 text-sm ${on ? 'border-ink bg-ink text-paper' : 'border-line bg-card hover:border-ink'}`}
                    >
                      {word}
                    </button>
                  )
                })}
              </div>
            ))}
          </div>
          {picked && (
            <div className="mt-2 flex flex-wrap items-center gap-2">
              <label className="min-w-0 flex-1 basis-48 text-sm text-quiet">
                in their own words, if any
                <input
                  value={note}
                  maxLength={200}
                  onChange={(event) => setNote(event.target.value)}
                  className="mt-0.5 h-11 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink"
                />
              </label>
              <button
                type="button"
                onClick={say.run}
                disabled={say.busy}
                className="min-h-12 self-end rounded-md bg-ink px-5 font-bold text-paper"
              >
                Keep it
              </button>
            </div>
          )}
          <Done action={say} />
        </>
      )}
    </section>
  )
}

function Said({ word }: { word: ReturnType<typeof useDesk>['visit']['words'][number] }) {
  const { closed } = useDesk()
  const take = useVisitAct({
    station: 'road-test',
    place: `rider-word.${word.id}`,
    label: "Rider's word taken back",
    path: `/words/${word.id}/remove`,
    body: () => ({}),
    said: "Rider's word taken back.",
  })
  return (
    <li className="flex min-h-9 items-center gap-2 border-t border-line" data-rider-word={word.word}>
      <span className="first-letter:uppercase">
        <b>{word.sentence}</b>
        {word.note && ` · “${word.note}”`}
        {!word.on_left && <span className="text-quiet"> · of an earlier set-up</span>}
      </span>
      {!closed && (
        <button
          type="button"
          onClick={take.run}
          disabled={take.busy}
          aria-label={`Take back: ${word.sentence}`}
          title="Take back"
          className="-my-1 ml-auto flex size-11 items-center justify-center rounded hover:bg-card"
        >
          <X size={16} aria-hidden="true" />
        </button>
      )}
    </li>
  )
}
