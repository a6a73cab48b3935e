// A full pull on the simulated strip and the rest of the figures: as found small, as left below it in bold.
import type { PredictionFigures, StripView } from '../../api/server/client'
import { inShown } from '../../api/server/units'
import { useDesk, useStrip } from '../../api/visit/desk'
import { usePreviewed } from '../../api/visit/preview'
import { figure, told, unitName } from '../../parts/format'
import { FigureTerm } from '../../parts/over/WhereFrom'

export function Figures() {
  return (
    <div className="space-y-2">
      <SimulatedPull />
      <Predicted />
    </div>
  )
}

interface FigureCell {
  /** Its key among the formulas. */
  figure: string
  name: string
  unit: string
  digits: number
  found?: number | null
  left?: number | null
}

function Predicted() {
  const { found, left } = usePreviewed(useDesk().visit)
  if (!found || !left) return null
  type Of = (p: PredictionFigures) => number | undefined
  const pair = (figure: string, name: string, unit: string, digits: number, of: Of) => ({
    figure,
    name,
    unit,
    digits,
    found: of(found),
    left: of(left),
  })
  return (
    <section aria-label="Predicted figures">
      <Cells
        cells={[
          pair('slope', 'Shift slope', 'rpm', 0, (p) => p.shift.slope_rpm),
          pair('backshift', 'Backshift', 'rpm', 0, (p) => p.backshift?.mean_rpm),
          pair('over_rev', 'Over limit', 'rpm', 0, (p) => p.shift.over_rev_rpm),
          pair('top_ratio', 'Top ratio', '', 2, (p) => p.belt.high_ratio),
          pair('top_of_shift', 'Top of shift', 'km/h', 0, (p) => p.shift.full_shift_kph),
          pair('bite_rate', 'Clamp, first 100 rpm', 'N', 0, (p) => p.engagement.bite_rate_n_per_100rpm),
        ]}
      />
    </section>
  )
}

function SimulatedPull() {
  const { strip, working } = useStrip(usePreviewed(useDesk().visit))
  const ridden = (name: string, key: string, unit: string, digits: number): FigureCell => ({
    figure: 'pull',
    name,
    unit,
    digits,
    found: strip?.found?.[key],
    left: strip?.left[key],
  })
  return (
    <section aria-label="Simulated pull">
      <h2 className="flex flex-wrap gap-x-3 text-sm">
        <b>Simulated pull</b>
        <span role="status" className="text-quiet" data-pull={working ? 'working' : 'done'}>
          {working ? 'working…' : pullWords(strip)}
        </span>
      </h2>
      {!working && strip?.warning && <p className="text-sm text-watch">{strip.warning}</p>}
      <Cells
        faded={working}
        cells={[
          ridden(`Off the line, ${told(20, 'm')}`, 'to_20_m_s', 's', 2),
          ridden('0–60 mph', 'to_60_mph_s', 's', 2),
          ridden(told(200, 'm'), 'to_200_m_s', 's', 2),
          ridden(told(400, 'm'), 'to_400_m_s', 's', 2),
          ridden('Low gearing', 'lowest_gearing', '', 2),
          ridden('Hottest belt', 'belt_temperature_max_c', '°C', 0),
        ]}
      />
    </section>
  )
}

/** What the pull was made on, and whether the engine ran on its limiter: in the launch it is no over-rev. */
function pullWords(strip: StripView | undefined): string {
  if (!strip) return ''
  const { found, left } = strip
  const limiter = (pull: StripView['found']) => {
    if (!pull) return 'not told'
    const [launch, shift] = [pull.limiter_launch_s ?? 0, pull.limiter_shift_s ?? 0]
    if (shift > 0) return `${figure(shift, 1)} s in the shift`
    return launch > 0 ? `${figure(launch, 1)} s at launch` : 'never'
  }
  const [was, now] = [limiter(found), limiter(left)]
  return `ground grip ${figure(left.ground_grip ?? 0, 1)}; on limiter ${was === now ? now : `${was} → ${now}`}`
}

/** Figures side by side: as found small, as left below it in bold. */
function Cells({ cells, faded = false }: { cells: FigureCell[]; faded?: boolean }) {
  const { visit } = useDesk()
  return (
    <ul
      className={`grid grid-cols-3 gap-x-2 gap-y-1 border-t border-line pt-0.5 md:grid-cols-6 ${faded ? 'opacity-60' : ''}`}
    >
      {cells.map(({ figure: key, name, unit, digits, found, left }) => (
        <li key={name} data-figure={name} className="min-w-0">
          <FigureTerm visit={visit} figure={key} className="block min-h-11 w-full">
            <span className="block truncate text-xs text-quiet" title={unit ? `${name}, ${unitName(unit)}` : name}>
              {name}
              {unit && `, ${unitName(unit)}`}
            </span>
            <span className="reading flex flex-wrap gap-x-1.5 text-xs leading-4 text-quiet md:block">
              <span className="sr-only">as found</span> {found == null ? '–' : figure(inShown(found, unit), digits)}{' '}
              <span className="block text-sm leading-4 font-semibold text-ink">
                <span className="sr-only">as left</span> {left == null ? '–' : figure(inShown(left, unit), digits)}
              </span>
            </span>
          </FigureTerm>
        </li>
      ))}
    </ul>
  )
}
