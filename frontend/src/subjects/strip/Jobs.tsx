// Whole jobs by their trade names: which one it is, what to lay out for it, and how far its order has come.
import type { VisitView } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { Tick } from '../../parts/field/Tick'
import { ofSide } from '../../parts/format'
import { Aside } from '../../parts/over/Aside'
import { Sizes } from '../rebuild/PickList'

type Job = VisitView['strip']['jobs'][number]

/** The jobs there are for these clutches, each with what it is for. */
export function ChooseJob() {
  const { visit, closed } = useDesk()
  const { jobs } = visit.strip
  const chosen = jobs.filter((each) => each.chosen)
  if (jobs.length === 0 || (closed && chosen.length === 0)) return null
  return (
    <Aside
      label="Whole jobs"
      align="start"
      className="w-[30rem] p-3"
      opener={
        <button
          type="button"
          data-place="job"
          className="min-h-11 max-w-60 rounded-md border-2 border-line bg-card px-4 text-left font-semibold leading-tight hover:border-ink"
        >
          {chosen.length > 1 ? `${chosen.length} whole jobs` : (chosen[0]?.name ?? 'A whole job…')}
        </button>
      }
    >
      <ul className="divide-y divide-line">
        {jobs.map((each) => (
          <li key={each.key} className="py-1">
            <Choose job={each} />
            <p className="pl-9 text-sm text-quiet">{each.text}</p>
          </li>
        ))}
      </ul>
    </Aside>
  )
}

function Choose({ job }: { job: Job }) {
  return (
    <Tick
      station="strip"
      path="/strip/job"
      around={{ job: job.key }}
      only
      label={ofSide(job.name, job.side)}
      place={`job ${job.key}`}
      field="job"
      read={(visit) => visit.strip.jobs.find((each) => each.key === job.key)?.chosen ?? false}
    />
  )
}

/** How far each job chosen is and what comes off next; before any is begun, what all of them want laid out. */
export function JobsInHand({ choose }: { choose: (place: string) => void }) {
  const { visit } = useDesk()
  const chosen = visit.strip.jobs.filter((each) => each.chosen)
  if (chosen.length === 0) return null
  const begun = chosen.some((job) => job.parts.some((part) => part.off))
  return (
    <div className="rounded-md bg-tray px-3 py-1 text-sm" data-jobs>
      {chosen.map((job) => (
        <InHand key={job.key} job={job} choose={choose} />
      ))}
      {!begun && <LayOut />}
    </div>
  )
}

function InHand({ job, choose }: { job: Job; choose: (place: string) => void }) {
  const { visit } = useDesk()
  const off = job.parts.filter((part) => part.off).length
  const next = job.parts.find((part) => !part.off)
  const kind = visit.strip.clutches.find((each) => each.side === job.side)?.kind ?? ''
  return (
    <section aria-label={job.name} className="flex flex-wrap items-center gap-x-4" data-job={job.key}>
      <b>
        {job.name}: {off} of {job.parts.length} off
      </b>
      {next ? (
        <button type="button" onClick={() => choose(next.place)} className="min-h-11 underline underline-offset-4">
          {off > 0 ? 'Next' : 'Begins with'}: {next.name.toLowerCase()}
        </button>
      ) : (
        <a
          href={`/visits/${visit.id}/rebuild`}
          className="inline-flex min-h-11 items-center underline underline-offset-4"
        >
          All off: the way back is at Rebuild
        </a>
      )}
      <a
        href={`/guide/${kind}/${job.key.split('.')[1]}?machine=${visit.machine.id}`}
        className="ml-auto inline-flex min-h-11 items-center underline underline-offset-4"
      >
        Its page, to print
      </a>
    </section>
  )
}

function LayOut() {
  const { lay_out } = useDesk().visit.strip
  if (!lay_out) return null
  return (
    <dl className="grid grid-cols-[5rem_minmax(0,1fr)] gap-x-3 gap-y-0.5 pb-1 leading-snug" data-lay-out>
      <dt className="text-quiet">Lay out</dt>
      <dd>
        <b>{lay_out.tools.join(' · ')}</b> <Sizes />
      </dd>
      {lay_out.may_need.length > 0 && (
        <>
          <dt className="text-quiet">May need</dt>
          <dd>
            {lay_out.may_need.map((each, index) => (
              <span key={each.kind}>
                {index > 0 && ' · '}
                <b>
                  {each.kind} ×{each.pieces}
                </b>
                {each.here != null && (
                  <span className={each.here < each.pieces ? 'text-replace' : 'text-quiet'}> {each.here} here</span>
                )}
              </span>
            ))}
          </dd>
        </>
      )}
    </dl>
  )
}

/** The part in hand is off: an order that is left is taken up again after it. */
export function Off({ part, name }: { part: string; name: string }) {
  return (
    <Tick
      station="strip"
      path="/strip/off"
      around={{ part }}
      only
      label={`${name}: off`}
      place={`off ${part}`}
      field="off"
      read={(visit) => visit.strip.off.includes(part)}
    />
  )
}
