// A fastener in hand: how tight and by whose word, with which wrench, and that it is done, or owed.
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { SavedChoice } from '../../parts/field/Choice'
import { NumberField, TextField } from '../../parts/field/Field'
import { reading, told, unitName } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { Elapsed, timeOfDay } from '../line_up/Elapsed'
import { Circle } from './Circle'
import { type FastenerView, fastenerOf, type StepView, tightness } from './step'
import { Adapter, Sources } from './TorqueSources'

const MEANS = [
  { value: 'wrench', name: 'Wrench' },
  { value: 'multiplier', name: 'Multiplier' },
  { value: 'borrowed', name: 'Borrowed' },
  { value: 'index mark', name: 'Index mark' },
  { value: 'by hand', name: 'By hand' },
] as const

interface TightenProps {
  step: StepView
  fastener: FastenerView
  kind: string
}

export function Tighten({ step, fastener, kind }: TightenProps) {
  const { closed } = useDesk()
  const { done } = fastener
  const name = `${fastener.place}${fastener.count > 1 ? ` ×${fastener.count}` : ''}`
  const at = { station: 'rebuild', path: `/rebuild/fasteners/${step.side}/${fastener.key}` }
  const marked = step.asks.some((ask) => ask.sort === 'mark')
  return (
    <section
      aria-label={fastener.place}
      className="grid gap-x-6 gap-y-3 border-t-2 border-line pt-3 sm:grid-cols-[minmax(9rem,13rem)_minmax(0,1fr)]"
      data-fastener={fastener.key}
    >
      <Circle
        order={fastener.order}
        done={done.state === 'done'}
        first={done.first_at !== ''}
        passes={fastener.passes}
        place={fastener.place}
        marked={marked}
      />
      <div className="min-w-0 space-y-2">
        <h3>
          <b>{name}</b>{' '}
          <span className="text-sm text-quiet">{[fastener.drive, fastener.reach].filter(Boolean).join(' · ')}</span>
        </h3>
        <p className="flex flex-wrap items-baseline gap-x-3">
          <span className="reading text-3xl font-bold" data-wanted>
            {fastener.torque_nm == null ? '' : reading(fastener.torque_nm, 'N·m')}
          </span>
          <span className={fastener.torque_nm == null ? 'text-xl font-semibold' : 'reading text-lg text-quiet'}>
            {fastener.torque_nm == null ? tightness(fastener) : unitName('N·m')}
          </span>
          <span className="text-sm text-quiet">
            {fastener.torque_nm == null && fastener.low_nm != null
              ? `plausible ${reading(fastener.low_nm, 'N·m')}–${told(fastener.high_nm, 'N·m')}, ${fastener.source ?? ''}: never a value to use`
              : fastener.source}
          </span>
        </p>
        <Facts fastener={fastener} />
        <Compound step={step} fastener={fastener} />
        {done.state === '' && !closed ? (
          <Actions step={step} fastener={fastener} />
        ) : (
          <div className="flex flex-wrap items-center gap-2" role="status" data-tightened={done.state}>
            <FindingMark finding={done.state === 'done' ? 'keep' : 'watch'} size={18} />
            <b>{done.state === 'done' ? 'Tight' : 'Torque owed'}</b>
            <span className="text-sm text-quiet">
              {done.by && `${done.did || done.by}, ${timeOfDay(done.at)}`}
              {done.did && done.did !== done.by && ` · written by ${done.by}`}
              {done.wrench && ` · ${done.wrench}`}
            </span>
            {done.state === 'owed' && !closed && <Actions step={step} fastener={fastener} />}
          </div>
        )}
        {(done.state === 'done' || fastener.torque_nm == null) && fastener.tightness === 'torque' && (
          <NumberField
            {...at}
            label="Clicked at"
            called={`${fastener.place}: clicked at`}
            unit="N·m"
            place={`${step.place}.${fastener.key}_torque`}
            field="torque_nm"
            walk={done.state === 'done' && !done.means ? step.place : undefined}
            read={(now) => fastenerOf(now, step.place, fastener.key)?.done.torque_nm}
          />
        )}
        {done.state === 'done' && (
          <SavedChoice
            {...at}
            label={`${fastener.place}: tightened with`}
            place={`${step.place}.${fastener.key}_means`}
            field="means"
            compact
            options={MEANS}
            none={{ name: 'Not said', value: '' }}
            read={(now) => fastenerOf(now, step.place, fastener.key)?.done.means ?? ''}
          />
        )}
        <TurnedWith step={step} fastener={fastener} />
        <Sources fastener={fastener} kind={kind} side={step.side} />
        {fastener.torque_nm != null && <Adapter torqueNm={fastener.torque_nm} />}
      </div>
    </section>
  )
}

const THREADS = [
  { value: 'right-hand', name: 'Right-hand' },
  { value: 'left-hand', name: 'Left-hand' },
] as const

/** Its size and the direction of its thread: typed once, they stay with the machine. */
function TurnedWith({ step, fastener }: { step: StepView; fastener: FastenerView }) {
  const at = { station: 'rebuild', path: `/rebuild/fasteners/${step.side}/${fastener.key}` }
  const known = [fastener.size, fastener.thread && `${fastener.thread} thread`].filter(Boolean).join(', ')
  return (
    <details>
      <summary className="flex min-h-11 cursor-pointer items-center text-sm text-quiet underline underline-offset-4">
        {known ? `Turned with ${known}` : 'Size and thread: not typed yet'}
        {fastener.thread_first && !fastener.thread && <b className="ml-1 text-watch">thread direction first</b>}
      </summary>
      <div className="grid gap-2 sm:grid-cols-2">
        <TextField
          {...at}
          label={fastener.drive ? `Size of its ${fastener.drive}` : 'Size'}
          called={`${fastener.place}: size`}
          place={`${step.place}.${fastener.key}_size`}
          field="size"
          limit={60}
          placeholder={fastener.size || '14 mm, T40'}
          read={(now) => fastenerOf(now, step.place, fastener.key)?.done.size ?? ''}
        />
        <TextField
          {...at}
          label="Done by, where another hand did it"
          called={`${fastener.place}: done by`}
          place={`${step.place}.${fastener.key}_did`}
          field="did"
          limit={120}
          placeholder={fastener.done.by}
          read={(now) => fastenerOf(now, step.place, fastener.key)?.done.did ?? ''}
        />
        <TextField
          {...at}
          label="What I used instead"
          called={`${fastener.place}: used instead`}
          place={`${step.place}.${fastener.key}_used_instead`}
          field="used_instead"
          limit={60}
          read={(now) => fastenerOf(now, step.place, fastener.key)?.done.used_instead ?? ''}
        />
        <SavedChoice
          {...at}
          label={`${fastener.place}: thread`}
          place={`${step.place}.${fastener.key}_thread`}
          field="thread"
          compact
          options={THREADS}
          none={{ name: 'Not said', value: '' }}
          read={(now) => fastenerOf(now, step.place, fastener.key)?.done.thread ?? ''}
        />
      </div>
    </details>
  )
}

/** The wrench for it, its drive, and what else is to be minded. */
function Facts({ fastener }: { fastener: FastenerView }) {
  const { wrench } = fastener
  const rows: [string, React.ReactNode][] = []
  if (wrench)
    rows.push([
      'Wrench',
      <span key="wrench" data-wrench>
        {wrench.best ? (
          <>
            <b className="text-keep">{wrench.best.name}</b>, {wrench.best.words}
          </>
        ) : (
          <>
            <b className="text-replace">None here fits.</b>{' '}
            {wrench.instead
              .map((each, index) => `${index === 0 ? each[0]?.toUpperCase() + each.slice(1) : each}`)
              .join('; or ')}
            .
          </>
        )}
        {wrench.others.length > 0 && (
          <span className="block text-sm text-quiet">
            {wrench.others.map((each) => `${each.name} ${each.words}`).join(' · ')}
          </span>
        )}
      </span>,
    ])
  if (fastener.note) rows.push(['Mind', fastener.note])
  if (fastener.single_use) rows.push(['New', 'single use: a new one goes in'])
  if (rows.length === 0) return null
  return (
    <dl className="divide-y divide-line border-y border-line text-sm">
      {rows.map(([name, words]) => (
        <div key={name} className="grid grid-cols-[4.5rem_minmax(0,1fr)] gap-2 py-1.5">
          <dt className="text-quiet">{name}</dt>
          <dd className="text-base leading-snug">{words}</dd>
        </div>
      ))}
    </dl>
  )
}

/** What goes round the thread: how long it may be worked, and when it has cured, by the server's clock. */
function Compound({ step, fastener }: { step: StepView; fastener: FastenerView }) {
  const { closed } = useDesk()
  const path = `/rebuild/fasteners/${step.side}/${fastener.key}/clock`
  const on = useVisitAct({
    place: `${step.place}.${fastener.key} compound`,
    label: `${fastener.place}: compound on`,
    station: 'rebuild',
    path,
    body: () => ({ what: 'compound_at' }),
    // Its clock is the server's: begun later, it would tell another time.
    held: false,
  })
  const { compound } = fastener
  if (!compound) return null
  const minutes = fastener.compound_min
  return (
    <div className="border-l-4 border-watch pl-3 text-sm" data-compound>
      <p className="leading-snug">
        <b className="first-letter:uppercase">{compound.kind}</b>: {compound.where}{' '}
        <span className="text-quiet">({compound.origin})</span>
      </p>
      {minutes == null ? (
        !closed && (
          <Button look="plain" action={on}>
            On the thread now: {compound.working_min} min to work it
          </Button>
        )
      ) : (
        <p>
          On since {timeOfDay(fastener.done.compound_at)}, <Elapsed minutes={minutes} />:{' '}
          {fastener.compound_phase === 'working' && `work it within ${compound.working_min} min`}
          {fastener.compound_phase === 'setting' && `set; loaded only after ${compound.cure_min / 60} h`}
          {fastener.compound_phase === 'cured' && 'cured'}
        </p>
      )}
      <Done action={on} />
    </div>
  )
}

function Actions({ step, fastener }: { step: StepView; fastener: FastenerView }) {
  const path = `/rebuild/fasteners/${step.side}/${fastener.key}`
  const place = `${step.place}.${fastener.key}`
  const { done, wrench } = fastener
  const value = done.torque_nm ?? fastener.torque_nm
  const tight = useVisitAct({
    place: `${place} tight`,
    label: `${fastener.place}: tight`,
    station: 'rebuild',
    path,
    method: 'PATCH',
    body: (now) => {
      const held = fastenerOf(now, step.place, fastener.key)?.done ?? done
      const typed = held.torque_nm ?? fastener.torque_nm
      return {
        state: { was: held.state, now: 'done' },
        ...(fastener.tightness === 'torque' && typed != null
          ? { torque_nm: { was: held.torque_nm, now: typed, sure: held.torque_nm != null } }
          : {}),
        ...(held.means === '' ? { means: { was: '', now: fastener.means } } : {}),
        ...(wrench?.best ? { wrench: { was: held.wrench, now: wrench.best.name } } : {}),
      }
    },
    said: `${fastener.place}: tight.`,
  })
  const owed = useVisitAct({
    place: `${place} owed`,
    label: `${fastener.place}: torque owed`,
    station: 'rebuild',
    path,
    method: 'PATCH',
    body: (now) => ({
      state: { was: fastenerOf(now, step.place, fastener.key)?.done.state ?? '', now: 'owed' },
    }),
    said: `${fastener.place}: torque owed.`,
  })
  const first = useVisitAct({
    place: `${place} first`,
    label: `${fastener.place}: first pass`,
    station: 'rebuild',
    path: `${path}/clock`,
    body: () => ({ what: 'first_at' }),
    held: false,
  })
  const words =
    fastener.tightness !== 'torque'
      ? `Seen: ${fastener.tightness}`
      : value != null
        ? `Clicked at ${told(value, 'N·m')}`
        : 'Tight'
  return (
    <div className="space-y-2">
      {fastener.passes > 1 &&
        (done.first_at ? (
          <p className="text-sm">
            <span className="text-quiet">First pass</span> half of it, all {fastener.count} · {timeOfDay(done.first_at)}
          </p>
        ) : null)}
      <div className="flex flex-wrap gap-2">
        {fastener.passes > 1 && !done.first_at && (
          <Button look="plain" action={first} title="All round once at half the torque">
            First pass
          </Button>
        )}
        <Button look="sign" action={tight} data-main>
          {words}
        </Button>
        {done.state !== 'owed' && (
          <Button look="plain" action={owed}>
            Torque owed
          </Button>
        )}
      </div>
      <Done action={tight} />
      <Done action={owed} />
      <Done action={first} />
    </div>
  )
}
