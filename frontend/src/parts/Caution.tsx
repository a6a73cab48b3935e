// The caution that stands where the work can hurt someone.
import { TriangleAlert } from 'lucide-react'
import type { Station, VisitView } from '../api/server/client'
import { Aside } from './over/Aside'

/** Its first sentence always in sight, the rest a touch away. */
function Caution({ text }: { text: string }) {
  const end = text.indexOf('. ') + 1
  return (
    <details className="border-l-4 border-watch bg-card text-sm leading-snug">
      <summary className="flex min-h-11 cursor-pointer items-center gap-3 px-3">
        <TriangleAlert size={18} className="shrink-0 text-watch" aria-hidden="true" />
        <span>
          <b>{text.slice(0, end)}</b>{' '}
          <span className="text-quiet underline underline-offset-4">All cautions for this step</span>
        </span>
      </summary>
      <p className="max-h-40 overflow-auto px-3 pb-2 pl-11">{text.slice(end + 1)}</p>
    </details>
  )
}

export function StationCaution({ visit, station }: { visit: VisitView; station: Station }) {
  return <Caution text={visit.stations.find((each) => each.station === station)?.caution ?? ''} />
}

/** The same on one line, for a bench with no room to spare: all of it a touch away. */
export function CautionLine({ visit, station }: { visit: VisitView; station: Station }) {
  const text = visit.stations.find((each) => each.station === station)?.caution ?? ''
  const end = text.indexOf('. ') + 1
  return (
    <Aside
      label="Cautions for this step"
      align="start"
      className="w-[30rem] border-l-4 border-l-watch p-3 text-sm"
      opener={
        <button
          type="button"
          className="flex min-h-11 items-center gap-2 border-l-4 border-watch bg-card px-2 text-left text-sm"
        >
          <TriangleAlert size={16} className="shrink-0 text-watch" aria-hidden="true" />
          <span>
            <b>{text.slice(0, end)}</b>{' '}
            <span className="text-quiet underline underline-offset-4">
              All cautions<span className="sr-only"> for this step</span>
            </span>
          </span>
        </button>
      }
    >
      {text}
    </Aside>
  )
}

export function Heading({ children, aside }: { children: React.ReactNode; aside?: React.ReactNode }) {
  return (
    <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
      <h2 className="text-base font-bold">{children}</h2>
      {aside && <div className="text-sm text-quiet">{aside}</div>}
    </div>
  )
}
