// The last change of the visit, brought back.
import { Undo2 } from 'lucide-react'
import { useCallback, useRef } from 'react'
import type { VisitView } from '../../api/server/client'
import { hand } from '../../api/server/hand'
import { say } from '../../api/server/notices'
import { useVisitAct } from '../../api/visit/desk'
import { changeWords } from '../ChangeWords'

/** Undoes the change that is shown as the last one, and says what it was. */
export function useUndo(visit: VisitView): (() => void) | undefined {
  const last = useRef(visit.last_change)
  const act = useVisitAct(
    {
      place: 'undo',
      label: 'Undo',
      station: 'intake',
      path: '/undo',
      body: (now) => {
        last.current = now.last_change
        return { edit: now.last_change?.edit ?? 0 }
      },
      held: false,
      repeats: true,
    },
    () => {
      const undone = last.current
      if (undone) say(`Undone: ${changeWords(undone)}${undone.by === hand() ? '' : `, by ${undone.by}`}.`)
    },
    (reason) => say(reason),
  )
  const latest = useRef(act)
  latest.current = act
  const run = useCallback(() => void latest.current.run(), [])
  return visit.last_change && !visit.signed_off_at ? run : undefined
}

export function UndoButton({ visit, undo }: { visit: VisitView; undo?: () => void }) {
  const words = visit.last_change ? changeWords(visit.last_change) : ''
  if (visit.signed_off_at) return null
  return (
    <button
      type="button"
      onClick={undo}
      disabled={!undo}
      title={undo ? words : 'Nothing to undo'}
      className="flex min-h-11 min-w-11 items-center justify-center gap-2 rounded-md px-2 text-sm hover:bg-bar-line disabled:opacity-50"
    >
      <Undo2 size={20} aria-hidden="true" />
      <span aria-hidden="true" className="max-lg:hidden">
        Undo
      </span>
      <span className="sr-only">{undo ? `Undo: ${words}` : 'Nothing to undo'}</span>
    </button>
  )
}
