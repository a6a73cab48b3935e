// The shims behind the secondary: what is there, what takes the offset away, and what of it remains.
import { useId } from 'react'
import { withUnit } from '../../api/server/units'
import { useDesk, useVisitField } from '../../api/visit/desk'
import { Remark } from '../../parts/field/Field'
import { reading, signedReading, typed, unitName } from '../../parts/format'

const PAUSE_MS = 900

/** Thicknesses as a hand types them, `1.5 + 0.5`, each in its unit. */
const thicknesses = (text: string) =>
  text
    .split(/[+;]/)
    .filter((each) => each.trim())
    .map((each) => withUnit(each, 'mm'))
    .join(' + ')

export function Shims() {
  const { visit } = useDesk()
  const id = useId()
  const { stack, stock } = visit.line_up
  const saved = useVisitField({
    station: 'line-up',
    path: '/line-up',
    label: 'Shims behind the secondary',
    place: 'behind',
    field: 'behind',
    show: (value) => (Array.isArray(value) ? value.map((each) => typed(each, 'mm')).join(' + ') : String(value ?? '')),
    send: thicknesses,
    read: (now) => now.line_up.read.behind,
  })
  const shelf = Object.entries(stock).sort(([one], [other]) => Number(one) - Number(other))
  return (
    <div className="space-y-2">
      <label htmlFor={id} className="block text-sm text-quiet">
        Shims behind the secondary now, {unitName('mm')}
      </label>
      <input
        id={id}
        value={saved.text}
        disabled={saved.closed}
        maxLength={80}
        placeholder="1.5 + 0.5"
        data-place="behind"
        data-unsaved={saved.state.kind === 'still' ? undefined : saved.state.kind}
        aria-describedby={`${id}-remark`}
        onChange={(event) => saved.type(event.target.value, PAUSE_MS)}
        onBlur={saved.leave}
        className="reading h-12 w-full rounded-md border-2 border-line bg-card px-3 text-lg focus:border-signal"
      />
      <Remark saved={saved} id={`${id}-remark`} />
      {stack && (
        <p className="rounded-md bg-tray px-3 py-2" data-stack>
          Put behind it{' '}
          <b className="reading">
            {stack.shims.length === 0 ? 'none' : stack.shims.map((each) => reading(each, 'mm', 1)).join(' + ')}
          </b>
          , together <span className="reading">{reading(stack.total_mm, 'mm', 1)}</span> {unitName('mm')}; offset{' '}
          <b className="reading">{signedReading(stack.remains_mm, 'mm', 1)}</b> {unitName('mm')} remains.
        </p>
      )}
      <p className="text-sm text-quiet">
        {shelf.length === 0
          ? 'No line-up shims are counted in the parts room.'
          : `In the parts room: ${shelf.map(([thick, pieces]) => `${pieces} × ${reading(Number(thick), 'mm', 1)}`).join(', ')} ${unitName('mm')}`}
      </p>
    </div>
  )
}
