// Marks that a hand moves, kept one after the other once it has come to rest.
import { useEffect, useRef } from 'react'
import type { RunLogView } from '../../../api/server/client'
import { useVisitAct } from '../../../api/visit/desk'
import type { Run } from '../log'

/** A mark that waits for the one before it to be kept looks again after so long. */
const AGAIN_MS = 150

export interface Moved {
  pull: number
  mark: string
  /** Where it was put [the log's s], null where it was found. */
  now: number | null
}

/** Keeps moved marks of a run's log; `resting`, whether none is on its way. */
export function useMoving(run: Run, number: number, log: RunLogView | undefined) {
  // Where this hand put marks that the log it looks at does not know yet.
  const put = useRef(new Map<string, number | null>())
  // biome-ignore lint/correctness/useExhaustiveDependencies: another log knows them
  useEffect(() => put.current.clear(), [log])
  const move = useVisitAct(
    {
      place: `log.${run.id}.mark`,
      label: `Move a mark of run ${number}`,
      station: 'road-test',
      method: 'PATCH',
      path: `/runs/${run.id}/log/marks`,
      repeats: true,
      body: () => {
        const { pull: of, mark, now } = moving.current
        const known = log?.pulls[of]?.marks.find((each) => each.mark === mark)?.moved_s ?? null
        return { pull: of, mark, was: put.current.has(`${of}.${mark}`) ? put.current.get(`${of}.${mark}`) : known, now }
      },
    },
    () => put.current.set(`${moving.current.pull}.${moving.current.mark}`, moving.current.now),
  )
  const moving = useRef<Moved>({ pull: 0, mark: 'engagement', now: null })
  const waiting = useRef<number | undefined>(undefined)
  const sending = useRef(move)
  sending.current = move
  /** Keeps where a mark was put, once the hand has come to rest and what it put before is kept. */
  const keep = (moved: Moved, wait: number) => {
    window.clearTimeout(waiting.current)
    waiting.current = window.setTimeout(() => {
      if (sending.current.busy) return keep(moved, AGAIN_MS)
      waiting.current = undefined
      moving.current = moved
      sending.current.run()
    }, wait)
  }
  return { keep, move, resting: () => waiting.current === undefined }
}
