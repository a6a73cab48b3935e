// The slots: where hands change things, grouped by the part they belong to.
import { api, type Sensitivity, type SlotView, type VisitView } from '../api/client'
import { type Send, useDesk } from '../api/desk'
import { NumberField } from './Field'
import { signed, typed, unitName } from './format'

const sends =
  (which: 'found' | 'left', key: string) =>
  (text: string): Send =>
  (visit_id, edit) =>
    api.PATCH('/api/visits/{visit_id}/setup/slots', {
      params: { path: { visit_id } },
      body: { edit, which, slots: { [key]: text } },
    })

const pick = (visit: VisitView, which: 'found' | 'left', key: string) => {
  const slots = which === 'found' ? visit.setup.found_slots : visit.setup.slots
  return slots.find((slot) => slot.key === key)?.left
}

interface SlotFieldsProps {
  slots: SlotView[]
  which: 'found' | 'left'
  /** What one step of each slot does, shown under it. */
  steps?: Sensitivity[]
}

/** The step of a group in the units people change it by. */
const STEP_NAMES: Record<string, string> = { g: '+1 g', N: '+10 lbf', deg: '+1°', mm: '+1 mm', '': '+1' }

export function SlotFields({ slots, which, steps }: SlotFieldsProps) {
  const groups = [...new Set(slots.map((slot) => slot.group))]
  return (
    <div className="flex flex-wrap gap-x-3 gap-y-2">
      {groups.map((group) => {
        const members = slots.filter((slot) => slot.group === group)
        return (
          <fieldset key={group} className="min-w-0">
            <legend className="border-b-2 border-ink pb-0.5 text-sm">
              <b>{group}</b>
              {steps && <span className="text-quiet"> {STEP_NAMES[members[0]?.unit ?? '']}</span>}
            </legend>
            <div className="mt-1 flex gap-2">
              {members.map((slot) => (
                <div key={slot.key} className={slotWidth(slot, which)}>
                  <SlotField slot={slot} which={which} step={steps?.find((each) => each.key === slot.key)} />
                </div>
              ))}
            </div>
          </fieldset>
        )
      })}
      {steps && (
        <p className="max-w-60 self-center text-xs text-quiet">
          Under each slot: engagement / shift, rpm, for the step named above it. Arms may be typed as weighed: 59.0 /
          59.1 / 58.9
        </p>
      )}
    </div>
  )
}

function slotWidth(slot: SlotView, which: 'found' | 'left'): string {
  if (slot.options.length > 0) return 'w-28'
  if (slot.key === 'arm_mass_g' && which === 'left') return 'w-24'
  return slot.unit === 'N' ? 'w-24' : 'w-[5.1rem]'
}

function SlotField({ slot, which, step }: { slot: SlotView; which: 'found' | 'left'; step?: Sensitivity }) {
  const { write, closed } = useDesk()
  const changed = Math.abs(slot.left - slot.found) > 1e-9 || slot.tried
  const hint = (
    <>
      {step && <Step step={step} />}
      {Math.abs(slot.left - slot.found) > 1e-9 && (
        <span className="block text-signal-words">found {nameOf(slot, slot.found)}</span>
      )}
    </>
  )
  if (slot.options.length > 0)
    return (
      <label className="block text-sm text-quiet">
        {slot.label}
        <select
          value={slot.left}
          disabled={closed}
          onChange={(event) => write(sends(which, slot.key)(event.target.value))}
          className={`reading mt-1 h-11 w-full rounded-md border-2 bg-card px-1 text-base font-semibold text-ink ${changed ? 'border-signal' : 'border-line'}`}
        >
          {slot.options.map((name, index) => (
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
      label={slot.label}
      unit={unitName(slot.unit)}
      name={`slot.${which}.${slot.key}`}
      size="slot"
      changed={changed}
      read={(visit) => pick(visit, which, slot.key)}
      send={sends(which, slot.key)}
      hint={hint}
    />
  )
}

function nameOf(slot: SlotView, value: number): string {
  return slot.options[value - 1] ?? typed(value)
}

function Step({ step }: { step: Sensitivity }) {
  const title = `one step: engagement ${signed(step.bite_rpm)}, shift ${signed(step.mean_rpm)}, top of the shift ${signed(step.full_shift_rpm)} rpm`
  return (
    <span className="block whitespace-nowrap" title={title} data-step={step.key}>
      {signed(step.bite_rpm)}/{signed(step.mean_rpm)}
    </span>
  )
}
