// What do I fit? Three ranked answers from the shelf in sight, more on demand, each with what to tell the rider.
import { useState } from 'react'
import type { AnswerView, PlanSearchView } from '../../api/server/client'
import { ghostOf, useSearch } from '../../api/visit/bench'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { figure, signed } from '../../parts/format'
import { useClose } from '../../parts/over/Over'
import { Panel } from '../../parts/over/Panel'

const IN_SIGHT = 3

export function Answers() {
  const { visit, closed } = useDesk()
  const [may, allow] = useState<string[]>()
  const { view, cancel, again, error } = useSearch(visit, may)
  if (closed) return null
  const answers = view?.answers ?? []
  const short = Object.keys(visit.setup.draft).length > 0
  return (
    <section
      aria-label="Answers from the shelf"
      className="short:hidden grid shrink-0 grid-cols-[9rem_repeat(3,minmax(0,1fr))] gap-2 px-5 pb-1.5 max-md:grid-cols-1"
    >
      <div className="flex min-w-0 flex-col justify-center text-sm leading-tight">
        <h2 className="font-bold">What would do it</h2>
        {view?.state === 'searching' ? (
          <Searching view={view} cancel={cancel} />
        ) : view?.state === 'given up' ? (
          <button type="button" className="min-h-11 text-left underline underline-offset-4" onClick={again}>
            Given up. Look again
          </button>
        ) : (
          <>
            <p className={short ? 'sr-only' : 'text-xs text-quiet'} role="status">
              {error
                ? 'The server is away.'
                : view
                  ? `${figure(view.combinations, 0)} set-ups of ${view.parts} parts${view.left_out.length > 0 ? `, without ${view.left_out.join(', ')}` : ''}`
                  : 'Looking…'}
            </p>
            {view && <AllAnswers {...{ view, may, allow }} />}
          </>
        )}
      </div>
      {view?.refused ? (
        <p role="status" className="col-span-3 self-center text-sm text-replace max-md:col-span-1">
          No plan: {view.refused.reason}.
        </p>
      ) : (
        answers
          .slice(0, IN_SIGHT)
          .map((answer, index) => (
            <AnswerCard key={answer.why} answer={answer} place={index + 1} search={view?.search ?? ''} />
          ))
      )}
      {view?.state === 'done' && answers.length < IN_SIGHT && <Reach view={view} wide={answers.length} />}
    </section>
  )
}

function Searching({ view, cancel }: { view: PlanSearchView; cancel: () => void }) {
  const share = Math.round(view.share * 100)
  return (
    <div className="flex items-center gap-2">
      <progress max={100} value={share} aria-label="Search of the shelf" className="h-2 min-w-0 flex-1 accent-signal" />
      <button type="button" className="min-h-11 shrink-0 text-xs underline underline-offset-4" onClick={cancel}>
        {share} %. Stop
      </button>
    </div>
  )
}

const title = (answer: AnswerView) =>
  answer.kit ? `Kit ${answer.kit}` : answer.changes.map((each) => `${each.name} ${each.becomes}`).join(' · ')

/** An answer with its place among those of a search. */
interface Offered {
  answer: AnswerView
  place: number
  search: string
}

/** Puts an answer on the tray, in place of what lies there. */
function useTake({ answer, place, search }: Offered) {
  return useVisitAct({
    station: 'set-up',
    place: `answer.${place}`,
    label: `Answer ${place} on the tray`,
    path: `/setup/plan/${search}/answers/${place - 1}/take`,
    body: ({ setup: { draft } }) => ({ draft }),
    held: false,
    said: `On the tray: ${title(answer)}.`,
    drops: (entry) => entry.place.startsWith('set-up slot.'),
  })
}

const odds = (answer: AnswerView) => `${Math.round(answer.probability * 20) * 5} %`
const cost = (answer: AnswerView) => (answer.price > 0 ? figure(answer.price, answer.price % 1 ? 2 : 0) : 'no cost')

function AnswerCard({ answer, place, search }: Offered) {
  const { visit } = useDesk()
  const take = useTake({ answer, place, search })
  // Once something lies on the tray its own figures are what counts: the answers keep to a line.
  const short = Object.keys(visit.setup.draft).length > 0
  const on = () => ghostOf(visit, answer)
  const off = () => ghostOf(visit, null)
  return (
    <div className="min-w-0">
      <button
        type="button"
        data-answer={place}
        onClick={() => {
          off()
          take.run()
        }}
        onPointerEnter={on}
        onPointerLeave={off}
        onFocus={on}
        onBlur={off}
        disabled={take.busy}
        title={`${answer.why}${answer.behind ? `. Behind the one before: ${answer.behind}` : ''}`}
        className="grid h-full w-full grid-cols-[auto_1fr_auto] items-start gap-x-2 rounded-md border-2 border-line bg-card px-2 py-1 text-left hover:border-ink"
      >
        <kbd className="reading mt-0.5 rounded border border-line px-1.5 text-sm">{place}</kbd>
        <span
          className={`${short ? 'line-clamp-1' : 'line-clamp-2'} min-w-0 text-sm leading-tight font-bold break-words first-letter:uppercase`}
        >
          {title(answer)}
        </span>
        <span className={`reading text-lg leading-6 font-semibold ${answer.probability >= 0.5 ? 'text-keep' : ''}`}>
          {odds(answer)}
        </span>
        <span className={`col-span-3 truncate text-xs text-quiet ${short ? 'hidden' : ''}`}>
          {answer.teardown} · {figure(answer.minutes, 0)} min · {cost(answer)}
          {answer.behind && place > 1 && ` · ${answer.behind}`}
        </span>
        <span className={`col-span-3 line-clamp-1 text-xs leading-tight ${short ? 'hidden' : ''}`}>
          {answer.for_rider}
        </span>
      </button>
      <Done action={take} className="text-sm" />
    </div>
  )
}

/** When nothing on the shelf will do: what would. */
function Reach({ view, wide }: { view: PlanSearchView; wide: number }) {
  const words =
    view.reach.length > 0
      ? view.reach.slice(0, wide === 0 ? 3 : 2).map((line) => (
          <li key={line.words}>
            {line.words}: {figure(line.engagement_rpm, 0)} / {figure(line.shift_rpm, 0)} rpm
          </li>
        ))
      : null
  return (
    <div
      className={`self-center text-xs leading-snug ${['col-span-3', 'col-span-2', ''][wide]} max-md:col-span-1`}
      data-reach
    >
      {words ? (
        <>
          <b className="text-sm">
            {wide === 0 ? 'Nothing on the shelf lands in both windows.' : 'No more on the shelf.'}
          </b>{' '}
          What would:
          <ul>{words}</ul>
        </>
      ) : (
        wide === 0 && <b className="text-sm">Nothing on the shelf changes anything here.</b>
      )}
    </div>
  )
}

interface AllProps {
  view: PlanSearchView
  may: string[] | undefined
  allow: (may: string[] | undefined) => void
}

function AllAnswers({ view, may, allow }: AllProps) {
  const every = view.slots.map((each) => each.slot)
  const turn = (slot: string, on: boolean) => {
    const now = new Set(may ?? every)
    if (on) now.add(slot)
    else now.delete(slot)
    allow(now.size === every.length ? undefined : [...now])
  }
  return (
    <Panel
      closes
      title="What would do it, from the shelf"
      width="w-[64rem]"
      inside
      opener={
        <button type="button" className="min-h-11 text-left text-xs underline underline-offset-4" data-all-answers>
          {view.answers.length > IN_SIGHT ? `all ${view.answers.length}, and why` : 'why, and from what'}
          {may && ` · ${may.length} slots`}
        </button>
      }
    >
      <fieldset className="flex flex-wrap gap-x-4 border-y border-line py-1">
        <legend className="sr-only">What may be changed</legend>
        <span className="self-center text-sm text-quiet">May be changed:</span>
        {view.slots.map(({ slot, name }) => (
          <label key={slot} className="flex min-h-11 items-center gap-2 text-sm">
            <input
              type="checkbox"
              checked={may ? may.includes(slot) : true}
              onChange={(event) => turn(slot, event.target.checked)}
              className="size-5 accent-signal"
            />
            {name}
          </label>
        ))}
      </fieldset>
      <p className="text-sm text-quiet">
        Tuned {view.order === 'weights' ? 'weights first' : 'springs first'}, as the workshop chose in the guide.
        {view.state === 'searching' && ' Looking…'}
      </p>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: scrolled by keys */}
      <section aria-label="All answers" tabIndex={0} className="min-h-0 flex-1 overflow-auto">
        <ol className="divide-y divide-line">
          {view.answers.map((answer, index) => (
            <Ranked key={answer.why} answer={answer} place={index + 1} search={view.search} />
          ))}
        </ol>
        {view.answers.length === 0 && <Reach view={view} wide={0} />}
      </section>
    </Panel>
  )
}

function Ranked({ answer, place, search }: Offered) {
  const close = useClose()
  const take = useTake({ answer, place, search })
  return (
    <li className="grid grid-cols-[2rem_1fr_auto] gap-3 py-2">
      <span className="reading text-lg font-semibold">{place}</span>
      <div className="min-w-0">
        <b className="break-words">{title(answer)}</b>
        <ul className="text-sm text-quiet">
          {answer.changes.map((each) => (
            <li key={each.slot}>
              {each.name} {each.was} → {each.becomes}
              {each.part && ` (${each.part})`}: engagement {signed(each.engagement_rpm)}, shift {signed(each.shift_rpm)}{' '}
              rpm
            </li>
          ))}
        </ul>
        <p className="text-sm">
          Engages {figure(answer.engagement_rpm, 0)} ± {figure(answer.engagement_sd_rpm, 0)}, shifts{' '}
          {figure(answer.shift_rpm, 0)} ± {figure(answer.shift_sd_rpm, 0)}, spread {figure(answer.spread_rpm, 0)} rpm,
          least grip {figure(answer.least_grip, 2)} · {answer.teardown} · {figure(answer.minutes, 0)} min ·{' '}
          {cost(answer)}
        </p>
        <p className="text-sm">“{answer.for_rider}”</p>
        {answer.behind && <p className="text-sm text-quiet">Why not sooner: {answer.behind}.</p>}
        <Done action={take} className="text-sm" />
      </div>
      <div className="text-right">
        <div className={`reading text-xl font-semibold ${answer.probability >= 0.5 ? 'text-keep' : ''}`}>
          {odds(answer)}
        </div>
        <Button look="plain" disabled={take.busy} onClick={() => take.run().then(close)}>
          On the tray
        </Button>
      </div>
    </li>
  )
}
