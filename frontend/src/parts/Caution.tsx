// The caution that stands where the work can hurt someone.
import { TriangleAlert } from 'lucide-react'

/** Its first sentence always in sight, the rest a touch away. */
export function Caution({ text }: { text: string }) {
  const end = text.indexOf('. ') + 1
  return (
    <details className="border-l-4 border-watch bg-card text-sm leading-snug">
      <summary className="flex min-h-9 cursor-pointer items-center gap-3 px-3">
        <TriangleAlert size={18} className="shrink-0 text-watch" aria-hidden="true" />
        <span>
          <b>{text.slice(0, end)}</b>{' '}
          <span className="text-quiet underline underline-offset-4">All cautions for this step</span>
        </span>
      </summary>
      <p className="px-3 pb-2 pl-11">{text.slice(end + 1)}</p>
    </details>
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
