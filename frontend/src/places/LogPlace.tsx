// Log: who changed what outside a visit, when, what it was and is now.
import { useInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, must } from '../api/server/client'
import type { components } from '../api/server/schema'
import { Arrival } from '../parts/Arrival'
import { Button, buttonLook, Refused } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { Notices } from '../parts/bar/Notices'
import { day } from '../parts/format'

type Line = components['schemas']['LogLineView']
type Sort = (typeof SORTS)[number]

const SORTS = [
  'part',
  'tool',
  'wrench',
  'photo',
  'person',
  'workshop',
  'stamp',
  'school',
  'limit',
  'torque source',
  'machine',
  'belt',
  'bench',
  'logger',
] as const

const FIELD = 'h-12 rounded-md border-2 border-line bg-card px-3 text-base text-ink'

function asked(of: Sort | undefined, by: string, find: string) {
  return { ...(of ? { of } : {}), ...(by ? { by } : {}), ...(find.trim() ? { find: find.trim() } : {}) }
}

export function LogPlace() {
  const [of, sort] = useState<Sort>()
  const [by, hand] = useState('')
  const [find, look] = useState('')
  const query = asked(of, by, find)
  const pages = useInfiniteQuery({
    queryKey: ['workshop log', query],
    queryFn: ({ pageParam: before }) =>
      must(api.GET('/api/workshop/log', { params: { query: { ...query, ...(before ? { before } : {}) } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.older ? last.lines.at(-1)?.id : undefined),
  })
  const lines = pages.data?.pages.flatMap((page) => page.lines)
  const hands = pages.data?.pages[0]?.hands ?? []
  return (
    <div className="flex min-h-dvh flex-col">
      <Bar>Workshop · log</Bar>
      <Notices />
      <main
        id="work"
        tabIndex={-1}
        className="relative mx-auto w-full max-w-6xl flex-1 space-y-4 px-5 py-6 outline-none"
      >
        <Arrival title="Log of the workshop" />
        <div className="flex flex-wrap items-end gap-3">
          <label className="block text-sm text-quiet">
            Of
            <select
              aria-label="Of what"
              value={of ?? ''}
              onChange={(event) => sort((event.target.value || undefined) as Sort | undefined)}
              className={`mt-1 block ${FIELD}`}
            >
              <option value="">everything</option>
              {SORTS.map((each) => (
                <option key={each}>{each}</option>
              ))}
            </select>
          </label>
          <label className="block text-sm text-quiet">
            By
            <select
              aria-label="By whom"
              value={by}
              onChange={(event) => hand(event.target.value)}
              className={`mt-1 block ${FIELD}`}
            >
              <option value="">anybody</option>
              {hands.map((each) => (
                <option key={each}>{each}</option>
              ))}
            </select>
          </label>
          <label className="block min-w-40 flex-1 text-sm text-quiet">
            What it is called
            <input
              value={find}
              maxLength={120}
              onChange={(event) => look(event.target.value)}
              className={`mt-1 block w-full ${FIELD}`}
            />
          </label>
          <a
            href={`/api/workshop/log.csv?${new URLSearchParams(query as Record<string, string>)}`}
            className={buttonLook('plain')}
          >
            As a table
          </a>
        </div>
        {pages.error && <Refused>{pages.error.message}</Refused>}
        {lines?.length === 0 && <p className="text-quiet">Nothing was changed that fits.</p>}
        {lines && lines.length > 0 && (
          <table className="stack w-full border-y border-line text-left text-sm">
            <thead className="border-b border-line text-quiet">
              <tr>
                <th className="py-2 pr-4 font-normal">When</th>
                <th className="py-2 pr-4 font-normal">By</th>
                <th className="py-2 pr-4 font-normal">Of</th>
                <th className="py-2 pr-4 font-normal">What</th>
                <th className="py-2 pr-4 font-normal">Was</th>
                <th className="py-2 font-normal">Is now</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <Row key={line.id} line={line} />
              ))}
            </tbody>
          </table>
        )}
        {pages.hasNextPage && (
          <Button look="plain" onClick={() => void pages.fetchNextPage()} aria-busy={pages.isFetchingNextPage}>
            Older
          </Button>
        )}
      </main>
    </div>
  )
}

const time = (at: string) => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })

function Row({ line }: { line: Line }) {
  return (
    <tr className="border-b border-line align-top last:border-0" data-line={line.id}>
      <td className="reading py-2 pr-4 whitespace-nowrap">
        {day(line.at)} <span className="text-quiet">{time(line.at)}</span>
      </td>
      <td className="py-2 pr-4 wrap-anywhere">{line.by}</td>
      <td className="py-2 pr-4 wrap-anywhere">
        <span className="text-quiet">{line.of}</span> <b>{line.name}</b>
      </td>
      <td className="py-2 pr-4">{line.field}</td>
      <td className="max-w-64 py-2 pr-4 wrap-anywhere text-quiet">{line.was || '–'}</td>
      <td className="max-w-96 py-2 wrap-anywhere">{line.now || '–'}</td>
    </tr>
  )
}
