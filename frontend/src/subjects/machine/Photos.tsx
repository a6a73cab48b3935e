// Photos of a machine, captioned where they stand.
import { useQueryClient } from '@tanstack/react-query'
import { Camera } from 'lucide-react'
import { useId, useState } from 'react'
import { useAct, useSaved } from '../../api/outbox/saved'
import { api, type MachineView, refusalOf } from '../../api/server/client'
import { Refused } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { Remark } from '../../parts/field/Field'
import { day } from '../../parts/format'
import { hrefOf, PAUSE_MS, subjectOf } from './act'

export function Photos({ view }: { view: MachineView }) {
  const client = useQueryClient()
  const [fault, setFault] = useState('')
  const [busy, setBusy] = useState(false)
  const shown = view.photos.filter((each) => !each.removed)
  const gone = view.photos.filter((each) => each.removed)
  const add = async (files: FileList | null) => {
    setFault('')
    setBusy(true)
    for (const file of files ?? []) {
      const answer = await api
        .POST('/api/machines/{machine_id}/photos', {
          params: { path: { machine_id: view.machine.id } },
          // A photo goes as the bytes it is.
          body: '' as never,
          bodySerializer: () => file as never,
          headers: { 'Content-Type': file.type as 'image/jpeg', 'Jaxel-Once': crypto.randomUUID() },
        })
        .catch(() => null)
      if (!answer) setFault(`${file.name}: not saved, no connection to the server`)
      else if (!answer.data) setFault(`${file.name}: ${refusalOf(answer).reason}`)
    }
    setBusy(false)
    await client.invalidateQueries({ queryKey: ['machine'] })
  }
  return (
    <section>
      <Heading aside="JPEG, PNG or WebP, up to 8 MB">Photos</Heading>
      <ul className="flex flex-wrap gap-3">
        {shown.map((photo) => (
          <PhotoTile key={photo.id} view={view} photo={photo} />
        ))}
        <li>
          <label className="flex size-40 cursor-pointer flex-col items-center justify-center gap-2 rounded-md border-2 border-dashed border-alu-deep text-sm font-semibold focus-within:border-signal hover:bg-card">
            <Camera size={24} aria-hidden="true" />
            {busy ? 'Saving…' : 'Add a photo'}
            <input
              type="file"
              accept="image/jpeg,image/png,image/webp"
              multiple
              className="sr-only"
              onChange={(event) => {
                add(event.target.files)
                event.target.value = ''
              }}
            />
          </label>
        </li>
      </ul>
      <Refused className="mt-2">{fault}</Refused>
      {gone.length > 0 && (
        <details>
          <summary className="flex min-h-11 cursor-pointer items-center text-sm text-quiet">
            removed: {gone.length}
          </summary>
          <ul className="flex flex-wrap gap-3 opacity-70">
            {gone.map((photo) => (
              <PhotoTile key={photo.id} view={view} photo={photo} />
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}

function PhotoTile({ view, photo }: { view: MachineView; photo: MachineView['photos'][number] }) {
  const id = useId()
  const where = { subject: subjectOf(view), href: hrefOf(view) }
  const target = { method: 'PATCH' as const, path: `/api/photos/${photo.id}` }
  const caption = useSaved({
    ...where,
    place: `photo ${photo.id}`,
    label: 'Caption of a photo',
    target,
    field: 'caption',
    stored: photo.caption,
    read: (data) => (data as MachineView).photos.find((each) => each.id === photo.id)?.caption,
    show: (value) => String(value ?? ''),
    closed: photo.removed,
  })
  const verb = photo.removed ? 'Bring back' : 'Remove'
  const move = useAct({
    ...where,
    place: `photo ${photo.id} removed`,
    label: `${verb} a photo`,
    target: () => ({ ...target, around: { removed: { was: photo.removed, now: !photo.removed } } }),
  })
  return (
    <li className="w-40">
      <a href={`/api/photos/${photo.id}`} target="_blank" rel="noreferrer">
        <img
          src={`/api/photos/${photo.id}?small=true`}
          alt={photo.caption || `Photo of ${day(photo.taken_at)}`}
          className="h-28 w-40 rounded-md border border-line object-cover"
        />
      </a>
      <label htmlFor={id} className="sr-only">
        Caption
      </label>
      <input
        id={id}
        value={caption.text}
        maxLength={200}
        disabled={photo.removed}
        placeholder="what it shows"
        onChange={(event) => caption.type(event.target.value, PAUSE_MS)}
        onBlur={caption.leave}
        className="mt-1 h-11 w-full rounded border border-line bg-card px-2 text-sm placeholder:text-quiet"
      />
      <Remark saved={caption} id={`${id}-remark`} />
      <button type="button" onClick={move.run} className="min-h-11 text-xs text-quiet underline underline-offset-4">
        {verb.toLowerCase()}
      </button>
    </li>
  )
}
