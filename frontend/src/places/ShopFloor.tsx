// Shop floor: which machine needs me, and for what.
import { useQuery } from '@tanstack/react-query'
import { Plus, Search } from 'lucide-react'
import { useDeferredValue, useState } from 'react'
import { Link } from 'react-router'
import { api, type MachineCard, must } from '../api/client'
import { useOpenVisit } from '../api/openVisit'
import { Arrival } from '../parts/Arrival'
import { Bar } from '../parts/Bar'
import { Button, Done } from '../parts/Button'
import { day, figure, reading, STATION_NAMES } from '../parts/format'
import { STATE_WORDS, StateMark } from '../parts/marks'
import { Notices } from '../parts/Notices'
import { BringIn } from './BringIn'

const PAGE = 60

export function ShopFloor() {
  const [wanted, setWanted] = useState('')
  const [limit, setLimit] = useState(PAGE)
  const find = useDeferredValue(wanted.trim())
  const query = useQuery({
    queryKey: ['floor', find, limit],
    queryFn: ({ signal }) => must(api.GET('/api/floor', { params: { query: { find, limit } }, signal })),
    placeholderData: (last) => last,
    refetchInterval: ({ state }) => (state.data?.unfinished ? 300 : false),
  })
  const cards = query.data?.machines ?? []
  const more = (query.data?.total ?? 0) - cards.length
  const waiting = cards.filter((card) => card.visit)
  const resting = cards.filter((card) => !card.visit)
  return (
    <div className="flex min-h-dvh flex-col">
      <Bar>Shop floor</Bar>
      <Notices />
      <main id="work" tabIndex={-1} className="relative outline-none mx-auto w-full max-w-6xl flex-1 px-5 py-6">
        <Arrival title="Shop floor" />
        <div className="mb-6 flex flex-wrap gap-3">
          <label className="flex h-12 min-w-60 flex-1 items-center gap-3 rounded-md border-2 border-line bg-card px-3 focus-within:border-signal">
            <Search size={20} className="text-quiet" aria-hidden="true" />
            <span className="sr-only">Find a machine</span>
            <input
              data-place="find"
              aria-keyshortcuts="/"
              value={wanted}
              onChange={(event) => setWanted(event.target.value)}
              placeholder="Machine, rider, complaint, odometer or station, in any order"
              className="h-full w-full min-w-0 bg-transparent outline-none placeholder:text-quiet"
            />
          </label>
          <BringIn>
            <Button data-main>
              <Plus size={20} aria-hidden="true" /> Bring in a machine
            </Button>
          </BringIn>
        </div>
        {query.error && (
          <p role="alert" className="text-replace">
            {query.error.message}
          </p>
        )}
        <h2 className="mb-3 text-base font-bold">In the building</h2>
        {waiting.length === 0 && query.data && <p className="mb-6 text-quiet">No visit is open.</p>}
        <ul className="mb-8 space-y-3">
          {waiting.map((card) => (
            <Waiting key={card.machine.id} card={card} />
          ))}
        </ul>
        <h2 className="mb-3 text-base font-bold">Other machines</h2>
        {resting.length === 0 && query.data && <p className="text-quiet">None.</p>}
        <ul className="divide-y divide-line border-y border-line">
          {resting.map((card) => (
            <Resting key={card.machine.id} card={card} />
          ))}
        </ul>
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

function Waiting({ card }: { card: MachineCard }) {
  const visit = card.visit
  if (!visit) return null
  return (
    <li>
      <Link
        to={`/visits/${visit.id}/${visit.waits_for}`}
        className="grid items-center gap-x-6 gap-y-2 rounded-md border sm:grid-cols-[1fr_auto] border-line bg-card px-5 py-4 hover:border-ink"
      >
        <span className="min-w-0 break-words">
          <span className="text-lg font-bold">{card.machine.name}</span>
          <span className="text-quiet"> · {[card.machine.rider, card.machine.kind].filter(Boolean).join(' · ')}</span>
          <span className="mt-0.5 line-clamp-3" title={visit.complaint}>
            {visit.complaint || <span className="text-quiet">complaint not yet taken</span>}
          </span>
        </span>
        <span className="sm:text-right">
          <span className="block font-bold">waits for {STATION_NAMES[visit.waits_for]}</span>
          <span className="text-sm text-quiet">
            {visit.open_items === 0 ? 'ready to sign off' : `${visit.open_items} open`} · since {day(visit.opened_at)}
          </span>
        </span>
        <span className="flex flex-wrap sm:col-span-2 gap-x-6 gap-y-1 text-sm">
          {Object.entries(STATION_NAMES).map(([station, name]) => {
            const state = visit.states[station] ?? 'to do'
            return (
              <span key={station} className="flex items-center gap-2" title={STATE_WORDS[state]}>
                <StateMark state={state} />
                {name}
              </span>
            )
          })}
        </span>
      </Link>
    </li>
  )
}

function Resting({ card }: { card: MachineCard }) {
  const open = useOpenVisit(card.machine)
  return (
    <li className="flex flex-wrap items-center gap-x-6 gap-y-2 py-2">
      <Link
        to={`/machines/${card.machine.id}`}
        className="flex min-h-12 min-w-52 flex-1 flex-col justify-center hover:underline"
      >
        <span className="break-words font-semibold">{card.machine.name}</span>
        <span className="text-sm text-quiet">
          {[card.machine.rider, card.machine.kind].filter(Boolean).join(' · ')}
        </span>
      </Link>
      <span className="reading text-sm text-quiet">
        engages {reading(card.bite_rpm, 'rpm')} rpm{card.snap_n != null && `, snap ${figure(card.snap_n, 0)} N`} ·
        shifts {reading(card.shift_rpm, 'rpm')} rpm, predicted
      </span>
      <Button look="plain" action={open} aria-label={`Open a visit for ${card.machine.name}`}>
        Open a visit
      </Button>
      <Done action={open} className="w-full text-sm" />
    </li>
  )
}
