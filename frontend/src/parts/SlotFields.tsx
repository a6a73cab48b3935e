// The slots: where hands change things, each with its numbers.
import { api, type NumberView, type Sensitivity, type SlotView, type VisitView } from '../api/client'
import { type Send, useDesk } from '../api/desk'
import { NumberField } from './Field'
import { signed, typed, unitName } from './format'

type Which = 'found' | 'left'

const sends =
  (which: Which, key: string) =>
  (now: string, was: unknown): Send =>
  (visit_id) =>
    api.PATCH('/api/visits/{visit_id}/setup/slots', {
      params: { path: { visit_id } },
      body: { which, numbers: { [key]: { was, now } } },
    })

const pick = (visit: VisitView, which: Which, key: string) => {
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
          <legend className="border-b-2 border-ink pb-0.5 text-sm">
            <b>{slot.name}</b>
            {steps && <span className="text-quiet"> {slot.step}</span>}
          </legend>
          <div className="mt-1 flex gap-2">
            {slot.numbers.map((number) => (
              <div key={number.key} className={width(number, which)}>
                <SlotNumber number={number} which={which} step={steps?.find((each) => each.key === number.key)} />
              </div>
            ))}
          </div>
        </fieldset>
      ))}
      {steps && (
        <p className="max-w-60 self-center text-xs text-quiet">
          Under each slot: engagement / shift, rpm, for the step named above it.
          {slots.some((slot) => slot.numbers.some((number) => number.weighed > 1)) &&
            ' Weights may be typed as weighed: 59.0 / 59.1 / 58.9'}
        </p>
      )}
    </div>
  )
}

/** Room for the figures a number has, and for its unit. */
function width(number: NumberView, which: Which): string {
  if (number.options.length > 0) return 'w-28'
  return number.unit === 'N' || (number.weighed > 1 && which === 'left') ? 'w-24' : 'w-[5.1rem]'
}

function SlotNumber({ number, which, step }: { number: NumberView; which: Which; step?: Sensitivity }) {
  const { write, closed } = useDesk()
  const marked = number.changed || number.tried
  const hint = (
    <>
      {step && <Step step={step} />}
      {number.changed && <span className="block text-signal-words">found {nameOf(number, number.found)}</span>}
    </>
  )
  if (number.options.length > 0)
    return (
      <label className="block text-sm text-quiet">
        {number.label}
        <select
          value={number.left ?? ''}
          disabled={closed}
          onChange={(event) => write(sends(which, number.key)(event.target.value, number.left))}
          className={`reading mt-1 h-11 w-full rounded-md border-2 bg-card px-1 text-base font-semibold text-ink ${marked ? 'border-signal' : 'border-line'}`}
        >
          {number.options.map((name, index) => (
            <option key={name} value={index + 1}>
              {name}
            </option>
          ))}
        </select>
        <span className="reading mt-1 block text-xs">{hint}</span>
      </label>
    )
  return (
    <NumberField
      label={number.label}
      unit={unitName(number.unit)}
      name={`slot.${which}.${number.key}`}
      size="slot"
      changed={marked}
      read={(visit) => pick(visit, which, number.key)}
      send={sends(which, number.key)}
      hint={hint}
    />
  )
}

function nameOf(number: NumberView, value: number | null | undefined): string {
  return value == null ? 'none' : (number.options[value - 1] ?? typed(value))
}

function Step({ step }: { step: Sensitivity }) {
  const title = `one step: engagement ${signed(step.bite_rpm)}, shift ${signed(step.mean_rpm)}, top of the shift ${signed(step.full_shift_rpm)} rpm`
  return (
    <span className="block whitespace-nowrap" title={title} data-step={step.key}>
      {signed(step.bite_rpm)}/{signed(step.mean_rpm)}
    </span>
  )
}
