// What is typed here and not on the server: seen from every page, with the way to each.
import { CloudOff, Hourglass } from 'lucide-react'
import { Link } from 'react-router'
import { stuck } from '../../api/outbox/entry'
import { drop, useAway, useEntries } from '../../api/outbox/outbox'
import { dropPhoto, useWaitingPhotos } from '../../api/outbox/photos'
import { useSlow } from '../../api/server/wire'
import { inWords } from '../../api/visit/openItems'
import { Aside } from '../over/Aside'
import { Close } from '../over/Over'

export function Unsaved() {
  const away = useAway()
  const slow = useSlow() && !away
  const open = [...useEntries().values()].filter(stuck)
  const photos = useWaitingPhotos().filter((photo) => away || photo.reason)
  const words = [
    away && 'No connection',
    open.length > 0 && `${open.length} ${open.length === 1 ? 'entry' : 'entries'} not saved`,
    photos.length > 0 && `${photos.length} ${photos.length === 1 ? 'photo' : 'photos'} not saved`,
  ].filter(Boolean)
  return (
    <div role="status" className="flex items-center gap-2">
      {slow && (
        <span data-slow className="flex items-center gap-1.5 text-sm text-bar-quiet">
          <Hourglass size={16} aria-hidden="true" />
          <span className="max-lg:sr-only">Waiting for the server…</span>
        </span>
      )}
      {words.length > 0 && (
        <Aside
          label="Not saved"
          align="end"
          className="w-96 p-3"
          opener={
            <button
              type="button"
              className="flex min-h-11 items-center gap-2 rounded-md bg-[#c8410b] px-3 text-sm font-bold text-on-bar"
            >
              {away && <CloudOff size={18} aria-hidden="true" />}
              {words.join(' · ')}
            </button>
          }
        >
          {away && (
            <p className="mb-2 text-sm">
              The server does not answer. What you type is kept in this browser and sent as soon as it is back.
            </p>
          )}
          <ul className="divide-y divide-line">
            {open.map((entry) => (
              <li key={`${entry.subject} ${entry.place}`} className="flex items-center gap-2">
                <Close leads>
                  <Link to={entry.href} className="flex min-h-11 min-w-0 flex-1 items-center hover:underline">
                    <span className="min-w-0 break-words">{inWords(entry)}</span>
                  </Link>
                </Close>
                <button
                  type="button"
                  className="min-h-11 rounded px-2 text-sm font-semibold underline"
                  onClick={() => drop(entry.subject, (each) => each.place === entry.place)}
                  aria-label={`Drop ${entry.label}`}
                >
                  Drop
                </button>
              </li>
            ))}
            {photos.map((photo) => (
              <li key={photo.token} className="flex items-center gap-2">
                <span className="flex min-h-11 min-w-0 flex-1 items-center break-words">
                  Photo of {photo.words}
                  {photo.reason ? `: ${photo.reason}` : ', waits for the server'}
                </span>
                <button
                  type="button"
                  className="min-h-11 rounded px-2 text-sm font-semibold underline"
                  onClick={() => dropPhoto(photo.token)}
                  aria-label={`Drop the photo of ${photo.words}`}
                >
                  Drop
                </button>
              </li>
            ))}
          </ul>
        </Aside>
      )}
    </div>
  )
}
