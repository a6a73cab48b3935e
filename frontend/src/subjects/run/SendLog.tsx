// A log on its way in: chosen, sent, its columns said where their headings do not, and read.
import { FileUp } from 'lucide-react'
import { useState } from 'react'
import { api, refusalOf, type UploadView, type VisitView } from '../../api/server/client'
import { Button, Refused } from '../../parts/Button'
import { useInstruments } from '../instruments/heard'
import { type Sending, useSending } from './log'

const FIELD_WORDS: Record<string, string> = {
  time_s: 'time, s',
  time_ms: 'time, ms',
  time_min: 'time, min',
  engine_rpm: 'engine, rpm',
  engine_hz: 'engine, turns a second',
  secondary_rpm: 'secondary, rpm',
  secondary_hz: 'secondary, turns a second',
  speed_kph: 'vehicle speed, km/h',
  speed_mph: 'vehicle speed, mph',
  speed_mps: 'vehicle speed, m/s',
  speed_kn: 'vehicle speed, knots',
  throttle_pct: 'throttle, %',
  throttle_share: 'throttle, 0 to 1',
  belt_temp_c: 'belt temperature, °C',
  belt_temp_f: 'belt temperature, °F',
}

export function SendLog({ visit, run, drawn }: { visit: VisitView; run: number; drawn: () => void }) {
  const sending = useSending(visit, run, drawn)
  const { upload, doing, part, fault } = sending
  const asks = !doing && upload != null && upload.columns.length > 0
  return (
    <div className="mt-2" data-send-log={run}>
      {doing ? (
        <div className="flex items-center gap-4">
          <div className="min-w-0 flex-1">
            <p className="text-sm text-quiet first-letter:uppercase" role="status">
              {doing}
            </p>
            <progress
              className="h-2 w-full accent-(--signal)"
              max={1}
              value={part}
              aria-label="How far the log has come"
            />
          </div>
          <Button look="plain" onClick={sending.giveUp}>
            Give it up
          </Button>
        </div>
      ) : (
        <div className="flex flex-wrap items-center gap-2">
          <label className="flex min-h-11 flex-1 cursor-pointer items-center justify-center gap-2 rounded-md border-2 border-dashed border-alu-deep text-sm font-semibold focus-within:border-signal hover:bg-paper">
            <FileUp size={18} aria-hidden="true" />
            Add its log
            <span className="font-normal text-quiet">CSV or GPX, up to 50 MB</span>
            <input
              type="file"
              accept=".csv,.txt,.tsv,.log,.gpx,text/csv,text/plain"
              className="sr-only"
              aria-label="Log file of the run"
              onChange={(event) => {
                const [file] = event.target.files ?? []
                event.target.value = ''
                if (file) sending.send(file)
              }}
            />
          </label>
          <TakenAlong visit={visit} send={sending.send} />
        </div>
      )}
      <Refused className="mt-1 text-sm">{fault}</Refused>
      {asks && <Columns key={upload.id} upload={upload} sending={sending} />}
    </div>
  )
}

/** The run logger's stand-in: a ride of a machine that is made up, as its file. */
function TakenAlong({ visit, send }: { visit: VisitView; send: (file: File) => void }) {
  const [riding, setRiding] = useState(false)
  const [fault, setFault] = useState('')
  if (!useInstruments(visit.id)?.stand_ins || visit.signed_off_at) return null
  const ride = async () => {
    setRiding(true)
    setFault('')
    const path = { visit_id: visit.id }
    const answer = await api
      .POST('/api/visits/{visit_id}/instruments/ride', { params: { path }, body: {} as never })
      .catch(() => null)
    setRiding(false)
    if (answer?.data) send(new File([answer.data.text], answer.data.name, { type: 'text/csv' }))
    else setFault(answer ? refusalOf(answer).reason : 'No connection to the server.')
  }
  return (
    <>
      <Button look="plain" disabled={riding} onClick={ride}>
        {riding ? 'Riding…' : 'Take the run logger along'}
      </Button>
      <Refused className="basis-full text-sm">{fault}</Refused>
    </>
  )
}

/** Which column holds what: as its heading says, else as the hand does. */
function Columns({ upload, sending }: { upload: UploadView; sending: Sending }) {
  const [said, setSaid] = useState<Record<number, string>>({})
  const [name, setName] = useState(upload.remembered ?? '')
  const fieldOf = (place: number) => said[place] ?? upload.columns[place]?.field ?? ''
  return (
    <form
      className="mt-3 rounded-md border border-line bg-paper p-3"
      onSubmit={(event) => {
        event.preventDefault()
        sending.read(
          upload.columns.map((column, place) => ({ header: column.heading, field: fieldOf(place) || 'ignore' })),
          name,
        )
      }}
    >
      <h4 className="font-semibold">What its columns hold</h4>
      <p className="mb-2 text-sm text-quiet">
        Time, and one of engine or vehicle speed, are needed. It is remembered for logs with these headings.
      </p>
      <ul className="space-y-1">
        {upload.columns.map((column, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the columns never move
          <li key={place} className="grid grid-cols-[1fr_1fr] items-center gap-3 border-t border-line pt-1">
            <div className="min-w-0">
              <div className="truncate font-semibold">{column.heading}</div>
              <div className="reading truncate text-xs text-quiet">{column.sample.join(' · ')}</div>
              {column.asks && !fieldOf(place) && <div className="text-xs text-watch">{column.asks}</div>}
            </div>
            <select
              aria-label={`What ${column.heading} holds`}
              value={fieldOf(place)}
              onChange={(event) => setSaid({ ...said, [place]: event.target.value })}
              className="h-11 w-full rounded border border-line bg-card px-2"
            >
              <option value="">not read</option>
              {upload.fields.map((field) => (
                <option key={field} value={field}>
                  {FIELD_WORDS[field] ?? field}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ul>
      <div className="mt-3 flex flex-wrap items-end justify-end gap-3">
        <label className="mr-auto min-w-40 flex-1 text-sm">
          This logger is called
          <input
            value={name}
            maxLength={80}
            onChange={(event) => setName(event.target.value)}
            className="mt-1 h-12 w-full rounded border border-line bg-card px-2 text-base"
          />
        </label>
        <Button look="plain" onClick={sending.giveUp}>
          Give it up
        </Button>
        <Button submits>Read it so</Button>
      </div>
    </form>
  )
}
