// What to order for what was decided: pieces against packs.
import { useDesk } from '../../api/visit/desk'
import { Heading } from '../../parts/Caution'
import { figure } from '../../parts/format'

export function Order() {
  const { visit } = useDesk()
  const { parts, parts_price: price } = visit.strip
  if (parts.length === 0) return null
  return (
    <section aria-label="To order">
      <Heading
        aside={
          <a
            className="inline-flex min-h-11 min-w-11 items-center underline underline-offset-4"
            href={`/api/visits/${visit.id}/strip/parts.csv`}
            download
          >
            as CSV
          </a>
        }
      >
        To order <span className="reading">{price == null ? '' : figure(price, 2)}</span>
      </Heading>
      <table className="w-full text-sm">
        <thead className="text-left text-quiet">
          <tr>
            <th className="font-normal">part</th>
            <th className="text-right font-normal">pieces</th>
            <th className="text-right font-normal">packs</th>
            <th className="text-right font-normal">price</th>
          </tr>
        </thead>
        <tbody>
          {parts.map((line) => (
            <tr key={line.kind} className="border-t border-line align-top" data-order={line.kind}>
              <td className="py-1.5">
                {line.kind} <span className="text-quiet">{[line.number, line.make].filter(Boolean).join(', ')}</span>
                {line.supplier_note && <span className="block text-quiet">{line.supplier_note}</span>}
              </td>
              <td className="reading py-1.5 text-right">{line.pieces}</td>
              <td className="reading py-1.5 text-right font-semibold">
                {line.packs}
                {line.pack && line.pack > 1 && <span className="font-normal text-quiet"> of {line.pack}</span>}
              </td>
              <td className="reading py-1.5 text-right">{line.price == null ? 'not known' : figure(line.price, 2)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
