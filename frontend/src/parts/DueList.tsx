// What is due, the most pressing first, with a calendar to take along.
import { useQuery } from '@tanstack/react-query'
import { CalendarPlus } from 'lucide-react'
import { Link } from 'react-router'
import { api, type DueView, must } from '../api/server/client'
import { Heading } from './Caution'
import { day, figure, told } from './format'
import { FindingMark } from './marks'

const MARK: Record<DueView['urgency'], string> = { overdue: 'replace', soon: 'watch', later: 'keep', undated: 'keep' }
const WORDS: Record<DueView['urgency'], string> = {
  overdue: 'due now',
  soon: 'due soon',
  later: 'due',
  undated: 'no date yet',
}

function when(due: DueView): string {
  return [due.km != null && told(due.km, 'km'), due.h != null && `${figure(due.h, 0)} h`, due.season && 'next season']
    .filter(Boolean)
    .join(' or ')
}

export function DueList({ machineId, limit = 50 }: { machineId?: number; limit?: number }) {
  const list = useQuery({
    queryKey: ['due', machineId ?? 0, limit],
    queryFn: () => must(api.GET('/api/due', { params: { query: { machine_id: machineId, limit } } })),
  }).data
  if (!list || list.total === 0) return null
  return (
    <section aria-label="Due">
      <Heading
        aside={
          <a
            href={machineId ? `/api/due.ics?machine_id=${machineId}` : '/api/due.ics'}
            download
            className="inline-flex min-h-11 items-center gap-2 underline underline-offset-4"
          >
            <CalendarPlus size={18} aria-hidden="true" /> calendar file
          </a>
        }
      >
        Due{' '}
        {list.total > list.due.length && (
          <span className="font-normal text-quiet">
            the first {list.due.length} of {list.total}
          </span>
        )}
      </Heading>
      <ul className="divide-y divide-line border-y border-line">
        {list.due.map((due) => (
          <li key={`${due.machine_id} ${due.key}`} className="flex items-start gap-3 py-2" data-due={due.key}>
            <span className="pt-1">
              <FindingMark finding={MARK[due.urgency]} size={14} />
            </span>
            <span className="min-w-0 flex-1 break-words">
              {machineId === undefined && (
                <Link
                  to={`/machines/${due.machine_id}`}
                  className="inline-flex min-h-11 items-center font-semibold underline underline-offset-4"
                >
                  {due.machine}
                </Link>
              )}{' '}
              <b>{due.name}</b> <span className="text-sm text-quiet">{due.why}</span>
            </span>
            <span className="reading shrink-0 text-right text-sm">
              {WORDS[due.urgency]} {due.on ? day(due.on) : ''}
              <span className="block text-quiet">{when(due)}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
