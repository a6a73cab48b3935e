// The marks of a pull on its traces: each a line with a handle, dragged by mouse or touch, or moved by keys.
import { useRef } from 'react'
import type uPlot from 'uplot'
import { figure } from '../../../parts/format'

/** Above the traces, for the marks' names. */
export const NAMES_ROOM = 30

/** A mark moved by keys is kept once they have been let be for so long. */
const KEYS_REST_MS = 400

export interface Handle {
  mark: string
  name: string
  /** Seconds from the log's start. */
  at: number
  moved: boolean
}

interface HandlesProps {
  plot: uPlot
  handles: Handle[]
  /** Seconds from the log's start that are in sight. */
  seen: readonly [number, number]
  closed: boolean
  /** Puts a mark; `wait`, how soon it is kept [ms], null while it is on its way. */
  drag: (mark: string, at: number, wait: number | null) => void
}

export function Handles({ plot, handles, seen, closed, drag }: HandlesProps) {
  const held = useRef<string | null>(null)
  const { left, top, width, height } = {
    left: plot.over.offsetLeft,
    top: plot.over.offsetTop,
    width: plot.over.clientWidth,
    height: plot.over.clientHeight,
  }
  const x = (at: number) => left + ((at - seen[0]) / (seen[1] - seen[0])) * width
  const at = (pixel: number) => {
    const box = plot.over.getBoundingClientRect()
    const share = Math.min(1, Math.max(0, (pixel - box.left) / box.width))
    return seen[0] + share * (seen[1] - seen[0])
  }
  const inSight = handles.filter((each) => each.at >= seen[0] && each.at <= seen[1])
  return (
    <>
      {inSight.map((each, index) => (
        <div
          key={each.mark}
          className="pointer-events-none absolute"
          style={{ left: x(each.at), top, height }}
          data-mark={each.mark}
        >
          <div className={`absolute h-full w-px ${each.moved ? 'bg-signal' : 'bg-ink'}`} />
          <div
            className={`absolute -translate-x-1/2 text-xs font-semibold whitespace-nowrap ${each.moved ? 'text-signal-words' : ''}`}
            style={{ top: (index % 2) * 15 - NAMES_ROOM }}
          >
            {each.name}
          </div>
          <div
            className={`absolute w-px ${each.moved ? 'bg-signal' : 'bg-ink'}`}
            style={{ top: (index % 2) * 15 - NAMES_ROOM + 15, height: NAMES_ROOM - 15 - (index % 2) * 15 }}
          />
          {!closed && (
            <button
              type="button"
              role="slider"
              aria-label={each.name}
              aria-valuenow={Number(each.at.toFixed(2))}
              aria-valuemin={Number(seen[0].toFixed(2))}
              aria-valuemax={Number(seen[1].toFixed(2))}
              aria-valuetext={`${figure(each.at, 2)} s${each.moved ? ', moved by hand' : ''}`}
              className={`pointer-events-auto absolute bottom-6 flex h-11 w-11 -translate-x-1/2 cursor-ew-resize touch-none items-center justify-center`}
              onPointerDown={(event) => {
                held.current = each.mark
                event.currentTarget.setPointerCapture(event.pointerId)
              }}
              onPointerMove={(event) => {
                if (held.current === each.mark) drag(each.mark, at(event.clientX), null)
              }}
              onPointerUp={(event) => {
                if (held.current === each.mark) drag(each.mark, at(event.clientX), 0)
                held.current = null
              }}
              onPointerCancel={() => {
                held.current = null
              }}
              onKeyDown={(event) => {
                const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
                if (!by) return
                event.preventDefault()
                event.stopPropagation()
                drag(each.mark, each.at + by * (event.shiftKey ? 0.5 : 0.05), KEYS_REST_MS)
              }}
            >
              <span
                className={`flex h-6 w-4 items-center justify-center gap-0.5 rounded border-2 bg-paper ${each.moved ? 'border-signal' : 'border-ink'}`}
              >
                <span className="h-3 w-px bg-current" />
                <span className="h-3 w-px bg-current" />
              </span>
            </button>
          )}
        </div>
      ))}
    </>
  )
}
