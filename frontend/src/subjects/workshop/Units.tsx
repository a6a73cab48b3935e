// The units a workshop or one of its people reads in: a habit whole, or quantity by quantity.
import { useAct } from '../../api/outbox/saved'
import type { Units, WorkshopView } from '../../api/server/client'
import { Done } from '../../parts/Button'

const QUANTITIES: Record<keyof Units, string> = {
  force: 'Force',
  length: 'Length',
  distance: 'Distance',
  altitude: 'Altitude',
  temperature: 'Temperature',
  torque: 'Torque, power',
}

const same = (one: Units | null, other: Units | null) => JSON.stringify(one) === JSON.stringify(other)

interface UnitsChoiceProps {
  whose: string
  place: string
  path: string
  held: Units | null
  workshop: WorkshopView
  /** Whether it may follow the workshop's. */
  follows?: boolean
}

export function UnitsChoice({ whose, place, path, held, workshop, follows = false }: UnitsChoiceProps) {
  const here = held ?? workshop.units
  return (
    <fieldset className="min-w-0">
      <legend className="sr-only">Units {whose} reads in</legend>
      <div className="flex flex-wrap gap-2">
        {follows && <Take name="The workshop's" units={null} on={held === null} {...{ whose, place, path, held }} />}
        {workshop.presets.map((preset) => (
          <Take
            key={preset.name}
            name={preset.name}
            units={preset.units}
            on={same(held, preset.units)}
            {...{ whose, place, path, held }}
          />
        ))}
      </div>
      <div className="mt-2 grid grid-cols-3 gap-2">
        {workshop.choices.map(({ quantity, units }) => (
          <Quantity
            key={quantity}
            name={quantity as keyof Units}
            options={units}
            here={here}
            {...{ whose, place, path, held }}
          />
        ))}
      </div>
    </fieldset>
  )
}

interface TakeProps {
  name: string
  units: Units | null
  on: boolean
  whose: string
  place: string
  path: string
  held: Units | null
}

function useTake(
  { place, path, held, whose }: Pick<TakeProps, 'place' | 'path' | 'held' | 'whose'>,
  now: Units | null,
) {
  return useAct({
    subject: 'workshop',
    href: '/workshop',
    place,
    label: `Units ${whose} reads in`,
    target: () => ({ method: 'PATCH', path, around: { was: held, now } }),
    repeats: true,
  })
}

function Take({ name, units, on, ...rest }: TakeProps) {
  const take = useTake({ ...rest, place: `${rest.place} ${name}` }, units)
  return (
    <div>
      <button
        type="button"
        aria-pressed={on}
        onClick={take.run}
        className={`min-h-11 rounded-md border-2 border-ink px-3 font-semibold ${on ? 'bg-ink text-paper' : 'hover:bg-card'}`}
      >
        {name}
      </button>
      <Done action={take} className="text-sm" />
    </div>
  )
}

interface QuantityProps extends Omit<TakeProps, 'name' | 'units' | 'on'> {
  name: keyof Units
  options: string[]
  here: Units
}

function Quantity({ name, options, here, ...rest }: QuantityProps) {
  const [first = '', second = first] = options
  const turned = { ...here, [name]: here[name] === first ? second : first } as Units
  const take = useTake({ ...rest, place: `${rest.place} ${name}` }, turned)
  return (
    <label className="min-w-0 text-sm text-quiet">
      {QUANTITIES[name]}
      <select
        value={here[name]}
        onChange={take.run}
        className="mt-0.5 h-11 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink"
      >
        {options.map((each) => (
          <option key={each}>{each}</option>
        ))}
      </select>
      <Done action={take} />
    </label>
  )
}
