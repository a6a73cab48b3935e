// Entries as this browser keeps them, each tab its own: so that a reload, a closed tab or a dead battery loses none.
import type { VisitView } from '../server/client'
import type { Entry } from './entry'

const KEPT = 'jaxel.unsaved'
/** How long an answer of the server is waited for. */
export const PATIENCE_MS = 10_000

const tab = sessionStorage.getItem('jaxel.tab') ?? crypto.randomUUID()
sessionStorage.setItem('jaxel.tab', tab)

const keyOf = (id: string) => `${KEPT}.${tab}.${id}`

/** Keeps an entry by its id. */
export function write(id: string, entry: Entry) {
  try {
    localStorage.setItem(keyOf(id), JSON.stringify(entry))
  } catch {
    // The browser keeps no more: the page still holds it and sends it.
  }
}

export function isKept(id: string): boolean {
  return localStorage.getItem(keyOf(id)) !== null
}

export function remove(id: string) {
  localStorage.removeItem(keyOf(id))
}

/** What this tab kept before it was loaded. */
export function ownLeft(): Entry[] {
  return leftBy((owner) => owner === tab).map(([, entry]) => entry)
}

/** What closed tabs left, each kept as theirs until it is taken up; from now on this tab counts as living. */
export async function* leftByClosed(): AsyncGenerator<Entry> {
  const locks = await navigator.locks?.query()
  const living = new Set(locks?.held?.map((lock) => lock.name))
  void navigator.locks?.request(`jaxel.tab.${tab}`, () => new Promise(() => {}))
  for (const [key, entry] of leftBy((owner) => owner !== tab && !living.has(`jaxel.tab.${owner}`))) {
    if (!(await stillThere(entry))) continue
    yield entry
    localStorage.removeItem(key)
  }
}

/** What a tab left behind in this browser, by the key it is kept under. */
function leftBy(which: (owner: string) => boolean): [string, Entry][] {
  const found: [string, Entry][] = []
  for (const key of Object.keys(localStorage)) {
    const [owner = ''] = key.startsWith(`${KEPT}.`) ? key.slice(KEPT.length + 1).split('.') : []
    if (!owner || !which(owner)) continue
    const entry = left(localStorage.getItem(key))
    if (entry) found.push([key, entry])
    else localStorage.removeItem(key)
  }
  return found
}

function left(text: string | null): Entry | null {
  try {
    const entry = JSON.parse(text ?? '') as Entry
    return typeof entry.subject === 'string' && typeof entry.target?.path === 'string' ? entry : null
  } catch {
    return null
  }
}

/** Whether what an entry belongs to is the same one: another database may have a visit of the same number. */
export async function stillThere({ subject }: Entry): Promise<boolean> {
  const [kind, id, opened] = subject.split(' ')
  if (kind !== 'visit') return true
  try {
    const answer = await fetch(`/api/visits/${id}`, { signal: AbortSignal.timeout(PATIENCE_MS) })
    if (answer.status === 404) return false
    return !answer.ok || ((await answer.json()) as VisitView).opened_at === opened
  } catch {
    return true
  }
}
