// The slots: where hands change things, grouped by the part they belong to.
import { api, type SlotView, type VisitView } from '../api/client'
import type { Send } from '../api/desk'
import { NumberField } from './Field'
import { unitName } from './format'

const sends = (which: 'found' | 'left', key: string) => (text: string): Send => (visit_id, edit) =>
  api.PATCH('/api/visits/{visit_id}/setup/slots', { params: { path: { visit_id } }, body: { edit, which, slots: { [key]: text } } })

const pick = (visit: VisitView, which: 'found' | 'left', key: string) => {
  const slots = which === 'found' ? visit.setup.found_slots : visit.setup.slots
  return slots.find((slot) => slot.key === key)?.left
}

interface SlotFieldsProps {
  slots: SlotView[]
  which: 'found' | 'left'
  /** A remark under a slot. */
  compare: (slot: SlotView) => React.ReactNode
}

export function SlotFields({ slots, which, compare }: SlotFieldsProps) {
  const groups = [...new Set(slots.map((slot) => slot.group))]
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-3">
      {groups.map((group) => {
        const members = slots.filter((slot) => slot.group === group)
        return (
          <fieldset key={group} className="min-w-0">
            <legend className="border-b-2 border-ink pb-0.5 text-sm font-bold">{group}</legend>
            <div className="mt-1 flex gap-2">
              {members.map((slot) => (
                <div key={slot.key} className={slot.key === 'arm_mass_g' ? 'w-32' : slot.unit === 'N' ? 'w-24' : 'w-[5.1rem]'}>
                  <NumberField
                    label={slot.label}
                    unit={unitName(slot.unit)}
                    name={`slot.${which}.${slot.key}`}
                    size="slot"
                    changed={Math.abs(slot.left - slot.found) > 1e-9 || slot.tried}
                    read={(visit) => pick(visit, which, slot.key)}
                    send={sends(which, slot.key)}
                    hint={compare(slot)}
                  />
                </div>
              ))}
            </div>
          </fieldset>
        )
      })}
    </div>
  )
}
