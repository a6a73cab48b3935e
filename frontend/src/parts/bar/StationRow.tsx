// The stations in the order of the work: what is done, what wants attention, where you are.
import { Link } from 'react-router'
import type { VisitView } from '../../api/server/client'
import { STATION_KEYS, STATION_NAMES } from '../format'
import { STATE_WORDS, StateMark } from '../marks'

export function StationRow({ visit, here }: { visit: VisitView; here: string }) {
  return (
    <nav aria-label="Stations" className="flex min-h-12 border-b border-line bg-card px-5 max-sm:px-0 print:hidden">
      {visit.stations.map((each) => {
        const current = each.station === here
        return (
          <Link
            key={each.station}
            to={`/visits/${visit.id}/${each.station}`}
            aria-current={current ? 'step' : undefined}
            data-station={each.station}
            aria-keyshortcuts={STATION_KEYS[each.station]}
            title={`${STATE_WORDS[each.state]} · key ${STATION_KEYS[each.station]}`}
            className={`relative flex min-w-0 flex-1 items-center gap-2.5 border-b-4 pt-1 pr-2 max-lg:gap-1.5 max-lg:text-sm max-md:pr-0 max-sm:flex-col max-sm:justify-center max-sm:gap-0.5 max-sm:pr-0 max-sm:text-xs max-sm:tracking-tighter ${
              current ? 'border-signal font-bold' : 'border-transparent hover:border-alu'
            }`}
          >
            <StateMark state={each.state} here={current} />
            <span className="whitespace-nowrap max-sm:text-center max-sm:leading-none max-sm:whitespace-normal">
              {STATION_NAMES[each.station].split(' & ')[0]}
              {each.station === 'strip' && <span className="max-lg:hidden"> &amp; inspect</span>}
            </span>
            <span className="sr-only">{STATE_WORDS[each.state]}</span>
          </Link>
        )
      })}
    </nav>
  )
}
