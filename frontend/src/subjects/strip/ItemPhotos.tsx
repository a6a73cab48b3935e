// Photos of the item in hand, beside what was found of it.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Camera } from 'lucide-react'
import { useState } from 'react'
import { api, type ItemView, must, refusalOf } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { Refused } from '../../parts/Button'

export function useItemPhotos(visitId: number) {
  return useQuery({
    queryKey: ['item-photos', visitId],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/strip/photos', { params: { path: { visit_id: visitId } } })),
  }).data?.photos
}

export function ItemPhotos({ item }: { item: ItemView }) {
  const { visit, closed } = useDesk()
  const client = useQueryClient()
  const [fault, setFault] = useState('')
  const subject = `${item.side}.${item.key}`
  const photos = useItemPhotos(visit.id)?.[subject] ?? []
  const add = async (file: File | undefined) => {
    if (!file) return
    setFault('')
    const answer = await api
      .POST('/api/machines/{machine_id}/photos', {
        params: { path: { machine_id: visit.machine.id }, query: { visit_id: visit.id, subject } },
        body: '' as never,
        bodySerializer: () => file as never,
        headers: { 'Content-Type': file.type as 'image/jpeg', 'Jaxel-Once': crypto.randomUUID() },
      })
      .catch(() => null)
    if (!answer) setFault(`${file.name}: not saved, no connection to the server`)
    else if (!answer.data) setFault(`${file.name}: ${refusalOf(answer).reason}`)
    await client.invalidateQueries({ queryKey: ['item-photos', visit.id] })
  }
  return (
    <div className="flex flex-wrap items-center gap-2">
      {photos.map((id) => (
        <a key={id} href={`/api/photos/${id}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/photos/${id}?small=true`}
            alt="What was found"
            className="h-20 w-28 rounded border border-line object-cover"
          />
        </a>
      ))}
      {!closed && (
        <label className="flex min-h-12 cursor-pointer items-center gap-2 rounded-md border-2 border-dashed border-alu-deep px-4 text-sm font-semibold focus-within:border-signal">
          <Camera size={20} aria-hidden="true" /> Photo of it
          <input
            type="file"
            accept="image/jpeg,image/png,image/webp"
            className="sr-only"
            onChange={(event) => {
              add(event.target.files?.[0])
              event.target.value = ''
            }}
          />
        </label>
      )}
      <Refused>{fault}</Refused>
    </div>
  )
}
