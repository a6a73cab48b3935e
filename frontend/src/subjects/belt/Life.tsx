// The belt's width through its life, and how its wear compares with other belts.
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, type BeltLifeView, must } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { Heading } from '../../parts/Caution'
import { told } from '../../parts/format'
import { Left, TrendPlot, wearRate } from './TrendPlot'

export function useLife(beltId: number, edit = 0) {
  return useQuery({
    queryKey: ['belt', beltId, edit],
    queryFn: () => must(api.GET('/api/belts/{belt_id}', { params: { path: { belt_id: beltId } } })),
    placeholderData: (last) => last,
  }).data
}

/** A standing start on this belt and on a new one: asked for apart, the pulls take their time. */
export function useStart(beltId: number, width: number | undefined) {
  return useQuery({
    queryKey: ['belt-start', beltId, width],
    queryFn: () => must(api.GET('/api/belts/{belt_id}/start', { params: { path: { belt_id: beltId } } })),
    enabled: width !== undefined,
    placeholderData: (last) => last,
  }).data
}

/** The trend of the belt as found; `otherwise` while its width is known at one distance only. */
export function Life({ otherwise }: { otherwise: React.ReactNode }) {
  const { visit } = useDesk()
  const life = useLife(visit.belt.id, visit.edit)
  // The room it will take, so that nothing jumps when it comes.
  if (!life) return <div className="h-80" />
  if (!life.trend && !life.no_trend) return otherwise
  return (
    <section aria-label="Width through its life">
      <Heading
        aside={
          <Link to={`/belts/${life.id}`} className="inline-flex min-h-11 items-center underline underline-offset-4">
            belt {life.number}, its page and label
          </Link>
        }
      >
        Width through its life
      </Heading>
      <TrendPlot life={life} now={visit.id} />
      <Left life={life} />
    </section>
  )
}

/** Wear of other belts, and what differed. */
export function Others({ life }: { life: BeltLifeView }) {
  if (life.others.length === 0) return null
  return (
    <section>
      <Heading>Wear of other belts</Heading>
      <table className="stack w-full text-sm">
        <thead className="text-left text-quiet">
          <tr>
            <th className="font-normal">belt</th>
            <th className="pr-4 text-right font-normal">wear</th>
            <th className="font-normal">riding</th>
            <th className="font-normal">at walking pace</th>
            <th className="font-normal">tyre or track</th>
          </tr>
        </thead>
        <tbody>
          {life.others.map((other) => (
            <tr key={other.id} className="border-t border-line">
              <td className="py-1.5" data-label="belt">
                <Link
                  to={`/belts/${other.id}`}
                  className="inline-flex min-h-11 min-w-11 items-center underline underline-offset-4"
                >
                  No. {other.number}, {other.machine_id === life.machine_id ? 'this machine' : other.machine}
                </Link>
              </td>
              <td className="reading py-1.5 pr-4 text-right" data-label="wear">
                {wearRate(other.wear_mm_per_1000, other.unit)}, over {told(other.use, other.unit)}
              </td>
              <td className="py-1.5 pr-4" data-label="riding">
                {other.riding || '–'}
              </td>
              <td className="py-1.5 pr-4" data-label="at walking pace">
                {other.walking_range || '–'}
              </td>
              <td className="py-1.5" data-label="tyre or track">
                {other.tyre || '–'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
