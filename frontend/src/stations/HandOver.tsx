// Hand-over: what was found, changed and measured, on one page for the rider, and the sign-off.
import { Printer } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, type VisitView } from '../api/client'
import { type Send, useDesk, useWrite } from '../api/desk'
import { BENCH, useHand } from '../api/hand'
import { Button, Refused } from '../parts/Button'
import { Heading } from '../parts/Caution'
import { ChangeWords } from '../parts/ChangeWords'
import { NumberField, TextField } from '../parts/Field'
import { day, figure, reading, STATION_NAMES } from '../parts/format'
import { FindingMark } from '../parts/marks'
import { Quantity } from '../parts/Quantity'
import { Compared } from './RoadTest'

const patch =
  (name: 'watch' | 'next_service_km') =>
  (now: string, was: unknown): Send =>
  (visit_id) =>
    api.PATCH('/api/visits/{visit_id}/hand-over', { params: { path: { visit_id } }, body: { [name]: { was, now } } })

export function HandOver() {
  const { visit } = useDesk()
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_22rem] print:block">
      <Sheet visit={visit} />
      <aside className="print:hidden space-y-4">
        <Heading>For the rider</Heading>
        <TextField
          label="What to watch"
          name="hand.watch"
          lines={3}
          read={(each) => each.hand_over.watch ?? ''}
          send={patch('watch')}
        />
        <NumberField
          label="Next service at"
          unit="km"
          name="hand.next"
          read={(each) => each.hand_over.next_service_km}
          send={patch('next_service_km')}
        />
        <Button look="plain" wide onClick={() => window.print()}>
          <Printer size={18} aria-hidden="true" /> Print this page
        </Button>
        <SignOff />
      </aside>
    </div>
  )
}

function SignOff() {
  const { visit } = useDesk()
  const here = useHand()
  const [typed, setTyped] = useState<string>()
  const by = typed ?? (here === BENCH ? '' : here)
  const sign = useWrite((visit_id, { edit }) =>
    api.POST('/api/visits/{visit_id}/sign-off', { params: { path: { visit_id } }, body: { edit, by } }),
  )
  if (visit.signed_off_at)
    return (
      <p className="rounded-md border-2 border-keep p-4 font-semibold text-keep">
        Signed off by {visit.signed_off_by}, {day(visit.signed_off_at)}.
      </p>
    )
  return (
    <section className="rounded-md border border-line bg-card p-4">
      <h2 className="mb-2 font-bold">Sign-off</h2>
      {visit.open.length > 0 ? (
        <>
          <p className="mb-1 text-sm text-quiet">Still missing:</p>
          <ul>
            {visit.open.map((item) => (
              <li key={item.station + item.field}>
                <Link
                  to={`/visits/${visit.id}/${item.station}`}
                  className="flex min-h-11 items-center gap-3 hover:underline"
                >
                  <FindingMark finding="watch" size={14} />
                  <span>
                    {item.what} <span className="text-sm text-quiet">· {STATION_NAMES[item.station]}</span>
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </>
      ) : (
        <>
          <label className="block text-sm text-quiet">
            Technician
            <input
              value={by}
              maxLength={120}
              onChange={(event) => setTyped(event.target.value)}
              className="mt-1 h-12 w-full rounded-md border-2 border-line bg-paper px-3 text-base text-ink"
            />
          </label>
          <div className="mt-3 space-y-2">
            <Button look="sign" wide action={sign}>
              Sign off
            </Button>
            <Refused>{sign.refused}</Refused>
          </div>
        </>
      )}
    </section>
  )
}

function Row({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="grid grid-cols-[8.5rem_1fr] gap-4 border-t border-line py-2.5 print:py-1.5">
      <dt className="text-quiet">{name}</dt>
      <dd className="min-w-0">{children}</dd>
    </div>
  )
}

function Sheet({ visit }: { visit: VisitView }) {
  const { intake, belt, found, left } = visit
  const last = visit.runs.at(-1)
  return (
    <article className="rounded-md border border-line bg-card px-6 py-4 print:border-0 print:p-0">
      <header className="mb-3 flex items-baseline justify-between gap-4">
        <div>
          <h1 className="text-xl font-bold">{visit.machine.name}</h1>
          <p className="text-quiet">{[visit.machine.rider, visit.machine.kind].filter(Boolean).join(' · ')}</p>
        </div>
        <p className="text-right text-sm text-quiet">
          Clutch service
          <br />
          {day(visit.opened_at)}
          {intake.odometer_km != null && (
            <>
              {' '}
              · <Quantity unit="km">{reading(intake.odometer_km, 'km')}</Quantity>
            </>
          )}
        </p>
      </header>
      <dl>
        <Row name="Complaint">{intake.complaint || '–'}</Row>
        <Row name="Used at">
          <Quantity unit="m">{reading(intake.elevation_m, 'm')}</Quantity>,{' '}
          <Quantity unit="°C">{reading(intake.temperature_c, '°C')}</Quantity>
          {intake.riding && `, ${intake.riding}`}
          {found && <span className="text-quiet"> · density altitude {reading(found.density_altitude_m, 'm')} m</span>}
        </Row>
        <Row name="Belt found">
          {belt.assessment ? (
            <>
              <Quantity unit="mm">
                {[1, 2, 3].map((place) => reading(belt.widths_mm[place], 'mm')).join(' / ')}
              </Quantity>{' '}
              <span className="text-quiet">
                (new {reading(belt.new_width_mm, 'mm')}, limit {reading(belt.limit_mm, 'mm')}: {belt.limit_origin})
              </span>
              <br />
              {belt.assessment.reason}
            </>
          ) : (
            'not measured'
          )}
        </Row>
        <Row name="Belt decision">
          {belt.decision
            ? { 'run on': 'runs on', spare: 'kept as a marked spare', discard: 'discarded' }[belt.decision]
            : 'not decided'}
          {belt.reason && `: ${belt.reason}`}
          {(belt.decision === 'spare' || belt.decision === 'discard') && belt.next_width_mm != null && (
            <>
              {' '}
              · fitted: <Quantity unit="mm">{reading(belt.next_width_mm, 'mm')}</Quantity>
            </>
          )}
        </Row>
        <Row name="Set-up changed">
          {visit.setup.changes.length === 0 ? 'nothing' : <ChangeWords changes={visit.setup.changes} />}
          {visit.setup.recorded.map((each) => (
            <p key={each.revision_id} className="text-quiet">
              {each.reason}
            </p>
          ))}
        </Row>
        <Row name="Predicted, rpm">
          {found && left ? (
            <table className="w-full max-w-lg text-right text-sm">
              <thead className="text-quiet">
                <tr>
                  <th />
                  <th className="font-normal">as found</th>
                  <th className="font-normal">as left</th>
                  <th className="font-normal">target</th>
                </tr>
              </thead>
              <tbody className="reading">
                <tr>
                  <td className="text-left font-sans">Engagement</td>
                  <td>{figure(found.engagement.bite_rpm, 0)}</td>
                  <td>{figure(left.engagement.bite_rpm, 0)}</td>
                  <td>
                    {figure(intake.target_engagement_rpm, 0)} ± {figure(intake.target_engagement_tolerance_rpm, 0)}
                  </td>
                </tr>
                <tr>
                  <td className="text-left font-sans">Shift</td>
                  <td>{figure(found.shift.mean_rpm, 0)}</td>
                  <td>{figure(left.shift.mean_rpm, 0)}</td>
                  <td>
                    {figure(intake.target_shift_rpm, 0)} ± {figure(intake.target_shift_tolerance_rpm, 0)}
                  </td>
                </tr>
              </tbody>
            </table>
          ) : (
            (visit.fault?.reason ?? '–')
          )}
        </Row>
        {visit.baseline.length > 0 && (
          <Row name="Measured before">
            <Compared rows={visit.baseline} />
          </Row>
        )}
        <Row name="Measured after">
          {last && last.comparison.length > 0 ? <Compared rows={last.comparison} /> : 'not measured'}
          {last?.note && <p>{last.note}</p>}
        </Row>
        <Row name="Watch">{visit.hand_over.watch || '–'}</Row>
        <Row name="Next service">
          {visit.hand_over.next_service_km != null ? (
            <Quantity unit="km">{reading(visit.hand_over.next_service_km, 'km')}</Quantity>
          ) : (
            '–'
          )}
        </Row>
        <Row name="Signed off">
          {visit.signed_off_at ? (
            `${visit.signed_off_by}, ${day(visit.signed_off_at)}`
          ) : (
            <span className="text-watch">open: {visit.open.length} missing</span>
          )}
        </Row>
      </dl>
      <p className="mt-3 border-t border-line pt-2 text-xs text-quiet">
        Predictions come from a model of the clutch. Limits, torques and lubricants are those of the machine's own
        manual, which always comes first.
      </p>
    </article>
  )
}
