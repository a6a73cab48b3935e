// Close: everything taken off or put on counted out and in, parts moved for access back, guard and duct on.
import { Trash2 } from 'lucide-react'
import type { VisitView } from '../../api/server/client'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { NumberField, TextField } from '../../parts/field/Field'
import { Tick } from '../../parts/field/Tick'
import { FindingMark, StateMark } from '../../parts/marks'
import { CameOff } from '../belt/CameOff'

type Count = VisitView['close']['counts'][number]

/** Moved only to get at the work: it goes back with its own torque or adjustment. */
const moved = (each: Count) => each.sort === 'access' || each.sort === 'brake line'

export function Close() {
  const { visit, closed } = useDesk()
  const { counts, out, back, guard, brake } = visit.close
  return (
    <section aria-label="Counted out and in" className="print:hidden">
      <Heading aside={out > 0 ? `${out} out, ${back} in` : undefined}>Counted out and in</Heading>
      {counts.some((each) => !moved(each)) && (
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
      {brake && (
        <Tick
          station="hand-over"
          path="/hand-over"
          label="Brake tried and found holding: before any engine run"
          place="brake_held"
          field="brake_held"
          read={(now) => now.hand_over.brake_held ?? false}
        />
      )}
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
      {!closed && <CameOff />}
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
        {each.goes_in != null && (
          <span className="block text-sm text-quiet">
            {each.goes_in} go in by {each.by_sheet || 'whose sheet?'}
          </span>
        )}
        {short && <span className="block text-sm font-semibold text-replace">{lacks}</span>}
      </span>
      {moved(each) ? (
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
