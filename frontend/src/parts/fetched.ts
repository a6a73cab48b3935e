// A part of the application that is fetched when it is needed: asked for again while the server is away.
import { lazy } from 'react'

type Drawn<Props> = (props: Props) => React.ReactNode
export type Fetch<Props = object> = () => Promise<{ default: Drawn<Props> }>

const AGAIN_MS = 1500

async function untilHere<Props>(fetch: Fetch<Props>): Promise<{ default: Drawn<Props> }> {
  for (;;) {
    try {
      return await fetch()
    } catch {
      await new Promise((wait) => window.setTimeout(wait, AGAIN_MS))
    }
  }
}

export const fetched = <Props = object>(fetch: Fetch<Props>) => lazy(() => untilHere(fetch))

/** Whether the hand asked its browser to be sparing: then nothing is fetched ahead. */
const sparing = () => (navigator as { connection?: { saveData?: boolean } }).connection?.saveData === true

/** Fetches ahead, so that a server that goes away closes no place: one after the other, behind what is in hand. */
export async function fetchAhead(all: readonly (() => Promise<unknown>)[]) {
  if (sparing()) return
  for (const fetch of all) await fetch().catch(() => undefined)
}
