// Of which machines something stated holds: this one, or every one of its make and model, by a manual that is named.
import { FIELD } from './act'

export interface Whose {
  every: boolean
  model: string
  manual: string
}

export const THIS_MACHINE: Whose = { every: false, model: '', manual: '' }

/** What is sent of it. */
export const whose = ({ every, model, manual }: Whose) => (every ? { model, manual } : {})

/** Whether nothing is missing of it. */
export const named = ({ every, model, manual }: Whose) => !every || (model.trim() !== '' && manual.trim() !== '')

interface OfModelProps {
  value: Whose
  set: (value: Whose) => void
  /** The make and model the machine is said to be. */
  model: string
  /** Where there is no machine in hand: always of a make and model. */
  always?: boolean
}

export function OfModel({ value, set, model, always }: OfModelProps) {
  const every = always || value.every
  return (
    <div className="col-span-full space-y-2 text-sm text-quiet">
      {!always && (
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            checked={value.every}
            onChange={(event) => set({ ...value, every: event.target.checked, model: value.model || model })}
            className="size-6 accent-signal"
          />
          of every one of this make and model, not of this machine alone
        </label>
      )}
      {every && (
        <div className="grid grid-cols-2 gap-2">
          <label className="block">
            Make and model
            <input
              value={value.model}
              maxLength={120}
              onChange={(event) => set({ ...value, every, model: event.target.value })}
              className={FIELD}
            />
          </label>
          <label className="block">
            Which manual says so
            <input
              value={value.manual}
              maxLength={120}
              onChange={(event) => set({ ...value, every, manual: event.target.value })}
              className={FIELD}
            />
          </label>
        </div>
      )}
    </div>
  )
}
