// Engine or clutch: what the log says is at fault, how sure that is, why, and what would settle it.
import type { RunLogView, VisitView } from '../../../api/server/client'
import { figure } from '../../../parts/format'
import { FindingMark } from '../../../parts/marks'
import { type Run, useVerdict } from '../log'

const FINDING: Record<string, 'keep' | 'watch' | 'replace'> = {
  'nothing amiss': 'keep',
  'cannot be told': 'watch',
}

const EDGE = { keep: 'border-keep', watch: 'border-watch', replace: 'border-replace' } as const

const share = (chance: number) => `${Math.round(100 * chance)} %`

export function VerdictCard({ visit, run, log }: { visit: VisitView; run: Run; log: RunLogView }) {
  const told = useVerdict(visit, run, log)
  if (!told) return null
  const found = told.verdict
  if (!found)
    return (
      <p className="border-l-4 border-line bg-card px-4 py-2 text-sm text-quiet" data-verdict="none">
        Engine or clutch cannot be told: its pull could not be simulated, or is still being.
      </p>
    )
  const finding = FINDING[found.kind] ?? 'replace'
  const others = found.chances.filter((each) => each.kind !== found.kind && each.chance >= 0.05)
  return (
    <section
      aria-label="Engine or clutch"
      data-verdict={found.kind}
      className={`border-l-4 bg-card px-4 py-2 ${EDGE[finding]}`}
    >
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h3 className="flex items-center gap-2 text-lg font-bold">
          <FindingMark finding={finding} size={16} />
          {found.name}
        </h3>
        {found.kind !== 'cannot be told' && (
          <span className="reading ml-auto text-sm">
            {found.sure ? 'sure, ' : 'likely, '}
            {share(found.probability)}
          </span>
        )}
      </div>
      <p className="text-sm">{found.reasons.join(' ')}</p>
      <table className="mt-1 w-full text-sm" aria-label="The gearing">
        <thead className="text-right text-quiet">
          <tr>
            <th className="text-left font-normal">engine over secondary</th>
            <th className="font-normal">reached</th>
            <th className="font-normal">this belt</th>
            <th className="font-normal">a new belt</th>
          </tr>
        </thead>
        <tbody>
          {(
            [
              ['Low ratio', found.low, 2],
              ['Top ratio', found.high, 3],
            ] as const
          ).map(([name, gear, digits]) => (
            <tr key={name} className="border-t border-line">
              <th scope="row" className="text-left font-normal">
                {name}
              </th>
              <td className="reading text-right font-semibold">
                {gear.reached == null ? (
                  <span className="font-sans font-normal text-quiet">not read</span>
                ) : (
                  figure(gear.reached, digits)
                )}
              </td>
              <td className="reading text-right">{figure(gear.belt, digits)}</td>
              <td className="reading text-right text-quiet">{figure(gear.new, digits)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {others.length > 0 && (
        <p className="mt-1 text-sm text-quiet">
          {found.kind === 'cannot be told' ? 'It may be: ' : 'Else: '}
          {others.map((each) => `${each.name.toLowerCase()} ${share(each.chance)}`).join(' · ')}
        </p>
      )}
      {found.settle.length > 0 && (
        <details className="text-sm">
          <summary className="flex min-h-11 cursor-pointer items-center">What would settle it</summary>
          <ul className="list-disc pb-1 pl-5">
            {found.settle.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}
