// The stations in the order of the work: what is done, what wants attention, where you are.
import { Link } from 'react-router'
import type { VisitView } from '../api/client'
import { STATION_NAMES } from './format'
import { STATE_WORDS, StateMark } from './marks'

export function StationRow({ visit, here }: { visit: VisitView; here: string }) {
  return (
    <nav aria-label="Stations" className="print:hidden flex h-14 border-b border-line bg-card px-5">
      {visit.stations.map((each) => {
        const current = each.station === here
        return (
          <Link
            key={each.station}
            to={`/visits/${visit.id}/${each.station}`}
            aria-current={current ? 'step' : undefined}
            title={STATE_WORDS[each.state]}
            className={`relative flex flex-1 items-center gap-2.5 border-b-4 pt-1 pr-2 ${
              current ? 'border-signal font-bold' : 'border-transparent hover:border-alu'
            }`}
          >
            <StateMark state={each.state} here={current} />
            <span className="whitespace-nowrap">{STATION_NAMES[each.station]}</span>
            <span className="sr-only">{STATE_WORDS[each.state]}</span>
          </Link>
        )
      })}
    </nav>
  )
}
