// What stands open of a visit: what its stations lack, and what was typed here and is not saved.

import { type Entry, stuck } from '../outbox/entry'
import { useEntries } from '../outbox/outbox'
import type { Station, VisitView } from '../server/client'
import { subjectOf } from './desk'

export interface Open {
  station: Station
  href: string
  what: string
}

const HOW: Record<string, string> = {
  refused: 'refused',
  asked: 'asked about',
  elsewhere: 'changed elsewhere',
  away: 'not on the server yet',
}

export function inWords(entry: Entry): string {
  const typed = entry.text.length > 60 ? `${entry.text.slice(0, 59)}…` : entry.text
  return `${entry.label}${typed ? ` “${typed}”` : ''}: ${HOW[entry.state.kind] ?? 'being saved'}`
}

export function useOpenItems(visit: VisitView | undefined): Open[] {
  const entries = useEntries()
  if (!visit) return []
  const subject = subjectOf(visit)
  const unsaved = [...entries.values()].filter((entry) => entry.subject === subject && stuck(entry))
  return [
    ...unsaved.map((entry) => ({
      station: (entry.href.split('/')[3]?.split('#')[0] ?? 'intake') as Station,
      href: entry.href,
      what: inWords(entry),
    })),
    ...visit.open.map((item) => ({
      station: item.station,
      href: `/visits/${visit.id}/${item.station}#${item.field}`,
      what: item.what,
    })),
  ]
}
