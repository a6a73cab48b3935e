// Strip & inspect: what must be renewed, what may stay and until when, clutch by clutch in the order it comes apart.
import { useEffect, useRef } from 'react'
import { useLocation, useNavigate } from 'react-router'
import type { ItemView, KindView, VisitView } from '../../api/server/client'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { SavedChoice } from '../../parts/field/Choice'
import { figure } from '../../parts/format'
import { beginInSight } from '../../parts/intoView'
import { FindingMark, StateMark } from '../../parts/marks'
import { ClutchKinds } from '../kinds/ClutchKinds'
import { useKind } from '../kinds/guide'
import { PickList } from '../rebuild/PickList'
import { ClutchStack } from './ClutchStack'
import { Explained } from './Explained'
import { ItemPanel } from './ItemPanel'
import { brief, DEPTHS, itemPlace, ON_BENCH, partPlace, said } from './item'
import { ChooseJob, JobsInHand } from './Jobs'
import { Order } from './Order'
import { PartCard } from './PartCard'
import { Worth } from './Worth'

export function Strip() {
  const { visit } = useDesk()
  const [first, second] = visit.strip.clutches
  const bare = visit.scope === 'bench'
  const primary = useKind(first?.kind ?? '', first?.answered, undefined, bare)
  const secondary = useKind(second?.kind ?? '', second?.answered, undefined, bare)
  if (visit.strip.clutches.length === 0)
    return (
      <div className="max-w-prose space-y-3">
        <p className="text-lg">
          Of which kind the clutches are is not said yet: what wears, and how it is judged, comes from there.
        </p>
        <ClutchKinds />
      </div>
    )
  const kinds = [primary, secondary].filter((each): each is KindView => each !== undefined)
  if (kinds.length < visit.strip.clutches.length) return <p className="text-quiet">Opening…</p>
  return <Bench visit={visit} kinds={kinds} />
}

function Bench({ visit, kinds }: { visit: VisitView; kinds: KindView[] }) {
  const { hash } = useLocation()
  const go = useNavigate()
  const { items } = visit.strip
  const wanted = decodeURIComponent(hash.slice(1))
  /** A part that nothing wears of is taken in hand by itself. */
  const alone = visit.strip.clutches
    .flatMap(({ side }, index) => (kinds[index]?.guide.part ?? []).map((part) => ({ side, part })))
    .find(({ side, part }) => partPlace(side, part.key) === wanted)
  const inHand = alone
    ? undefined
    : (items.find((item) => itemPlace(item) === wanted) ??
      items.find((item) => item.decision == null && !item.looked) ??
      items[0])
  const take = (item: ItemView | undefined) => item && go(`#${itemPlace(item)}`, { replace: true })
  const side = alone?.side ?? inHand?.side ?? visit.strip.clutches[0]?.side
  const card = useRef<HTMLElement>(null)
  const place = inHand ? itemPlace(inHand) : alone ? partPlace(alone.side, alone.part.key) : ''
  const last = useRef(place)
  useEffect(() => {
    if (place === last.current) return
    last.current = place
    beginInSight(
      card.current?.querySelector('article') ?? card.current,
      document.querySelector('[data-items] [aria-current]'),
    )
  }, [place])
  const shown = Math.max(
    0,
    visit.strip.clutches.findIndex((each) => each.side === side),
  )
  const clutch = visit.strip.clutches[shown]
  const kind = kinds[shown]
  if (!clutch || !kind) return null
  const own = items.filter((item) => item.side === clutch.side)
  const partOf = (item: ItemView) => kind.guide.item.find((each) => each.key === item.key)?.part ?? ''
  const looked = own.filter((item) => item.looked || item.finding).length
  /** A part, `side.part`, comes to hand with the first that wears of it, else by itself. */
  const takePart = (place: string) => {
    const [of = '', key = ''] = place.split('.')
    const guide = kinds[visit.strip.clutches.findIndex((each) => each.side === of)]?.guide
    const worn = items.find(
      (item) => item.side === of && guide?.item.find((each) => each.key === item.key)?.part === key,
    )
    if (worn) take(worn)
    else go(`#${partPlace(of, key)}`, { replace: true })
  }
  const takeClutch = (of: ItemView['side']) => {
    const worn = items.find((item) => item.side === of)
    const guide = kinds[visit.strip.clutches.findIndex((each) => each.side === of)]?.guide
    if (worn) take(worn)
    else go(`#${partPlace(of, guide?.part[0]?.key ?? '')}`, { replace: true })
  }
  const two = visit.strip.clutches.length > 1
  const depth = two && clutch.side === 'secondary' ? 'secondary_depth' : 'depth'
  /** Nobody said it of the secondary by itself. */
  const asPrimary = depth === 'secondary_depth' && visit.strip.secondary_depth == null && visit.strip.depth != null
  const part = alone?.part ?? kind.guide.part.find((each) => inHand && each.key === partOf(inHand))
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="flex gap-2" role="tablist" aria-label="Clutch" hidden={!two}>
          {visit.strip.clutches.map((each) => (
            <button
              key={each.side}
              type="button"
              role="tab"
              aria-selected={each.side === clutch.side}
              onClick={() => takeClutch(each.side)}
              className="min-h-11 rounded-md border-2 border-line px-3 font-semibold capitalize aria-selected:border-signal aria-selected:bg-card"
            >
              {each.side}
            </button>
          ))}
        </div>
        <div className="min-w-0 max-w-full">
          <SavedChoice
            key={depth}
            station="strip"
            path="/strip"
            label={`How far the ${two ? clutch.side : 'clutch'} is opened`}
            place={depth}
            field={depth}
            options={visit.scope === 'bench' ? ON_BENCH : DEPTHS}
            compact
            read={(each) => each.strip[depth] ?? null}
            show={(value) => String(value ?? visit.strip.depth ?? '')}
          />
        </div>
        <ChooseJob />
        <Rest
          key={clutch.side}
          own={own}
          looked={looked}
          name={asPrimary ? `${clutch.name}, opened as the primary is` : clutch.name}
        />
      </div>
      <JobsInHand choose={takePart} />
      {!items.some(said) && !visit.strip.jobs.some((each) => each.chosen) && <PickList />}
      {!part ? (
        <p className="text-lg text-quiet">Say how far it is opened: the items that can be looked at follow.</p>
      ) : (
        // One scroll for both: the list moves with the card until its end is in sight, and stays there.
        <div
          data-scrolls
          className="grid flex-1 content-start gap-x-6 gap-y-4 lg:min-h-0 lg:grid-cols-[minmax(0,1.05fr)_minmax(0,1fr)] lg:overflow-y-auto lg:pr-1 lg:[container-type:size]"
        >
          <section className="min-w-0 lg:sticky lg:bottom-0 lg:min-h-[100cqh] lg:self-end" aria-label="Items">
            <ClutchStack
              name={clutch.name}
              parts={kind.guide.part}
              hand={part.key}
              job={(key) => coming(visit, `${clutch.side}.${key}`)}
              state={(part) => worst(own.filter((item) => partOf(item) === part))}
              choose={(key) => takePart(`${clutch.side}.${key}`)}
            />
            <ItemList own={own} kind={kind} inHand={inHand} take={take} />
          </section>
          <section ref={card} className="min-w-0 space-y-4" aria-label="In hand" data-inhand={place}>
            <PartCard key={part.key} part={part} kind={kind} side={clutch.side} alone={inHand === undefined} />
            {inHand && (
              <ItemPanel
                key={itemPlace(inHand)}
                item={inHand}
                known={kind.guide.item.find((each) => each.key === inHand.key)}
                kind={kind}
                next={() => take(own[own.indexOf(inHand) + 1] ?? items[items.indexOf(inHand) + 1])}
              />
            )}
            <Worth />
            {visit.scope !== 'bench' && <Explained />}
            <Order />
          </section>
        </div>
      )}
      <Follows />
    </div>
  )
}

/** Whether a part, `side.part`, comes off for a job chosen, and whether it is off by now. */
function coming(visit: VisitView, place: string): '' | 'on' | 'off' {
  if (visit.strip.off.includes(place)) return 'off'
  return visit.strip.jobs.some((job) => job.chosen && job.parts.some((part) => part.place === place)) ? 'on' : ''
}

function worst(items: ItemView[]): string {
  if (items.length === 0) return ''
  for (const finding of ['replace', 'watch']) if (items.some((item) => item.decision === finding)) return finding
  return items.every((item) => item.decision === 'keep' || item.looked === 'left alone') ? 'keep' : 'to do'
}

interface ItemListProps {
  own: ItemView[]
  kind: KindView
  inHand: ItemView | undefined
  take: (item: ItemView) => void
}

/** How far a clutch has been looked at, and one key for the rest: looked over and nothing seen, or not reached. */
function Rest({ own, looked, name }: { own: ItemView[]; looked: number; name: string }) {
  const { closed } = useDesk()
  const side = own[0]?.side ?? 'primary'
  const rest = useVisitAct({
    place: `rest ${side}`,
    label: `The rest of the ${side} not reached`,
    station: 'strip',
    path: `/strip/clutches/${side}/rest`,
    body: () => ({}),
    said: 'Said: the rest was not reached',
  })
  const fine = useVisitAct({
    place: `rest ${side} fine`,
    label: `The rest of the ${side} looked over`,
    station: 'strip',
    path: `/strip/clutches/${side}/rest`,
    body: () => ({ looked: 'looked over' }),
    said: 'Said: the rest was looked over, nothing seen',
  })
  const waiting = own.filter((item) => !said(item)).length
  return (
    <div className="ml-auto flex items-center gap-2 text-sm text-quiet">
      <span className="max-w-36 leading-tight">
        {name}, {looked} of {own.length} looked at
      </span>
      {!closed && waiting > 0 && (
        <>
          <Button look="plain" action={fine}>
            Rest fine
          </Button>
          <Button look="plain" action={rest}>
            Rest not reached
          </Button>
        </>
      )}
      <Done action={fine} />
      <Done action={rest} />
    </div>
  )
}

function ItemList({ own, kind, inHand, take }: ItemListProps) {
  return (
    <ul className="mt-1 divide-y divide-line border-y border-line" data-items>
      {own.map((item) => {
        const known = kind.guide.item.find((each) => each.key === item.key)
        const here = item === inHand
        return (
          <li key={item.key}>
            <button
              type="button"
              aria-current={here || undefined}
              onClick={() => take(item)}
              className={`grid min-h-11 w-full grid-cols-[1.25rem_minmax(0,1.2fr)_minmax(0,1fr)_auto] items-center gap-2 px-2 text-left ${here ? 'bg-card outline-2 -outline-offset-2 outline-signal' : 'hover:bg-card'}`}
            >
              {item.decision ? (
                <FindingMark finding={item.decision} size={16} />
              ) : (
                <StateMark state="to do" here={here} />
              )}
              <span className="font-semibold">
                {known?.name}
                {(known?.count ?? 1) > 1 && <span className="font-normal text-quiet"> ×{known?.count}</span>}
              </span>
              <span className="reading min-w-0 truncate text-sm" title={brief(item, known)}>
                {brief(item, known)}
              </span>
              <span
                className={`text-right text-sm ${item.open && said(item) ? 'font-semibold text-signal-words' : 'text-quiet'}`}
              >
                {item.open && said(item) ? 'open' : (item.decision ?? item.looked)}
              </span>
            </button>
          </li>
        )
      })}
    </ul>
  )
}

/** What follows of all that was found, in one line: what to order, and what explains the complaint. */
function Follows() {
  const { visit } = useDesk()
  const { parts, parts_price: price, causes } = visit.strip
  if (parts.length === 0 && causes.length === 0) return null
  return (
    <p className="flex flex-wrap gap-x-8 gap-y-1 rounded-md bg-tray px-3 py-2 text-sm" data-follows>
      {parts.length > 0 && (
        <span>
          <span className="text-quiet">To order </span>
          <b>
            {parts.map((line) => `${line.kind} ×${line.pieces}`).join(' · ')}
            {price != null && ` · ${figure(price, 2)}`}
          </b>
        </span>
      )}
      {causes.length > 0 && (
        <span>
          <span className="text-quiet">Explains it </span>
          <b>
            {causes
              .slice(0, 3)
              .map((cause) => `${cause.name.toLowerCase()} ${figure(cause.chance * 100, 0)} %`)
              .join(' · ')}
          </b>
        </span>
      )}
    </p>
  )
}
