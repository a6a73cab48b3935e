// Hand-over: what was found, changed and measured, on one page for the rider, and the sign-off.

import { useQuery } from '@tanstack/react-query'
import { Printer } from 'lucide-react'
import { Link } from 'react-router'
import { see, useSeen } from '../api/cache'
import { api, must, type VisitView } from '../api/client'
import { subjectOf, useDesk, useVisitAct } from '../api/desk'
import { useDraft } from '../api/draft'
import { BENCH, useHand } from '../api/hand'
import { useOpenItems } from '../api/openItems'
import { Button, Done } from '../parts/Button'
import { Heading } from '../parts/Caution'
import { ChangeLine, ChangeWords } from '../parts/ChangeWords'
import { NumberField, TextField } from '../parts/Field'
import { day, figure, reading, STATION_NAMES, told, unitName } from '../parts/format'
import { FindingMark } from '../parts/marks'
import { Quantity } from '../parts/Quantity'
import { focusOn } from '../parts/reading'
import { Close } from './handover/Close'
import { CountedIn, LinedUp, PutBack } from './handover/PutBack'
import { Row } from './handover/Row'
import { BreakIn } from './lineup/BreakIn'
import { Compared } from './RoadTest'
import { useItemPhotos } from './strip/ItemPhotos'

const AT_HAND_OVER = { station: 'hand-over', path: '/hand-over' }

export function HandOver() {
  const { visit, closed } = useDesk()
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_22rem] print:block">
      <div className="min-w-0 space-y-5 print:space-y-0">
        {!closed && <Close />}
        <Sheet visit={visit} />
      </div>
      <aside aria-label="For the rider" className="min-w-0 space-y-4 print:hidden">
        {!closed && visit.break_in?.station === 'hand-over' && <BreakIn />}
        <Heading>For the rider</Heading>
        <TextField
          {...AT_HAND_OVER}
          label="What to watch"
          place="watch"
          field="watch"
          lines={3}
          limit={2000}
          waits
          read={(each) => each.hand_over.watch ?? ''}
        />
        <NumberField
          {...AT_HAND_OVER}
          label="Next service at"
          unit="km"
          place="next_service_km"
          field="next_service_km"
          walk="hand-over"
          read={(each) => each.hand_over.next_service_km}
        />
        <NumberField
          {...AT_HAND_OVER}
          label="or at"
          called="Next service, hours"
          unit="h"
          place="next_service_h"
          field="next_service_h"
          walk="hand-over"
          read={(each) => each.hand_over.next_service_h}
        />
        <Button look="plain" wide onClick={() => window.print()} data-print>
          <Printer size={18} aria-hidden="true" /> Print this page
        </Button>
        <SignOff />
        {visit.signed_off_at ? <Addendum /> : <Unrepaired />}
      </aside>
    </div>
  )
}

function SignOff() {
  const { visit } = useDesk()
  const here = useHand()
  const seen = useSeen(visit)
  const [typed, setTyped] = useDraft(`${subjectOf(visit)} technician`)
  const by = typed || (here === BENCH ? '' : here)
  const open = useOpenItems(visit)
  const sign = useVisitAct(
    {
      place: 'sign-off',
      label: 'Sign off',
      station: 'hand-over',
      path: '/sign-off',
      // Signed is what was seen here: what another hand changed since is looked at first.
      body: () => ({ edit: seen, by }),
      held: false,
    },
    () => {
      setTyped('')
      focusOn('[data-print]')
    },
  )
  if (visit.signed_off_at)
    return (
      <p className="rounded-md border-2 border-keep p-4 font-semibold break-words text-keep" role="status">
        {visit.unrepaired ? 'Closed unrepaired' : 'Signed off'} by {visit.signed_off_by}, {day(visit.signed_off_at)}.
      </p>
    )
  return (
    <section className="rounded-md border border-line bg-card p-4" aria-label="Sign-off">
      <h2 className="mb-2 font-bold">Sign-off</h2>
      {open.length > 0 ? (
        <>
          <p className="mb-1 text-sm text-quiet">Still missing:</p>
          <ul>
            {open.map((item) => (
              <li key={item.href + item.what}>
                <Link to={item.href} className="flex min-h-11 items-center gap-3 hover:underline">
                  <FindingMark finding="watch" size={14} />
                  <span className="min-w-0 break-words">
                    {item.what} <span className="text-sm text-quiet">· {STATION_NAMES[item.station]}</span>
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </>
      ) : seen === visit.edit ? (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            sign.run()
          }}
        >
          <label className="block text-sm text-quiet">
            Technician
            <input
              value={by}
              maxLength={120}
              data-after="hand-over"
              onChange={(event) => setTyped(event.target.value)}
              className="mt-1 h-12 w-full rounded-md border-2 border-line bg-paper px-3 text-base text-ink"
            />
          </label>
          <div className="mt-3 space-y-2">
            <Button look="sign" wide action={sign} submits data-main>
              Sign off
            </Button>
            <Done action={sign} />
          </div>
        </form>
      ) : (
        <ChangedElsewhere visit={visit} seen={seen} />
      )}
    </section>
  )
}

/** A machine that leaves as it came: closed with the reason why, whatever is missing. */
function Unrepaired() {
  const { visit } = useDesk()
  const here = useHand()
  const seen = useSeen(visit)
  const [typed, setTyped] = useDraft(`${subjectOf(visit)} technician`)
  const [reason, setReason] = useDraft(`${subjectOf(visit)} unrepaired`)
  const by = typed || (here === BENCH ? '' : here)
  const close = useVisitAct(
    {
      place: 'unrepaired',
      label: 'Close unrepaired',
      station: 'hand-over',
      path: '/unrepaired',
      body: () => ({ edit: seen, by, reason }),
      held: false,
    },
    () => {
      setReason('')
      setTyped('')
    },
  )
  const look = 'mt-1 h-12 w-full rounded-md border-2 border-line bg-paper px-3 text-base text-ink'
  return (
    <details className="rounded-md border border-line bg-card px-4 py-1">
      <summary className="flex min-h-11 cursor-pointer items-center font-semibold">It leaves unrepaired</summary>
      <form
        className="space-y-2 pb-3"
        onSubmit={(event) => {
          event.preventDefault()
          close.run()
        }}
      >
        <label className="block text-sm text-quiet">
          Why
          <input value={reason} maxLength={500} onChange={(event) => setReason(event.target.value)} className={look} />
        </label>
        <label className="block text-sm text-quiet">
          Closed by
          <input value={by} maxLength={120} onChange={(event) => setTyped(event.target.value)} className={look} />
        </label>
        <Button look="plain" wide action={close} submits>
          Close unrepaired
        </Button>
        <Done action={close} />
      </form>
    </details>
  )
}

/** What was learnt since: beside the page, which stays as it was signed. */
function Addendum() {
  const { visit } = useDesk()
  const [text, setText] = useDraft(`${subjectOf(visit)} addendum`)
  const add = useVisitAct(
    {
      place: 'addendum',
      label: 'Addendum',
      station: 'hand-over',
      path: '/addenda',
      body: () => ({ text }),
      held: false,
    },
    () => setText(''),
  )
  return (
    <form
      className="space-y-2 rounded-md border border-line bg-card p-4"
      onSubmit={(event) => {
        event.preventDefault()
        add.run()
      }}
    >
      <label className="block font-bold">
        Add to this page
        <textarea
          value={text}
          rows={3}
          maxLength={2000}
          onChange={(event) => setText(event.target.value)}
          className="mt-1 w-full rounded-md border-2 border-line bg-paper p-2 text-base font-normal text-ink"
        />
      </label>
      <Button look="plain" wide action={add} submits data-main>
        Add, with date and name
      </Button>
      <Done action={add} />
    </form>
  )
}

/** What another hand changed since this page was opened: looked at before the visit is signed. */
function ChangedElsewhere({ visit, seen }: { visit: VisitView; seen: number }) {
  const changes = useQuery({
    queryKey: ['log', visit.id, seen, visit.edit],
    queryFn: () =>
      must(api.GET('/api/visits/{visit_id}/log', { params: { path: { visit_id: visit.id }, query: { after: seen } } })),
  }).data?.changes
  return (
    <div role="alert" className="space-y-2">
      <p className="font-semibold text-watch">Changed elsewhere since you opened this visit:</p>
      <ul className="space-y-1 text-sm">
        {changes?.flatMap((change) =>
          change.lines.map((line) => (
            <li key={`${change.edit} ${line.what}`} className="break-words">
              <ChangeLine line={line} /> <span className="text-quiet">· {change.by}</span>
            </li>
          )),
        )}
      </ul>
      <Button look="plain" wide onClick={() => see(visit.id, visit.edit)} data-main>
        Looked at
      </Button>
    </div>
  )
}

/** What was found worn, what is watched until when, and what was sound, in as few lines as it takes. */
function Inspected({ visit }: { visit: VisitView }) {
  const photos = useItemPhotos(visit.id)
  const worn = visit.strip.items.filter((item) => item.decision === 'replace' || item.decision === 'watch')
  const sound = visit.strip.items.filter((item) => item.decision === 'keep')
  return (
    <Row name="Clutches looked at">
      {worn.map((item) => (
        <span key={`${item.side}${item.key}`} className="block" data-found-item={item.key}>
          <b>
            {item.name}: {item.decision}
          </b>
          {item.check?.km != null && item.decision === 'watch' && `, again at ${told(item.check.km, 'km')}`}.{' '}
          {item.sentences[0]}
          {item.overruled && item.reason && ` Overruled: ${item.reason}.`}
          {photos?.[`${item.side}.${item.key}`]?.map((id) => (
            <img
              key={id}
              src={`/api/photos/${id}?small=true`}
              alt={item.name}
              className="mr-2 inline-block h-16 rounded"
            />
          ))}
        </span>
      ))}
      {sound.length > 0 && (
        <span className="block text-quiet">Sound: {sound.map((item) => item.name.toLowerCase()).join(', ')}</span>
      )}
      {visit.strip.items.length === 0 && 'not opened'}
    </Row>
  )
}

function Sheet({ visit }: { visit: VisitView }) {
  const { intake, belt, found, left } = visit
  const has = (station: string) => visit.stations.some((each) => each.station === station)
  const scope = visit.scopes.find((each) => each.key === visit.scope)?.name
  const last = visit.runs.at(-1)
  const workshop = useQuery({ queryKey: ['workshop'], queryFn: () => must(api.GET('/api/workshop')) }).data?.name
  return (
    <article className="rounded-md border border-line bg-card px-6 py-4 print:border-0 print:p-0">
      <header className="mb-3 flex items-baseline justify-between gap-4">
        <div className="min-w-0">
          <h2 className="text-xl font-bold wrap-anywhere">{visit.machine.name}</h2>
          <p className="break-words text-quiet">
            {[visit.machine.rider, visit.machine.kind].filter(Boolean).join(' · ')}
          </p>
        </div>
        <p className="max-w-64 min-w-0 text-right text-sm wrap-anywhere text-quiet">
          {workshop && <b className="block text-ink">{workshop}</b>}
          Clutch service
          <br />
          {day(visit.opened_at)}
          {intake.odometer_km != null && (
            <>
              {' '}
              · <Quantity unit="km">{reading(intake.odometer_km, 'km')}</Quantity>
            </>
          )}
          {intake.odometer_h != null && (
            <>
              {' '}
              · <Quantity unit="h">{reading(intake.odometer_h, 'h')}</Quantity>
            </>
          )}
          <br />
          {scope}
        </p>
      </header>
      <dl>
        <Row name="Complaint">{intake.complaint || '–'}</Row>
        <Row name="Used at">
          <Quantity unit="m">{reading(intake.elevation_m, 'm')}</Quantity>,{' '}
          <Quantity unit="°C">{reading(intake.temperature_c, '°C')}</Quantity>,{' '}
          <Quantity unit="%">{reading(intake.humidity_pct, '%')}</Quantity> humidity
          {intake.riding && `, ${intake.riding}`}
          {found && <span className="text-quiet"> · density altitude {told(found.density_altitude_m, 'm')}</span>}
        </Row>
        {visit.faults.length > 0 && (
          <Row name="Faults found">
            {visit.faults.map((fault) => (
              <p key={fault.id}>
                <b className="text-signal-words">{fault.name}</b>
                {fault.note && `: ${fault.note}`} ·{' '}
                {fault.put_right ? `put right: ${fault.put_right}` : <b className="text-signal-words">not put right</b>}
              </p>
            ))}
          </Row>
        )}
        {has('belt') && (
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
            ) : belt.no_width ? (
              <>
                {belt.no_width}
                {belt.failure && `, ${belt.failure}`}
                {belt.searches.map((search) => search.found && ` · ${search.name}: ${search.found}`)}
              </>
            ) : (
              'not measured'
            )}
            {belt.patterns.map((pattern) => (
              <span key={pattern.name} className="block">
                {pattern.name}: {pattern.means}
              </span>
            ))}
          </Row>
        )}
        {has('belt') && (
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
        )}
        {has('strip') && <Inspected visit={visit} />}
        {has('set-up') && (
          <Row name="Set-up changed">
            {visit.setup.changes.length === 0 ? 'nothing' : <ChangeWords changes={visit.setup.changes} />}
            {visit.setup.recorded.map((each) => (
              <p key={each.revision_id} className="text-quiet">
                {each.reason}
              </p>
            ))}
          </Row>
        )}
        {has('rebuild') && <PutBack visit={visit} />}
        {has('line-up') && <LinedUp visit={visit} />}
        {visit.break_in && (
          <Row name="Break-in">
            {visit.break_in.counted} of {visit.break_in.asked} heat cycles
            {visit.break_in.released === 'released' && ', released to the road'}
            {visit.break_in.released === 'overruled' && `, overruled: ${visit.break_in.reason}`}
          </Row>
        )}
        {visit.close.counts.length > 0 && <CountedIn visit={visit} />}
        {(has('set-up') || has('road-test')) && (
          <Row name="Predicted, rpm">
            {found && left ? (
              <table className="w-full max-w-lg text-right text-sm [overflow-wrap:normal]">
                <thead className="text-quiet">
                  <tr>
                    <td />
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
                    <td className="text-left font-sans">Snap, {unitName('N')}</td>
                    <td>{reading(found.engagement.snap_n, 'N')}</td>
                    <td>{reading(left.engagement.snap_n, 'N')}</td>
                    <td>–</td>
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
        )}
        {visit.baseline.length > 0 && (
          <Row name="Measured before">
            <Compared rows={visit.baseline} />
          </Row>
        )}
        {has('road-test') && (
          <Row name="Measured after">
            {last && last.comparison.length > 0 ? (
              <Compared rows={last.comparison} />
            ) : intake.no_tachometer ? (
              'no tachometer'
            ) : (
              'not measured'
            )}
            {last?.note && <p>{last.note}</p>}
          </Row>
        )}
        <Row name="Watch">{visit.hand_over.watch || '–'}</Row>
        <Row name="Next service">
          {[
            visit.hand_over.next_service_km != null && told(visit.hand_over.next_service_km, 'km'),
            visit.hand_over.next_service_h != null && told(visit.hand_over.next_service_h, 'h'),
          ]
            .filter(Boolean)
            .join(' or ') || '–'}
        </Row>
        {visit.unrepaired && <Row name="Left unrepaired">{visit.unrepaired}</Row>}
        <Row name={visit.unrepaired ? 'Closed' : 'Signed off'}>
          {visit.signed_off_at ? (
            `${visit.signed_off_by}, ${day(visit.signed_off_at)}`
          ) : (
            <span className="text-watch">open: {visit.open.length} missing</span>
          )}
        </Row>
      </dl>
      {visit.addenda.length > 0 && (
        <section aria-label="Addenda" className="mt-4 border-t-2 border-ink pt-2">
          <h3 className="font-bold">Added since</h3>
          {visit.addenda.map((each) => (
            <p key={each.id} className="mt-1 wrap-anywhere whitespace-pre-line">
              <span className="text-quiet">
                {day(each.added_at)}, {each.added_by}:
              </span>{' '}
              {each.text}
            </p>
          ))}
        </section>
      )}
      <div className="mt-10 hidden grid-cols-2 gap-10 text-xs print:grid">
        <p className="border-t border-ink pt-1">Technician</p>
        <p className="border-t border-ink pt-1">Received by</p>
      </div>
      <p className="mt-3 border-t border-line pt-2 text-xs text-quiet">
        Predictions come from a model of the clutch. Limits, torques and lubricants are those of the machine's own
        manual, which always comes first.
      </p>
    </article>
  )
}
