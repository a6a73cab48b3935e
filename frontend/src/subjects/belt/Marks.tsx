// What the eye found on the belt: a kind, a flank, a place tapped on the drawing; and what marks mean together.
import { X } from 'lucide-react'
import { useState } from 'react'
import type { VisitView } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { figure, told, unitName } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { useWords } from '../kinds/guide'

const FLANKS = [
  { value: 'both', name: 'both flanks' },
  { value: 'inner', name: 'inner flank' },
  { value: 'outer', name: 'outer flank' },
  { value: 'back', name: 'back' },
]

const LOOK = 'mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink focus:border-signal'

interface MarksProps {
  pointed: number | null
  point: (share: number | null) => void
}

export function Marks({ pointed, point }: MarksProps) {
  const { visit, closed } = useDesk()
  const words = useWords()
  const [kind, choose] = useState('cup')
  const [flank, side] = useState('both')
  const [length, long] = useState('')
  const found = useVisitAct(
    {
      place: 'mark',
      label: 'Mark on the belt',
      station: 'belt',
      path: '/belt/marks',
      body: () => ({ kind, flank, place: pointed ?? 0, length_mm: length.trim() ? withUnit(length, 'mm') : null }),
      held: false,
      repeats: true,
    },
    () => {
      long('')
      point(null)
    },
  )
  return (
    <div className="space-y-2">
      {visit.belt.patterns.map((pattern) => (
        <p
          key={pattern.name}
          className="flex items-start gap-2 rounded-md border border-line bg-card px-3 py-2"
          data-pattern
        >
          <FindingMark finding={pattern.finding} size={18} />
          <span>
            <b>{pattern.name}.</b> {pattern.means}
          </span>
        </p>
      ))}
      {visit.belt.marks.length > 0 && (
        <ul className="flex flex-wrap gap-2">
          {visit.belt.marks.map((mark) => (
            <MarkChip key={mark.id} mark={mark} />
          ))}
        </ul>
      )}
      {!closed && (
        <details>
          <summary className="flex min-h-11 cursor-pointer items-center text-sm underline underline-offset-4">
            Mark what the eye found: tap the belt, or say where
          </summary>
          <div className="grid grid-cols-2 items-end gap-2 sm:grid-cols-4">
            <label className="text-sm text-quiet">
              Found
              <select value={kind} onChange={(event) => choose(event.target.value)} className={LOOK}>
                {words?.marks.map((each) => (
                  <option key={each.key} value={each.key}>
                    {each.name}
                  </option>
                ))}
              </select>
            </label>
            <label className="text-sm text-quiet">
              On
              <select value={flank} onChange={(event) => side(event.target.value)} className={LOOK}>
                {FLANKS.map((each) => (
                  <option key={each.value} value={each.value}>
                    {each.name}
                  </option>
                ))}
              </select>
            </label>
            <label className="text-sm text-quiet">
              Way round from the lettering, %
              <input
                value={pointed == null ? '' : String(Math.round(pointed * 100))}
                inputMode="numeric"
                placeholder="0"
                maxLength={3}
                onChange={(event) =>
                  point(Math.min(99, Math.max(0, Number(event.target.value.replace(/\D/g, '')))) / 100)
                }
                className={`reading ${LOOK}`}
              />
            </label>
            <label className="text-sm text-quiet">
              Length, {unitName('mm')}, if not a spot
              <input
                value={length}
                inputMode="decimal"
                placeholder="–"
                maxLength={20}
                onChange={(event) => long(event.target.value)}
                className={`reading ${LOOK}`}
              />
            </label>
          </div>
          <div className="mt-2 flex items-center gap-3">
            <Button action={found}>Mark it</Button>
            <Done action={found} />
          </div>
        </details>
      )}
    </div>
  )
}

function MarkChip({ mark }: { mark: VisitView['belt']['marks'][number] }) {
  const { closed } = useDesk()
  const away = useVisitAct({
    place: `mark ${mark.id}`,
    label: `Take back: ${mark.name}`,
    station: 'belt',
    path: `/belt/marks/${mark.id}/remove`,
    body: () => ({}),
    said: `Taken back: ${mark.name}`,
  })
  return (
    <li className="flex items-center rounded-md border border-line bg-card pl-3 text-sm">
      {mark.name}, {mark.flank === 'both' ? 'both flanks' : mark.flank}, {figure(mark.place * 100, 0)} % round
      {mark.length_mm != null && `, ${told(mark.length_mm, 'mm')}`}
      {!closed && (
        <button
          type="button"
          aria-label={`Take back: ${mark.name} at ${figure(mark.place * 100, 0)} %`}
          onClick={away.run}
          className="flex size-11 items-center justify-center"
        >
          <X size={16} aria-hidden="true" />
        </button>
      )}
    </li>
  )
}
