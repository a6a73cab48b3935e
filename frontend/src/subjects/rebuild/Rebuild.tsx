// Rebuild: what goes on next, what it is tightened to, and what is not as it should be: the way it came apart, backwards.
import { useLocation, useNavigate } from 'react-router'
import { useDesk } from '../../api/visit/desk'
import { Heading } from '../../parts/Caution'
import { Tick } from '../../parts/field/Tick'
import { figure, reading, unitName } from '../../parts/format'
import { intoView } from '../../parts/intoView'
import { FindingMark, StateMark } from '../../parts/marks'
import { ClutchKinds } from '../kinds/ClutchKinds'
import { LayOut, LeftOn, PickList } from './PickList'
import { StepPanel } from './StepPanel'
import { brief, type StepView } from './step'

export function Rebuild() {
  const { visit } = useDesk()
  const { hash } = useLocation()
  const go = useNavigate()
  const { steps, clutches, kind_asked } = visit.rebuild
  if (steps.length === 0 && kind_asked.length > 0) return <KindAsked sides={kind_asked} />
  if (steps.length === 0)
    return (
      <p className="max-w-prose text-lg">
        Nothing was opened at this visit: nothing has to go back.{' '}
        <a href={`/visits/${visit.id}/strip#depth`} className="font-semibold underline underline-offset-4">
          Say at Strip &amp; inspect how far a clutch is opened
        </a>
      </p>
    )
  const wanted = decodeURIComponent(hash.slice(1))
  const inHand = steps.find((step) => step.place === wanted) ?? steps.find((step) => step.open.length > 0) ?? steps[0]
  if (!inHand) return null
  const take = (step: StepView | undefined) => step && go(`#${step.place}`, { replace: true })
  const own = steps.filter((step) => step.side === inHand.side)
  const clutch = clutches.find((each) => each.side === inHand.side)
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      {kind_asked.length > 0 && <KindAsked sides={kind_asked} />}
      <div className="grid min-h-0 flex-1 gap-x-6 gap-y-4 lg:grid-cols-[minmax(0,25rem)_minmax(0,1fr)]">
        <section className="flex min-h-0 min-w-0 flex-col" aria-label="Steps">
          {clutches.length > 1 && (
            <div className="mb-2 flex gap-2" role="tablist" aria-label="Clutch">
              {clutches.map((each) => (
                <button
                  key={each.side}
                  type="button"
                  role="tab"
                  aria-selected={each.side === inHand.side}
                  onClick={() => take(nextOf(steps.filter((step) => step.side === each.side)))}
                  className="min-h-11 flex-1 rounded-md border-2 border-line px-4 font-semibold capitalize aria-selected:border-signal aria-selected:bg-card"
                >
                  {each.side}
                </button>
              ))}
            </div>
          )}
          <Heading
            aside={`${own.filter((step) => step.open.length === 0).length} of ${own.length}`}
          >{`${clutch?.name ?? ''}, backwards`}</Heading>
          {!steps.some((step) => step.begun) && <PickList />}
          {clutch?.off_shaft != null && (
            <Tick
              station="rebuild"
              path="/rebuild/off-shaft"
              around={{ side: clutch.side }}
              only
              label="It came off its shaft to be worked on"
              place={`${clutch.side}.off_shaft`}
              field="off_shaft"
              read={(now) => now.rebuild.clutches.find((each) => each.side === clutch.side)?.off_shaft ?? false}
            />
          )}
          <StepList own={own} inHand={inHand} take={take} />
          <LeftOn />
        </section>
        <section className="min-h-0 min-w-0 lg:overflow-y-auto lg:pr-1" aria-label="In hand" data-inhand={inHand.place}>
          <StepPanel
            key={inHand.place}
            step={inHand}
            next={() => take(own[own.indexOf(inHand) + 1] ?? nextOf(steps))}
          />
        </section>
      </div>
      <Follows />
    </div>
  )
}

/** A clutch that was changed has to go back, whatever its kind: asked before anything is left out. */
function KindAsked({ sides }: { sides: string[] }) {
  return (
    <section className="max-w-3xl space-y-2" aria-label="Of which kind">
      <p className="text-lg">
        The {sides.join(' and the ')} was changed. Of which kind is it? What its change opened has to go back.
      </p>
      <ClutchKinds />
    </section>
  )
}

const nextOf = (steps: StepView[]) => steps.find((step) => step.open.length > 0) ?? steps[0]

interface StepListProps {
  own: StepView[]
  inHand: StepView
  take: (step: StepView) => void
}

function StepList({ own, inHand, take }: StepListProps) {
  return (
    <ol
      className="min-h-0 divide-y divide-line overflow-y-auto border-y border-line max-lg:max-h-60 short:max-h-24"
      data-steps
    >
      {own.map((step) => {
        const here = step === inHand
        return (
          <li key={step.place}>
            <button
              type="button"
              ref={here ? intoView : undefined}
              aria-current={here || undefined}
              onClick={() => take(step)}
              className={`flex min-h-11 w-full items-center gap-3 px-2 text-left leading-tight ${here ? 'bg-card outline-2 -outline-offset-2 outline-signal' : 'hover:bg-card'}`}
            >
              {step.amiss.length > 0 && !step.accepted ? (
                <FindingMark finding="replace" size={18} />
              ) : step.open.length === 0 ? (
                <FindingMark finding="keep" size={18} />
              ) : (
                <StateMark state={step.begun ? 'attention' : 'to do'} here={here} />
              )}
              <span className="min-w-0">
                <span className="block font-semibold">
                  {step.name}
                  {step.count > 1 && <span className="font-normal text-quiet"> ×{step.count}</span>}
                </span>
                <span className="block truncate text-sm text-quiet" title={brief(step)}>
                  {brief(step)}
                </span>
              </span>
            </button>
          </li>
        )
      })}
    </ol>
  )
}

/** What follows of all steps, in one line: what is owed, what is out of balance, what is out and in. */
function Follows() {
  const { visit } = useDesk()
  const { owed, balance, out, back, steps } = visit.rebuild
  const begun = steps.some((step) => step.begun)
  return (
    <div className="flex min-h-11 flex-wrap items-center gap-x-8 rounded-md bg-tray px-3 text-sm">
      <dl className="flex flex-wrap gap-x-8 gap-y-1 py-1" data-follows>
        <div>
          <dt className="inline text-quiet">Torque owed </dt>
          <dd className="inline font-bold">{owed.length === 0 ? 'none' : owed.join(' · ')}</dd>
        </div>
        {balance.map((each) => (
          <div key={each.side}>
            <dt className="inline text-quiet">Out of balance, {each.side} </dt>
            <dd className="inline font-bold" data-balance>
              <span className="reading">{reading(each.force_n, 'N')}</span> {unitName('N')} at{' '}
              <span className="reading">{figure(each.rpm, 0)}</span> rpm
            </dd>
          </div>
        ))}
        <div>
          <dt className="inline text-quiet">Out and in </dt>
          <dd className="inline font-bold">
            {out} out, {back} in
          </dd>
        </div>
      </dl>
      {begun && <LayOut />}
    </div>
  )
}
