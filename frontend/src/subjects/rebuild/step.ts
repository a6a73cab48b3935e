// What the parts of the rebuild share: a step of it, and what is said of it in a few words.
import type { VisitView } from '../../api/server/client'
import { reading, told } from '../../parts/format'

export type StepView = VisitView['rebuild']['steps'][number]
export type FastenerView = StepView['fasteners'][number]
export type RightedView = StepView['righted'][number]
export type MatchedView = StepView['matched'][number]

export const stepOf = (visit: VisitView, place: string) => visit.rebuild.steps.find((step) => step.place === place)

export const fastenerOf = (visit: VisitView, place: string, key: string) =>
  stepOf(visit, place)?.fasteners.find((each) => each.key === key)

/** What was decided to be replaced, as it stands in a visit now. */
export const righted = (visit: VisitView, each: { side: string; item: string }): RightedView | undefined =>
  visit.rebuild.steps
    .flatMap((step) => step.righted)
    .find((other) => other.side === each.side && other.item === each.item)

/** How tight it is to be, in words. */
export function tightness(fastener: FastenerView): string {
  if (fastener.torque_nm != null) return told(fastener.torque_nm, 'N·m')
  return fastener.tightness === 'torque' ? "the manual's torque" : fastener.tightness
}

/** A step as a list shows it: what is amiss first, then what was done, else what it will be. */
export function brief(step: StepView): string {
  if (step.amiss.length > 0 && !step.accepted) return step.amiss[0] ?? ''
  const undone = step.righted.find((each) => each.open.length > 0)
  if (undone) return undone.open[0] ?? ''
  const owed = step.fasteners.filter((each) => each.done.state === 'owed')
  if (owed.length > 0) return `torque owed: ${owed.map((each) => each.place.toLowerCase()).join(', ')}`
  const weighed = step.matched.filter((each) => each.spread_g != null)
  if (weighed.length > 0)
    return weighed
      .map(
        (each) =>
          `${each.masses_g.map((mass) => reading(mass, 'g')).join(' / ')} g, within ${reading(each.spread_g, 'g')}`,
      )
      .join(' · ')
  if (step.fasteners.length > 0)
    return step.fasteners.map((each) => `${each.place.toLowerCase()} ${tightness(each)}`).join(' · ')
  return step.asks[0]?.words ?? ''
}
