// Where a predicted figure comes from: the formula by name, what makes up its ±, and how each number is known.
import { useQuery } from '@tanstack/react-query'
import { api, must, type VisitView } from '../../api/server/client'
import { Term } from './Term'

const MOST = 5
const LEAST_SHARE = 0.01

export function WhereFrom({ visit, figure }: { visit: VisitView; figure: string }) {
  const { data } = useQuery({
    queryKey: ['where-from', visit.id, visit.left?.key],
    queryFn: () =>
      must(api.GET('/api/visits/{visit_id}/setup/where-from', { params: { path: { visit_id: visit.id } } })),
    enabled: visit.left != null,
  })
  if (visit.left == null) return null
  const share = figure === 'engagement' || figure === 'shift' ? figure : undefined
  const under = (data?.shares ?? []).filter((each) => each.of.some((of) => of === figure))
  const shares = share
    ? under.filter((each) => each[share] >= LEAST_SHARE).sort((one, other) => other[share] - one[share])
    : under
  return (
    <section aria-label="Where from?" data-where-from={figure} className="mt-2 border-t border-line pt-2">
      <h3 className="font-bold">Where from?</h3>
      {!data ? (
        <p className="text-quiet">Working it out…</p>
      ) : (
        <>
          <p>Computed: {data.formulas[figure]}.</p>
          {!data.evidenced && (
            <p className="mt-1.5 text-quiet">Its numbers stand as exact: nobody said how they are known.</p>
          )}
          {shares.length > 0 && (
            <>
              <p className="mt-1.5 text-quiet">
                {share ? 'What makes up its ±' : 'What it stands on'}
                {share && data.calibrated && ', before its runs narrowed it'}
              </p>
              <table className="w-full">
                <tbody>
                  {shares.slice(0, MOST).map((each) => (
                    <tr key={each.name} className="border-t border-line align-baseline">
                      <td className="py-0.5 pr-2">
                        {each.name}
                        <span className="block text-xs text-quiet">
                          {each.value} · {each.origin}
                        </span>
                      </td>
                      {share && (
                        <td className="reading py-0.5 text-right font-semibold">{Math.round(each[share] * 100)} %</td>
                      )}
                    </tr>
                  ))}
                </tbody>
              </table>
            </>
          )}
        </>
      )}
    </section>
  )
}

interface FigureTermProps {
  visit: VisitView
  /** Its key among the formulas, and in the glossary where it stands there. */
  figure: string
  className?: string
  children: React.ReactNode
}

/** A predicted figure's name: touched, it says what it means and where it comes from. */
export function FigureTerm({ visit, figure, className, children }: FigureTermProps) {
  return (
    <Term term={figure} more={<WhereFrom visit={visit} figure={figure} />} className={className}>
      {children}
    </Term>
  )
}
