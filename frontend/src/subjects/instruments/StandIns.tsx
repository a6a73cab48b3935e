// Stand-ins for the bench's devices: one in the hand, the others on the shelf. Only of machines that are made up.
import { useEffect, useRef, useState } from 'react'
import { Link } from 'react-router'
import { readingWords, type Waits } from '../../api/instruments/waiting'
import type { DeviceView, VisitView } from '../../api/server/client'
import { api, refusalOf } from '../../api/server/client'
import { Button, Refused } from '../../parts/Button'
import { DevicePicture } from './pictures'

interface Shown {
  value: number
  unit: string
  sd: number
  at_rest: number
  at: string
}

/** Devices that a field's unit asks for, the likeliest first. */
const FOR_UNIT: Record<string, string[]> = {
  mm: ['caliper', 'feeler gauge', 'alignment bar'],
  g: ['scale'],
  N: ['spring tester'],
  N·m: ['torque wrench'],
  rpm: ['tachometer'],
  '°C': ['thermometer'],
  deg: ['angle gauge'],
}

const likely = (waits: Waits | null) => {
  const [first, ...others] = FOR_UNIT[waits?.unit ?? ''] ?? []
  if (waits?.place.includes('gap')) return 'feeler gauge'
  if (waits?.station === 'line-up' && others.includes('alignment bar')) return 'alignment bar'
  return first
}

/** When each device was taken from the shelf: one that warms up drifts until it has. */
const takenAt = new Map<string, number>()
const SECOND = 1000

export interface StandInsProps {
  visit: VisitView
  devices: DeviceView[]
  waits: Waits | null
}

export function StandIns({ visit, devices, waits }: StandInsProps) {
  const [held, setHeld] = useState('')
  const wanted = likely(waits)
  const key = held || wanted || 'caliper'
  const device = devices.find((each) => each.key === key)
  // Another field asks for its own device.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where it waits
  useEffect(() => setHeld(''), [waits?.id, waits?.unit])
  if (!device) return null
  return (
    <div className="space-y-3">
      <InHand key={`${key} ${waits?.id}`} visit={visit} device={device} waits={waits} />
      <ul className="grid grid-cols-3 gap-2" aria-label="Devices">
        {devices.map((each) => (
          <li key={each.key}>
            <button
              type="button"
              aria-pressed={each.key === key}
              onClick={() => setHeld(each.key)}
              className={`flex h-full min-h-11 w-full flex-col items-center rounded-md border-2 bg-card px-1 pt-1 pb-1.5 text-sm leading-tight font-semibold hover:border-ink ${
                each.key === key ? 'border-signal' : 'border-line'
              }`}
            >
              <span className="h-10 w-full">
                <DevicePicture device={each.key} />
              </span>
              {each.name}
            </button>
          </li>
        ))}
        <li>
          <Link
            to={`/visits/${visit.id}/road-test`}
            className="flex h-full min-h-11 w-full flex-col items-center rounded-md border-2 border-line bg-card px-1 pt-1 pb-1.5 text-center text-sm leading-tight font-semibold hover:border-ink"
          >
            <span className="h-10 w-full">
              <DevicePicture device="run logger" />
            </span>
            Run logger
            <span className="font-normal text-quiet">goes along at Road test</span>
          </Link>
        </li>
      </ul>
      <p className="text-sm text-quiet">
        Stand-ins, for this made-up machine alone. A real device, or its keyboard lead, sends to the same field.
      </p>
    </div>
  )
}

function InHand({ visit, device, waits }: { visit: VisitView; device: DeviceView; waits: Waits | null }) {
  const [shown, setShown] = useState<Shown | null>(null)
  const [fault, setFault] = useState('')
  const [zeroed, setZeroed] = useState(false)
  const [unit, setUnit] = useState('')
  const reads = useRef(0)
  const send = useRef<HTMLButtonElement>(null)
  const readButton = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    if (!takenAt.has(device.key)) takenAt.set(device.key, Date.now())
    readButton.current?.focus({ preventScroll: true })
  }, [device.key])
  const read = async (how: { zeroed: boolean; unit: string }) => {
    if (!waits) return
    setFault('')
    const answer = await api
      .POST('/api/visits/{visit_id}/instruments/read', {
        params: { path: { visit_id: visit.id } },
        body: {
          station: waits.station,
          place: waits.place,
          device: device.key as 'caliper',
          on_for_s: (Date.now() - (takenAt.get(device.key) ?? 0)) / SECOND,
          reads: reads.current++,
          ...how,
        },
      })
      .catch(() => null)
    if (!answer) setFault('No connection to the server. Read again.')
    else if (!answer.data) setFault(`${waits.label}: ${refusalOf(answer).reason}`)
    else setShown({ ...answer.data, at: waits.id })
  }
  const mine = shown?.at === waits?.id ? shown : null
  const lies = mine != null
  // The number is looked at before it goes: the next Enter sends it.
  useEffect(() => {
    if (lies) send.current?.focus({ preventScroll: true })
  }, [lies])
  const give = () => {
    if (!mine || !waits) return
    const { value, unit: of } = mine
    waits.take({ device: device.key, name: device.name, value, unit: of, quantity: device.unit })
    setShown(null)
    readButton.current?.focus({ preventScroll: true })
  }
  return (
    <section aria-label={`${device.name}, in hand`} className="rounded-md border-2 border-signal bg-card p-3">
      <div className="h-28 max-lg:h-20">
        <DevicePicture device={device.key} text={mine ? String(mine.value) : ''} />
      </div>
      <div className="flex flex-wrap items-baseline justify-between gap-x-3 border-t border-line pt-2">
        <p>
          <b>{device.name}</b>
          {mine ? (
            <span className="reading text-sm text-quiet">
              {' '}
              · repeats to ±{Number(mine.sd.toPrecision(1))} {mine.unit} here
            </span>
          ) : (
            device.repeats != null && (
              <span className="reading text-sm text-quiet">
                {' '}
                · repeats to ±{Number(device.repeats.toPrecision(1))} {device.unit} at best
              </span>
            )
          )}
        </p>
        <output className="reading text-xl font-bold" aria-live="polite">
          {mine ? readingWords(mine) : '–'}
        </output>
      </div>
      {mine && (
        <p className="reading text-sm text-quiet">
          shut on nothing it shows {mine.at_rest} {mine.unit}
        </p>
      )}
      <Refused className="mt-1 text-sm">{fault}</Refused>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button
          ref={readButton}
          look={mine ? 'plain' : 'main'}
          disabled={!waits}
          onClick={() => read({ zeroed, unit })}
        >
          {mine ? 'Read again' : 'Read'}
        </Button>
        <span className={mine ? 'order-first basis-full' : ''}>
          <Button ref={send} wide={lies} look={mine ? 'main' : 'plain'} disabled={!mine} onClick={give}>
            Send to {waits?.label ?? 'a field'}
          </Button>
        </span>
        <Button
          look="plain"
          onClick={() => {
            setZeroed(true)
            if (mine) void read({ zeroed: true, unit })
          }}
        >
          {zeroed ? 'Zero set' : 'Zero'}
        </Button>
        {mine && (
          <Button
            look="plain"
            onClick={() => {
              const next = mine.unit === device.unit ? (OTHER[device.unit] ?? device.unit) : device.unit
              setUnit(next)
              void read({ zeroed, unit: next })
            }}
          >
            Unit
          </Button>
        )}
      </div>
      {!waits && <p className="mt-2 text-sm text-quiet">Touch the field that the reading belongs to.</p>}
    </section>
  )
}

const OTHER: Record<string, string> = { mm: 'in', g: 'oz', N: 'lbf', N·m: 'ft-lb', '°C': '°F' }
