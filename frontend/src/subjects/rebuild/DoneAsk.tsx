// What was done about what was decided to be replaced: asked once, where the part goes back.
import { SavedChoice } from '../../parts/field/Choice'
import { NumberField, TextField } from '../../parts/field/Field'
import { Tick } from '../../parts/field/Tick'
import { figure } from '../../parts/format'
import { type RightedView, righted, type StepView } from './step'

const WAYS: Record<string, string> = {
  new: 'New fitted',
  used: 'Used fitted',
  dressed: 'Cleaned, dressed',
  'not done': 'Not done',
}

const WHYS = [
  { value: 'not in stock', name: 'Not in stock' },
  { value: 'told, rider goes on', name: 'Told, rider goes on' },
  { value: 'next time', name: 'Next time' },
  { value: 'other', name: 'Other' },
] as const

const FOUND = [
  { value: 'all', name: 'All found' },
  { value: 'not all', name: 'Not all' },
  { value: 'none', name: 'None found' },
] as const

export function DoneAsk({ step, each }: { step: StepView; each: RightedView }) {
  const { done } = each
  const place = `${step.place}.${each.item}`
  const at = { station: 'rebuild', path: `/rebuild/items/${each.side}/${each.item}` } as const
  const fitted = done.how === 'new' || done.how === 'used'
  const title = each.name.charAt(0).toUpperCase() + each.name.slice(1)
  return (
    <section
      aria-label={`Done about ${each.name}`}
      className={`space-y-2 rounded-md border-2 p-3 ${each.open.length > 0 ? 'border-signal' : 'border-line'}`}
    >
      <h3 className="flex flex-wrap justify-between gap-x-3">
        <span>
          <b>{title}</b>:{' '}
          {each.decided ? 'replace was decided. What was done?' : 'decided otherwise since; this was done'}
        </span>
        <span className="text-sm text-quiet">takes {each.wanted}</span>
      </h3>
      <SavedChoice
        {...at}
        label={`${title}: what was done`}
        place={`${place}.how`}
        field="how"
        compact
        options={each.ways.filter(Boolean).map((way) => ({ value: way, name: WAYS[way] ?? way }))}
        none={{ name: 'Not said yet', value: '' }}
        read={(now) => righted(now, each)?.done.how ?? ''}
      />
      {fitted && (
        <div className="grid items-end gap-3 sm:grid-cols-[1fr_9rem]">
          <div>
            <TextField
              {...at}
              label="Number"
              called={`${title}: number fitted`}
              place={`${place}.number`}
              field="number"
              limit={60}
              read={(now) => righted(now, each)?.done.number ?? ''}
            />
          </div>
          <NumberField
            {...at}
            label="Price of all"
            called={`${title}: price`}
            place={`${place}.price`}
            field="price"
            read={(now) => righted(now, each)?.done.price}
          />
        </div>
      )}
      {done.how === 'new' && each.offers.length > 0 && !done.number && (
        <SavedChoice
          {...at}
          label={`${title}: from the shelf`}
          place={`${place}.shelf`}
          field="number"
          compact
          options={each.offers.slice(0, 4).map((offer) => ({
            value: offer.number,
            name: [
              offer.number,
              offer.at_hand != null && `${offer.at_hand} at hand`,
              offer.price != null && `${figure(offer.price, 2)}${offer.pack > 1 ? ` for ${offer.pack}` : ''}`,
            ]
              .filter(Boolean)
              .join(' · '),
          }))}
          read={(now) => righted(now, each)?.done.number ?? ''}
        />
      )}
      {done.how === 'not done' && (
        <>
          <SavedChoice
            {...at}
            label={`${title}: why it was not done`}
            place={`${place}.why`}
            field="why"
            compact
            options={WHYS}
            none={{ name: 'Not said yet', value: '' }}
            read={(now) => righted(now, each)?.done.why ?? ''}
          />
          {(done.why === 'other' || done.because) && (
            <TextField
              {...at}
              label="Because"
              called={`${title}: why it was not done, in words`}
              place={`${place}.because`}
              field="because"
              limit={500}
              read={(now) => righted(now, each)?.done.because ?? ''}
            />
          )}
          {done.why === 'not in stock' && (
            <p className="text-sm text-watch">
              The visit waits for it. To order: {each.wanted}
              {each.offers[0] && `, ${each.offers[0].number}`}.
            </p>
          )}
        </>
      )}
      {each.broke && (
        <div className="grid items-end gap-3 sm:grid-cols-[9rem_1fr]">
          <NumberField
            {...at}
            label="Pieces counted"
            called={`${title}: pieces counted`}
            place={`${place}.pieces`}
            field="pieces"
            read={(now) => righted(now, each)?.done.pieces}
          />
          <SavedChoice
            {...at}
            label={`${title}: pieces found`}
            place={`${place}.found`}
            field="found"
            compact
            options={FOUND}
            none={{ name: 'Not said yet', value: '' }}
            read={(now) => righted(now, each)?.done.found ?? ''}
          />
        </div>
      )}
      {each.new_sheave && fitted && (
        <>
          <Tick
            {...at}
            label="The new face is prepared: scuffed, degreased, dry"
            place={`${place}.prepared`}
            field="prepared"
            read={(now) => righted(now, each)?.done.prepared ?? false}
          />
          {each.old_belt && (
            <TextField
              {...at}
              label="A new sheave wants a new belt: why the old one goes back on"
              called={`${title}: why the old belt goes back on`}
              place={`${place}.old_belt`}
              field="old_belt"
              limit={500}
              read={(now) => righted(now, each)?.done.old_belt ?? ''}
            />
          )}
        </>
      )}
    </section>
  )
}
