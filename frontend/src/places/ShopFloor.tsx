// Shop floor: which machine needs me, and for what.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Plus, Search } from 'lucide-react'
import { useDeferredValue, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useAction } from '../api/outbox/action'
import { api, type MachineCard, must, refusalOf, type Station } from '../api/server/client'
import { BENCH, useHand } from '../api/server/hand'
import { useOpenVisit } from '../api/visit/openVisit'
import { Arrival } from '../parts/Arrival'
import { Button, buttonLook, Done } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { Notices } from '../parts/bar/Notices'
import { DueList } from '../parts/DueList'
import { reading, STATION_NAMES, told } from '../parts/format'
import { STATE_WORDS, StateMark } from '../parts/marks'
import { useRows } from '../parts/rows'

const PAGE = 60

const ROW_KEYS = [
  { key: 'Enter, ↓', what: 'in the field that finds: to the first machine' },
  { key: '↓ ↑', what: 'from one machine to the next' },
]

const SCOPES = {
  belt: 'belt only',
  service: 'service',
  tune: 'tune',
  rebuild: 'rebuild',
  bench: 'on the bench',
} as const

export function ShopFloor() {
  const [wanted, setWanted] = useState('')
  const [limit, setLimit] = useState(PAGE)
  const [shelf, setShelf] = useState(false)
  const [only, setOnly] = useState<Only>(ALL)
  const here = useHand()
  useRows()
  const find = useDeferredValue(wanted.trim())
  const query = useQuery({
    queryKey: ['floor', find, limit, shelf, only, here],
    queryFn: ({ signal }) =>
      must(api.GET('/api/floor', { params: { query: { find, limit, shelf, ...asked(only) } }, signal })),
    placeholderData: (last) => last,
    refetchInterval: ({ state }) => (state.data?.unfinished ? 300 : false),
  })
  const cards = query.data?.machines ?? []
  const more = (query.data?.total ?? 0) - cards.length
  const waiting = cards.filter((card) => card.visit)
  const resting = cards.filter((card) => !card.visit)
  if (query.data?.empty) return <FirstDay />
  return (
    <div className="flex min-h-dvh flex-col">
      <Bar keys={ROW_KEYS} main="bring in a machine">
        Shop floor
      </Bar>
      <Notices />
      <main id="work" tabIndex={-1} className="relative outline-none mx-auto w-full max-w-[90rem] flex-1 px-5 py-4">
        <Arrival title="Shop floor" />
        <div className="mb-3 flex flex-wrap gap-3">
          <label className="flex h-12 min-w-60 flex-1 items-center gap-3 rounded-md border-2 border-line bg-card px-3 focus-within:border-signal">
            <Search size={20} className="text-quiet" aria-hidden="true" />
            <span className="sr-only">Find a machine</span>
            <input
              data-place="find"
              data-finds
              aria-keyshortcuts="/"
              value={wanted}
              onChange={(event) => setWanted(event.target.value)}
              placeholder="Machine, rider, complaint, odometer or station, in any order"
              className="h-full w-full min-w-0 bg-transparent outline-none placeholder:text-quiet"
            />
          </label>
          <Link to="/bring-in" className={buttonLook('main')} data-main aria-keyshortcuts="n">
            <Plus size={20} aria-hidden="true" /> Bring in a machine
          </Link>
        </div>
        {query.error && (
          <p role="alert" className="text-replace">
            {query.error.message}
          </p>
        )}
        <div className="mb-2 flex flex-wrap items-center justify-between gap-x-6 gap-y-1">
          <h2 className="text-base font-bold">In the building</h2>
          <Filter only={only} set={setOnly} hands={query.data?.hands ?? []} />
        </div>
        {waiting.length === 0 && query.data && (
          <p className="mb-6 text-quiet">{only === ALL ? 'No visit is open.' : 'None of these.'}</p>
        )}
        <ul className="mb-6 grid gap-x-3 gap-y-1.5 lg:grid-cols-2">
          {waiting.map((card) => (
            <Waiting key={card.machine.id} card={card} mine={here !== BENCH && card.visit?.hand === here} />
          ))}
        </ul>
        {!find && (
          <div className="mb-8">
            <DueList limit={6} />
          </div>
        )}
        <h2 className="mb-3 text-base font-bold">Other machines</h2>
        {resting.length === 0 && query.data && <p className="text-quiet">None.</p>}
        {query.data?.names_only && (
          <p className="mb-2 text-sm text-quiet">
            A word of one or two letters is looked for in names, not in what riders said.
          </p>
        )}
        <ul className="divide-y divide-line border-y border-line">
          {resting.map((card) => (
            <Resting key={card.machine.id} card={card} />
          ))}
        </ul>
        {!find && (query.data?.archived ?? 0) > 0 && (
          <button
            type="button"
            className="min-h-11 text-quiet underline underline-offset-4"
            onClick={() => setShelf(!shelf)}
          >
            {shelf ? 'leave the archived ones out' : `archived: ${query.data?.archived}`}
          </button>
        )}
        {more > 0 && (
          <div className="mt-4">
            <Button look="plain" onClick={() => setLimit(limit + PAGE)}>
              Show more, {more} left
            </Button>
          </div>
        )}
      </main>
    </div>
  )
}

interface Only {
  station: Station | ''
  hand: string
  days: number
  due: boolean
}

const ALL: Only = { station: '', hand: '', days: 0, due: false }

const asked = ({ station, hand, days, due }: Only) => ({
  ...(station && { station }),
  ...(hand && { hand }),
  ...(days && { days }),
  ...(due && { due }),
})

const AGES = [
  [0, 'of any age'],
  [2, 'open 2 days and more'],
  [7, 'open a week and more'],
  [30, 'open a month and more'],
] as const

const PICK = 'h-11 max-w-44 rounded-md border border-line bg-card px-1.5 text-sm'

/** Which of them: by where they wait, whose they are, how long they stand, and what is due. */
function Filter({ only, set, hands }: { only: Only; set: (only: Only) => void; hands: readonly string[] }) {
  return (
    <fieldset aria-label="Which of them" className="flex flex-wrap items-center gap-1.5">
      <select
        aria-label="Waits for"
        value={only.station}
        onChange={(event) => set({ ...only, station: event.target.value as Only['station'] })}
        className={PICK}
      >
        <option value="">at any station</option>
        {Object.entries(STATION_NAMES).map(([key, name]) => (
          <option key={key} value={key}>
            waits for {name}
          </option>
        ))}
      </select>
      <select
        aria-label="In whose hand"
        value={only.hand}
        onChange={(event) => set({ ...only, hand: event.target.value })}
        className={PICK}
      >
        <option value="">in any hand</option>
        {hands.map((hand) => (
          <option key={hand} value={hand}>
            last {hand}
          </option>
        ))}
      </select>
      <select
        aria-label="How long it stands"
        value={only.days}
        onChange={(event) => set({ ...only, days: Number(event.target.value) })}
        className={PICK}
      >
        {AGES.map(([days, name]) => (
          <option key={days} value={days}>
            {name}
          </option>
        ))}
      </select>
      <label className="flex min-h-11 items-center gap-1.5 px-1 text-sm">
        <input
          type="checkbox"
          checked={only.due}
          onChange={(event) => set({ ...only, due: event.target.checked })}
          className="size-5 accent-signal"
        />
        due
      </label>
      {JSON.stringify(only) !== JSON.stringify(ALL) && (
        <button type="button" onClick={() => set(ALL)} className="min-h-11 px-1 text-sm underline underline-offset-4">
          all
        </button>
      )}
    </fieldset>
  )
}

/** One machine that waits, in two lines: which it is and where it waits, what it is here for and how far it is. */
function Waiting({ card, mine }: { card: MachineCard; mine: boolean }) {
  const visit = card.visit
  if (!visit) return null
  return (
    <li className="min-w-0">
      <Link
        data-row
        to={`/visits/${visit.id}/${visit.waits_for}`}
        className={`block min-h-16 rounded-md border bg-card px-3 py-1.5 leading-snug hover:border-ink ${mine ? 'border-l-4 border-line border-l-signal' : 'border-line'}`}
        title={visit.complaint}
      >
        <span className="flex items-baseline justify-between gap-x-4 max-sm:flex-wrap">
          <span className="min-w-0 truncate max-sm:whitespace-normal">
            <b>{card.machine.name}</b>
            <span className="text-quiet"> · {[card.machine.rider, card.machine.kind].filter(Boolean).join(' · ')}</span>
          </span>
          <span className="shrink-0">
            {visit.faults > 0 && (
              <b className="text-signal-words">{visit.faults === 1 ? 'a fault' : `${visit.faults} faults`} · </b>
            )}
            <b>waits for {STATION_NAMES[visit.waits_for]}</b>
          </span>
        </span>
        <span className="mt-1 flex items-center justify-between gap-x-4 text-sm max-sm:flex-wrap">
          <span className="min-w-0 truncate max-sm:line-clamp-2 max-sm:whitespace-normal">
            {visit.complaint || <span className="text-quiet">complaint not yet taken</span>}
          </span>
          <span className="flex shrink-0 items-center gap-1.5 text-quiet">
            <span className="flex gap-0.5 max-sm:hidden">
              {Object.entries(STATION_NAMES).map(([station, name]) => {
                const state = visit.states[station]
                return (
                  state && (
                    <span key={station} title={`${name}: ${STATE_WORDS[state]}`}>
                      <StateMark state={state} />
                    </span>
                  )
                )
              })}
            </span>
            {SCOPES[visit.scope]} · {visit.open_items === 0 ? 'ready to sign' : `${visit.open_items} open`} ·{' '}
            {ago(visit.opened_at)}
          </span>
        </span>
      </Link>
    </li>
  )
}

const DAY_MS = 24 * 3600 * 1000

/** How long a visit has stood open. */
function ago(opened: string): string {
  const days = Math.floor((Date.now() - Date.parse(opened)) / DAY_MS)
  return days < 1 ? 'today' : days === 1 ? '1 day' : `${days} days`
}

function Resting({ card }: { card: MachineCard }) {
  const open = useOpenVisit(card.machine)
  return (
    <li className="flex flex-wrap items-center gap-x-6 gap-y-2 py-2">
      <Link
        data-row
        to={`/machines/${card.machine.id}`}
        className="flex min-h-12 min-w-52 flex-1 flex-col justify-center hover:underline"
      >
        <span className="break-words font-semibold">{card.machine.name}</span>
        <span className="text-sm text-quiet">
          {[card.machine.rider, card.machine.kind].filter(Boolean).join(' · ')}
        </span>
      </Link>
      <span className="reading text-sm text-quiet">
        engages {reading(card.bite_rpm, 'rpm')} rpm{card.hit_n != null && `, hit ${told(card.hit_n, 'N')}`} · shifts{' '}
        {reading(card.shift_rpm, 'rpm')} rpm, predicted
      </span>
      {card.archived ? (
        <span className="text-quiet">archived</span>
      ) : (
        <Button look="plain" action={open} aria-label={`Open a visit for ${card.machine.name}`}>
          Open a visit
        </Button>
      )}
      <Done action={open} className="w-full text-sm" />
    </li>
  )
}

/** An empty workshop: what to do first, and the demo a key away. */
function FirstDay() {
  const client = useQueryClient()
  const demo = useAction(async () => {
    const answer = await api.POST('/api/demo', { body: {}, headers: { 'Jaxel-Once': crypto.randomUUID() } })
    if (!answer.data) return refusalOf(answer).reason
    await client.invalidateQueries()
    return ''
  })
  const run = demo.run
  const keys = useMemo(() => [{ key: 'd', what: 'look around in the demo workshop', act: run }], [run])
  return (
    <div className="flex min-h-dvh flex-col">
      <Bar keys={keys} main="bring in the first machine">
        Shop floor
      </Bar>
      <Notices />
      <main
        id="work"
        tabIndex={-1}
        className="relative mx-auto w-full max-w-4xl flex-1 space-y-6 px-5 py-8 outline-none"
      >
        <Arrival title="Shop floor" first="[data-main]" />
        <div>
          <h1 className="text-3xl font-bold">The bench is clear.</h1>
          <p className="mt-2 max-w-prose text-lg text-quiet">
            Jaxel follows one machine through a visit in the order your hands work, and says what the next turn of the
            screw will do before the cover comes off.
          </p>
        </div>
        <ol className="space-y-3">
          <First number="1" title="Bring in what stands on the lift" keyName="n">
            <p>
              Say what it looks like, and what the rider says. An answer comes at once, with how sure it is; each
              caliper reading makes it surer.
            </p>
            <Link to="/bring-in" className={`${buttonLook('main')} mt-3`} data-main>
              Bring in a machine
            </Link>
          </First>
          <First number="2" title="Say who works here, and in which units" keyName="w">
            <p>Newtons or pounds, millimetres or inches: each hand reads in its own, and may type any.</p>
            <Link to="/workshop" className={`${buttonLook('plain')} mt-3`}>
              To the workshop
            </Link>
          </First>
          <First number="or" title="Look around first" keyName="d">
            <p>A made-up workshop with its machines, visits and runs. It goes only into an empty one.</p>
            <span className="mt-3 flex flex-wrap items-center gap-4">
              <Button look="plain" action={demo}>
                Fill it with the demo
              </Button>
              {demo.busy && <span role="status">Filling…</span>}
            </span>
            <Done action={demo} />
          </First>
        </ol>
        <p className="text-sm text-quiet">
          <kbd className="reading">?</kbd> lists the keys of every screen. The machine's own service manual always comes
          first.
        </p>
      </main>
    </div>
  )
}

interface FirstProps {
  number: string
  title: string
  keyName: string
  children: React.ReactNode
}

function First({ number, title, keyName, children }: FirstProps) {
  return (
    <li className="grid grid-cols-[3rem_1fr_auto] gap-x-2 rounded-md border border-line bg-card p-4">
      <span className="reading text-2xl font-semibold text-signal-words" aria-hidden="true">
        {number}
      </span>
      <div className="min-w-0">
        <h2 className="text-lg font-bold">{title}</h2>
        <div className="text-quiet [&_a]:text-paper [&_a:not(.bg-ink)]:text-ink [&_button]:text-ink">{children}</div>
      </div>
      <kbd className="reading h-8 rounded border border-line bg-paper px-2 py-0.5">{keyName}</kbd>
    </li>
  )
}
