// Another belt tried on screen before it is fitted: what its width and length would do in this set-up.
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api, must } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { useDesk } from '../../api/visit/desk'
import { Button, Refused } from '../../parts/Button'
import { reading, unitName } from '../../parts/format'

const FIELD = 'mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3 text-base text-ink focus:border-signal'

export function Substitute() {
  const { visit } = useDesk()
  const [width, wide] = useState('')
  const [round, long] = useState('')
  const trial = useMutation({
    mutationFn: () =>
      must(
        api.POST('/api/visits/{visit_id}/belt/substitute', {
          params: { path: { visit_id: visit.id } },
          body: {
            width_mm: width.trim() ? withUnit(width, 'mm') : null,
            round_mm: round.trim() ? withUnit(round, 'mm') : null,
          },
        }),
      ),
  })
  return (
    <details>
      <summary className="flex min-h-11 cursor-pointer items-center font-bold">Try another belt on screen</summary>
      <form
        className="grid grid-cols-[1fr_1fr_auto] items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          trial.mutate()
        }}
      >
        <label className="text-sm text-quiet">
          Its width, {unitName('mm')}
          <input
            value={width}
            maxLength={20}
            placeholder="as here"
            onChange={(event) => wide(event.target.value)}
            className={`reading ${FIELD}`}
          />
        </label>
        <label className="text-sm text-quiet">
          Round the outside, {unitName('mm')}
          <input
            value={round}
            maxLength={20}
            placeholder="as here"
            onChange={(event) => long(event.target.value)}
            className={`reading ${FIELD}`}
          />
        </label>
        <Button submits>Try it</Button>
      </form>
      <Refused className="mt-2">{trial.error?.message ?? ''}</Refused>
      {trial.data && (
        <table className="mt-2 w-full text-sm" data-substitute>
          <thead className="text-right text-quiet">
            <tr>
              <th className="text-left font-normal">
                <span className="sr-only">Figure</span>
              </th>
              <th className="font-normal">this belt</th>
              <th className="font-normal">the other</th>
            </tr>
          </thead>
          <tbody>
            {trial.data.rows.map((row) => (
              <tr key={row.name} className="border-t border-line">
                <td className="py-1">
                  {row.name} <span className="text-quiet">{unitName(row.unit)}</span>
                </td>
                <td className="reading text-right text-quiet">{reading(row.now, row.unit)}</td>
                <td className="reading text-right font-semibold" data-tried={row.name}>
                  {reading(row.new, row.unit)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  )
}
