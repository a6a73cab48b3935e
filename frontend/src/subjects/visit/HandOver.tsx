// Hand-over: what was found, changed and measured, on one page for the rider, and the sign-off.

import { useQuery } from '@tanstack/react-query'
import { Printer } from 'lucide-react'
import { useState } from 'react'
import { flushSync } from 'react-dom'
import { Link } from 'react-router'
import { useDraft } from '../../api/outbox/draft'
import { isOwn, see, useSeen } from '../../api/server/cache'
import { api, must, type VisitView } from '../../api/server/client'
import { BENCH, useHand } from '../../api/server/hand'
import { subjectOf, useDesk, useVisitAct } from '../../api/visit/desk'
import { useOpenItems } from '../../api/visit/openItems'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { ChangeLine } from '../../parts/ChangeWords'
import { NumberField, TextField } from '../../parts/field/Field'
import { focusOn } from '../../parts/field/reading'
import { day, STATION_NAMES } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { PassOn } from '../../parts/PassOn'
import { BreakIn } from '../line_up/BreakIn'
import { Worth } from '../strip/Worth'
import { Close } from './Close'
import { RiderSheet } from './RiderSheet'
import { Sheet, usePage } from './Sheet'

const AT_HAND_OVER = { station: 'hand-over', path: '/hand-over' }

export function HandOver() {
  const { visit, closed } = useDesk()
  const page = usePage(visit)
  const rider = page?.rider
  const [printed, setPrinted] = useState<'rider' | 'record'>('rider')
  const paper = rider ? printed : 'record'
  const print = (which: 'rider' | 'record') => {
    flushSync(() => setPrinted(which))
    window.print()
  }
  const bench = visit.scope === 'bench'
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_22rem] print:block">
      <div className="min-w-0 space-y-4 print:space-y-0">
        {!closed && <MayLeave />}
        {!closed && <Close />}
        {!page && <p className="text-quiet">Opening…</p>}
        {page && rider && <RiderSheet visit={visit} page={page} rider={rider} printed={paper === 'rider'} />}
        {page && rider && (
          <div className="print:hidden">
            <Heading
              aside={
                <button type="button" className="min-h-11 underline underline-offset-4" onClick={() => print('record')}>
                  print the record
                </button>
              }
            >
              The whole record
            </Heading>
          </div>
        )}
        {page && <Sheet visit={visit} page={page} printed={paper === 'record'} />}
      </div>
      <aside aria-label="For the rider" className="min-w-0 space-y-4 print:hidden">
        {!closed && visit.break_in?.station === 'hand-over' && <BreakIn />}
        <Heading>{bench ? 'For whoever sent it' : 'For the rider'}</Heading>
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
        {!bench && <NextService />}
        <SignOff />
        <Button look="plain" wide onClick={() => print('rider')} data-print>
          <Printer size={18} aria-hidden="true" /> Print this page
        </Button>
        <Worth />
        {visit.signed_off_at && <PassOn of="visit" id={visit.id} opener="Pass it on" wide />}
        {visit.signed_off_at ? <Addendum /> : <Unrepaired />}
      </aside>
    </div>
  )
}

/** May it leave: on top, with everything that stands in the way by name. */
function MayLeave() {
  const { visit } = useDesk()
  const open = useOpenItems(visit)
  const ready = open.length === 0
  const goes = visit.scope === 'bench' ? 'go back' : 'leave'
  return (
    <section
      aria-label={`May it ${goes}?`}
      data-may-leave={ready}
      className={`rounded-md border-2 bg-card px-4 py-2.5 print:hidden ${ready ? 'border-keep' : 'border-watch'}`}
    >
      <h2 className="flex items-center gap-2.5 text-lg font-bold">
        <FindingMark finding={ready ? 'keep' : 'watch'} size={16} />
        {ready
          ? `Nothing stands open: it may ${goes} once it is signed.`
          : `Not yet: ${open.length} ${open.length === 1 ? 'thing is' : 'things are'} open.`}
      </h2>
      {!ready && (
        <ul className="grid gap-x-6 sm:grid-cols-2">
          {open.map((item) => (
            <li key={item.href + item.what}>
              <Link to={item.href} className="flex min-h-11 items-center gap-2 leading-snug hover:underline">
                <span className="min-w-0 break-words">
                  {item.what} <span className="text-sm text-quiet">· {STATION_NAMES[item.station]}</span>
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

/** When the machine is looked at again: by distance or by hours, whichever comes first. */
function NextService() {
  return (
    <>
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
    </>
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
        <p className="text-sm text-quiet">
          Not before {open.length === 1 ? 'what is' : `the ${open.length} things that are`} open above{' '}
          {open.length === 1 ? 'is' : 'are'} in.
        </p>
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
  const bench = visit.scope === 'bench'
  return (
    <details open={Boolean(reason) || undefined} className="rounded-md border border-line bg-card px-4 py-1">
      <summary className="flex min-h-11 cursor-pointer items-center font-semibold" data-place="unrepaired">
        {bench ? 'It goes back unrepaired' : 'It leaves unrepaired'}
      </summary>
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
        {seen === visit.edit ? (
          <Button look="plain" wide action={close} submits>
            {bench ? 'Close: returned' : 'Close unrepaired'}
          </Button>
        ) : (
          <ChangedElsewhere visit={visit} seen={seen} />
        )}
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
        {changes
          ?.filter((change) => !isOwn(visit.id, change.edit))
          .flatMap((change) =>
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
