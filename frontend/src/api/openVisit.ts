// Opening a visit for a machine, from wherever its name stands.
import { useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { type Action, useAction } from './action'
import { api, refusalOf } from './client'

export function useOpenVisit(machineId: number): Action {
  const client = useQueryClient()
  const go = useNavigate()
  return useAction(async () => {
    const answer = await api.POST('/api/machines/{machine_id}/visits', {
      params: { path: { machine_id: machineId } },
      body: {},
    })
    await client.invalidateQueries()
    if (!answer.data) return refusalOf(answer).reason
    go(`/visits/${answer.data.id}/intake`)
    return ''
  })
}
