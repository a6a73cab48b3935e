// Close: everything taken off or put on counted out and in, parts moved for access back, guard and duct on.
import { Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import type { VisitView } from '../../api/client'
import { useDesk, useVisitAct } from '../../api/desk'
import { useDraft } from '../../api/draft'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { NumberField, TextField } from '../../parts/Field'
import { FindingMark, StateMark } from '../../parts/marks'
import { Tick } from '../../parts/Tick'

type Count = VisitView['close']['counts'][number]

const FIELD = 'mt-1 h-11 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink'
const SORTS = [
  ['fastener', 'Fastener'],
  ['small part', 'Small part'],
  ['tool', 'Tool'],
  ['access', 'Moved for access'],
] as const

export function Close() {
  const { visit, closed } = useDesk()
  const { counts, out, back, guard } = visit.close
  return (
    <section aria-label="Counted out and in" className="print:hidden">
      <Heading aside={out > 0 ? `${out} out, ${back} in` : undefined}>Counted out and in</Heading>
      {counts.some((each) => each.sort !== 'access') && (
        <p className="flex justify-end gap-3 pb-1 text-sm text-quiet max-sm:justify-start" aria-hidden="true">
          <span className="w-20 pl-2">out</span>
          <span className="w-20 pl-2">back</span>
          <span className="w-24" />
        </p>
      )}
      <ul className="divide-y divide-line border-y border-line empty:hidden" data-counts>
        {counts.map((each) => (
          <Row key={each.key} each={each} />
        ))}
      </ul>
      {guard && (
        <Tick
          station="hand-over"
          path="/hand-over"
          label="Guard and duct are back on"
          place="guard_on"
          field="guard_on"
          read={(now) => now.hand_over.guard_on ?? false}
        />
      )}
      {!closed && <More />}
    </section>
  )
}

function Row({ each }: { each: Count }) {
  const { visit, closed } = useDesk()
  const path = `/counts/${encodeURIComponent(each.key)}`
  const at = { station: 'hand-over', path }
  const place = `count_${each.key}`
  const mine = (now: VisitView) => now.close.counts.find((other) => other.key === each.key)
  const all = useVisitAct({
    ...at,
    method: 'PATCH',
    place: `${place} all`,
    label: `${each.name}: all back`,
    body: (now) => ({ back: { was: mine(now)?.back ?? null, now: mine(now)?.out ?? each.out } }),
  })
  const remove = useVisitAct({
    station: 'hand-over',
    path: `${path}/remove`,
    place: `${place} remove`,
    label: `${each.name}: not counted`,
    body: () => ({}),
    said: `${each.name}: off the list.`,
  })
  const lacks = visit.close.missing[each.key]
  const short = each.back != null && lacks
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1" data-count={each.key}>
      {each.back == null ? <StateMark state="to do" /> : <FindingMark finding={short ? 'replace' : 'keep'} size={18} />}
      <span className="min-w-40 flex-1 leading-snug max-sm:basis-[80%]">
        {each.name}
        {short && <span className="block text-sm font-semibold text-replace">{lacks}</span>}
      </span>
      {each.sort === 'access' ? (
        <>
          <div className="w-44">
            <TextField
              {...at}
              label="Own torque, setting"
              called={`${each.name}: its own torque or adjustment`}
              place={`${place}_note`}
              field="note"
              limit={200}
              read={(now) => mine(now)?.note ?? ''}
            />
          </div>
          {!each.back && !closed && (
            <Button look="plain" action={all} data-place={place}>
              Refitted
            </Button>
          )}
        </>
      ) : (
        <>
          <div className="w-20">
            <NumberField
              {...at}
              unlabelled
              label="out"
              called={`${each.name}, out`}
              place={`${place}_out`}
              field="out"
              read={(now) => mine(now)?.out ?? each.out}
            />
          </div>
          <div className="w-20">
            <NumberField
              {...at}
              unlabelled
              label="back"
              called={`${each.name}, back`}
              place={place}
              field="back"
              walk="counts"
              read={(now) => mine(now)?.back}
            />
          </div>
          <span className="w-24">
            {each.back == null && !closed && (
              <Button look="plain" action={all} aria-label={`All ${each.out} back: ${each.name}`}>
                {each.out > 1 ? `All ${each.out}` : 'Back'}
              </Button>
            )}
          </span>
        </>
      )}
      {each.key.startsWith('own.') && !closed && (
        <button
          type="button"
          onClick={remove.run}
          aria-label={`Take ${each.name} off the list`}
          className="flex size-11 items-center justify-center rounded hover:bg-paper"
        >
          <Trash2 size={18} aria-hidden="true" />
        </button>
      )}
      <Done action={all} className="w-full" />
      <Done action={remove} className="w-full" />
    </li>
  )
}

/** Something more that came off or was put on. */
function More() {
  const [name, setName] = useDraft('count name')
  const [sort, setSort] = useState<string>('fastener')
  const [out, setOut] = useState('1')
  const add = useVisitAct(
    {
      station: 'hand-over',
      path: '/counts',
      place: 'count more',
      label: `Counted: ${name}`,
      body: () => ({ name, sort, out: sort === 'access' ? 1 : out }),
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
        {sort !== 'access' && (
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
