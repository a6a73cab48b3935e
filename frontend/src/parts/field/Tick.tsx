// Something to be seen, and ticked once it was: kept like every other entry of a visit.
import { Check } from 'lucide-react'
import { useId } from 'react'
import type { VisitView } from '../../api/server/client'
import { useVisitField, type VisitField } from '../../api/visit/desk'
import { Remark } from './Field'

interface TickProps extends Omit<VisitField, 'show' | 'send'> {
  read: (visit: VisitView) => boolean
  /** What stands before the words: what sort of thing is asked. */
  sort?: string
  /** A step that says stop. */
  stop?: boolean
  /** What is sent for it, where that is not whether it was seen. */
  send?: (seen: boolean) => unknown
}

export function Tick({ sort, stop, send, ...field }: TickProps) {
  const id = useId()
  const saved = useVisitField({
    ...field,
    show: (value) => (value ? 'yes' : ''),
    send: (text) => text === 'yes',
  })
  const seen = saved.text === 'yes'
  return (
    <div className="min-w-0">
      {/* biome-ignore lint/a11y/useSemanticElements: a large target with its words in it */}
      <button
        type="button"
        role="checkbox"
        aria-checked={seen}
        aria-describedby={`${id}-remark`}
        data-place={field.place}
        data-main={seen ? undefined : true}
        disabled={saved.closed}
        onClick={() => saved.choose(send ? send(!seen) : !seen)}
        className={`flex min-h-11 w-full items-center gap-3 rounded-md px-2 py-1.5 text-left hover:bg-paper ${stop ? 'border-l-4 border-watch bg-tray' : ''}`}
      >
        <span
          className={`flex size-6 shrink-0 items-center justify-center rounded border-2 ${seen ? 'border-keep bg-keep text-paper' : 'border-ink bg-card'}`}
        >
          {seen && <Check size={18} strokeWidth={3} aria-hidden="true" />}
        </span>
        <span className="min-w-0 flex-1 leading-snug">
          {sort && <span className="mr-1.5 text-sm text-quiet">{sort}</span>}
          <span className={stop ? 'font-semibold' : ''}>{field.label}</span>
        </span>
      </button>
      <Remark saved={saved} id={`${id}-remark`} />
    </div>
  )
}
