// Ways to put an item right, side by side: what each costs now and next time, how long it takes, what the manual says.
import type { ItemView } from '../../api/server/client'
import { useVisitField } from '../../api/visit/desk'
import { Remark } from '../../parts/field/Field'
import { figure, told } from '../../parts/format'
import { itemPath, itemPlace } from './item'

export function Alternatives({ item }: { item: ItemView }) {
  const saved = useVisitField({
    station: 'strip',
    path: itemPath(item),
    label: 'Put right by',
    place: `${itemPlace(item)}_remedy`,
    field: 'remedy',
    read: (visit) => visit.strip.items.find((each) => each.side === item.side && each.key === item.key)?.remedy ?? '',
  })
  return (
    <div>
      <div className="grid gap-2 sm:grid-cols-2" role="radiogroup" aria-label="Put right by">
        {item.alternatives.map((way) => (
          // biome-ignore lint/a11y/useSemanticElements: a card of figures, pressed as a whole
          <button
            key={way.key}
            type="button"
            role="radio"
            aria-checked={saved.text === way.key}
            disabled={saved.closed}
            onClick={() => saved.choose(way.key)}
            className="flex flex-col justify-start rounded-md border-2 border-line p-3 text-left hover:border-ink aria-checked:border-signal"
          >
            <span className="flex justify-between gap-2 font-semibold">
              {way.name}
              <span className="reading text-lg">{way.now == null ? '–' : figure(way.now, 2)}</span>
            </span>
            <span className="block text-sm text-quiet">
              {way.lines.map((line) => (
                <span key={line.kind} className="block">
                  {line.kind} ×{line.pieces}
                  {line.pack != null &&
                    line.pack > 1 &&
                    `: ${line.packs} ${line.packs > 1 ? 'packs' : 'pack'} of ${line.pack}`}
                  {line.price != null && `, ${figure(line.price, 2)}`}
                </span>
              ))}
              {way.tool && (
                <span className="block">
                  {way.tool}
                  {way.tool_price != null
                    ? ` ${figure(way.tool_price, 2)}, once`
                    : way.lacks.includes(way.tool)
                      ? ', price not known'
                      : ', at hand'}
                </span>
              )}
              <span className="block">
                {way.minutes} min · {way.manual}
              </span>
              {way.next_time != null && way.next_time !== way.now && (
                <span className="block">next time {figure(way.next_time, 2)}</span>
              )}
              {way.life_km != null && <span className="block">lasts about {told(way.life_km, 'km')}</span>}
              {way.lacks.length > 0 && <span className="block">price not known: {way.lacks.join(', ')}</span>}
            </span>
          </button>
        ))}
      </div>
      <Remark saved={saved} id={`remedy-${itemPlace(item)}`} />
    </div>
  )
}
