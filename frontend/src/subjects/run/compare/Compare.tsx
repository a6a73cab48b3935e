// Gain or noise: two sets of the machine's runs laid over each other, and which of their differences are real.
import { useState } from 'react'
import type { ComparedView } from '../../../api/server/client'
import { useDesk } from '../../../api/visit/desk'
import { figure } from '../../../parts/format'
import { Back } from '../Back'
import { Choose } from './Choose'
import { Differences } from './Differences'
import { type Axis, Overlay } from './Overlay'
import { namesOf, type Sets, useCompared, useRunsToChoose } from './sets'

interface CompareProps {
  sets: Sets
  choose: (sets: Sets) => void
  close: () => void
}

const AXES: [Axis, string][] = [
  ['speed', 'speed'],
  ['time', 'time'],
  ['distance', 'distance'],
]

export function Compare({ sets, choose, close }: CompareProps) {
  const { visit } = useDesk()
  const [along, setAlong] = useState<Axis>('speed')
  const runs = useRunsToChoose(visit)
  const { data: found, error } = useCompared(visit, sets, along)
  const [a, b] = [namesOf(runs, sets.a, visit.id), namesOf(runs, sets.b, visit.id)]
  return (
    <div data-compare>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <Back close={close} />
        <h2 className="sr-only">Two sets of runs compared</h2>
        <Chosen letter="A" words={a} />
        <Chosen letter="B" words={b} />
        {runs && <Choose runs={runs} sets={sets} choose={choose} visitId={visit.id} />}
        {found && <Same found={found} say={close} />}
      </div>
      {error ? (
        <p role="alert" className="py-4 text-replace">
          {['a', 'b'].includes(String(error.cause)) ? `${String(error.cause).toUpperCase()} ` : ''}
          {error.message}. Choose other runs.
        </p>
      ) : !found ? (
        <p className="py-6 text-quiet" role="status">
          {sets.a.length && sets.b.length ? 'Reading the runs…' : 'Choose runs for A and for B.'}
        </p>
      ) : (
        <div className="mt-2 grid gap-x-6 gap-y-4 lg:grid-cols-[8fr_7fr]">
          <section className="min-w-0" aria-label="Laid over each other">
            <fieldset className="flex items-center gap-1 text-sm">
              <legend className="sr-only">Along</legend>
              <span className="pr-1 text-quiet">along</span>
              {AXES.map(([axis, name]) => (
                <button
                  key={axis}
                  type="button"
                  aria-pressed={along === axis}
                  onClick={() => setAlong(axis)}
                  className={`min-h-11 rounded-md px-3 ${along === axis ? 'bg-ink text-paper' : 'hover:bg-card'}`}
                >
                  {name}
                </button>
              ))}
            </fieldset>
            {found.laid_over ? (
              <Overlay visit={visit} laid={found.laid_over} told={found.told_rpm} noise={noiseOf(found)} />
            ) : (
              <p className="py-6 text-quiet">
                Nothing to lay over each other: a full-throttle pull with{' '}
                {along === 'time' ? 'engine speed' : 'a speed'} was not logged in both.
              </p>
            )}
          </section>
          <section className="min-w-0" aria-label="What differs">
            <Headline found={found} />
            <Differences found={found} />
            <ul className="mt-2 space-y-0.5 text-sm text-quiet">
              {found.limits.map((each) => (
                <li key={each} className="first-letter:uppercase">
                  {each}.
                </li>
              ))}
            </ul>
          </section>
        </div>
      )}
    </div>
  )
}

/** How far two means of these runs differ by chance alone. */
function noiseOf(found: ComparedView): number | null {
  return found.differences.find((each) => each.figure === 'shift_mean_rpm')?.half ?? null
}

function Chosen({ letter, words }: { letter: 'A' | 'B'; words: string }) {
  return (
    <span className="flex min-h-11 min-w-0 items-center gap-2 rounded-md border-2 border-line bg-card px-3 text-sm">
      <span aria-hidden="true" className={`inline-block w-6 ${letter === 'A' ? 'h-0.5 bg-quiet' : 'h-1 bg-signal'}`} />
      <b>{letter}</b>
      <span className="min-w-0 truncate">{words || 'no run'}</span>
    </span>
  )
}

const COUNTED = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine']

function Headline({ found }: { found: ComparedView }) {
  const real = found.differences.filter((each) => each.real)
  const count = real.length
  return (
    <div className={`mb-2 border-l-4 bg-card px-4 py-2 ${count ? 'border-keep' : 'border-line'}`} data-real={count}>
      <h3 className="text-lg font-bold">
        {count === 0
          ? 'Not shown to differ'
          : `${COUNTED[count] ?? figure(count, 0)} difference${count > 1 ? 's are' : ' is'} real`}
      </h3>
      <p className="text-sm">
        {count === 0
          ? 'Chance alone may make two sets of one set-up differ so much; more pulls would narrow it.'
          : 'Chance alone makes such differences less than once in twenty, all figures below looked at together.'}
        {count > 0 && count < found.differences.length && ' Of the rest it is not shown.'}
      </p>
    </div>
  )
}

const MARK = {
  same: 'bg-keep rounded-full',
  different: 'bg-watch rotate-45',
  'not said': 'border-2 border-quiet rounded-full',
}

function Same({ found, say }: { found: ComparedView; say: () => void }) {
  const shown = found.same.filter((each) => each.what !== 'set-up' || each.state === 'same')
  return (
    <ul className="ml-auto flex flex-wrap items-center gap-x-4 text-sm" aria-label="What is the same">
      {shown.map((each) => (
        <li key={each.what} className="flex items-center gap-1.5" data-same={each.what} data-state={each.state}>
          <span aria-hidden="true" className={`inline-block size-2.5 ${MARK[each.state]}`} />
          {each.state === 'not said' ? (
            <button type="button" onClick={say} className="min-h-11 underline underline-offset-4">
              {each.words}: say it
            </button>
          ) : (
            each.words
          )}
        </li>
      ))}
    </ul>
  )
}
