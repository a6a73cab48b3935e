// The same set-up elsewhere: another height, other air, tyre, gearing, power or airflow. Nothing of the visit is touched.
import { useQuery } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { api, must } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { useDesk } from '../../api/visit/desk'
import { figure, reading, told, typed, unitName } from '../../parts/format'
import { useSettled } from '../stranger/look'

const FIELDS = [
  { field: 'elevation_m', name: 'Altitude', unit: 'm' },
  { field: 'temperature_c', name: 'Air', unit: '°C' },
  { field: 'rolling_radius_mm', name: 'Tyre radius', unit: 'mm' },
  { field: 'drive_ratio', name: 'Final drive', unit: '' },
  { field: 'power_pct', name: 'Power', unit: '%' },
  { field: 'airflow_pct', name: 'Airflow', unit: '%' },
  { field: 'teeth_now', name: 'Teeth fitted', unit: '' },
  { field: 'teeth', name: 'Teeth tried', unit: '' },
] as const

type Field = (typeof FIELDS)[number]['field']

const ROWS = [
  { key: 'engagement_rpm', name: 'Engagement', unit: 'rpm', digits: 0 },
  { key: 'shift_rpm', name: 'Shift', unit: 'rpm', digits: 0 },
  { key: 'shift_sd_rpm', name: 'how sure, ±', unit: 'rpm', digits: 0 },
  { key: 'power_kw', name: 'Power at the crank', unit: 'kW', digits: 0 },
  { key: 'top_kph', name: 'Top of shift', unit: 'km/h', digits: 0 },
  { key: 'starting_gearing', name: 'Overall gearing, start', unit: '', digits: 2 },
  { key: 'overall_gearing', name: 'Overall gearing, top', unit: '', digits: 2 },
  { key: 'push', name: 'Push at the start, N per N·m', unit: '', digits: 1 },
  { key: 'least_grip', name: 'Least grip', unit: '', digits: 2 },
  { key: 'to_20_m_s', name: 'Off the line', unit: 's', digits: 2 },
  { key: 'belt_max_c', name: 'Hottest belt', unit: '°C', digits: 0 },
] as const

export function WhatIf() {
  const { visit } = useDesk()
  const id = useId()
  const [tried, setTried] = useState<Partial<Record<Field, string>>>({})
  const body = useSettled(
    Object.fromEntries(
      FIELDS.filter(({ field }) => tried[field]?.trim()).map(({ field, unit }) => [
        field,
        withUnit(tried[field] ?? '', unit),
      ]),
    ),
  )
  const query = useQuery({
    queryKey: ['what-if', visit.id, visit.left?.key, body],
    queryFn: () =>
      must(api.POST('/api/visits/{visit_id}/setup/what-if', { params: { path: { visit_id: visit.id } }, body })),
    placeholderData: (last) => last,
    retry: false,
  })
  const { data, error } = query
  const here: Partial<Record<Field, number>> = { ...data?.here, power_pct: 100, airflow_pct: 100 }
  const stronger = data ? data.tried.push / data.now.push - 1 : null
  return (
    <div className="grid gap-x-6 gap-y-2 md:grid-cols-2">
      <div className="grid grid-cols-3 content-start gap-2">
        {FIELDS.map(({ field, name, unit }) => (
          <label key={field} htmlFor={`${id}${field}`} className="text-sm text-quiet">
            {name}
            {unit && `, ${unitName(unit)}`}
            <input
              id={`${id}${field}`}
              value={tried[field] ?? ''}
              maxLength={20}
              placeholder={field.startsWith('teeth') ? 'as 10/46' : here[field] == null ? '' : typed(here[field], unit)}
              onChange={(event) => setTried({ ...tried, [field]: event.target.value })}
              className="reading mt-0.5 h-11 w-full rounded-md border-2 border-line bg-card px-1.5 text-base text-ink placeholder:text-sm placeholder:text-quiet"
            />
          </label>
        ))}
        {Object.values(tried).some(Boolean) && (
          <button
            type="button"
            className="col-span-3 min-h-11 text-left text-sm underline underline-offset-4"
            onClick={() => setTried({})}
          >
            Back to how it is
          </button>
        )}
      </div>
      <div className="text-sm">
        {error ? (
          <p role="alert" className="text-replace">
            {error.message}
          </p>
        ) : (
          <table className={`w-full ${query.isFetching ? 'opacity-60' : ''}`}>
            <thead className="text-right text-quiet">
              <tr>
                <th className="text-left font-normal">tried without touching the visit</th>
                <th className="font-normal">here</th>
                <th className="font-normal">there</th>
              </tr>
            </thead>
            <tbody>
              {ROWS.map(({ key, name, unit, digits }) => (
                <tr key={key} className="border-t border-line" data-what-if={key}>
                  <td>
                    {name}
                    {key === 'to_20_m_s' && `, ${told(20, 'm')}`}
                    {unit && `, ${unitName(unit)}`}
                  </td>
                  {[data?.now, data?.tried].map((each, side) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: here and there
                    <td key={side} className={`reading text-right ${side ? 'font-semibold' : 'text-quiet'}`}>
                      {each?.[key] == null
                        ? '–'
                        : unit && unit !== 's' && unit !== 'rpm'
                          ? reading(each[key], unit)
                          : figure(each[key], digits)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {data?.reached != null && (
          <p className="mt-1" data-reached>
            The last log reached an overall gearing of{' '}
            <span className="reading">
              {figure(data.reached, 2)} ± {figure(Math.max(0.01, data.reached_sd ?? 0), 2)}
            </span>
            ; belt and final drive promise <span className="reading">{figure(data.now.overall_gearing, 2)}</span> here
            {data.tried.overall_gearing !== data.now.overall_gearing && (
              <>
                , <span className="reading">{figure(data.tried.overall_gearing, 2)}</span> there
              </>
            )}
            .
          </p>
        )}
        {stronger != null && Math.abs(stronger) >= 0.05 && (
          <p className="mt-1 text-watch" data-launch>
            It pulls away {stronger > 0 ? 'stronger' : 'weaker'}, {figure(Math.abs(100 * stronger), 0)} %: tell the
            rider.
          </p>
        )}
        {data?.rule_teeth != null && (
          <p className="mt-1 text-quiet">
            Rule of thumb for a torque converter: output teeth × tyre in inches ÷ 3.17 ={' '}
            <span className="reading">{figure(data.rule_teeth, 0)}</span> at the rear; common practice, no source.
          </p>
        )}
        {data?.tried.warning && <p className="mt-1 text-watch">{data.tried.warning}</p>}
      </div>
    </div>
  )
}
