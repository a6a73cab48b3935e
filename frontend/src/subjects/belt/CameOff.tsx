// What came off to get there: housing and parts in the way, told when they come off and offered again the next time.
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { useDraft } from '../../api/outbox/draft'
import type { VisitView } from '../../api/server/client'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'

const FIELD = 'mt-1 h-11 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink'
const SORTS = [
  ['fastener', 'Fastener'],
  ['small part', 'Small part'],
  ['tool', 'Tool'],
  ['access', 'Moved for access'],
  ['brake line', 'Brake-line bracket'],
] as const

export function CameOff() {
  const { before } = useDesk().visit.close
  return (
    <div>
      {before.length > 0 && (
        <div className="text-sm">
          <p className="text-quiet">Came off the last time: again?</p>
          <ul className="flex flex-wrap gap-2" data-before>
            {before.map((each) => (
              <Again key={each.key} each={each} />
            ))}
          </ul>
        </div>
      )}
      <More />
    </div>
  )
}

function Again({ each }: { each: VisitView['close']['before'][number] }) {
  const add = useVisitAct({
    station: 'hand-over',
    path: '/counts',
    place: `again ${each.key}`,
    label: `${each.name} came off`,
    body: () => ({ name: each.name, sort: each.sort, out: each.out, note: each.note }),
  })
  return (
    <li>
      <Button look="plain" action={add}>
        <Plus size={18} aria-hidden="true" /> {each.name}
        {each.out > 1 && ` ×${each.out}`}
      </Button>
      <Done action={add} />
    </li>
  )
}

/** Something more that came off or was put on, typed where it comes off. */
function More() {
  const [name, setName] = useDraft('count name')
  const [sort, setSort] = useState<string>('fastener')
  const [out, setOut] = useState('1')
  const single = sort === 'access' || sort === 'brake line'
  const add = useVisitAct(
    {
      station: 'hand-over',
      path: '/counts',
      place: 'count more',
      label: `Counted: ${name}`,
      body: () => ({ name, sort, out: single ? 1 : out }),
    },
    () => setName(''),
  )
  return (
    <details>
      <summary className="flex min-h-11 cursor-pointer items-center text-sm text-quiet underline underline-offset-4">
        Count something more, or a part moved for access
      </summary>
      <form
        className="flex flex-wrap items-end gap-2 text-sm text-quiet"
        onSubmit={(event) => {
          event.preventDefault()
          if (name.trim()) add.run()
        }}
      >
        <label className="block min-w-40 flex-1">
          What
          <input className={FIELD} value={name} maxLength={80} onChange={(event) => setName(event.target.value)} />
        </label>
        <label className="block">
          It is a
          <select className={FIELD} value={sort} onChange={(event) => setSort(event.target.value)}>
            {SORTS.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
        {!single && (
          <label className="block w-16">
            Out
            <input className={FIELD} value={out} maxLength={4} onChange={(event) => setOut(event.target.value)} />
          </label>
        )}
        <Button look="plain" action={add} submits disabled={!name.trim()}>
          <Plus size={18} aria-hidden="true" /> Count it
        </Button>
      </form>
      <Done action={add} />
    </details>
  )
}
