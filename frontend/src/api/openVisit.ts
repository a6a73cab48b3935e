// Opening a visit for a machine, from wherever its name stands.
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, refusalOf } from './client'

export function useOpenVisit(machineId: number) {
  const client = useQueryClient()
  const go = useNavigate()
  const [fault, setFault] = useState('')
  const open = async () => {
    const answer = await api.POST('/api/machines/{machine_id}/visits', {
      params: { path: { machine_id: machineId } },
      body: {},
    })
    await client.invalidateQueries()
    if (answer.data) go(`/visits/${answer.data.id}/intake`)
    else setFault(refusalOf(answer).reason)
  }
  return { open, fault }
}
