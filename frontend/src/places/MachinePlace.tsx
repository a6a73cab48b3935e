// Machine: what is on it now, and what each change of the past did.
import { useInfiniteQuery, useQuery } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { Link, useParams } from 'react-router'
import { api, type Comparison, type MachineView, must } from '../api/server/client'
import { useOpenVisit } from '../api/visit/openVisit'
import { Arrival } from '../parts/Arrival'
import { Button, buttonLook, Done, Refused } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { Notices } from '../parts/bar/Notices'
import { Heading } from '../parts/Caution'
import { ChangeWords } from '../parts/ChangeWords'
import { DueList } from '../parts/DueList'
import { day, reading, signed, told, unitName } from '../parts/format'
import { PassOn } from '../parts/PassOn'
import { Quantity } from '../parts/Quantity'
import { KnownSoFar } from '../subjects/machine/KnownSoFar'
import { Limits } from '../subjects/machine/Limits'
import { Mounted } from '../subjects/machine/Mounted'
import { PackageNumber } from '../subjects/machine/PackageNumber'
import { Photos } from '../subjects/machine/Photos'
import { PutAway } from '../subjects/machine/PutAway'
import { Said } from '../subjects/machine/Said'
import { Shelf } from '../subjects/machine/Shelf'
import { Logs } from '../subjects/run/Logs'

export function MachinePlace() {
  const machineId = Number(useParams().machineId)
  const query = useQuery({
    queryKey: ['machine', machineId],
    queryFn: () => must(api.GET('/api/machines/{machine_id}', { params: { path: { machine_id: machineId } } })),
  })
  const view = query.data
  return (
    <div className="flex min-h-dvh flex-col">
      <Bar>
        {view
          ? `${view.said.archived ? 'Archived · ' : ''}${view.machine.name}${view.machine.rider ? ` · ${view.machine.rider}` : ''}`
          : 'Machine'}
      </Bar>
      <Notices />
      <main
        id="work"
        tabIndex={-1}
        className="relative outline-none grid flex-1 content-start gap-x-8 gap-y-6 px-5 py-5 lg:grid-cols-[19rem_1fr]"
      >
        <Arrival title={view?.machine.name ?? 'Machine'} first="[data-open-visit]" key={view ? 'here' : 'coming'} />
        {query.error && <p role="alert">Cannot open this machine: {query.error.message}.</p>}
        {view && (
          <>
            <Package view={view} />
            <div className="min-w-0 space-y-4">
              {!view.said.archived && <VisitDoor view={view} />}
              <div className="grid items-start gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
                <div className="min-w-0">
                  <Visits view={view} />
                </div>
                <div className="min-w-0">
                  <DueList machineId={view.machine.id} />
                </div>
              </div>
              <SetUps view={view} />
              <KnownSoFar view={view} />
              <Photos view={view} />
              <Logs view={view} />
              <Said view={view} />
              <PassOn of="machine" id={view.machine.id} opener="Pass it on" />
              <PutAway view={view} />
            </div>
          </>
        )}
      </main>
    </div>
  )
}

function Package({ view }: { view: MachineView }) {
  const groups = [...new Set(view.package.map((row) => row.group))]
  return (
    <section>
      <Heading>Clutch package</Heading>
      <p className="mb-2 text-sm">
        {view.half !== 'secondary' &&
          (view.primary_kind ?? <span className="text-watch">kind of primary not stated</span>)}
        {!view.half && <br />}
        {view.half !== 'primary' &&
          (view.secondary_kind ?? <span className="text-watch">kind of secondary not stated</span>)}
      </p>
      <div className="rounded-md border border-line bg-card px-4 py-2">
        {groups.map((group) => (
          <div key={group} className="border-b border-line py-2 last:border-0">
            <h3 className="text-sm font-semibold">{group}</h3>
            <ul>
              {view.package
                .filter((row) => row.group === group)
                .map((row) => (
                  <li key={row.label}>
                    <PackageNumber view={view} row={row} />
                  </li>
                ))}
            </ul>
          </div>
        ))}
      </div>
      {view.machine.kind !== 'bare clutch' && <Limits view={view} />}
      <h3 className="mt-4 mb-1 text-sm font-semibold" hidden={view.machine.kind === 'bare clutch'}>
        Belts
      </h3>
      <ul className="text-sm leading-6" hidden={view.machine.kind === 'bare clutch'}>
        {view.belts.map((belt) => (
          <li key={belt.number} className="flex items-center justify-between">
            <Link to={`/belts/${belt.id}`} className="inline-flex min-h-11 items-center underline underline-offset-4">
              belt {belt.number} · {belt.state}
            </Link>
            <span className="reading">
              <Quantity unit="mm">{reading(belt.width_mm, 'mm')}</Quantity>
            </span>
          </li>
        ))}
      </ul>
      <Mounted view={view} />
      {view.machine.kind !== 'bare clutch' && <Shelf view={view} />}
    </section>
  )
}

function VisitDoor({ view }: { view: MachineView }) {
  const open = useOpenVisit(view.machine)
  if (view.open_visit_id)
    return (
      <Link to={`/visits/${view.open_visit_id}/intake`} className={buttonLook('main')} data-open-visit data-main>
        Go to the open visit
      </Link>
    )
  return (
    <div className="space-y-2">
      <Button action={open} data-open-visit data-main>
        Open a visit
      </Button>
      <Done action={open} />
    </div>
  )
}

function Measured({ rows, figure }: { rows: Comparison[]; figure: string }) {
  const row = rows.find((each) => each.figure === figure)
  if (!row) return <span className="font-sans font-normal text-quiet">not measured</span>
  return (
    <>
      {reading(row.measured_rpm, 'rpm')}{' '}
      <span className="font-normal text-quiet">
        ({row.miss_rpm == null ? 'no prediction kept' : signed(row.miss_rpm)})
      </span>
    </>
  )
}

function SetUps({ view }: { view: MachineView }) {
  const machine_id = view.machine.id
  const pages = useInfiniteQuery({
    queryKey: ['machine', machine_id, 'setups', JSON.stringify(view.setups)],
    queryFn: ({ pageParam: before }) =>
      must(api.GET('/api/machines/{machine_id}/setups', { params: { path: { machine_id }, query: { before } } })),
    initialPageParam: undefined as number | undefined,
    initialData: { pages: [view.setups], pageParams: [undefined] },
    getNextPageParam: (last) => (last.more ? last.revisions.at(-1)?.id : undefined),
    staleTime: Number.POSITIVE_INFINITY,
  })
  const revisions = pages.data.pages.flatMap((page) => page.revisions)
  return (
    <section>
      <Heading aside="rpm; in brackets the miss, on that run's belt and air">Set-ups through time</Heading>
      <div className="relative overflow-x-auto rounded-md border border-line bg-card">
        <table className="stack w-full text-left text-sm">
          <thead className="border-b border-line text-quiet">
            <tr>
              <th className="px-4 py-2 font-normal">Set-up</th>
              <th className="px-2 py-2 font-normal">What changed, and why</th>
              <th className="px-2 py-2 text-right font-normal">Belt, {unitName('mm')}</th>
              <th className="px-2 py-2 text-right font-normal" colSpan={2}>
                Engagement: predicted, measured
              </th>
              <th className="px-2 py-2 text-right font-normal" colSpan={2}>
                Shift: predicted, measured
              </th>
              <th className="px-4 py-2">
                <span className="sr-only">Document</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {revisions.map((each, index) => (
              <tr
                key={each.id}
                className={`border-b border-line align-top last:border-0 ${index === 0 ? 'font-semibold' : ''}`}
              >
                <td className="px-4 py-3 whitespace-nowrap">
                  {day(each.created_at)}
                  {index === 0 && (
                    <span className="block text-xs font-normal text-signal-words">
                      {view.half ? 'in it' : 'on the machine'}
                    </span>
                  )}
                </td>
                <td className="px-2 py-3">
                  <ChangeWords changes={each.changes} />
                  <span className="block font-normal text-quiet">
                    {each.nature === 'correction' && <b className="text-ink">put right, no change: </b>}
                    {each.reason}
                  </span>
                  {each.fault && <span className="block font-normal text-replace">{each.fault.reason}</span>}
                </td>
                <td className="reading px-2 py-3 text-right" data-label={`Belt, ${unitName('mm')}`}>
                  {reading(each.belt_width_mm, 'mm')}
                </td>
                <td className="reading px-2 py-3 text-right" data-label="Engagement, predicted">
                  {reading(each.bite_rpm, 'rpm')}
                  {each.hit_n != null && (
                    <span className="block text-xs font-normal whitespace-nowrap text-quiet">
                      hit {told(each.hit_n, 'N')}
                    </span>
                  )}
                </td>
                <td className="reading px-2 py-3 text-right whitespace-nowrap" data-label="measured">
                  <Measured rows={each.measured} figure="Engagement" />
                </td>
                <td className="reading px-2 py-3 text-right" data-label="Shift, predicted">
                  {reading(each.shift_rpm, 'rpm')}
                </td>
                <td className="reading px-2 py-3 text-right whitespace-nowrap" data-label="measured">
                  <Measured rows={each.measured} figure="Shift" />
                </td>
                <td className="px-2 py-1 text-right">
                  <a
                    href={`/api/revisions/${each.id}/document`}
                    download
                    aria-label={`Save set-up ${each.id} as a document`}
                    title="Save as a setup document"
                    className="inline-flex size-11 items-center justify-center rounded hover:bg-paper"
                  >
                    <Download size={18} />
                  </a>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Older pages={pages} what="set-ups" />
    </section>
  )
}

function Visits({ view }: { view: MachineView }) {
  const machine_id = view.machine.id
  const pages = useInfiniteQuery({
    queryKey: ['machine', machine_id, 'visits', JSON.stringify(view.visits)],
    queryFn: ({ pageParam: before }) =>
      must(api.GET('/api/machines/{machine_id}/visits', { params: { path: { machine_id }, query: { before } } })),
    initialPageParam: undefined as number | undefined,
    initialData: { pages: [view.visits], pageParams: [undefined] },
    getNextPageParam: (last) => (last.more ? last.visits.at(-1)?.id : undefined),
    staleTime: Number.POSITIVE_INFINITY,
  })
  const visits = pages.data.pages.flatMap((page) => page.visits)
  return (
    <section>
      <Heading>Visits</Heading>
      {visits.length === 0 && <p className="text-quiet">None yet.</p>}
      <ul className="divide-y divide-line border-y border-line">
        {visits.map((visit) => (
          <li key={visit.id}>
            <Link
              to={`/visits/${visit.id}/${visit.signed_off_at ? 'hand-over' : 'intake'}`}
              className="flex min-h-12 flex-wrap items-center gap-x-4 py-1 hover:bg-card"
            >
              <span className="w-24">{day(visit.opened_at)}</span>
              <span className="reading w-20 text-right text-sm">
                {[
                  visit.odometer_km != null && told(visit.odometer_km, 'km'),
                  visit.odometer_h != null && told(visit.odometer_h, 'h'),
                ]
                  .filter(Boolean)
                  .join(' · ') || '–'}
              </span>
              <span className="reading w-36 text-sm">
                {view.machine.kind === 'bare clutch'
                  ? ''
                  : visit.mean_width_mm == null
                    ? 'belt not measured'
                    : `belt ${visit.belt_number}: ${told(visit.mean_width_mm, 'mm')}`}
              </span>
              <span className="min-w-40 flex-1 wrap-anywhere">{visit.complaint}</span>
              <span className="text-sm text-quiet">{visit.signed_off_at ? 'signed off' : 'open'}</span>
              {visit.done.length > 0 && (
                <span className="line-clamp-2 basis-full text-sm leading-snug text-quiet" data-done>
                  {visit.done.join(' · ')}
                </span>
              )}
            </Link>
          </li>
        ))}
      </ul>
      <Older pages={pages} what="visits" />
    </section>
  )
}

interface OlderProps {
  pages: { hasNextPage: boolean; isFetchingNextPage: boolean; fetchNextPage: () => unknown; error: Error | null }
  what: string
}

function Older({ pages, what }: OlderProps) {
  if (!pages.hasNextPage) return null
  return (
    <div className="mt-3 space-y-2">
      <Button look="plain" onClick={() => pages.fetchNextPage()} disabled={pages.isFetchingNextPage}>
        Older {what}
      </Button>
      <Refused>{pages.error?.message ?? ''}</Refused>
    </div>
  )
}
