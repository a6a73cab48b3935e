// How far work has come that the server does, and a way to give it up.
import type { Job } from '../api/server/jobs'
import { Button } from './Button'

export function Progress({ job, what, stop }: { job: Job; what: string; stop: () => void }) {
  return (
    <div className="flex flex-wrap items-center gap-3">
      <progress value={job.share} max={1} aria-label={what} className="h-3 min-w-40 flex-1 accent-ink" />
      <Button look="plain" onClick={stop}>
        Give up
      </Button>
    </div>
  )
}
