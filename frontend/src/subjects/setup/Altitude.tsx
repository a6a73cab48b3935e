// The glovebox card: what one slot must hold at each altitude for the target shift; printed, or as a table file.
import { useQuery } from '@tanstack/react-query'
import { Printer } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, must, type VisitView } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { buttonLook } from '../../parts/Button'
import { figure, reading, unitName } from '../../parts/format'

export function useAltitude(visit: Pick<VisitView, 'id' | 'left'>, slot: string, at = '') {
  return useQuery({
    queryKey: ['altitude', visit.id, visit.left?.key, slot, at],
    queryFn: () =>
      must(
        api.GET('/api/visits/{visit_id}/setup/altitude', {
          params: { path: { visit_id: visit.id }, query: { slot, ...(at && { at }) } },
        }),
      ),
    placeholderData: (last) => last,
    retry: false,
  })
}

export function Altitude() {
  const { visit } = useDesk()
  const [slot, choose] = useState('arms')
  const { data, error } = useAltitude(visit, slot)
  return (
    <div className="space-y-2 text-sm">
      <div className="flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2">
          Held by
          <select
            value={slot}
            onChange={(event) => choose(event.target.value)}
            className="h-11 rounded-md border-2 border-line bg-card px-2"
          >
            {Object.entries(data?.slots ?? { arms: 'Arms' }).map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <Link to={`/visits/${visit.id}/altitude-card?slot=${encodeURIComponent(slot)}`} className={buttonLook('plain')}>
          <Printer size={18} aria-hidden="true" /> Card to print
        </Link>
        <a
          href={`/api/visits/${visit.id}/setup/altitude.csv?slot=${encodeURIComponent(slot)}`}
          className="min-h-11 content-center underline underline-offset-4"
        >
          as a table file (CSV)
        </a>
      </div>
      {error ? (
        <p role="alert" className="text-replace">
          {error.message}
        </p>
      ) : (
        data && <AltitudeTable table={data.table} name={data.slots[data.table.slot] ?? data.table.slot} />
      )}
    </div>
  )
}

interface TableProps {
  table: NonNullable<ReturnType<typeof useAltitude>['data']>['table']
  name: string
  /** A height asked for: its row stands out. */
  also?: number | null
}

export function AltitudeTable({ table, name, also }: TableProps) {
  return (
    <table className="w-full text-right" data-altitude>
      <thead className="text-quiet">
        <tr>
          <th className="font-normal">altitude, {unitName('m')}</th>
          <th className="font-normal">air, {unitName('°C')}</th>
          <th className="font-normal">power</th>
          <th className="font-normal">
            {name.toLowerCase()}
            {table.unit && `, ${table.unit}`}
          </th>
          <th className="font-normal">engages</th>
          <th className="font-normal">shifts, rpm</th>
        </tr>
      </thead>
      <tbody className="reading">
        {table.rows.map((row) => (
          <tr
            key={row.elevation_m}
            className={`border-t border-line ${row.elevation_m === also ? 'bg-band font-semibold' : ''}`}
          >
            <td>{reading(row.elevation_m, 'm')}</td>
            <td>{reading(row.temperature_c, '°C')}</td>
            <td>{figure(row.power_factor * 100, 0)} %</td>
            <td className="font-semibold">
              {row.value == null ? 'none holds it' : figure(row.value, table.unit ? 1 : 0)}
            </td>
            <td>{row.engagement_rpm == null ? '–' : figure(row.engagement_rpm, 0)}</td>
            <td>{row.shift_mean_rpm == null ? '–' : figure(row.shift_mean_rpm, 0)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
