// Photos of a machine: of itself, and what was seen at its visits.
import { putPhotos, useWaitingPhotos } from '../../api/outbox/photos'
import type { MachineView, PhotoView } from '../../api/server/client'
import { Heading } from '../../parts/Caution'
import { day } from '../../parts/format'
import { OnPhoto, Still } from '../../parts/photos/OnPhoto'
import { AddPhoto } from '../../parts/photos/PhotoRow'

export function Photos({ view }: { view: MachineView }) {
  const { id, name } = view.machine
  const shown = view.photos.filter((each) => !each.removed)
  const gone = view.photos.filter((each) => each.removed)
  const waiting = useWaitingPhotos().filter((each) => each.machine === id).length
  return (
    <section>
      <Heading aside="JPEG, PNG or WebP, made as small as they are kept">Photos</Heading>
      <ul className="flex flex-wrap gap-3">
        {shown.map((photo) => (
          <Tile key={photo.id} photo={photo} all={shown} />
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <AddPhoto label="Add a photo" add={(files) => putPhotos(files, { machine: id, words: name })} />
        {waiting > 0 && <span className="text-sm text-watch">{waiting} on the way</span>}
      </div>
      {gone.length > 0 && (
        <details>
          <summary className="flex min-h-11 cursor-pointer items-center text-sm text-quiet">
            removed: {gone.length}
          </summary>
          <ul className="flex flex-wrap gap-3 opacity-70">
            {gone.map((photo) => (
              <Tile key={photo.id} photo={photo} all={gone} />
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}

function Tile({ photo, all }: { photo: PhotoView; all: readonly PhotoView[] }) {
  const same = all.filter((each) => each.subject === photo.subject)
  const beside = same.filter((each) => each.visit_id === photo.visit_id)
  return (
    <li className="max-w-44 text-sm">
      <OnPhoto
        photo={photo}
        among={beside.length}
        earlier={same.filter((each) => each.id < photo.id)}
        closed={false}
        opener={
          <button type="button" aria-label={`Open photo of ${day(photo.taken_at)}: ${photo.caption || 'no words'}`}>
            <Still photo={photo} small />
          </button>
        }
      />
      <p className="leading-snug break-words">{photo.caption}</p>
      <p className="text-xs text-quiet">{day(photo.taken_at)}</p>
    </li>
  )
}
