// Faults as found: recorded in the signal colour, put right before the machine leaves, never silently gone.
import { TriangleAlert } from 'lucide-react'
import { useState } from 'react'
import { useDraft } from '../../api/outbox/draft'
import type { FaultView } from '../../api/server/client'
import { subjectOf, useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { TextField } from '../../parts/field/Field'

export function Faults() {
  const { visit, closed } = useDesk()
  return (
    <section aria-label="Faults found" className="mt-4 min-w-0">
      <Heading aside="what no set-up may have, and this one does">Faults found</Heading>
      <ul className="space-y-2">
        {visit.faults.map((fault) => (
          <Fault key={fault.id} fault={fault} />
        ))}
      </ul>
      {!closed && <Record />}
    </section>
  )
}

function Fault({ fault }: { fault: FaultView }) {
  const { closed } = useDesk()
  const away = useVisitAct({
    place: `remove fault ${fault.id}`,
    label: `Take back: ${fault.name}`,
    station: 'intake',
    path: `/faults/${fault.id}/remove`,
    body: (visit) => {
      const held = visit.faults.find((each) => each.id === fault.id)
      return {
        was: { note: held?.kind === 'other' ? held.name : (held?.note ?? ''), put_right: held?.put_right ?? '' },
      }
    },
    said: `Taken back: ${fault.name}`,
  })
  return (
    <li
      className={`rounded-md border-2 bg-card p-3 ${fault.put_right ? 'border-keep' : 'border-signal'}`}
      data-fault={fault.kind}
    >
      <p className="flex items-start gap-2.5">
        <TriangleAlert size={20} aria-hidden="true" className="mt-0.5 shrink-0 text-signal" />
        <span className="min-w-0 break-words">
          <b className="text-signal-words">{fault.name}</b>
          {fault.note && `: ${fault.note}`}
          <span className="block text-sm text-quiet">{fault.means}</span>
        </span>
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <div className="min-w-52 flex-1">
          <TextField
            label="As left: what was done about it"
            called={`${fault.name}, put right`}
            place={`fault_${fault.id}`}
            field="put_right"
            station="intake"
            path={`/faults/${fault.id}/put-right`}
            only
            limit={500}
            placeholder="it cannot leave as it is"
            read={(visit) => visit.faults.find((each) => each.id === fault.id)?.put_right ?? ''}
          />
        </div>
        {!closed && (
          <Button look="plain" action={away} aria-label={`Take back: ${fault.name}`}>
            Take back
          </Button>
        )}
      </div>
      <Done action={away} />
    </li>
  )
}

function Record() {
  const { visit } = useDesk()
  const [kind, choose] = useState('')
  const [figures, setFigures] = useDraft(`${subjectOf(visit)} fault figures`)
  const [note, setNote] = useDraft(`${subjectOf(visit)} fault note`)
  const chosen = visit.fault_kinds.find((each) => each.key === kind)
  const record = useVisitAct(
    {
      place: 'record-fault',
      label: `Fault found: ${chosen?.name ?? ''}`,
      station: 'intake',
      path: '/faults',
      body: () => ({ kind, figures: chosen?.figures ? figures : '', note }),
      held: false,
    },
    () => {
      choose('')
      setFigures('')
      setNote('')
    },
  )
  const look = 'mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink focus:border-signal'
  return (
    <form
      className="mt-2 space-y-2"
      onSubmit={(event) => {
        event.preventDefault()
        record.run()
      }}
    >
      <div className="flex flex-wrap items-end gap-3">
        <label className="min-w-52 flex-1 text-sm text-quiet">
          Fault found
          <select value={kind} data-new-fault onChange={(event) => choose(event.target.value)} className={look}>
            <option value="">none seen</option>
            {visit.fault_kinds.map((each) => (
              <option key={each.key} value={each.key}>
                {each.name}
              </option>
            ))}
          </select>
        </label>
        {chosen?.figures && (
          <label className="min-w-40 flex-1 text-sm text-quiet">
            {chosen.figures === 'masses' ? 'Each as weighed, g' : 'Position of each'}
            <input
              value={figures}
              maxLength={200}
              placeholder={chosen.figures === 'masses' ? '48.1 / 48.0 / 46.9' : '3 / 3 / 4'}
              onChange={(event) => setFigures(event.target.value)}
              className={`reading ${look} placeholder:text-quiet`}
            />
          </label>
        )}
        {chosen && (
          <label className="min-w-40 flex-1 text-sm text-quiet">
            In words
            <input value={note} maxLength={500} onChange={(event) => setNote(event.target.value)} className={look} />
          </label>
        )}
        {chosen && (
          <Button action={record} submits>
            Record it
          </Button>
        )}
      </div>
      <Done action={record} />
    </form>
  )
}
