// What the parts of a machine's page share: where they write, and how their fields look.
import type { Action } from '../../api/outbox/action'
import { useAct } from '../../api/outbox/saved'
import type { MachineView } from '../../api/server/client'

export const FIELD =
  'mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3 text-base text-ink focus:border-signal'
export const PAUSE_MS = 700

export const subjectOf = (view: MachineView) => `machine ${view.machine.id}`
export const hrefOf = (view: MachineView) => `/machines/${view.machine.id}`

/** An act on the machine, sent to a path of its own; the page is read anew when it is done. */
export function useMachineAct(
  view: MachineView,
  place: string,
  label: string,
  path: string,
  body: () => object,
): Action {
  return useAct({
    subject: subjectOf(view),
    place,
    label,
    href: hrefOf(view),
    held: false,
    repeats: true,
    target: () => ({ method: 'POST', path: `/api/machines/${view.machine.id}${path}`, around: { ...body() } }),
  })
}
