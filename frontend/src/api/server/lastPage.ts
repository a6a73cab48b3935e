// The last page of this hand, kept in this browser: reloaded while the server is away it still stands, to read.
import { type DehydratedState, dehydrate, type Query } from '@tanstack/react-query'
import { createStore, del, get, set } from 'idb-keyval'
import { cache } from './cache'
import { hand } from './hand'

interface LastPage {
  hand: string
  at: number
  answers: DehydratedState
}

const store = createStore('jaxel-last-page', 'answers')
const KEY = 'last'

/** Longer than a night, shorter than a season: what was read before is nobody's page any more. */
const KEPT_MS = 3 * 24 * 3600 * 1000
/** Answers come in groups: they are kept together once they have come. */
const GATHER_MS = 1000

/** Answers that make a page; what is typed, searched or drawn from a log is asked for anew. */
const OF_A_PAGE = new Set(
  'belt bring-in due floor glossary guide kind machine page picture pictures prediction shelf strip visit words workshop wrenches'.split(
    ' ',
  ),
)

/** When this page was loaded: an answer from before it is an older page's. */
export const LOADED_AT = Date.now()

/** So long the server may be silent before what was seen last is shown. */
const SILENT_MS = 4000

/** What this hand saw last, by query; nothing once another hand has come. */
const seen = new Map<string, Query['state']>()

/**
 * Keeps what this hand sees, and shows what it saw last where the server does not answer: never beside one that does. A
 * browser that keeps nothing goes without.
 */
export async function takeUpLastPage(): Promise<void> {
  let last: LastPage | undefined
  try {
    last = await get<LastPage>(KEY, store)
  } catch {
    return
  }
  if (last?.hand === hand() && Date.now() - last.at < KEPT_MS)
    for (const { queryHash, state } of last.answers.queries) seen.set(queryHash, state)
  const show = ({ queryHash, queryKey, state }: Pick<Query, 'queryHash' | 'queryKey' | 'state'>) => {
    const before = seen.get(queryHash)
    if (before && state.data === undefined)
      cache.setQueryData(queryKey, before.data, { updatedAt: before.dataUpdatedAt })
  }
  let timer = 0
  cache.getQueryCache().subscribe((event) => {
    if (event.type !== 'updated') return
    const { action, query } = event
    if (action.type === 'error' && action.error.cause === undefined) show(query)
    if (action.type !== 'success' || action.manual) return
    window.clearTimeout(timer)
    timer = window.setTimeout(keep, GATHER_MS)
  })
  window.setTimeout(() => cache.getQueryCache().getAll().forEach(show), SILENT_MS)
}

function keep() {
  const answers = dehydrate(cache, {
    shouldDehydrateQuery: ({ queryKey, state }) => state.data !== undefined && OF_A_PAGE.has(String(queryKey[0])),
  })
  set(KEY, { hand: hand(), at: Date.now(), answers } satisfies LastPage, store).catch(() => undefined)
}

/** Forgets it: another hand is at this browser. What no page shows just now goes too: it would be kept as theirs. */
export async function forgetLastPage(): Promise<void> {
  seen.clear()
  cache.removeQueries({ type: 'inactive' })
  await del(KEY, store).catch(() => undefined)
}
