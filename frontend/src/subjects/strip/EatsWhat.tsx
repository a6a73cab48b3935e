// What eats what: the chain an item stands in, from what may have worn it to what it wears, and the belt at its end.
import { Link } from 'react-router'
import type { ItemView } from '../../api/server/client'
import { FindingMark, StateMark } from '../../parts/marks'
import { itemPlace } from './item'

const BOX = 'flex min-h-11 items-center gap-1.5 rounded-md border-2 px-2 text-sm leading-tight'

export function EatsWhat({ item }: { item: ItemView }) {
  const { chain } = item
  if (!chain) return null
  const link = (each: (typeof chain.before)[number]) => (
    <Link
      to={`#${itemPlace({ side: item.side, key: each.key })}`}
      replace
      className={`${BOX} border-line hover:border-ink`}
    >
      <Mark decision={each.decision} />
      {each.name}
    </Link>
  )
  return (
    <section aria-label="What wears what" data-chain>
      <p className="text-sm text-quiet">What wears what: look along it before this one is closed</p>
      <ol className="flex flex-wrap items-center gap-1">
        {chain.before.map((each) => (
          <li key={each.key} className="flex items-center gap-1">
            {link(each)}
            <Arrow />
          </li>
        ))}
        <li className={`${BOX} border-signal bg-card font-bold`} aria-current="true">
          <Mark decision={item.decision ?? ''} />
          {item.name}
        </li>
        {chain.after.map((each) => (
          <li key={each.key} className="flex items-center gap-1">
            <Arrow />
            {link(each)}
          </li>
        ))}
        {chain.belt && (
          <li className="flex items-center gap-1">
            <Arrow />
            <span className={`${BOX} border-line`}>the next belt</span>
          </li>
        )}
      </ol>
    </section>
  )
}

const Arrow = () => (
  <span aria-hidden="true" className="text-quiet">
    →
  </span>
)

function Mark({ decision }: { decision: string }) {
  return decision === 'keep' || decision === 'watch' || decision === 'replace' ? (
    <FindingMark finding={decision} size={14} />
  ) : (
    <StateMark state="to do" />
  )
}
