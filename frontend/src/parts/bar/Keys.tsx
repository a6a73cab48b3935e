// The keyboard: stations, the main action, undo and find by one key each, listed under “?”.
import { useEffect, useMemo, useState } from 'react'
import { Link, useLocation, useNavigate } from 'react-router'
import type { VisitView } from '../../api/server/client'
import { useGlossary } from '../../api/server/glossary'
import { useOpenThings } from '../../api/visit/openThings'
import { STATION_KEYS, STATION_NAMES } from '../format'
import { Close } from '../over/Over'
import { Panel } from '../over/Panel'

const KEPT = 'jaxel.keys'

const on = () => localStorage.getItem(KEPT) !== 'off'

/** A key of the screen it is listed on, and what it does there. */
export interface OwnKey {
  key: string
  what: string
  /** Nothing for a key that acts where the hand is. */
  act?: () => void
}

/** The key of an Alt chord, whatever letter the keyboard makes of it. */
function pressed(event: KeyboardEvent): string {
  if (/^Digit[1-9]$/.test(event.code)) return `alt ${event.code.slice(5)}`
  if (event.code === 'Slash') return event.shiftKey ? '?' : '/'
  if (event.code === 'KeyI') return '' // the instruments'
  return /^Key[A-Z]$/.test(event.code) ? event.code.slice(3).toLowerCase() : event.key
}

interface KeysProps {
  visit?: VisitView
  undo?: () => void
  own?: readonly OwnKey[]
  /** What Ctrl Enter does here. */
  main?: string
}

const NONE: readonly OwnKey[] = []

/** Whether keys typed here are text. */
function typing(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && target.closest('input, textarea, select, [contenteditable]') !== null
}

/** Ctrl+Z in a field that has been typed in is the field's own. */
function ownUndo(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && target.closest('[data-unsaved]') !== null
}

export function Keys({
  visit,
  undo,
  own = NONE,
  main = 'the main action of the page; where it has none, the next station',
}: KeysProps) {
  const [listed, setListed] = useState(false)
  const [single, setSingle] = useState(on)
  const go = useNavigate()
  const stations = useMemo(() => visit?.stations.map((each) => each.station) ?? [], [visit])
  const open = useOpenThings(visit)
  const here = useLocation().pathname.split('/')[3]
  /** Where a station has no act of its own, on to the next one. */
  const onward = useMemo(() => {
    const next = stations[stations.indexOf(here as (typeof stations)[number]) + 1]
    return visit && next ? () => go(`/visits/${visit.id}/${next}`) : undefined
  }, [stations, here, visit, go])
  // What a key does here; with Alt from inside a reading too, where I reads an instrument and stations go by number.
  const acts = useMemo(() => {
    const found = new Map<string, () => void>([
      ['?', () => setListed(true)],
      ['/', () => go('/#find')],
      ['n', () => go('/bring-in')],
      ['w', () => go('/workshop')],
    ])
    stations.forEach((each, place) => {
      const there = () => go(`/visits/${visit?.id}/${each}`)
      found.set(STATION_KEYS[each], there)
      found.set(`alt ${place + 1}`, there)
    })
    if (visit) found.set('o', open)
    if (undo) found.set('u', undo)
    for (const { key, act } of own) if (act) found.set(key, act)
    return found
  }, [stations, visit, undo, own, go, open])
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented || document.querySelector('[role="dialog"]')) return
      const command = event.ctrlKey || event.metaKey
      if (command && event.key === 'z' && !event.shiftKey && undo && !ownUndo(event.target)) {
        event.preventDefault()
        undo()
      } else if (command && event.key === 'Enter') {
        event.preventDefault()
        const main = document.querySelector<HTMLElement>('[data-main]:not(:disabled)')
        if (main) main.click()
        else onward?.()
      } else if (event.key === 'Escape' && typing(event.target)) (event.target as HTMLElement).blur()
      else if (!command && (event.altKey || (!typing(event.target) && (single || event.key === '?')))) {
        const act = acts.get(event.altKey ? pressed(event) : event.key)
        if (!act) return
        event.preventDefault()
        act()
      }
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [undo, single, acts, onward])

  const rows: [string, string][] = [
    ['?', 'this list'],
    ['/', 'find a machine'],
    ['n', 'bring in a machine'],
    ['w', 'the workshop: people, units, stamps'],
    ...own.map(({ key, what }): [string, string] => [key, what]),
    ...stations.map((station): [string, string] => [STATION_KEYS[station], `station ${STATION_NAMES[station]}`]),
    ...(visit
      ? ([
          ['o', 'the next refused entry, then the next open thing'],
          ['Alt 1 … 8', 'the stations, from inside a reading too'],
        ] as [string, string][])
      : []),
    ['Alt + key', 'any of these keys from inside a reading'],
    ...(visit ? ([['Alt I', 'instruments: a reading to the field that waits']] as [string, string][]) : []),
    ['Ctrl Enter', main],
    ...(undo
      ? ([
          ['Ctrl Z', 'undo the last change of the visit'],
          ['u', 'undo the last change of the visit'],
        ] as [string, string][])
      : []),
    ['Enter', 'in a reading: the next one that waits; in a question: what was likely meant'],
    ['Esc', 'leave the field; in one that was refused first drop what was typed'],
  ]
  return (
    <Panel
      closes
      title="Keys and words of this screen"
      open={listed}
      onOpenChange={setListed}
      opener={
        <button
          type="button"
          aria-label="Keys and words"
          title="Keys and words: ?"
          className="flex size-11 items-center justify-center rounded-md text-lg font-bold hover:bg-bar-line max-md:hidden"
        >
          ?
        </button>
      }
    >
      <dl className="divide-y divide-line border-y border-line">
        {rows.map(([key, what]) => (
          <div key={key} className="grid grid-cols-[7rem_1fr] items-center gap-3 py-1">
            <dt>
              <kbd className="reading rounded border border-line bg-card px-2 py-0.5 text-sm">{key}</kbd>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          checked={single}
          className="size-6 accent-signal"
          onChange={(event) => {
            localStorage.setItem(KEPT, event.target.checked ? 'on' : 'off')
            setSingle(event.target.checked)
          }}
        />
        Single letters act, at this browser
      </label>
      <Words />
    </Panel>
  )
}

/** What the words of this screen mean, one sentence each: the rest of them is in the guide. */
function Words() {
  const [, place, , station] = useLocation().pathname.split('/')
  const here = place === 'visits' ? station : place
  const terms = useGlossary()?.filter((term) => term.at.some((at) => at === here || at === 'everywhere')) ?? []
  return (
    <section aria-label="Words" data-words>
      <h2 className="font-bold">Words</h2>
      <dl className="space-y-1.5 py-1 text-sm leading-snug">
        {terms.map((term) => (
          <div key={term.key}>
            <dt className="inline font-semibold">{term.name}.</dt> <dd className="inline">{term.text}</dd>
          </div>
        ))}
      </dl>
      <Close leads>
        <Link to="/guide" className="inline-flex min-h-11 items-center text-sm underline underline-offset-4">
          All words, in the bench guide
        </Link>
      </Close>
    </section>
  )
}
