// Work the server does off the request: followed until it ends, its share told on the way.

export interface Job {
  job: string
  state: 'waiting' | 'working' | 'done' | 'refused' | 'given up'
  share: number
  refused: { field: string; reason: string } | null
}

const PAUSE_MS = 300

export const under = (job: Job) => job.state === 'waiting' || job.state === 'working'

/**
 * Asks again until the work has ended; answers with how it ended.
 * @example const made = await followed(begun, (job) => must(api.GET('/api/bundles/made/{job}', { params: { path: { job } } })), tell)
 */
export async function followed<T extends Job>(
  begun: T,
  again: (job: string) => Promise<T>,
  tell: (job: T) => void,
): Promise<T> {
  let held = begun
  while (under(held)) {
    tell(held)
    await new Promise((wait) => window.setTimeout(wait, PAUSE_MS))
    held = await again(held.job)
  }
  tell(held)
  return held
}
