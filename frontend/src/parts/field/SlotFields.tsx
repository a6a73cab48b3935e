// The slots: where hands change things, each with its numbers.
import type { NumberView, Sensitivity, SlotView, VisitView } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { preview, slotPlace } from '../../api/visit/preview'
import { figure, signed, typed } from '../format'
import { SavedSelect } from './Choice'
import { NumberField } from './Field'

type Which = 'found' | 'left'

const find = (visit: VisitView, which: Which, key: string) => {
  const slots = which === 'found' ? visit.setup.found_slots : visit.setup.slots
  return slots.flatMap((slot) => slot.numbers).find((number) => number.key === key)?.left
}

interface SlotFieldsProps {
  slots: SlotView[]
  which: Which
  /** What one step of each number does, shown under it. */
  steps?: Sensitivity[]
  /** Told which slot the hand is in. */
  take?: (slot: string) => void
}

export function SlotFields({ slots, which, steps, take }: SlotFieldsProps) {
  return (
    <div className={which === 'left' ? 'contents' : 'flex flex-wrap gap-x-3 gap-y-2'}>
      {slots.map((slot) => (
        <fieldset
          key={slot.name}
          className="min-w-0"
          onFocus={(event) => take?.(slotOf(slot, event.target.dataset.place ?? ''))}
          onBlur={() => take?.('')}
        >
          <legend className={`text-sm whitespace-nowrap ${which === 'found' ? 'sr-only' : ''}`}>
            <b>{slot.name}</b>
            {slot.code && <span className="text-quiet"> {slot.code}</span>}
            {steps && <span className="text-quiet"> {slot.step} </span>}
            {which === 'left' && stockOf(slot) && (
              <b className="text-signal-words">
                {stockOf(slot)}
                {slot.parts.some((part) => part.stock && part.origin === 'unknown') && ', not measured'}
              </b>
            )}
          </legend>
          {which === 'found' && <b className="text-sm whitespace-nowrap">{slot.name}</b>}
          <div className="flex flex-wrap items-start gap-1.5">
            {slot.numbers.map((number) => (
              <div key={number.key} className={width(number, which)}>
                <SlotNumber
                  slot={slot.name}
                  number={number}
                  which={which}
                  step={steps?.find((each) => each.key === number.key)}
                />
              </div>
            ))}
            {which === 'found' &&
              slot.parts.filter(first).map((part) => <Origin key={part.key} slot={slot.name} part={part} />)}
          </div>
        </fieldset>
      ))}
    </div>
  )
}

const ORIGINS = ['measured', 'stamped', 'manual', 'rider says', 'typical', 'unknown']

/** How what is in a slot is known; unknown is an answer. */
function Origin({ slot, part }: { slot: string; part: SlotView['parts'][number] }) {
  const held = (visit: VisitView) =>
    visit.setup.found_slots.flatMap((each) => each.parts).find((each) => each.key === part.key)
  const recorded = part.said ? '' : (part.origin ?? '')
  return (
    <div className="-ml-1.5 pt-6 has-[[role=alert]]:w-72">
      <SavedSelect
        place={`origin_${part.key}`}
        label={`${slot}${part.key === 'holes' ? ' holes' : ''}, how it is known`}
        unlabelled
        field={`origin_${part.key}`}
        station="intake"
        path="/origin"
        around={{ slot: part.key }}
        only
        read={(visit) => (held(visit)?.said ? held(visit)?.origin : null) ?? null}
        send={(value) => value || null}
        options={[
          { value: '', name: recorded || 'as recorded' },
          ...ORIGINS.filter((each) => each !== recorded).map((each) => ({ value: each, name: each })),
        ]}
        className={`h-11 w-23 rounded-r-md border-2 border-l-0 border-line bg-tray px-0.5 text-xs ${part.said ? 'font-semibold text-signal-words' : 'text-quiet'}`}
      />
    </div>
  )
}

/** Of parts known together, as the loads of an arm are, the first. */
const first = (part: SlotView['parts'][number], index: number, all: SlotView['parts']) =>
  all.findIndex((each) => each.key === part.key) === index

/** The parts of the shelf in a slot, by number. */
const stockOf = (slot: SlotView) => [...new Set(slot.parts.map((part) => part.stock).filter(Boolean))].join(', ')

/** The slot a field belongs to, by the number in its place: a load has one of its own at each station. */
function slotOf(slot: SlotView, place: string): string {
  const station = place.match(/load_(?:g|pieces)\.(.+)$/)?.[1]
  const named = slot.parts.find((part) => part.slot === `load:${station}`)
  if (place.endsWith('hole_pair')) return 'holes'
  return named?.slot ?? slot.parts[0]?.slot ?? ''
}

/** Room for the figures a number has, and for its unit. */
function width(number: NumberView, which: Which): string {
  if (number.options.length > 0) return 'w-28'
  if (number.key.startsWith('load_pieces.')) return 'w-14'
  if (which === 'left' && number.key.startsWith('load_g.')) return 'w-[4.4rem]'
  const room = which === 'found' ? 'w-[5.2rem]' : 'w-[4.9rem]'
  return number.unit === 'N' || (number.weighed > 1 && which === 'left') ? 'w-[5.6rem]' : room
}

interface SlotNumberProps {
  slot: string
  number: NumberView
  which: Which
  step?: Sensitivity
}

function SlotNumber({ slot, number, which, step }: SlotNumberProps) {
  const { visit } = useDesk()
  const marked = number.changed || number.tried
  const field = {
    place: slotPlace(which, number.key),
    label: `${slot}, ${number.label}`,
    field: number.key,
    group: `${which} ${slot}`,
    station: which === 'found' ? 'intake' : 'set-up',
    path: '/setup/slots',
    around: { which },
    under: 'numbers',
    read: (each: VisitView) => find(each, which, number.key),
    beside: (key: string) => find(visit, which, key),
  }
  const hint = (step || number.changed) && (
    <>
      {step && <Step step={step} />}
      {number.changed && (
        <span className="short:hidden block text-signal-words">found {nameOf(number, number.found)}</span>
      )}
    </>
  )
  if (number.options.length > 0)
    return (
      <SavedSelect
        {...field}
        options={number.options.map((name, index) => ({ value: String(index + 1), name }))}
        send={Number}
        hint={hint}
        className={`reading mt-1 h-11 w-full rounded-md border-2 bg-card px-1 text-base font-semibold text-ink ${marked ? 'border-signal' : 'border-line'}`}
        shown={number.label}
      />
    )
  return (
    <NumberField
      {...field}
      label={number.label}
      called={field.label}
      unit={number.unit}
      size="slot"
      changed={marked}
      hint={hint}
      onType={() => which === 'left' && preview(visit, visit.left?.key ?? '')}
      step={which === 'left' && step ? step.step : undefined}
    />
  )
}

function nameOf(number: NumberView, value: number | null | undefined): string {
  return value == null ? 'none' : (number.options[value - 1] ?? typed(value, number.unit))
}

function Step({ step }: { step: Sensitivity }) {
  const spread = step.spread ?? 0
  const words = `one step, by the arrow keys: engagement ${signed(step.bite_rpm)}, shift ${signed(step.mean_rpm)}, top of the shift ${signed(step.full_shift_rpm)} rpm${spread > 0 ? `; one hole taken as ${figure(step.step, 0)}°, give or take ${figure(spread * 100, 0)} %, from memory` : ''}`
  return (
    <span className="block whitespace-nowrap" title={words} data-step={step.key}>
      <span className="sr-only">{words}</span>
      <span aria-hidden="true">
        {spread > 0 && 'one hole on '}
        {signed(step.bite_rpm)}/{signed(step.mean_rpm)}
        {spread > 0 && ` ± ${figure(spread * 100, 0)} %`}
      </span>
    </span>
  )
}
