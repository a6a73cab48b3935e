// A set that must weigh alike: each piece on the scale, what is out of balance at shift rpm, and who goes where.
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { NumberField } from '../../parts/field/Field'
import { figure, reading, told, unitName } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { type MatchedView, stepOf } from './step'

const LETTERS = 'ABCDEFGHIJKL'

/** Weighed once: what the scale said becomes the set-up's number, known as measured. */
function TakeIn({ side, matched }: { side: string; matched: MatchedView }) {
  const { closed } = useDesk()
  const take = useVisitAct({
    station: 'rebuild',
    place: `${side}.${matched.key} taken`,
    label: `${matched.name}: into the set-up`,
    path: `/rebuild/matched/${side}/${matched.key}/take`,
    body: () => ({}),
    said: 'In the set-up, as measured.',
  })
  const whole = matched.masses_g.length > 0 && matched.masses_g.every((each) => each != null)
  const differs =
    matched.mean_g != null && matched.expected_g != null && Math.abs(matched.mean_g - matched.expected_g) > 0.05
  if (closed || !whole || !differs) return null
  return (
    <div>
      <Button look="plain" action={take}>
        Take {reading(matched.mean_g, 'g', 1)} g into the set-up, as measured
      </Button>
      <Done action={take} />
    </div>
  )
}

interface WeighedProps {
  side: string
  matched: MatchedView
  place: string
}

export function Weighed({ side, matched, place }: WeighedProps) {
  const { visit } = useDesk()
  const balance = visit.rebuild.balance.find((each) => each.side === side)
  const at = { station: 'rebuild', method: 'PUT' as const, only: true }
  const mine = (now: typeof visit) => stepOf(now, place)?.matched.find((each) => each.key === matched.key)
  return (
    <section aria-label={`${matched.name}, weighed`} className="space-y-2 border-t border-line pt-2">
      <h3 className="flex flex-wrap items-baseline justify-between gap-x-4">
        <span className="font-semibold">{matched.name}, one by one</span>
        <span className="text-sm text-quiet">
          within {reading(matched.allowed_g, 'g')} g
          {matched.expected_g != null && ` · the set-up says ${reading(matched.expected_g, 'g', 1)} g`}
        </span>
      </h3>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(7.5rem,1fr))] gap-2">
        {Array.from({ length: matched.count }, (_, index) => (
          <NumberField
            {...at}
            key={LETTERS[index]}
            path={`/rebuild/matched/${side}/${matched.key}/mass`}
            around={{ place: index }}
            label={LETTERS[index] ?? ''}
            called={`${matched.name}, ${LETTERS[index]}`}
            unit="g"
            place={`${place}.${matched.key}_${index}`}
            field={`${side}_${matched.key}_${index}`}
            walk={matched.key}
            read={(now) => mine(now)?.masses_g[index] ?? null}
          />
        ))}
        {matched.of === 'rollers' && (
          <NumberField
            {...at}
            path={`/rebuild/matched/${side}/${matched.key}/radius`}
            label="Their radius"
            called={`${matched.name}: radius`}
            unit="mm"
            place={`${place}.${matched.key}_radius`}
            field={`${side}_${matched.key}_radius`}
            hint={matched.radius_measured ? undefined : 'as the arms’ until measured'}
            read={(now) => (mine(now)?.radius_measured ? mine(now)?.radius_mm : null)}
          />
        )}
      </div>
      <TakeIn side={side} matched={matched} />
      {matched.spread_g != null && (
        <p className="flex items-center gap-2" data-spread>
          <FindingMark finding={matched.alike ? 'keep' : 'replace'} size={16} />
          <span>
            {matched.alike ? 'All alike' : 'Not alike'},{' '}
            <span className="reading">{reading(matched.spread_g, 'g')} g</span> from lightest to heaviest
          </span>
        </p>
      )}
      {balance && matched.spread_g != null && matched.of === 'weights' && (
        <p className="text-sm leading-snug" data-force>
          Out of balance by <span className="reading">{figure(balance.unbalance_gmm, 0)}</span> g·mm: it pulls round
          with{' '}
          <b>
            <span className="reading">{reading(balance.force_n, 'N')}</span> {unitName('N')}
          </b>{' '}
          at the shift, {told(balance.rpm, 'rpm')}: {balance.pictured}.
          {balance.best_gmm < balance.unbalance_gmm - 0.5 && (
            <>
              {' '}
              Least with{' '}
              <b data-pairing>
                {balance.arms
                  .map((arm, index) =>
                    balance.rollers.length > 0
                      ? `${LETTERS[arm]}–${LETTERS[balance.rollers[index] ?? 0]}`
                      : LETTERS[arm],
                  )
                  .join(', ')}
              </b>{' '}
              round the circle{balance.rollers.length > 0 && ', arm with roller'}:{' '}
              <span className="reading">{reading(balance.best_n, 'N')}</span> {unitName('N')}.
            </>
          )}
        </p>
      )}
    </section>
  )
}
