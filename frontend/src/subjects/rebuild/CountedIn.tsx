// Small things that go back with a part: how many came out, how many go in, and by whose sheet where that differs.
import { useState } from 'react'
import type { VisitView } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { NumberField, TextField } from '../../parts/field/Field'
import { useKind } from '../kinds/guide'
import type { StepView } from './step'

export function CountedIn({ step }: { step: StepView }) {
  const { visit } = useDesk()
  const clutch = visit.strip.clutches.find((each) => each.side === step.side)
  const kind = useKind(clutch?.kind ?? '', clutch?.answered)
  const keys = (kind?.guide.loose ?? [])
    .filter((each) => each.part === step.key)
    .map((each) => `${step.side}.${each.key}`)
  const counts = visit.close.counts.filter((each) => keys.includes(each.key))
  if (counts.length === 0) return null
  return (
    <section aria-label="Goes back with it" className="rounded-md bg-tray px-3 py-1 text-sm">
      <ul className="divide-y divide-line">
        {counts.map((each) => (
          <Row key={each.key} each={each} lacks={visit.close.missing[each.key]} />
        ))}
      </ul>
    </section>
  )
}

function Row({ each, lacks }: { each: VisitView['close']['counts'][number]; lacks: string | undefined }) {
  const [turned, turn] = useState(false)
  const at = { station: 'hand-over', path: `/counts/${encodeURIComponent(each.key)}` } as const
  const mine = (now: VisitView) => now.close.counts.find((other) => other.key === each.key)
  const short = each.back != null && lacks
  const other = turned || each.goes_in != null
  return (
    <li className="py-1" data-goes-back={each.key}>
      <div className="flex flex-wrap items-center gap-x-3">
        <p className="min-w-40 flex-1 leading-snug">
          <b>{each.name}</b>: {each.out} out{each.goes_in != null && `, ${each.goes_in} go in`}
        </p>
        {!other && (
          <button
            type="button"
            onClick={() => turn(true)}
            className="min-h-11 text-quiet underline underline-offset-4"
            aria-label={`${each.name}: what is fitted wants another number`}
          >
            another number
          </button>
        )}
        <div className="flex w-32 items-center gap-2">
          <span aria-hidden="true" className="text-quiet">
            in
          </span>
          <NumberField
            {...at}
            unlabelled
            label="in"
            called={`${each.name}, counted in`}
            place={`in_${each.key}`}
            field="back"
            read={(now) => mine(now)?.back}
          />
        </div>
      </div>
      {short && <p className="font-semibold text-replace">{lacks}</p>}
      {other && (
        <div className="grid grid-cols-[6rem_minmax(0,1fr)] gap-3 pb-1">
          <NumberField
            {...at}
            label="go in"
            called={`${each.name}, go in`}
            place={`goes_in_${each.key}`}
            field="goes_in"
            read={(now) => mine(now)?.goes_in}
          />
          <TextField
            {...at}
            label="By whose sheet"
            called={`${each.name}, by whose sheet`}
            place={`by_sheet_${each.key}`}
            field="by_sheet"
            limit={200}
            placeholder="sheet of the rollers fitted"
            read={(now) => mine(now)?.by_sheet ?? ''}
          />
        </div>
      )}
    </li>
  )
}
