// Set-up: what the change in hand will do, before the cover comes off.
import { Slider } from 'radix-ui'
import { useState } from 'react'
import { api, type CurvePoint, type PredictionFigures } from '../api/client'
import { useDesk, usePrediction, useSteps, useStrip, useWrite } from '../api/desk'
import { Button, Refused } from '../parts/Button'
import { Heading } from '../parts/Caution'
import { ChangeWords } from '../parts/ChangeWords'
import { ClutchPicture } from '../parts/ClutchPicture'
import { TextField } from '../parts/Field'
import { figure, signed } from '../parts/format'
import { Quantity } from '../parts/Quantity'
import { ShiftChart } from '../parts/ShiftChart'
import { SlotFields } from '../parts/SlotFields'

export function SetUp() {
  const { visit } = useDesk()
  const curve = usePrediction(visit.left)?.curve ?? []
  const [chosen, setNode] = useState<number>()
  const node = chosen ?? Math.round(curve.length / 3)
  const at = curve[Math.min(node, curve.length - 1)]
  return (
    <div className="space-y-3">
      <section>
        <SlotFields slots={visit.setup.slots} which="left" steps={useSteps(visit)} />
        <Recording />
      </section>
      <div className="grid gap-x-8 gap-y-4 lg:grid-cols-[11fr_12fr]">
        <section>
          <Heading aside="drag the belt through the shift">Clutches to scale, as left</Heading>
          {at ? (
            <>
              <ClutchPicture drawing={visit.setup.drawing} curve={curve} at={at} />
              <Slider.Root
                value={[node]}
                min={0}
                max={curve.length - 1}
                step={1}
                onValueChange={([next]) => setNode(next ?? 0)}
                className="relative mt-2 flex h-11 w-full touch-none items-center"
              >
                <Slider.Track className="relative h-1.5 grow rounded bg-alu">
                  <Slider.Range className="absolute h-full rounded bg-signal" />
                </Slider.Track>
                <Slider.Thumb
                  aria-label="Point of the shift"
                  className="block size-7 rounded-full border-4 border-signal bg-card"
                />
              </Slider.Root>
              <NodeFigures at={at} />
            </>
          ) : visit.fault ? (
            <p role="alert" className="text-replace">
              {visit.fault.reason}
            </p>
          ) : (
            <p className="min-h-96 text-quiet">Drawing the clutches…</p>
          )}
        </section>
        <section className="lg:row-span-2">
          <Heading>Shift at full throttle</Heading>
          <ShiftChart visit={visit} at={at} />
          <Figures />
        </section>
        <SimulatedPull />
      </div>
    </div>
  )
}

function NodeFigures({ at }: { at: CurvePoint }) {
  const figures = [
    { name: 'engine', text: figure(at.rpm, 0), unit: 'rpm' },
    { name: 'vehicle', text: figure(at.speed_kph, 0), unit: 'km/h' },
    { name: 'grip, primary', text: figure(at.grip_primary, 2), unit: '', low: at.grip_primary < 1 },
    { name: 'grip, secondary', text: figure(at.grip_secondary, 2), unit: '', low: at.grip_secondary < 1 },
    { name: 'tight / slack side', text: `${figure(at.tight_n, 0)} / ${figure(at.slack_n, 0)}`, unit: 'N' },
  ]
  return (
    <dl className="flex flex-wrap justify-between gap-x-4 text-sm">
      {figures.map((each) => (
        <div key={each.name}>
          <dt className="text-xs text-quiet">{each.name}</dt>
          <dd className={each.low ? 'text-replace' : ''}>
            <Quantity unit={each.unit} strong>
              {each.text}
            </Quantity>
          </dd>
        </div>
      ))}
    </dl>
  )
}

function Recording() {
  const { visit, closed } = useDesk()
  // What was typed last has been saved when their turn comes: they act on what is on the bench then.
  const keep = useWrite((visit_id, { setup: { reason = '', draft } }) =>
    api.POST('/api/visits/{visit_id}/setup/record', { params: { path: { visit_id } }, body: { reason, draft } }),
  )
  const drop = useWrite((visit_id, { setup: { draft } }) =>
    api.POST('/api/visits/{visit_id}/setup/drop', { params: { path: { visit_id } }, body: { draft } }),
  )
  return (
    <div className="mt-3 space-y-2">
      {Object.keys(visit.setup.draft).length > 0 && (
        <div className="grid items-end gap-3 md:grid-cols-[1fr_auto_auto]">
          <TextField
            label="Tried, not yet recorded. Why this change?"
            name="setup.reason"
            read={(each) => each.setup.reason}
            send={(now, was) => (visit_id) =>
              api.PATCH('/api/visits/{visit_id}/setup/reason', { params: { path: { visit_id } }, body: { was, now } })
            }
          />
          <Button look="plain" action={drop} disabled={closed}>
            Put back
          </Button>
          <Button look="sign" action={keep} disabled={closed}>
            Record as fitted
          </Button>
          <Refused className="text-sm md:col-span-3">{keep.refused || drop.refused}</Refused>
        </div>
      )}
      {visit.setup.recorded.length > 0 && (
        <ul className="text-sm">
          {visit.setup.recorded.map((each) => (
            <li key={each.revision_id} className="border-l-4 border-keep pl-3">
              <b>Recorded</b> <ChangeWords changes={each.changes} inline />{' '}
              <span className="text-quiet">{each.reason}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

interface FigureRow {
  name: string
  unit: string
  digits: number
  found?: number | null
  left?: number | null
}

function Figures() {
  const { visit } = useDesk()
  const { found, left } = visit
  if (!found || !left) return null
  const pair = (
    name: string,
    unit: string,
    digits: number,
    of: (p: PredictionFigures) => number | undefined,
  ): FigureRow => ({
    name,
    unit,
    digits,
    found: of(found),
    left: of(left),
  })
  return (
    <div className="mt-3">
      {left.warnings.map((warning) => (
        <p key={warning} className="flex gap-2 text-sm text-watch">
          <span aria-hidden="true">◆</span>
          {warning}
        </p>
      ))}
      <FigureTable
        rows={[
          pair('Shift slope', 'rpm', 0, (p) => p.shift.slope_rpm),
          pair('Backshift, mean', 'rpm', 0, (p) => p.backshift?.mean_rpm),
          pair('At the top, over the rev limit', 'rpm', 0, (p) => p.shift.over_rev_rpm),
          pair('Top ratio', '', 2, (p) => p.belt.high_ratio),
          pair('Top of the shift', 'km/h', 0, (p) => p.shift.full_shift_kph),
          pair('Clamp gained per 100 rpm at touch', 'N', 0, (p) => p.engagement.bite_rate_n_per_100rpm),
        ]}
      />
    </div>
  )
}

function SimulatedPull() {
  const strip = useStrip(useDesk().visit)
  const ridden = (name: string, key: string, unit: string, digits: number): FigureRow => ({
    name,
    unit,
    digits,
    found: strip?.found[key],
    left: strip?.left[key],
  })
  return (
    <section>
      <Heading aside="from rest, level ground, full grip on the ground">Simulated pull</Heading>
      <FigureTable
        rows={[
          ridden('0–30 mph', 'to_30_mph_s', 's', 2),
          ridden('0–60 mph', 'to_60_mph_s', 's', 2),
          ridden('200 m', 'to_200_m_s', 's', 2),
          ridden('400 m', 'to_400_m_s', 's', 2),
          ridden('Lowest gearing reached', 'lowest_gearing', '', 2),
          ridden('Hottest belt', 'belt_temperature_max_c', '°C', 0),
        ]}
      />
    </section>
  )
}

function FigureTable({ rows }: { rows: FigureRow[] }) {
  return (
    <table className="mt-1 w-full text-sm">
      <thead className="text-right text-quiet">
        <tr>
          <th>
            <span className="sr-only">Figure</span>
          </th>
          <th className="font-normal">as found</th>
          <th className="font-normal">as left</th>
          <th className="font-normal">change</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.name} className="border-t border-line" data-figure={row.name}>
            <td className="py-1">
              {row.name}
              {row.unit && <span className="text-quiet">, {row.unit}</span>}
            </td>
            <td className="reading text-right text-quiet">{row.found == null ? '–' : figure(row.found, row.digits)}</td>
            <td className="reading text-right font-semibold">
              {row.left == null ? '–' : figure(row.left, row.digits)}
            </td>
            <td className="reading text-right text-quiet">
              {row.found == null || row.left == null ? '–' : signed(row.left - row.found, row.digits)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
