// Photos of one thing at a visit, in their order, with the way to take another.
import { useQuery } from '@tanstack/react-query'
import { Camera } from 'lucide-react'
import { dropPhoto, putPhotos, useWaitingPhotos } from '../../api/outbox/photos'
import { api, must, type VisitView } from '../../api/server/client'
import { OnPhoto, Still } from './OnPhoto'

export function useVisitPhotos(visitId: number) {
  return useQuery({
    queryKey: ['photos', visitId],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/photos', { params: { path: { visit_id: visitId } } })),
  }).data
}

interface PhotoRowProps {
  visit: VisitView
  /** What they are of: a station, or an item of it as `side.item`. */
  subject: string
  /** The same in words. */
  words: string
}

export function PhotoRow({ visit, subject, words }: PhotoRowProps) {
  const known = useVisitPhotos(visit.id)
  const waiting = useWaitingPhotos().filter((each) => each.visit === visit.id && each.subject === subject)
  const photos = known?.photos[subject] ?? []
  const earlier = known?.earlier[subject] ?? []
  const closed = visit.signed_off_at != null
  return (
    <div className="flex flex-wrap items-center gap-2" data-photos={subject}>
      {photos.map((photo) => (
        <OnPhoto
          key={photo.id}
          photo={photo}
          among={photos.length}
          earlier={earlier}
          closed={closed}
          opener={
            <button type="button" aria-label={`Open photo ${photo.place}: ${photo.caption || words}`}>
              <Still photo={photo} small />
            </button>
          }
        />
      ))}
      {waiting.map((photo) => (
        <span key={photo.token} className="flex min-h-11 items-center gap-2 rounded border border-line px-2 text-sm">
          {photo.reason ? <span className="text-replace">photo not taken: {photo.reason}</span> : 'photo waits here'}
          {photo.reason && (
            <button type="button" className="min-h-11 underline" onClick={() => dropPhoto(photo.token)}>
              drop
            </button>
          )}
        </span>
      ))}
      {!closed && (
        <AddPhoto
          label={`Photo of ${words}`}
          add={(files) => putPhotos(files, { machine: visit.machine.id, visit: visit.id, subject, words })}
        />
      )}
      {photos.length === 0 && earlier.length > 0 && (
        <span className="text-sm text-quiet">{earlier.length} from earlier visits to lay beside it</span>
      )}
    </div>
  )
}

export function AddPhoto({ label, add }: { label: string; add: (files: FileList) => void }) {
  return (
    <label className="flex min-h-11 cursor-pointer items-center gap-2 rounded-md border-2 border-dashed border-alu-deep px-3 text-sm font-semibold focus-within:border-signal hover:bg-card">
      <Camera size={20} aria-hidden="true" /> {label}
      <input
        type="file"
        accept="image/jpeg,image/png,image/webp"
        multiple
        className="sr-only"
        onChange={(event) => {
          if (event.target.files) add(event.target.files)
          event.target.value = ''
        }}
      />
    </label>
  )
}
