// The slots: where hands change things, each with its numbers.
import type { NumberView, Sensitivity, SlotView, VisitView } from '../api/client'
import { useDesk } from '../api/desk'
import { preview, slotPlace } from '../api/preview'
import { SavedSelect } from './Choice'
import { NumberField } from './Field'
import { signed, typed } from './format'

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
}

export function SlotFields({ slots, which, steps }: SlotFieldsProps) {
  return (
    <div className="flex flex-wrap gap-x-3 gap-y-2">
      {slots.map((slot) => (
        <fieldset key={slot.name} className="min-w-0">
          <legend className={`text-sm whitespace-nowrap ${which === 'found' ? 'sr-only' : ''}`}>
            <b>{slot.name}</b>
            {steps && <span className="text-quiet"> {slot.step}</span>}
          </legend>
          {which === 'found' && (
            <div className="flex items-center gap-2 text-sm">
              <b className="whitespace-nowrap">{slot.name}</b>
              {slot.parts.map((part) => (
                <Origin key={part.key} slot={slot.name} part={part} />
              ))}
            </div>
          )}
          <div className="flex flex-wrap gap-1.5">
            {slot.numbers.map((number) => (
              <div key={number.key} className={`${width(number, which)} has-[[role=alert]]:w-72`}>
                <SlotNumber
                  slot={slot.name}
                  number={number}
                  which={which}
                  step={steps?.find((each) => each.key === number.key)}
                />
              </div>
            ))}
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
    <div className="has-[[role=alert]]:w-72">
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
        className={`-my-1.5 h-11 rounded-md bg-card px-1 text-sm underline decoration-dotted underline-offset-4 ${part.said ? 'font-semibold text-signal-words' : 'text-quiet'}`}
      />
    </div>
  )
}

/** Room for the figures a number has, and for its unit. */
function width(number: NumberView, which: Which): string {
  if (number.options.length > 0) return 'w-28'
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
  const { visit, saved } = useDesk()
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
      onType={() => which === 'left' && preview(visit, saved?.key ?? '')}
    />
  )
}

function nameOf(number: NumberView, value: number | null | undefined): string {
  return value == null ? 'none' : (number.options[value - 1] ?? typed(value, number.unit))
}

function Step({ step }: { step: Sensitivity }) {
  const words = `one step: engagement ${signed(step.bite_rpm)}, shift ${signed(step.mean_rpm)}, top of the shift ${signed(step.full_shift_rpm)} rpm`
  return (
    <span className="block whitespace-nowrap" title={words} data-step={step.key}>
      <span className="sr-only">{words}</span>
      <span aria-hidden="true">
        {signed(step.bite_rpm)}/{signed(step.mean_rpm)}
      </span>
    </span>
  )
}
