// Before the belt is off: which way it ran, the gap at its sides, how it lies; each beside what the model says.
import { useDesk } from '../../api/visit/desk'
import { Heading } from '../../parts/Caution'
import { NumberField, TextField } from '../../parts/field/Field'
import { told } from '../../parts/format'
import { CameOff } from './CameOff'

const AT = { station: 'belt', path: '/belt' }

export function BeforeOff() {
  const { belt } = useDesk().visit
  const gap = belt.gap_width
  const lain = belt.deflection_mm != null || belt.ride_mm != null
  return (
    <section aria-label="Before it is off" className="mb-3">
      <Heading aside="read on the machine, as the hands come to it">Before it is off</Heading>
      <div className="grid items-end gap-3 sm:grid-cols-2">
        <TextField
          {...AT}
          label={`Way it ran (${belt.way_round})`}
          called="Way it ran"
          place="direction"
          field="direction"
          limit={120}
          placeholder="arrow to the front, lettering outward"
          read={(each) => each.belt.direction}
        />
        <NumberField
          {...AT}
          label="Side gap, both sides together"
          called="Side gap"
          unit="mm"
          place="side_gap_mm"
          field="side_gap_mm"
          walk="lie"
          hint={
            gap && (
              <span data-gap>
                tells a width of {told(gap.width_mm, 'mm')}
                {gap.agrees === true && ': the caliper agrees'}
                {gap.agrees === false && ': the caliper says otherwise, measure both again'}
              </span>
            )
          }
          read={(each) => each.belt.side_gap_mm}
        />
      </div>
      <details open={lain || undefined}>
        <summary className="flex min-h-11 cursor-pointer items-center text-sm underline underline-offset-4">
          How it lay: deflection, ride, what came off
        </summary>
        <div className="grid gap-3 sm:grid-cols-2">
          <NumberField
            {...AT}
            label="Deflection at mid-span"
            unit="mm"
            place="deflection_mm"
            field="deflection_mm"
            walk="lie"
            hint={belt.model_deflection_mm != null && `model: ${told(belt.model_deflection_mm, 'mm')}`}
            read={(each) => each.belt.deflection_mm}
          />
          <NumberField
            {...AT}
            label="Below its place in the secondary"
            called="Ride below the rim"
            unit="mm"
            place="ride_mm"
            field="ride_mm"
            walk="lie"
            hint={belt.model_ride_mm != null && `model: ${told(belt.model_ride_mm, 'mm')} lower than a new belt`}
            read={(each) => each.belt.ride_mm}
          />
        </div>
        <CameOff />
      </details>
    </section>
  )
}
