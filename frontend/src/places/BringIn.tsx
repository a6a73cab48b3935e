// Bring in: a strange machine from what one sees of it, and the few readings that tell most about it.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { ToggleGroup } from 'radix-ui'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useAction } from '../api/outbox/action'
import { api, must, refusalOf } from '../api/server/client'
import { withUnit } from '../api/server/units'
import { Arrival } from '../parts/Arrival'
import { Button } from '../parts/Button'
import { Bar } from '../parts/bar/Bar'
import { Notices } from '../parts/bar/Notices'
import { focusOn } from '../parts/field/reading'
import { unitName } from '../parts/format'
import { Asked } from '../subjects/stranger/Asked'
import { FromFile, LikeOne } from '../subjects/stranger/BringInOtherwise'
import { Foot } from '../subjects/stranger/Foot'
import { Looks } from '../subjects/stranger/Looks'
import { forgetLook, useLook } from '../subjects/stranger/look'
import { Readings } from '../subjects/stranger/Readings'
import { bodyOf, type Stranger, typedInto, UNKNOWN, useStranger, without } from '../subjects/stranger/stranger'
import { notTaken } from '../subjects/stranger/Worth'

const LABEL = 'block text-sm text-quiet'
const INPUT = 'h-11 w-full rounded-md border-2 border-line bg-card px-2.5 text-base text-ink focus:border-signal'

export function BringIn() {
  const [draft, change, clear] = useStranger()
  const client = useQueryClient()
  const go = useNavigate()
  const options = useQuery({ queryKey: ['bring-in'], queryFn: () => must(api.GET('/api/bring-in')) }).data
  // What is said of it in words changes nothing that is computed.
  const seen = bodyOf({ ...draft, name: '', rider: '', complaint: '', taper: '', offset: '', stamp: '' })
  const said = draft.machine !== '' || draft.bare
  const look = useLook(
    'stranger',
    { ...seen, said },
    ({ said, ...body }) => (said ? must(api.POST('/api/bring-in/look', { body })) : Promise.resolve(null)),
    true,
  )
  const view = said ? (look.data ?? undefined) : undefined
  const open = useAction(async () => {
    if (!said) return toFirst('What stands on the lift is not said yet.', '[data-first]')
    const left = (view?.look.lines ?? []).filter(notTaken)
    if (left.length > 0) {
      const names = left.map((line) => line.name).join(', ')
      return toFirst(
        `Not taken: ${names}. Put ${left.length > 1 ? 'them' : 'it'} right, say it is so, or leave it out.`,
        `[data-reading="${left[0]?.key}"], [data-field^="${left[0]?.key}."]`,
      )
    }
    const answer = await api.POST('/api/bring-in', { body: bodyOf(draft), headers: { 'Jaxel-Once': draft.once } })
    if (!answer.data) {
      const { field, reason } = refusalOf(answer)
      return `${field.replaceAll('_', ' ')}: ${reason}`
    }
    clear()
    forgetLook('stranger')
    await client.invalidateQueries({ queryKey: ['floor'] })
    go(`/visits/${answer.data.visit_id}/intake`)
    return ''
  })
  const type = (reading: string, field: string, text: string, sent: string) =>
    change(typedInto(draft, reading, field, text, sent))
  const takeBack = (reading: string) => change(without(draft, reading))
  /** A hand stands by what it was asked about, not by what it has typed since. */
  const so = (reading: string) => {
    const asked = look.of?.readings?.[reading]
    if (JSON.stringify(asked) === JSON.stringify(seen.readings?.[reading])) change({ sure: [...draft.sure, reading] })
  }
  const anew = () => {
    clear()
    forgetLook('stranger')
  }
  /** Another machine leaves the clutches as they were chosen until a hand says otherwise. */
  const turnTo = (machine: Stranger['machine']) => {
    if (draft.machine && (chosen || Object.keys(draft.typed).length > 0)) setOther(machine)
    else change({ machine, engine: '' })
  }
  const chosen = [draft.primary, draft.secondary].some((kind) => kind && kind !== UNKNOWN)
  const [other, setOther] = useState('')
  const settle = (afresh: boolean) => {
    const machine = other as Stranger['machine']
    change({ machine, engine: '', ...(afresh && { primary: '', secondary: '', typed: {}, prefer: {}, sure: [] }) })
    setOther('')
  }
  const belt = view?.look.lines.find((line) => line.key === 'belt_width')
  const engines = options?.machines.find((each) => each.key === draft.machine)?.engines ?? []
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
              <button type="button" className="min-h-11 underline underline-offset-4" onClick={anew}>
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
        <div className="min-w-0 space-y-2">
          <section aria-label={draft.bare ? 'Usually on a' : 'What stands on the lift'}>
            <h2 className="text-base font-bold">{draft.bare ? 'Usually on a' : 'What stands on the lift'}</h2>
            <ToggleGroup.Root
              type="single"
              aria-label="Kind of machine"
              value={draft.machine}
              onValueChange={(machine) =>
                machine && machine !== draft.machine && turnTo(machine as Stranger['machine'])
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
            {other && (
              <div role="alert" data-other className="mt-2 border-l-4 border-watch bg-card p-2 text-sm">
                <p className="font-semibold">
                  {options?.machines.find((each) => each.key === other)?.name}: keep the clutches and readings as they
                  stand, or begin them anew?
                </p>
                <div className="mt-1.5 flex flex-wrap gap-2">
                  <Button look="plain" onClick={() => settle(false)}>
                    Keep them
                  </Button>
                  <Button look="plain" onClick={() => settle(true)}>
                    Begin anew
                  </Button>
                  <Button look="plain" onClick={() => setOther('')}>
                    Stay with {draft.machine}
                  </Button>
                </div>
              </div>
            )}
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
                  : { primary, secondary: draft.bare ? '' : notBoth(draft.secondary) },
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
                  : { secondary, primary: draft.bare ? '' : notBoth(draft.primary) },
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
                <option value={UNKNOWN}>don't know</option>
                {engines.map((engine) => (
                  <option key={engine}>{engine}</option>
                ))}
              </select>
            </label>
            {draft.bare ? (
              <Text label="Stamp on it" value={draft.stamp} onChange={(stamp) => change({ stamp })} />
            ) : (
              <label className={LABEL}>
                Belt as fitted, width
                <span className={`${INPUT.replace('h-11', 'h-12')} flex items-baseline focus-within:border-signal`}>
                  <input
                    value={draft.typed.belt_width?.width_mm?.text ?? ''}
                    maxLength={60}
                    data-field="belt_width.width_mm"
                    aria-label="Belt as fitted, width"
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
          {belt && !draft.bare && (
            <Asked
              line={belt}
              onSo={() => so('belt_width')}
              onMeant={(field, text) => type('belt_width', field, text, text)}
              onDrop={() => takeBack('belt_width')}
            />
          )}
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
          {!said && (
            <p className="mt-8 text-lg text-quiet" data-begin>
              Say what stands on the lift: what is typical of it, and what is worth measuring, stands here.
            </p>
          )}
          {look.error && <p role="alert">Cannot look at it: {look.error.message}.</p>}
          {said && look.failureReason && !look.error && (
            <p role="status" className="mb-1 text-sm text-watch">
              The server is away: what is typed stays here, and it looks again by itself.
            </p>
          )}
          {view && (
            <Readings
              look={view.look}
              typed={draft.typed}
              onType={type}
              onDrop={takeBack}
              onSo={so}
              minutes={draft.minutes}
              onMinutes={(minutes) => change({ minutes })}
              onPrefer={(path, reading) => change({ prefer: { ...draft.prefer, [path]: reading } })}
              elsewhere={draft.bare ? BELT : ['belt_width']}
            />
          )}
        </div>
      </main>
      <Foot view={view} open={open} />
    </div>
  )
}

const BOTH = 'light-torque-converter'
const BELT = ['belt_width', 'belt_new', 'belt_round', 'cord_depth']
/** Why it did nothing, with the focus where it is put right. */
const toFirst = (why: string, selector: string) => {
  focusOn(selector)
  return why
}
/** Of a clutch that comes alone only one half is kept: the primary, where both were said. */
const halfOf = ({ bare, primary, secondary }: Stranger) => (!bare && primary && primary !== BOTH ? '' : secondary)
const notBoth = (kind: string) => (kind === BOTH ? '' : kind)

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
