// One job on one kind of clutch, on a page of its own: what to lay out, the order apart with what holds each part, back.
import { TriangleAlert } from 'lucide-react'
import type { ClutchPart, KindView } from '../../api/server/client'
import { Heading } from '../../parts/Caution'
import { SHAPES } from '../strip/shapes'
import { PageHead } from './PageHead'

type Job = KindView['jobs'][number]

export function JobPage({ known, job }: { known: KindView; job: Job }) {
  const { guide } = known
  const parts = guide.part.filter((part) => job.parts.includes(part.key))
  const sizes = known.sizes.map((each) => ({
    ...each,
    place: guide.fastener.find((other) => other.key === each.fastener)?.place ?? each.fastener,
  }))
  return (
    <article className="space-y-4" data-job-page={job.key}>
      <PageHead known={known} name={job.name} text={job.text} />
      <dl className="grid grid-cols-[6rem_minmax(0,1fr)] gap-x-3 gap-y-1">
        <dt className="text-quiet">Lay out</dt>
        <dd>
          <b>{job.tools.join(' · ')}</b>
        </dd>
        <dt className="text-quiet">Sizes</dt>
        <dd>
          {sizes.length > 0
            ? sizes
                .map((each) => `${each.place.toLowerCase()} ${[each.size, each.thread].filter(Boolean).join(', ')}`)
                .join(' · ')
            : known.machine
              ? 'none typed of this machine yet'
              : 'open it from a machine’s strip for its own'}
        </dd>
        {job.may_need.length > 0 && (
          <>
            <dt className="text-quiet">May need</dt>
            <dd>{job.may_need.map((each) => `${each.kind} ×${each.pieces}`).join(' · ')}</dd>
          </>
        )}
        <dt className="text-quiet">Look at</dt>
        <dd>
          {guide.item
            .filter((each) => job.looks.includes(each.key))
            .map((each) => each.name.toLowerCase())
            .join(' · ')}
        </dd>
      </dl>
      <InOrder parts={parts} />
      <div className="grid gap-x-8 gap-y-4 lg:grid-cols-2">
        <section className="min-w-0">
          <Heading aside="with what holds each part">Apart</Heading>
          <ol className="space-y-2">
            {parts.map((part, index) => (
              <Step key={part.key} known={known} part={part} number={index + 1}>
                <b>Held by</b> {part.held} <b>Off</b> {part.off}
                {part.mark && (
                  <>
                    {' '}
                    <b>Mark first</b> {part.mark}
                  </>
                )}
                {part.heat && (
                  <>
                    {' '}
                    <b>Heat</b> {part.heat}
                  </>
                )}
                <Falls known={known} part={part} />
                <Stop words={part.trap} hazard={part.hazard ? known.hazards[part.hazard] : undefined} />
              </Step>
            ))}
          </ol>
        </section>
        <section className="min-w-0">
          <Heading aside="the same list, backwards">Back</Heading>
          <ol className="space-y-2">
            {[...parts].reverse().map((part, index) => (
              <Step key={part.key} known={known} part={part} number={index + 1}>
                {part.back} {part.facing && <span className="text-quiet">{part.facing}</span>}
                {part.dry_run && (
                  <span className="block">
                    <b>First:</b> {part.dry_run}
                  </span>
                )}
                <Falls known={known} part={part} back />
                <Stop words={part.stop} />
              </Step>
            ))}
          </ol>
        </section>
      </div>
      <p className="text-sm text-quiet">
        Common practice, not stated otherwise. Torques and limits are the machine’s own manual’s.
      </p>
    </article>
  )
}

/** The parts along the shaft, in the order they come off. */
export function InOrder({ parts }: { parts: ClutchPart[] }) {
  return (
    <ol className="flex flex-wrap gap-x-1 gap-y-2" aria-label="In the order they come off">
      {parts.map((part, index) => (
        <li key={part.key} className="flex w-20 flex-col items-center text-center text-xs leading-tight">
          <svg viewBox="0 0 64 132" className="h-20 w-12" aria-hidden="true">
            {SHAPES[part.shape]}
          </svg>
          <span>
            {index + 1}. {part.name}
            {(part.count ?? 1) > 1 && ` ×${part.count}`}
          </span>
        </li>
      ))}
    </ol>
  )
}

interface StepProps {
  known: KindView
  part: ClutchPart
  number: number
  children: React.ReactNode
}

function Step({ known, part, number, children }: StepProps) {
  const fasteners = known.guide.fastener.filter((each) => each.part === part.key)
  return (
    <li className="break-inside-avoid border-t border-line pt-1.5 leading-snug">
      <p>
        <b>
          {number}. {part.name}
        </b>
        {fasteners.length > 0 && (
          <span className="text-sm text-quiet">
            {' '}
            · {fasteners.map((each) => `${each.place.toLowerCase()} ×${each.count}, ${each.tightness}`).join('; ')}
          </span>
        )}
      </p>
      <div>{children}</div>
    </li>
  )
}

function Falls({ known, part, back }: { known: KindView; part: ClutchPart; back?: boolean }) {
  const loose = known.guide.loose?.filter((each) => each.part === part.key) ?? []
  if (loose.length === 0) return null
  return (
    <span className="block text-sm">
      {back ? 'Counted in: ' : 'Falls out with it: '}
      {loose.map((each) => `${each.name.toLowerCase()} ×${each.count}`).join(', ')}
      {back && ', or as the sheet of what is fitted says'}
    </span>
  )
}

function Stop({ words, hazard }: { words?: string; hazard?: string }) {
  if (!words && !hazard) return null
  return (
    <span className="mt-0.5 flex gap-2 text-sm">
      <TriangleAlert size={18} aria-hidden="true" className="mt-0.5 shrink-0 text-watch" />
      <span>
        <b>{words}</b> {hazard}
      </span>
    </span>
  )
}
