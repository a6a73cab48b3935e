// The step in hand: what is seen, weighed, wound and tightened at it, and where it says stop.
import { TriangleAlert } from 'lucide-react'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { TextField } from '../../parts/field/Field'
import { Tick } from '../../parts/field/Tick'
import { ofSide } from '../../parts/format'
import { PhotoRow } from '../../parts/photos/PhotoRow'
import { useKind } from '../kinds/guide'
import { Made } from '../strip/PartCard'
import { CountedIn } from './CountedIn'
import { DoneAsk } from './DoneAsk'
import { HelpedBy } from './HelpedBy'
import { type StepView, stepOf } from './step'
import { Tighten } from './Tighten'
import { Weighed } from './Weighed'
import { Wind } from './Wind'

const SORTS: Record<string, string> = {
  mark: 'Marks',
  unmarked: 'Marks',
  facing: 'Way round',
  none: 'Dry',
  film: 'A film',
  grease: 'Grease',
  'as the manual says': "Manual's word",
  loads: 'Loads',
  'dry run': 'First',
  second: 'Two people',
}

interface StepPanelProps {
  step: StepView
  next: () => void
}

export function StepPanel({ step, next }: StepPanelProps) {
  const { visit, closed } = useDesk()
  const asks = step.asks.filter((ask) => ask.sort !== 'stop')
  const stops = step.asks.filter((ask) => ask.sort === 'stop')
  const tick = (ask: StepView['asks'][number]) => (
    <Tick
      key={ask.key}
      station="rebuild"
      path="/rebuild/seen"
      around={{ asked: `${step.place}.${ask.key}` }}
      only
      label={ask.words}
      place={`${step.place}.${ask.key}`}
      field="seen"
      sort={SORTS[ask.sort]}
      stop={ask.sort === 'stop'}
      read={(now) => stepOf(now, step.place)?.asks.find((each) => each.key === ask.key)?.seen ?? false}
    />
  )
  const part = step.asks.some((ask) => ask.sort === 'back')
  const weights = step.matched.filter((each) => each.of === 'weights')
  const rollers = step.matched.filter((each) => each.of === 'rollers')
  return (
    <article className="space-y-3 rounded-md border border-line bg-card p-4" aria-label={ofSide(step.name, step.side)}>
      <header className="flex items-center justify-between gap-3">
        <h2 className="text-lg font-bold">
          {step.name}
          {step.count > 1 && ` ×${step.count}`}
        </h2>
        <div className="flex flex-wrap justify-end gap-2">
          {part && !closed && <NotOpened step={step} />}
          <Button look="plain" onClick={next} data-place={step.place}>
            Next
          </Button>
        </div>
      </header>
      {stops.map(tick)}
      <Amiss step={step} />
      {step.righted.map((each) => (
        <DoneAsk key={each.item} step={step} each={each} />
      ))}
      <CountedIn step={step} />
      {step.wind && <Wind />}
      {weights.map((each) => (
        <Weighed key={each.key} side={step.side} matched={each} place={step.place} />
      ))}
      <SeenAll step={step} />
      <div className="grid gap-x-4 gap-y-0.5 lg:grid-cols-2">{asks.map(tick)}</div>
      {step.asks.some((ask) => ask.sort === 'second') && <HelpedBy />}
      {step.fasteners.map((each) => (
        <Tighten key={each.key} step={step} fastener={each} kind={kindOf(visit, step.side)} />
      ))}
      {rollers.map((each) => (
        <details key={each.key} open={each.masses_g.some((mass) => mass != null) || undefined}>
          <summary className="flex min-h-11 cursor-pointer items-center text-sm text-quiet underline underline-offset-4">
            Weigh the rollers too, and pair them with the arms
          </summary>
          <Weighed side={step.side} matched={each} place={step.place} />
        </details>
      ))}
      <HowMade step={step} />
      <PhotoRow visit={visit} subject={`rebuild.${step.place}`} words={step.name.toLowerCase()} />
    </article>
  )
}

const OWN = ['stop', 'check', 'second', 'loads', 'dry run']

/** One look takes in what is ordinary at a step; each stop and each check stays its own. */
function SeenAll({ step }: { step: StepView }) {
  const { closed } = useDesk()
  const waiting = step.asks.filter((ask) => !OWN.includes(ask.sort) && !ask.seen)
  const all = useVisitAct({
    station: 'rebuild',
    place: `${step.place} seen`,
    label: `${step.name}: all of it seen`,
    path: '/rebuild/seen-all',
    body: () => ({ step: step.place }),
  })
  if (closed || waiting.length < 2) return null
  return (
    <div>
      <Button look="main" wide action={all} data-main>
        All {waiting.length} seen: goes back as it says
      </Button>
      <Done action={all} />
    </div>
  )
}

/** How the clutch is made, asked here too: a visit without a strip meets the part for the first time as it goes back. */
function HowMade({ step }: { step: StepView }) {
  const clutch = useDesk().visit.strip.clutches.find((each) => each.side === step.side)
  const kind = useKind(clutch?.kind ?? '', clutch?.answered)
  return (
    <div className="text-sm empty:hidden">
      {kind?.guide.variant
        .filter((each) => each.part === step.key)
        .map((each) => (
          <Made key={each.key} variant={each} side={step.side} />
        ))}
    </div>
  )
}

const kindOf = (visit: ReturnType<typeof useDesk>['visit'], side: string) =>
  visit.rebuild.clutches.find((each) => each.side === side)?.kind ?? ''

/** What is not as it should be: said at the top, and left so only with a reason. */
function Amiss({ step }: { step: StepView }) {
  if (step.amiss.length === 0) return null
  return (
    <div className="space-y-2 rounded-md border-2 border-replace p-3" role="alert" data-amiss>
      {step.amiss.map((words) => (
        <p key={words} className="flex gap-2 font-semibold text-replace">
          <TriangleAlert size={20} aria-hidden="true" className="mt-0.5 shrink-0" />
          <span className="first-letter:uppercase">{words}.</span>
        </p>
      ))}
      {step.acceptable && (
        <TextField
          station="rebuild"
          path="/rebuild/accepted"
          around={{ step: step.place }}
          only
          label="Left so because"
          called={`${step.name}: why it is left so`}
          place={`${step.place}.accepted`}
          field={`accepted ${step.place}`}
          limit={500}
          read={(now) => stepOf(now, step.place)?.accepted ?? ''}
        />
      )}
    </div>
  )
}

/** A part that did not come off after all is not asked for. */
function NotOpened({ step }: { step: StepView }) {
  return (
    <div className="max-w-52">
      <Tick
        station="rebuild"
        path="/rebuild/left-on"
        around={{ part: step.place }}
        only
        label="Did not come off"
        place={`${step.place}.left_on`}
        field="left_on"
        read={(now) => now.rebuild.left_on.some((each) => each.place === step.place)}
      />
    </div>
  )
}
