// The caution that stands where the work can hurt someone.
import { TriangleAlert } from 'lucide-react'

export function Caution({ text }: { text: string }) {
  return (
    <aside className="flex gap-3 border-l-4 border-watch bg-card px-3 py-2 text-sm leading-snug" aria-label="Caution">
      <TriangleAlert size={18} className="mt-0.5 shrink-0 text-watch" aria-hidden="true" />
      <p>{text}</p>
    </aside>
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
