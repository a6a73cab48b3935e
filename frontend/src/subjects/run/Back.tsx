// The way back to the list of runs.
import { ArrowLeft } from 'lucide-react'

export function Back({ close }: { close: () => void }) {
  return (
    <button
      type="button"
      onClick={close}
      className="flex min-h-11 items-center gap-1 text-sm underline underline-offset-4"
    >
      <ArrowLeft size={16} aria-hidden="true" /> runs
    </button>
  )
}
