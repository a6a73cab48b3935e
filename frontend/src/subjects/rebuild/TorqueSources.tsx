// What sources say of a fastener, side by side where they conflict; and what an adapter makes of a wrench's reading.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { useDraft } from '../../api/outbox/draft'
import { api, must } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done, Refused } from '../../parts/Button'
import { reading, told, unitName } from '../../parts/format'
import { named, OfModel, THIS_MACHINE, whose } from '../machine/OfModel'
import type { FastenerView } from './step'

const FIELD = 'mt-1 h-11 w-full rounded-md border-2 border-line bg-card px-2 text-base text-ink'
const ORIGINS = ['manual', "part maker's sheet", 'common practice', 'from memory'] as const
const TIGHT = ['torque', 'to the shoulder', 'until the washer meets the face', 'snug', 'by hand'] as const
const SUMMARY = 'flex min-h-11 cursor-pointer items-center text-sm text-quiet underline underline-offset-4'

interface SourcesProps {
  fastener: FastenerView
  kind: string
  side: string
}

export function Sources({ fastener, kind, side }: SourcesProps) {
  const { closed, visit } = useDesk()
  const [of, setOf] = useState(THIS_MACHINE)
  const draft = `${kind} ${fastener.key}`
  const [torque, setTorque] = useDraft(`${draft} torque`)
  const [origin, setOrigin] = useState<(typeof ORIGINS)[number]>('manual')
  const [tightness, setTightness] = useState<(typeof TIGHT)[number]>('torque')
  /** What was asked about, and what was likely meant by it. */
  const [asked, setAsked] = useState({ typed: '', words: '', meant: '' })
  const state = useVisitAct(
    {
      place: `${side}.${fastener.key} stated`,
      label: `${fastener.place}: what a source says`,
      station: 'rebuild',
      path: '/rebuild/torques',
      body: () => ({
        kind,
        fastener: fastener.key,
        tightness,
        torque: tightness === 'torque' ? withUnit(torque, 'N·m') : null,
        origin,
        ...whose(of),
        sure: asked.typed === torque && torque !== '',
      }),
      held: false,
    },
    () => {
      setTorque('')
      setAsked({ typed: '', words: '', meant: '' })
    },
    (_, asks) => asks && setAsked({ typed: torque, words: asks.words, meant: String(asks.meant.torque ?? '') }),
  )
  /** An answer taken acts at once: it is stated. */
  const [taking, setTaking] = useState(false)
  useEffect(() => {
    if (!taking) return
    setTaking(false)
    state.run()
  }, [taking, state])
  const again = asked.typed !== '' && asked.typed === torque && state.refused !== ''
  return (
    <div className="space-y-1">
      {(fastener.conflict || fastener.statements.length > 1 || fastener.statements.some((each) => !each.own)) && (
        <ul
          className={`space-y-1 ${fastener.conflict ? 'border-l-4 border-watch pl-3' : ''}`}
          data-conflict={fastener.conflict}
        >
          {fastener.conflict && <li className="font-semibold">Sources differ: which holds on this machine?</li>}
          {fastener.statements.map((each) => (
            <Statement key={each.id} each={each} fastener={fastener} />
          ))}
        </ul>
      )}
      {!closed && (
        <details>
          <summary className={SUMMARY}>State what this machine’s manual or a sheet says</summary>
          <form
            className="grid grid-cols-2 gap-2 text-sm text-quiet"
            onSubmit={(event) => {
              event.preventDefault()
              state.run()
            }}
          >
            <label className="block">
              Tightness
              <select
                className={FIELD}
                value={tightness}
                onChange={(event) => setTightness(event.target.value as (typeof TIGHT)[number])}
              >
                {TIGHT.map((each) => (
                  <option key={each}>{each}</option>
                ))}
              </select>
            </label>
            {tightness === 'torque' && (
              <label className="block">
                Torque, {unitName('N·m')}
                <input
                  className={FIELD}
                  value={torque}
                  maxLength={30}
                  onChange={(event) => setTorque(event.target.value)}
                />
              </label>
            )}
            <label className="block">
              Said by
              <select
                className={FIELD}
                value={origin}
                onChange={(event) => setOrigin(event.target.value as (typeof ORIGINS)[number])}
              >
                {ORIGINS.map((each) => (
                  <option key={each}>{each}</option>
                ))}
              </select>
            </label>
            <OfModel value={of} set={setOf} model={visit.machine.model} />
            <div className="col-span-2 flex flex-wrap gap-2">
              {again && asked.meant && (
                <Button
                  look="plain"
                  onClick={() => {
                    setTorque(asked.meant)
                    setTaking(true)
                  }}
                >
                  I meant {asked.words}
                </Button>
              )}
              <Button
                look={again ? 'main' : 'plain'}
                action={state}
                submits
                disabled={(tightness === 'torque' && !torque.trim()) || !named(of)}
              >
                {again ? `Keep ${torque}` : 'State it'}
              </Button>
            </div>
          </form>
          <Done action={state} className="mt-1 text-sm" />
        </details>
      )}
    </div>
  )
}

function Statement({ each, fastener }: { each: FastenerView['statements'][number]; fastener: FastenerView }) {
  const { closed } = useDesk()
  const choose = useVisitAct({
    place: `torque ${each.id} chosen`,
    label: `${fastener.place}: ${each.origin}`,
    station: 'rebuild',
    path: '/rebuild/torques/choose',
    body: () => ({ stated_id: each.id }),
  })
  const withdraw = useVisitAct({
    place: `torque ${each.id} withdrawn`,
    label: `${fastener.place}: ${each.origin} withdrawn`,
    station: 'rebuild',
    path: '/rebuild/torques/withdraw',
    body: () => ({ stated_id: each.id }),
  })
  const holds =
    fastener.chosen === each.id ||
    (each.own && !fastener.conflict && fastener.chosen == null && fastener.statements[0]?.id === each.id)
  const words = each.torque_nm != null ? told(each.torque_nm, 'N·m') : each.tightness
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1" data-statement={each.whose}>
      <span className="min-w-0 flex-1">
        <b className="reading">{words}</b>{' '}
        <span className="text-sm text-quiet">
          {each.whose}, {each.stated_by}
          {holds && ' · holds here'}
        </span>
      </span>
      {!closed && each.own && !holds && (
        <Button look="plain" action={choose} aria-label={`Go by the ${each.whose}: ${words}`}>
          Go by this
        </Button>
      )}
      {!closed && each.ours && (
        <button type="button" onClick={withdraw.run} className="min-h-11 px-2 text-sm underline underline-offset-4">
          Withdraw{(each.touches ?? 1) > 1 && ` from ${each.touches} machines`}
          <span className="sr-only">
            {' '}
            {words}, {each.whose}
          </span>
        </button>
      )}
      <Done action={choose} />
      <Done action={withdraw} />
    </li>
  )
}

/** T_set = T·L/(L + E): what the wrench is set to behind an adapter, with its drawing. */
export function Adapter({ torqueNm }: { torqueNm: number }) {
  const [extension, setExtension] = useState('')
  const [angle, setAngle] = useState<'0' | '45' | '90'>('0')
  const typed = extension.trim()
  const query = useQuery({
    queryKey: ['adapter', torqueNm, typed, angle],
    queryFn: () =>
      must(
        api.GET('/api/torque-adapter', {
          params: { query: { torque: `${torqueNm} N·m`, extension: String(withUnit(typed, 'mm') ?? ''), angle } },
        }),
      ),
    enabled: typed !== '',
    retry: false,
  })
  const found = query.data
  return (
    <details>
      <summary className={SUMMARY}>Through a crow-foot or an extension</summary>
      <div className="grid gap-3 sm:grid-cols-[minmax(0,1fr)_13rem]">
        <div className="space-y-2 text-sm">
          <div className="grid grid-cols-2 gap-2 text-quiet">
            <label className="block">
              From square to fastener, {unitName('mm')}
              <input
                className={FIELD}
                value={extension}
                maxLength={20}
                placeholder="− back over the grip"
                onChange={(event) => setExtension(event.target.value)}
              />
            </label>
            <label className="block">
              Set
              <select
                className={FIELD}
                value={angle}
                onChange={(event) => setAngle(event.target.value as typeof angle)}
              >
                <option value="0">in line with it</option>
                <option value="45">at 45°</option>
                <option value="90">across it</option>
              </select>
            </label>
          </div>
          {query.error && <Refused>{query.error.message}</Refused>}
          {found && (
            <p data-setting>
              {found.best ? (
                <>
                  Set <b>{found.best.name}</b> to{' '}
                  <b className="reading text-lg">{reading(found.best.setting_nm, 'N·m', 1)}</b> {unitName('N·m')} for{' '}
                  {told(torqueNm, 'N·m')} at the fastener.
                </>
              ) : (
                'No wrench here reaches it like that.'
              )}{' '}
              {found.others.map((each) => `${each.name} ${each.words}`).join(' · ')}
            </p>
          )}
          <p className="text-quiet">T_set = T · L ∕ (L + E): E is signed, across the wrench nothing is corrected.</p>
        </div>
        <AdapterPicture angle={Number(angle)} back={typed.startsWith('-') || typed.startsWith('−')} />
      </div>
    </details>
  )
}

function AdapterPicture({ angle, back }: { angle: number; back: boolean }) {
  const turn = back ? 180 - angle : -angle
  const rad = (turn * Math.PI) / 180
  const [x, y] = [120 + 46 * Math.cos(rad), 62 + 46 * Math.sin(rad)]
  return (
    <svg
      viewBox="0 0 190 112"
      className="w-full max-w-52"
      role="img"
      aria-label="Wrench with its adapter: L from grip to square, E from square to fastener"
    >
      <path d="M14,62H120" className="stroke-alu-deep" strokeWidth="9" strokeLinecap="round" />
      <path d={`M120,62L${x},${y}`} className="stroke-ink" strokeWidth="6" strokeLinecap="round" />
      <rect x="112" y="54" width="16" height="16" className="fill-card stroke-ink" strokeWidth="2" />
      <circle cx={x} cy={y} r="9" className="fill-keep" />
      <path d="M26,96H120M26,90V102M120,90V102" className="stroke-quiet" />
      <text x="73" y="90" textAnchor="middle" className="fill-ink text-xs">
        L
      </text>
      <text x={(120 + x) / 2 + 8} y={(62 + y) / 2 - 10} textAnchor="middle" className="fill-ink text-xs">
        E
      </text>
    </svg>
  )
}
