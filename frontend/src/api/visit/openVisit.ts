// Opening a visit for a machine, from wherever its name stands.
import { useNavigate } from 'react-router'
import type { Action } from '../outbox/action'
import { useAct } from '../outbox/saved'
import type { MachineCard, VisitView } from '../server/client'

export function useOpenVisit({ id, name }: MachineCard['machine']): Action {
  const go = useNavigate()
  return useAct(
    {
      subject: 'floor',
      place: `open a visit ${id}`,
      label: `Open a visit for ${name}`,
      href: `/machines/${id}`,
      target: () => ({ method: 'POST', path: `/api/machines/${id}/visits` }),
    },
    (visit) => go(`/visits/${(visit as VisitView).id}/intake`),
  )
}
