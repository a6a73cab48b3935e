// The item in hand: how it is looked at, what was read, what follows of it, and what putting it right costs.
import { useQuery } from '@tanstack/react-query'
import { api, type ItemView, type KindView, must, type WearItem } from '../../api/server/client'
import { inShown } from '../../api/server/units'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { SavedChoice } from '../../parts/field/Choice'
import { NumberField, TextField } from '../../parts/field/Field'
import { figure, ofSide, told } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { PhotoRow } from '../../parts/photos/PhotoRow'
import { Alternatives } from './Alternatives'
import { EatsWhat } from './EatsWhat'
import { countOf, itemPath, itemPlace, placeName } from './item'
import { OwnLimit } from './OwnLimit'

const LOOKED = [
  { value: 'assembled', name: 'Assembled' },
  { value: 'removed', name: 'Removed' },
  { value: 'looked over', name: 'Looked over' },
  { value: 'not reached', name: 'Not reached' },
  { value: 'left alone', name: 'Left alone' },
] as const

const FINDINGS = [
  { value: 'keep', name: 'Keep' },
  { value: 'watch', name: 'Watch' },
  { value: 'replace', name: 'Replace' },
] as const

const COMPARED = [
  { value: 'as new', name: 'As a new one' },
  { value: 'worn beside new', name: 'Worn beside a new one' },
] as const

interface ItemPanelProps {
  item: ItemView
  known: WearItem | undefined
  kind: KindView
  next: () => void
}

const find = (item: ItemView) => (visit: { strip: { items: ItemView[] } }) =>
  visit.strip.items.find((each) => each.side === item.side && each.key === item.key)

export function ItemPanel({ item, known, kind, next }: ItemPanelProps) {
  const { visit } = useDesk()
  const held = find(item)
  const at = { station: 'strip', path: itemPath(item) }
  if (!known) return null
  const name = ofSide(known.name, item.side)
  const seen = item.looked !== 'not reached' && item.looked !== 'left alone'
  return (
    <article className="space-y-2.5 rounded-md border border-line bg-card p-3" aria-label={name}>
      <header className="flex items-start justify-between gap-3">
        <div>
          <h2 className="text-lg font-bold">
            {known.name}
            {countOf(known) > 1 && ` ×${countOf(known)}`}
          </h2>
          <p className="text-sm leading-snug text-quiet">
            {known.how} {known.assembled && <>Together: {known.assembled} </>}
            {known.normal} {known.common && <>Common, and by itself no reason: {known.common} </>}
            <span className="text-sm whitespace-nowrap">({known.origin})</span>
            {known.before_washing && <b className="text-ink"> Judged before washing.</b>}
          </p>
        </div>
        <Button look="plain" onClick={next}>
          Next
        </Button>
      </header>
      <SavedChoice
        {...at}
        label={`${name}: looked at`}
        place={itemPlace(item)}
        field="looked"
        compact
        options={LOOKED}
        none={{ name: 'Take it back', value: '' }}
        read={(visit) => held(visit)?.looked ?? ''}
      />
      {item.looked === 'left alone' && (
        <TextField
          {...at}
          label="Left alone because"
          place={`${itemPlace(item)}_because`}
          field="because"
          limit={500}
          read={(visit) => held(visit)?.because ?? ''}
        />
      )}
      {seen && known.measure && <Readings item={item} known={known} measure={known.measure} />}
      {seen && known.rings && <Rings item={item} />}
      {seen && (
        <SavedChoice
          {...at}
          label={`${name}: grade`}
          place={`${itemPlace(item)}_grade`}
          field="grade"
          compact
          options={Object.keys(known.grades).map((word) => ({ value: word, name: word }))}
          none={{ name: 'Clear the grade', value: '' }}
          read={(visit) => held(visit)?.grade ?? ''}
        />
      )}
      {item.grade === 'oily' && <Note item={item} name={name} label="Where the oil comes from" />}
      {item.finding && <Decided item={item} />}
      <EatsWhat item={item} />
      {item.alternatives.length > 0 && <Alternatives item={item} />}
      {seen && (
        <details open={Boolean(item.compared || item.note || item.overruled) || undefined}>
          <summary className="flex min-h-11 cursor-pointer items-center text-sm text-quiet underline underline-offset-4">
            Beside a new one, note, photo, another decision, limit
          </summary>
          <div className="space-y-3 pt-1">
            <SavedChoice
              {...at}
              label={`${name}: compared`}
              place={`${itemPlace(item)}_compared`}
              field="compared"
              options={COMPARED}
              none={{ name: 'Clear the comparison', value: '' }}
              read={(visit) => held(visit)?.compared ?? ''}
            />
            {item.grade !== 'oily' && <Note item={item} name={name} label="Note" />}
            <div>
              <p className="mb-1 text-sm text-quiet">Decide otherwise than Jaxel</p>
              <SavedChoice
                {...at}
                label={`${name}: decision`}
                place={`${itemPlace(item)}_overruled`}
                field="overruled"
                options={FINDINGS}
                none={{ name: 'As Jaxel decides', value: null }}
                read={(visit) => held(visit)?.overruled ?? null}
              />
            </div>
            {item.overruled && (
              <TextField
                {...at}
                label="Because"
                called={`${name}: why overruled`}
                place={`${itemPlace(item)}_reason`}
                field="reason"
                limit={500}
                read={(visit) => held(visit)?.reason ?? ''}
              />
            )}
            {known.measure && <OwnLimit kind={kind} known={known} />}
            <PhotoRow visit={visit} subject={`${item.side}.${item.key}`} words={known.name.toLowerCase()} />
          </div>
        </details>
      )}
    </article>
  )
}

function Note({ item, name, label }: { item: ItemView; name: string; label: string }) {
  return (
    <TextField
      station="strip"
      path={itemPath(item)}
      label={label}
      called={`${name}: note`}
      place={`${itemPlace(item)}_note`}
      field="note"
      limit={500}
      read={(visit) => find(item)(visit)?.note ?? ''}
    />
  )
}

function Readings({
  item,
  known,
  measure,
}: {
  item: ItemView
  known: WearItem
  measure: NonNullable<WearItem['measure']>
}) {
  const held = find(item)
  return (
    <div>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(7.5rem,1fr))] gap-2">
        {Array.from({ length: countOf(known) }, (_, place) => {
          const letter = placeName(known, place)
          return (
            <NumberField
              // biome-ignore lint/suspicious/noArrayIndexKey: a place is its number
              key={place}
              label={letter ? `${measure.name} ${letter}` : measure.name}
              called={`${ofSide(known.name, item.side)}, ${measure.name} ${letter}`.trim()}
              unit={measure.unit}
              place={`${itemPlace(item)}_${place}`}
              field={`${itemPlace(item)}_${place}`}
              station="strip"
              path={`${itemPath(item)}/reading`}
              method="PUT"
              around={{ place }}
              only
              walk={`item ${itemPlace(item)}`}
              read={(visit) => held(visit)?.readings[place] ?? null}
            />
          )
        })}
        <p className={`text-sm leading-snug text-quiet ${item.limit ? 'self-end pb-2' : 'col-span-full'}`}>
          {item.limit ? (
            <>
              limit{' '}
              <span className={`reading ${item.limit.own ? 'font-semibold text-ink' : ''}`}>
                {told(item.limit.value, measure.unit)}
              </span>
              , {item.limit.origin}
            </>
          ) : (
            'no limit is stated for this machine'
          )}
          {!item.limit &&
            item.offered.map((each) => (
              <span key={each.whose + each.value} className="block" data-offered>
                {each.whose}: <span className="reading">{told(each.value, measure.unit)}</span>, not this one’s
              </span>
            ))}
        </p>{' '}
        {item.takes && <TakeIn item={item} />}
      </div>
    </div>
  )
}

/** Measured once: what was read becomes the set-up's number, known as measured. */
function TakeIn({ item }: { item: ItemView }) {
  const { closed } = useDesk()
  const take = useVisitAct({
    station: 'strip',
    place: `${itemPlace(item)} taken`,
    label: `${item.name}: into the set-up`,
    path: `${itemPath(item)}/take`,
    body: () => ({}),
    said: 'In the set-up, as measured.',
  })
  if (closed) return null
  return (
    <div className="col-span-full">
      <Button look="plain" action={take}>
        Take it into the set-up, as measured
      </Button>
      <Done action={take} />
    </div>
  )
}

const RINGS = ['hub', 'inner', 'middle', 'outer', 'rim']
const SCORES = [
  { value: '0', name: 'even' },
  { value: '1', name: 'mark' },
  { value: '2', name: 'groove' },
  { value: '3', name: 'deep' },
] as const

/** A face in rings, hub to rim, each with where on the road a groove there is felt. */
function Rings({ item }: { item: ItemView }) {
  const { visit } = useDesk()
  const held = find(item)
  const felt = useQuery({
    queryKey: ['felt', visit.id, visit.found?.key],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/strip/felt', { params: { path: { visit_id: visit.id } } })),
    enabled: visit.found != null,
    retry: false,
  }).data?.[item.side]
  return (
    <ol className="space-y-1">
      {RINGS.map((ring, place) => {
        const where = felt?.[place]
        return (
          <li key={ring} className="grid grid-cols-[10.5rem_minmax(0,1fr)] items-center gap-x-2 max-sm:grid-cols-1">
            <span>
              <b>{ring}</b>{' '}
              {where?.ratio_from != null && where.ratio_to != null && (
                <span className="reading text-xs whitespace-nowrap text-quiet">
                  ratio {figure(where.ratio_from, 1)}–{figure(where.ratio_to, 1)}
                </span>
              )}
              <span className="reading block text-xs text-quiet">
                {where?.kph_from != null && where.kph_to != null
                  ? `felt ${figure(inShown(where.kph_from, 'km/h'), 0)}–${told(where.kph_to, 'km/h')}`
                  : ''}
              </span>
            </span>
            <SavedChoice
              station="strip"
              path={`${itemPath(item)}/ring`}
              method="PUT"
              around={{ place }}
              only
              compact
              label={`${ring} of the face`}
              place={`${itemPlace(item)}_ring_${place}`}
              field={`${itemPlace(item)}_${place}`}
              options={SCORES}
              none={{ name: `Clear the ${ring}`, value: null }}
              send={(value) => (value === null ? null : Number(value))}
              read={(visit_) => held(visit_)?.rings[place] ?? null}
            />
          </li>
        )
      })}
    </ol>
  )
}

const TINT: Record<string, string> = { keep: 'border-keep', watch: 'border-watch', replace: 'border-replace' }

function Decided({ item }: { item: ItemView }) {
  const decision = item.decision ?? item.finding ?? 'keep'
  const check = item.check
  const when = check && [
    check.km != null && `at ${told(check.km, 'km')}`,
    check.h != null && `at ${figure(check.h, 0)} h`,
    check.season && 'before the next season',
  ]
  return (
    <div
      className={`flex items-start gap-3 border-l-4 py-1 pl-3 ${TINT[decision]}`}
      aria-live="polite"
      data-decision={decision}
    >
      <FindingMark finding={decision} />
      <div className="min-w-0">
        <p>
          <b className="capitalize">{decision}.</b> {item.sentences.join(' ')}
        </p>
        {item.overruled && item.finding !== item.overruled && (
          <p className="text-sm">
            Jaxel says <b>{item.finding}</b>; overruled{item.reason ? `: ${item.reason}` : ''}.
          </p>
        )}
        {item.open && <p className="text-sm font-semibold text-signal-words">Open: {item.open}.</p>}
        {when && (
          <p className="text-sm text-quiet">
            Look again {when.filter(Boolean).join(' or ')}
            {when.filter(Boolean).length > 1 && ', whichever comes first'}.
          </p>
        )}
        {item.waiting.length > 0 && (
          <div className="text-sm" data-waiting>
            <p className="text-quiet">What waiting may cost</p>
            <ul>
              {item.waiting.map((words) => (
                <li key={words}>{words}.</li>
              ))}
            </ul>
          </div>
        )}
      </div>
    </div>
  )
}
