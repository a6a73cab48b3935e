// Bring in: a strange machine from what one sees of it, and the few readings that tell most about it.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { ToggleGroup } from 'radix-ui'
import { useNavigate } from 'react-router'
import { useAction } from '../api/outbox/action'
import { api, must, refusalOf, type StrangerView } from '../api/server/client'
import { withUnit } from '../api/server/units'
import { Arrival } from '../parts/Arrival'
import { Button, Refused } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { Notices } from '../parts/bar/Notices'
import { figure, unitName } from '../parts/format'
import { FromFile, LikeOne } from '../subjects/stranger/BringInOtherwise'
import { Looks } from '../subjects/stranger/Looks'
import { useLook } from '../subjects/stranger/look'
import { Readings } from '../subjects/stranger/Readings'
import { bodyOf, type Stranger, useStranger } from '../subjects/stranger/stranger'

const LABEL = 'block text-sm text-quiet'
const INPUT = 'mt-0.5 h-11 w-full rounded-md border-2 border-line bg-card px-2.5 text-base text-ink focus:border-signal'

export function BringIn() {
  const [draft, change, clear] = useStranger()
  const client = useQueryClient()
  const go = useNavigate()
  const options = useQuery({ queryKey: ['bring-in'], queryFn: () => must(api.GET('/api/bring-in')) }).data
  // What is said of it in words changes nothing that is computed.
  const seen = bodyOf({ ...draft, name: '', rider: '', complaint: '', taper: '', offset: '', stamp: '' })
  const look = useLook('stranger', seen, (body) => must(api.POST('/api/bring-in/look', { body })))
  const open = useAction(async () => {
    const answer = await api.POST('/api/bring-in', { body: bodyOf(draft), headers: { 'Jaxel-Once': draft.once } })
    if (!answer.data) {
      const { field, reason } = refusalOf(answer)
      return `${field.replaceAll('_', ' ')}: ${reason}`
    }
    clear()
    await client.invalidateQueries({ queryKey: ['floor'] })
    go(`/visits/${answer.data.visit_id}/intake`)
    return ''
  })
  const type = (reading: string, field: string, text: string, sent: string) => {
    const fields = { ...draft.typed[reading], [field]: { text, sent } }
    if (!text) delete fields[field]
    const typed = { ...draft.typed, [reading]: fields }
    if (Object.keys(fields).length === 0) delete typed[reading]
    change({ typed })
  }
  const takeBack = (reading: string) => {
    const typed = { ...draft.typed }
    delete typed[reading]
    change({ typed, prefer: {} })
  }
  const engines = options?.machines.find((each) => each.key === draft.machine)?.engines ?? []
  const view = look.data
  return (
    <div className="flex min-h-dvh flex-col">
      <Bar main="open the visit">
        <div className="flex flex-wrap items-center justify-between gap-x-6">
          <span>Bring in {draft.bare ? 'a bare clutch' : 'a machine'}</span>
          <nav aria-label="Other ways in" className="flex flex-wrap justify-end gap-x-4 text-sm">
            <FromFile>
              <button type="button" className="min-h-11 underline underline-offset-4">
                from a file
              </button>
            </FromFile>
            <LikeOne>
              <button type="button" className="min-h-11 underline underline-offset-4">
                like one we know
              </button>
            </LikeOne>
            <button
              type="button"
              className="min-h-11 underline underline-offset-4"
              aria-pressed={draft.bare}
              onClick={() => change({ bare: !draft.bare, secondary: halfOf(draft) })}
            >
              {draft.bare ? 'a whole machine' : 'a bare clutch'}
            </button>
            {Object.keys(draft.typed).length + draft.complaint.length > 0 && (
              <button type="button" className="min-h-11 underline underline-offset-4" onClick={clear}>
                start anew
              </button>
            )}
          </nav>
        </div>
      </Bar>
      <Notices />
      <main
        id="work"
        tabIndex={-1}
        className="relative grid flex-1 content-start gap-x-7 gap-y-5 px-5 py-3 outline-none lg:grid-cols-[26.5rem_1fr]"
      >
        <Arrival title="Bring in" first="[data-first]" key={options ? 'here' : 'coming'} />
        <div className="min-w-0 space-y-2.5">
          <section aria-label={draft.bare ? 'Usually on a' : 'What stands on the lift'}>
            <h2 className="text-base font-bold">{draft.bare ? 'Usually on a' : 'What stands on the lift'}</h2>
            <ToggleGroup.Root
              type="single"
              aria-label="Kind of machine"
              value={draft.machine}
              onValueChange={(machine) =>
                machine && change({ machine: machine as Stranger['machine'], engine: '', primary: '', secondary: '' })
              }
              className="grid grid-cols-[3fr_4fr_3fr_4.2fr] gap-2"
            >
              {options?.machines.map((each, index) => (
                <ToggleGroup.Item
                  key={each.key}
                  value={each.key}
                  data-first={index === 0 ? '' : undefined}
                  className="min-h-11 rounded-md border-2 border-ink px-1 text-sm font-semibold hover:bg-card data-[state=on]:bg-ink data-[state=on]:text-paper"
                >
                  {each.name}
                </ToggleGroup.Item>
              ))}
            </ToggleGroup.Root>
          </section>
          <Looks
            title={draft.bare ? 'It is a primary, and looks like' : 'Its primary looks like'}
            aside="on the engine"
            options={options?.primaries ?? []}
            value={draft.primary}
            choose={(primary) =>
              change(
                primary === BOTH
                  ? { primary, secondary: BOTH }
                  : { primary, secondary: draft.bare ? '' : other(draft.secondary) },
              )
            }
          />
          <Looks
            title={draft.bare ? 'or a secondary' : 'Its secondary'}
            aside="on the gearbox or jackshaft"
            options={options?.secondaries ?? []}
            value={draft.secondary}
            choose={(secondary) =>
              change(
                secondary === BOTH
                  ? { primary: BOTH, secondary }
                  : { secondary, primary: draft.bare ? '' : other(draft.primary) },
              )
            }
          />
          <label className={LABEL}>
            {draft.bare ? 'What is wrong with it, in their words' : "Complaint, in the rider's words"}
            <input
              value={draft.complaint}
              maxLength={2000}
              onChange={(event) => change({ complaint: event.target.value })}
              className={INPUT}
            />
          </label>
          <div className="grid grid-cols-2 gap-2.5">
            <label className={LABEL}>
              Engine
              <select
                value={draft.engine}
                onChange={(event) => change({ engine: event.target.value })}
                className={INPUT}
              >
                <option value="">not looked at</option>
                {engines.map((engine) => (
                  <option key={engine}>{engine}</option>
                ))}
              </select>
            </label>
            {draft.bare ? (
              <Text label="Stamp on it" value={draft.stamp} onChange={(stamp) => change({ stamp })} />
            ) : (
              <label className={LABEL}>
                Belt, width
                <span className={`${INPUT.replace('h-11', 'h-12')} flex items-baseline focus-within:border-signal`}>
                  <input
                    value={draft.typed.belt_width?.width_mm?.text ?? ''}
                    maxLength={60}
                    data-field="belt_width.width_mm"
                    aria-label="Belt, width"
                    onChange={(event) =>
                      type('belt_width', 'width_mm', event.target.value, withUnit(event.target.value, 'mm'))
                    }
                    className="reading h-full w-full min-w-0 bg-transparent text-xl font-semibold outline-none"
                  />
                  <span className="reading text-quiet">{unitName('mm')}</span>
                </span>
              </label>
            )}
            {draft.bare && <Text label="Taper" value={draft.taper} onChange={(taper) => change({ taper })} />}
            {draft.bare && (
              <Text
                label={`Offset, ${unitName('mm')}`}
                value={draft.offset}
                onChange={(offset) => change({ offset })}
              />
            )}
            <Text label="Name" value={draft.name} onChange={(name) => change({ name })} placeholder="as you call it" />
            <Text
              label={draft.bare ? 'Sent in by' : 'Rider or owner'}
              value={draft.rider}
              onChange={(rider) => change({ rider })}
            />
          </div>
          <BeltAsked view={view} bare={draft.bare} />
        </div>
        <div className="min-w-0">
          {view && (
            <p className="mb-2 text-sm text-quiet" data-package>
              Starts from what is typical: <b className="text-ink">{view.package}</b>
              {view.differs.length > 0 && (
                <span className="text-watch"> · nearest there is; not so on it: {view.differs.join(', ')}</span>
              )}
              . Every number typical, from memory, until it is read.
            </p>
          )}
          {look.error && <p role="alert">Cannot look at it: {look.error.message}.</p>}
          {view && (
            <Readings
              look={view.look}
              typed={draft.typed}
              onType={type}
              onDrop={takeBack}
              onPrefer={(path, reading) => change({ prefer: { ...draft.prefer, [path]: reading } })}
              elsewhere={draft.bare ? BELT : ['belt_width']}
            />
          )}
        </div>
      </main>
      <footer className="sticky bottom-0 z-10 grid grid-cols-2 items-center gap-x-8 gap-y-1 bg-bar px-5 py-2.5 text-on-bar max-sm:py-1.5 sm:grid-cols-[auto_auto_1fr_auto]">
        <Figure
          name="Engagement, takes hold at"
          rpm={view?.look.engagement_rpm}
          sd={view?.look.engagement_sd_rpm}
          at="engagement"
        />
        <Figure name="Shift" rpm={view?.look.shift_rpm} sd={view?.look.shift_sd_rpm} at="shift" />
        <Known view={view} />
        <div className="max-sm:col-span-2">
          <Button look="sign" action={open} wide data-main>
            Open the visit
          </Button>
          <Refused className="text-sm text-on-bar">{open.refused}</Refused>
        </div>
      </footer>
    </div>
  )
}

const BOTH = 'light-torque-converter'
const BELT = ['belt_width', 'belt_new', 'belt_round', 'cord_depth']
/** Of a clutch that comes alone only one half is kept: the primary, where both were said. */
const halfOf = ({ bare, primary, secondary }: Stranger) => (!bare && primary && primary !== BOTH ? '' : secondary)
const other = (kind: string) => (kind === BOTH ? '' : kind)

/** What became of the width typed beside the list: refused in words, or what it took off. */
function BeltAsked({ view, bare }: { view?: StrangerView; bare: boolean }) {
  const line = view?.look.lines.find((each) => each.key === 'belt_width')
  if (bare || line?.state !== 'refused') return null
  return (
    <p role="alert" className="text-sm text-replace">
      Belt, width, not taken: {line.reason}
    </p>
  )
}

interface TextProps {
  label: string
  value: string
  onChange: (text: string) => void
  placeholder?: string
}

function Text({ label, value, onChange, placeholder }: TextProps) {
  return (
    <label className={LABEL}>
      {label}
      <input
        value={value}
        maxLength={120}
        placeholder={placeholder}
        onChange={(event) => onChange(event.target.value)}
        className={`${INPUT} placeholder:text-quiet`}
      />
    </label>
  )
}

function Figure({ name, rpm, sd, at }: { name: string; rpm?: number; sd?: number; at: string }) {
  return (
    <div>
      <p className="text-sm text-bar-quiet">{name}</p>
      <p className="reading text-2xl font-semibold" data-figure={at}>
        {rpm == null ? '–' : figure(rpm, 0)}{' '}
        <span className="text-base font-normal text-bar-quiet">
          ± <span data-sd={at}>{sd == null ? '–' : figure(sd, 0)}</span> rpm
        </span>
      </p>
    </div>
  )
}

function Known({ view }: { view?: StrangerView }) {
  if (!view) return <p />
  const counts = Object.entries(view.look.counts).sort(
    ([one], [two]) => Number(one === 'typical') - Number(two === 'typical'),
  )
  return (
    <div className="text-sm max-sm:col-span-2">
      <p className="text-bar-quiet max-sm:hidden">What is known</p>
      <p className="font-semibold" data-known>
        {counts.map(([origin, count]) => `${count} ${origin}`).join(' · ')}
      </p>
      <p className="text-bar-quiet max-sm:hidden">
        a run would bring it to ± {figure(view.look.engagement_after_run_rpm, 0)} and ±{' '}
        {figure(view.look.shift_after_run_rpm, 0)}
      </p>
    </div>
  )
}
