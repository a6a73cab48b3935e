// The part in hand: how it is held, how it comes off and with what, what stops the hand, what falls out with it.
import { TriangleAlert } from 'lucide-react'
import type { ClutchPart, KindView, VisitView } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { SavedChoice } from '../../parts/field/Choice'
import { NumberField, TextField } from '../../parts/field/Field'
import { Off } from './Jobs'

type Side = VisitView['strip']['clutches'][number]['side']

interface PartCardProps {
  part: ClutchPart
  kind: KindView
  side: Side
  /** Nothing wears of it: it is in hand by itself. */
  alone: boolean
}

export function PartCard({ part, kind, side, alone }: PartCardProps) {
  const answered = useDesk().visit.strip.clutches.find((each) => each.side === side)?.answered ?? {}
  const hazard = part.hazard ? kind.hazards[part.hazard] : undefined
  const fasteners = kind.guide.fastener.filter((each) => each.part === part.key)
  const tools = [...new Set(fasteners.flatMap((each) => each.tools ?? []))]
  const questions = kind.guide.variant.filter((each) => each.part === part.key)
  const asked = questions.filter((each) => !answered[each.key]).length
  return (
    <section className="rounded-md bg-tray px-3 py-1 text-sm" aria-label={`${part.name}, how it comes off`}>
      {part.trap && (
        <p className="flex gap-2 pt-1.5 leading-snug">
          <TriangleAlert size={18} aria-hidden="true" className="mt-0.5 shrink-0 text-watch" />
          <b>{part.trap}</b>
        </p>
      )}
      <details open={alone || undefined}>
        <summary className="flex min-h-11 cursor-pointer items-center gap-x-3">
          <b className="underline underline-offset-4">
            {part.name}
            {(part.count ?? 1) > 1 && ` ×${part.count}`}: how it comes off
          </b>
          {asked > 0 && <span className="text-signal-words">{asked === 1 ? '1 question' : `${asked} questions`}</span>}
          <span className="ml-auto text-quiet">{part.depth}</span>
        </summary>
        <div className="space-y-2 pb-1">
          {hazard && (
            <p className="border-l-4 border-watch pl-3">
              {hazard} <span className="text-quiet">The manual comes first.</span>
            </p>
          )}
          <dl className="grid grid-cols-[4.5rem_minmax(0,1fr)] gap-x-3 gap-y-0.5 leading-snug">
            <Row name="Held by">{part.held}</Row>
            <Row name="Off">{part.off}</Row>
            {part.heat && <Row name="Heat">{part.heat}</Row>}
            {fasteners.length > 0 && (
              <Row name="With">
                {fasteners
                  .map((each) => `${each.place} ×${each.count}${each.drive ? `, ${each.drive}` : ''}`)
                  .join('; ')}
                {tools.length > 0 && `: ${tools.join(', ')}`}
                {fasteners.some((each) => each.thread_first) && <b> Thread direction first.</b>}
              </Row>
            )}
            {part.look && <Row name="Look at">{part.look}</Row>}
          </dl>
          <FallsOut part={part} kind={kind} side={side} />
          {questions.map((each) => (
            <Made key={each.key} variant={each} side={side} />
          ))}
        </div>
      </details>
      {part.mark && <Mark part={part} side={side} />}
      {!part.stays && <Off part={`${side}.${part.key}`} name={part.name} />}
      {part.wound && (
        <TextField
          station="strip"
          path="/strip"
          label="Holes of both ends and the turn, as found"
          called="Holes and twist as found"
          place="spring_note"
          field="spring_note"
          limit={200}
          placeholder="sheave 3, helix B, 80°"
          read={(visit) => visit.strip.spring_note}
        />
      )}
    </section>
  )
}

function Row({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <>
      <dt className="text-quiet">{name}</dt>
      <dd>{children}</dd>
    </>
  )
}

function Mark({ part, side }: { part: ClutchPart; side: Side }) {
  return (
    <div className="flex flex-wrap items-center gap-x-3 border-t border-line py-1">
      <span className="min-w-0 flex-1">Mark first: {part.mark}</span>
      <SavedChoice
        station="strip"
        path="/strip/marked"
        around={{ part: `${side}.${part.key}` }}
        only
        label={`${part.name}: marked before it was separated`}
        place={`marked_${side}_${part.key}`}
        field="marked"
        compact
        options={[{ value: 'yes', name: 'Marked' }]}
        none={{ name: 'Not marked', value: null }}
        show={(value) => (value ? 'yes' : '')}
        send={(value) => value === 'yes'}
        read={(visit) => visit.strip.marked.includes(`${side}.${part.key}`)}
      />
    </div>
  )
}

/** What falls out with the part, counted where it falls: the count waits at Close to be counted in. */
function FallsOut({ part, kind, side }: { part: ClutchPart; kind: KindView; side: Side }) {
  const { counts } = useDesk().visit.close
  const loose = kind.guide.loose?.filter((each) => each.part === part.key) ?? []
  if (loose.length === 0) return null
  return (
    <div className="border-t border-line py-1">
      <p className="text-quiet">Falls out with it: count</p>
      <div className="grid grid-cols-2 gap-2">
        {loose.map((each) => {
          const key = `${side}.${each.key}`
          const counted = counts.find((other) => other.key === key)
          return counted ? (
            <NumberField
              key={key}
              station="hand-over"
              path={`/counts/${key}`}
              label={each.name}
              called={`${counted.name}, out`}
              place={`count_${key}_out`}
              field="out"
              read={(visit) => visit.close.counts.find((other) => other.key === key)?.out ?? each.count}
            />
          ) : (
            <p key={key}>
              {each.name} ×{each.count}
            </p>
          )
        })}
      </div>
    </div>
  )
}

/** How this clutch is made, asked at the part that shows it; once told it stays with the machine. */
export function Made({ variant, side }: { variant: KindView['guide']['variant'][number]; side: Side }) {
  return (
    <div className="border-t border-line py-1">
      <p>
        {variant.question} <span className="text-quiet">Until looked at: {variant.answers[variant.assume]}.</span>
      </p>
      <SavedChoice
        station="strip"
        path="/strip/variants"
        around={{ side, variant: variant.key }}
        only
        label={variant.question}
        place={`${side}_${variant.key}`}
        field={variant.key}
        compact
        options={Object.entries(variant.answers).map(([value, name]) => ({ value, name }))}
        none={{ name: 'Not looked at', value: '' }}
        read={(visit) => visit.strip.clutches.find((each) => each.side === side)?.answered[variant.key] ?? ''}
      />
    </div>
  )
}
