// From the run to the next change: one part, its odds, what they are known from, and one key that opens it.
import { useEffect } from 'react'
import { useNavigate } from 'react-router'
import type { AnswerView } from '../../api/server/client'
import { useSearch } from '../../api/visit/bench'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { figure } from '../../parts/format'

export function NextChange() {
  const { visit, closed } = useDesk()
  const measured = visit.runs.some((run) => run.comparison.length > 0)
  if (closed || !measured) return null
  return <Next />
}

function Next() {
  const { visit } = useDesk()
  const { view, error } = useSearch(visit, undefined, true)
  const last = [...visit.runs].reverse().find((run) => run.on_left && run.comparison.length > 0)
  const inside = last != null && last.comparison.length > 1 && last.comparison.every((row) => row.in_target)
  const answer = view?.next == null ? undefined : view.answers[view.next]
  const now = view?.probability
  // What is no likelier than what is fitted is no change to make.
  const better = answer != null && now != null && answer.probability > now + 0.05
  const quiet = inside || !better
  return (
    <section
      aria-label="Next change"
      className={`rounded-md border-2 bg-card px-4 py-2 ${quiet ? 'border-line' : 'border-signal'}`}
    >
      <h2 className="text-sm text-quiet">
        {inside ? 'Inside both windows as measured: no change needed' : 'Next change, one only'}
        {now != null && ` · as fitted ${odds(now)} in both windows`}
      </h2>
      {error || view?.refused ? (
        <p className="text-sm text-replace">{error ? 'The server is away.' : `No answer: ${view?.refused?.reason}.`}</p>
      ) : !view || view.state === 'searching' ? (
        <p className="text-sm text-quiet" role="status">
          Fitting the model to the runs and looking through the shelf…
        </p>
      ) : inside ? null : answer && view.next != null && better ? (
        <Offer answer={answer} search={view.search} place={view.next} known={view.known_from} />
      ) : (
        <p className="text-sm">
          No single change on the shelf is likelier to land than what is fitted.
          {view.answers[0] && ' What takes more than one stands on the set-up bench.'}
        </p>
      )}
    </section>
  )
}

/** Odds as they are told: to the nearest twentieth. */
const odds = (probability: number) => `${Math.round(probability * 20) * 5} %`

interface OfferProps {
  answer: AnswerView
  search: string
  place: number
  known: string
}

function Offer({ answer, search, place, known }: OfferProps) {
  const { visit } = useDesk()
  const go = useNavigate()
  const open = useVisitAct(
    {
      station: 'road-test',
      place: 'next',
      label: 'Next change, opened on the bench',
      path: `/setup/plan/${search}/answers/${place}/take`,
      body: ({ setup: { draft } }) => ({ draft }),
      held: false,
      drops: (entry) => entry.place.startsWith('set-up slot.'),
    },
    () => go(`/visits/${visit.id}/set-up`),
  )
  const run = open.run
  useEffect(() => {
    // Enter where no control has the hand, with Ctrl from anywhere.
    const pressed = (event: KeyboardEvent) => {
      const free = document.activeElement === document.body || event.ctrlKey || event.metaKey
      if (event.key !== 'Enter' || !free) return
      event.preventDefault()
      event.stopPropagation()
      run()
    }
    window.addEventListener('keydown', pressed, true)
    return () => window.removeEventListener('keydown', pressed, true)
  }, [run])
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <div className="min-w-0 flex-1 basis-64">
        <p className="text-base font-bold first-letter:uppercase" data-next>
          {answer.kit ? `Kit ${answer.kit}` : answer.changes.map((each) => `${each.name} ${each.becomes}`).join(' · ')}
        </p>
        <p className="text-sm">
          Engages{' '}
          <span className="reading">
            {figure(answer.engagement_rpm, 0)} ± {figure(answer.engagement_sd_rpm, 0)}
          </span>
          , shifts at{' '}
          <span className="reading">
            {figure(answer.shift_rpm, 0)} ± {figure(answer.shift_sd_rpm, 0)}
          </span>{' '}
          rpm · {answer.teardown} · {figure(answer.minutes, 0)} min
        </p>
        <p className="text-sm text-quiet">Known from {known}.</p>
      </div>
      <div className="flex flex-col items-end gap-1 text-right">
        <p className="leading-tight">
          <span className={`reading text-xl font-semibold ${answer.probability >= 0.5 ? 'text-keep' : ''}`}>
            {odds(answer.probability)}
          </span>{' '}
          <span className="text-xs text-quiet">in both windows</span>
        </p>
        <Button look="sign" action={open} aria-keyshortcuts="Control+Enter" title="Ctrl Enter">
          Open on the bench
        </Button>
      </div>
      <Done action={open} className="basis-full" />
    </div>
  )
}
