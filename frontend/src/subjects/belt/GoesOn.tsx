// The belt that goes on: a spare, a new or a used one, as far as a hand knows it; and that it went on as it should.
import { useDesk } from '../../api/visit/desk'
import { SavedChoice } from '../../parts/field/Choice'
import { NumberField, TextField } from '../../parts/field/Field'
import { Tick } from '../../parts/field/Tick'
import { figure, told } from '../../parts/format'

const AT = { station: 'belt', path: '/belt' } as const

const FROM = [
  { value: 'new', name: 'New' },
  { value: 'used', name: 'Used, from elsewhere' },
] as const

export function GoesOn() {
  const { belt } = useDesk().visit
  const spare = belt.next_belt_id != null
  return (
    <section aria-label="Belt going on" className="space-y-2 rounded-md border border-line bg-card p-3">
      <h3 className="font-bold">What goes on?</h3>
      {!belt.waits && belt.spares.length > 0 && (
        <SavedChoice
          {...AT}
          label="Spare belt"
          place="next_belt_id"
          field="next_belt_id"
          options={[
            { value: 'new', name: 'None of these' },
            ...belt.spares.map((each) => ({
              value: String(each.id),
              name: `Spare no. ${each.number}, ${told(each.width_mm, 'mm')}`,
            })),
          ]}
          show={(id) => (id == null || id === '' ? 'new' : String(id))}
          send={(id) => (id === 'new' ? null : Number(id))}
          read={(each) => each.belt.next_belt_id ?? null}
        />
      )}
      {!spare && !belt.waits && <Other />}
      {!spare && <Waits />}
    </section>
  )
}

function Other() {
  const { belt } = useDesk().visit
  return (
    <>
      <SavedChoice
        {...AT}
        label="New, or used elsewhere"
        place="next_is"
        field="next_is"
        compact
        options={FROM}
        none={{ name: 'Not said', value: '' }}
        read={(each) => each.belt.next_is}
      />
      {belt.numbers.length > 0 && !belt.next_number && (
        <SavedChoice
          {...AT}
          label="Number, from the shelf"
          place="next_number_shelf"
          field="next_number"
          compact
          options={belt.numbers.slice(0, 3).map((each) => ({
            value: each.number,
            name: [each.number, each.price != null && figure(each.price, 2)].filter(Boolean).join(' · '),
          }))}
          read={(each) => each.belt.next_number}
        />
      )}
      <div className="grid grid-cols-2 items-start gap-3">
        <TextField
          {...AT}
          label="Number on it, or none"
          called="Number of the belt going on"
          place="next_number"
          field="next_number"
          limit={60}
          read={(each) => each.belt.next_number}
        />
        <NumberField
          {...AT}
          label="Its price"
          called="Price of the belt going on"
          place="next_price"
          field="next_price"
          read={(each) => each.belt.next_price}
        />
        <NumberField
          {...AT}
          label="Width of the belt going on"
          unit="mm"
          place="next_width_mm"
          field="next_width_mm"
          hint={`new: ${told(belt.new_width_mm, 'mm')}`}
          walk="belt-on"
          read={(each) => each.belt.next_width_mm}
        />
        <NumberField
          {...AT}
          label="Length, if it differs"
          called="Length of the belt going on"
          unit="mm"
          place="next_length_mm"
          field="next_length_mm"
          hint={`now: ${told(belt.length_mm, 'mm')}`}
          read={(each) => each.belt.next_length_mm}
        />
      </div>
      {belt.next_width_mm == null && (
        <Tick
          {...AT}
          label="Not measured: its width is as its number says"
          place="next_as_numbered"
          field="next_as_numbered"
          read={(each) => each.belt.next_as_numbered}
        />
      )}
    </>
  )
}

/** No belt of it here: the visit waits for one. */
function Waits() {
  const { belt } = useDesk().visit
  return (
    <>
      <Tick
        {...AT}
        label="Not in stock: the visit waits for it"
        place="waits"
        field="waits"
        read={(each) => each.belt.waits !== ''}
        send={(on) => (on ? 'not in stock' : '')}
      />
      {belt.waits && (
        <p className="text-sm text-watch">To order: a belt{belt.make_number && `, ${belt.make_number}`}.</p>
      )}
    </>
  )
}

/** Wherever a belt went on: which way round, and that it rides where it should before the engine may turn. */
export function BackOn() {
  const { belt } = useDesk().visit
  return (
    <section aria-label="Belt back on" className="space-y-1 rounded-md border border-line bg-card p-3">
      <h3 className="flex flex-wrap justify-between gap-x-3">
        <b>Back on</b>
        <span className="text-sm text-quiet">{belt.direction ? `it ran: ${belt.direction}` : belt.way_round}</span>
      </h3>
      <SavedChoice
        {...AT}
        label="Which way round it went on"
        place="went_on"
        field="went_on"
        compact
        options={[
          ...(belt.replaced ? [] : [{ value: 'as it came off', name: 'As it came off' }]),
          { value: 'by its arrow', name: 'By its arrow or lettering' },
          ...(belt.replaced ? [] : [{ value: 'turned round', name: 'Turned: it ran against its arrow' }]),
        ]}
        none={{ name: 'Not said', value: '' }}
        read={(each) => each.belt.went_on}
      />
      <Tick
        {...AT}
        label="Stop: tool out, turned by hand until the belt rides where it should, before the engine may turn"
        stop
        place="risen"
        field="risen"
        read={(each) => each.belt.risen}
      />
    </section>
  )
}
