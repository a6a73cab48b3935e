// Break-in of a new belt: which heat cycle runs and for how long, by the server's clock, and whether it may go out.

import { useDraft } from '../../api/outbox/draft'
import { withUnit } from '../../api/server/units'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { SavedChoice } from '../../parts/field/Choice'
import { TextField } from '../../parts/field/Field'
import { told, unitName } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { Elapsed, timeOfDay } from './Elapsed'

const RELEASED = [
  { value: 'by the rider', name: 'To be done by the rider' },
  { value: 'released', name: 'Released to the road' },
  { value: 'overruled', name: 'Overruled' },
] as const

export function BreakIn() {
  const { visit, closed } = useDesk()
  const held = visit.break_in
  const station = held?.station ?? 'line-up'
  const begin = useVisitAct({
    place: 'break_in',
    label: 'Begin a heat cycle',
    station,
    path: '/break-in/heats',
    body: () => ({}),
    // Its clock is the server's: begun later, it would tell another time.
    held: false,
    said: 'Heat cycle begun: the clock is the server’s.',
  })
  if (!held) return null
  const running = held.cycles.at(-1)
  const runs = running && running.phase !== 'done'
  return (
    <section aria-label="Break-in" className="space-y-3 rounded-md border border-line bg-card p-4" data-break-in>
      <Heading aside={held.school}>
        New belt: {held.counted} of {held.asked} heat cycles
      </Heading>
      <p className="text-sm leading-snug text-quiet">{held.why} No full throttle, the speed varied all the time.</p>
      <ol className="space-y-2">
        {held.cycles.map((cycle, index) => (
          <li key={cycle.id} className="flex flex-wrap items-center gap-x-3 gap-y-1" data-cycle={cycle.phase}>
            <FindingMark
              finding={cycle.remarks.length > 0 ? 'watch' : cycle.phase === 'done' ? 'keep' : 'watch'}
              size={16}
            />
            <b>Cycle {index + 1}</b>
            {cycle.phase === 'warming' || cycle.phase === 'warm' ? (
              <span>
                warming since {timeOfDay(cycle.began_at)}, <Elapsed minutes={cycle.minutes} to={held.warm_min} />
              </span>
            ) : cycle.phase === 'cooling' ? (
              <span>
                warm{cycle.warm_c != null && `, ${told(cycle.warm_c, '°C')}`}; cooling since {timeOfDay(cycle.warm_at)},{' '}
                <Elapsed minutes={cycle.minutes} to={held.cool_min} />
              </span>
            ) : (
              <span className="text-sm text-quiet">
                {timeOfDay(cycle.began_at)} to {timeOfDay(cycle.cool_at)}
                {cycle.warm_c != null && `, warm ${told(cycle.warm_c, '°C')}`}
                {cycle.cool_c != null && `, cool ${told(cycle.cool_c, '°C')}`}
              </span>
            )}
            {cycle.remarks.length > 0 && (
              <span className="w-full pl-7 text-sm text-watch">Does not count: {cycle.remarks.join('; ')}.</span>
            )}
          </li>
        ))}
      </ol>
      {!closed &&
        (runs ? (
          <EndHeat id={running.id} phase={running.phase} station={station} />
        ) : (
          <Button look="plain" wide action={begin} data-place="break_in">
            {held.cycles.length === 0 ? 'Begin the first heat cycle' : 'Begin another heat cycle'}
          </Button>
        ))}
      <Done action={begin} />
      <SavedChoice
        station={station}
        path="/break-in"
        label="Break-in"
        place="released"
        field="released"
        options={RELEASED}
        none={{ name: 'Not yet', value: '' }}
        read={(now) => now.break_in?.released ?? ''}
      />
      {held.released === 'overruled' && (
        <TextField
          station={station}
          path="/break-in"
          label="Overruled because"
          place="break_in_reason"
          field="reason"
          limit={500}
          read={(now) => now.break_in?.reason ?? ''}
        />
      )}
    </section>
  )
}

function EndHeat({ id, phase, station }: { id: number; phase: string; station: string }) {
  const warming = phase === 'warming' || phase === 'warm'
  const [temperature, setTemperature] = useDraft(`heat ${id} ${warming ? 'warm' : 'cool'}`)
  const end = useVisitAct(
    {
      place: `heat ${id} ${warming ? 'warm' : 'cool'}`,
      label: warming ? 'Belt warmed through' : 'Belt cooled down',
      station,
      path: `/break-in/heats/${id}/end`,
      body: () => ({ temperature_c: temperature.trim() ? withUnit(temperature, '°C') : null }),
      held: false,
      said: warming ? 'Warmed through: now let it cool right down.' : 'Cooled down: the cycle is done.',
    },
    () => setTemperature(''),
  )
  const away = useVisitAct({
    place: `heat ${id} remove`,
    label: 'Heat cycle taken back',
    station,
    path: `/break-in/heats/${id}/remove`,
    body: () => ({}),
    said: 'Heat cycle taken back.',
  })
  return (
    <div className="space-y-1">
      <div className="flex flex-wrap items-end gap-3">
        <label className="block w-36 text-sm text-quiet">
          Belt now, {unitName('°C')}
          <input
            value={temperature}
            maxLength={20}
            onChange={(event) => setTemperature(event.target.value)}
            className="reading mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3 text-xl text-ink"
          />
        </label>
        <Button look="sign" action={end} data-main>
          {warming ? 'Warmed through' : 'Cooled right down'}
        </Button>
        <Button look="plain" action={away}>
          Take it back
        </Button>
      </div>
      <Done action={end} />
      <Done action={away} />
    </div>
  )
}
