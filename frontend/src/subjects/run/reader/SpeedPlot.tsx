// Engine speed against vehicle speed: the pull over rays of ratio, what the sheaves allow, and the model's band behind.
import { scaleLinear } from 'd3-scale'
import { area, line } from 'd3-shape'
import type { Prediction, RunLogView, Traces, VisitView } from '../../../api/server/client'
import { inShown } from '../../../api/server/units'
import { figure, unitName } from '../../../parts/format'
import { useSize } from '../../../parts/size'
import { held } from '../../setup/charts/ShiftChart'

const HEIGHT = 176
const EDGE = { left: 62, right: 66, top: 8, bottom: 24 }
const RAYS = [2, 1.5, 1.2, 1]

interface SpeedPlotProps {
  visit: VisitView
  log: RunLogView
  traces: Traces
  prediction?: Prediction
  reached: { low: number | null; high: number | null }
  place: { engine: number | null; speed: number | null } | null
}

export function SpeedPlot({ visit, log, traces, prediction, reached, place }: SpeedPlotProps) {
  const [box, { width }] = useSize<HTMLDivElement>()
  const of = (field: string) => traces.traces.find((each) => each.field === field)
  const [engine, speed, secondary] = [of('engine_rpm'), of('speed_kph'), of('secondary_rpm')]
  const factor = log.kph_per_rpm
  const speeds = speed?.most ?? (factor ? secondary?.most.map((each) => (each == null ? null : each * factor)) : null)
  if (!engine || !speeds)
    return <p className="py-4 text-quiet">No speed was logged: nothing to set the engine against.</p>
  const points = engine.most
    .map((rpm, index) => ({ rpm, kph: speeds[index] ?? null }))
    .filter((each): each is { rpm: number; kph: number } => each.rpm != null && each.kph != null)
  const top = Math.max(...points.map((each) => each.rpm), 1000) * 1.06
  const fastest = Math.max(...points.map((each) => each.kph), 10) * 1.05
  const x = scaleLinear([0, inShown(fastest, 'km/h')], [EDGE.left, Math.max(EDGE.left + 1, width - EDGE.right)])
  const y = scaleLinear([0, top], [HEIGHT - EDGE.bottom, EDGE.top])
  const at = (kph: number) => x(inShown(kph, 'km/h'))
  const drawn = line<{ rpm: number; kph: number }>()
    .x((each) => at(each.kph))
    .y((each) => y(each.rpm))
  /** A ray of one ratio, as far as the drawing goes. */
  const ray = (ratio: number) => {
    if (!factor) return null
    const rpm = Math.min(top, (fastest * ratio) / factor)
    return { x1: at(0), y1: y(0), x2: at((rpm * factor) / ratio), y2: y(rpm) }
  }
  const band = prediction?.band
  const curve = prediction ? [...held(prediction.curve)] : []
  const bandPath = band
    ? (area<(typeof curve)[number]>()
        .x((each) => at(each.speed_kph))
        .y0((each) => y(each.rpm - (band.curve_rpm[prediction?.curve.indexOf(each) ?? 0] ?? 0)))
        .y1((each) => y(each.rpm + (band.curve_rpm[prediction?.curve.indexOf(each) ?? 0] ?? 0)))(curve) ?? '')
    : ''
  const { target_shift_rpm: target, target_shift_tolerance_rpm: tolerance } = visit.intake
  const named = (ratio: number | null | undefined, words: string, colour: string, dash?: string) => {
    const ends = ratio == null ? null : ray(ratio)
    if (!ends || ratio == null) return null
    // Beside the ray where there is room: what is allowed on its left, what was reached on its right.
    const left = dash != null && ratio < 1
    const along = left ? 0.42 : 0.55
    const [x0, y0] = [ends.x1 + along * (ends.x2 - ends.x1), ends.y1 + along * (ends.y2 - ends.y1)]
    return (
      <g className={colour}>
        <line {...ends} stroke="currentColor" strokeWidth="1.5" strokeDasharray={dash} />
        <text
          x={left ? x0 - 6 : x0 + 6}
          y={left ? y0 - 2 : y0 + 12}
          textAnchor={left ? 'end' : 'start'}
          className="halo fill-current text-xs font-semibold"
        >
          {figure(ratio, ratio < 1 ? 3 : 2)} {words}
        </text>
      </g>
    )
  }
  return (
    <div ref={box}>
      {width > 0 && (
        <svg
          width={width}
          height={HEIGHT}
          role="img"
          aria-label={`Engine speed against vehicle speed.${
            log.low_ratio ? ` The sheaves allow ${figure(log.low_ratio, 2)} to ${figure(log.high_ratio ?? 0, 2)}.` : ''
          }${reached.low ? ` It started at ${figure(reached.low, 2)}.` : ''}${reached.high ? ` It reached ${figure(reached.high, 3)}.` : ''}`}
        >
          <rect
            x={EDGE.left}
            width={Math.max(0, width - EDGE.right - EDGE.left)}
            y={y(Math.min(top, target + tolerance))}
            height={Math.max(0, y(target - tolerance) - y(Math.min(top, target + tolerance)))}
            className="fill-band"
          />
          {y.ticks(5).map((tick) => (
            <g key={tick}>
              <line x1={EDGE.left} x2={width - EDGE.right} y1={y(tick)} y2={y(tick)} className="stroke-line" />
              <text x={EDGE.left - 8} y={y(tick) + 4} textAnchor="end" className="reading fill-quiet text-xs">
                {figure(tick, 0)}
              </text>
            </g>
          ))}
          {x.ticks(8).map((tick) => (
            <text key={tick} x={x(tick)} y={HEIGHT - 6} textAnchor="middle" className="reading fill-quiet text-xs">
              {figure(tick, 0)}
            </text>
          ))}
          <text x={width - 4} y={HEIGHT - 6} textAnchor="end" className="fill-quiet text-xs">
            {unitName('km/h')}
          </text>
          {RAYS.map((ratio) => {
            const ends = ray(ratio)
            return (
              ends && (
                <g key={ratio}>
                  <line {...ends} className="stroke-line" />
                  <text x={ends.x2 - 4} y={ends.y2 + 12} textAnchor="end" className="reading fill-quiet text-xs">
                    {ratio}
                  </text>
                </g>
              )
            )
          })}
          {named(log.low_ratio, 'allowed', 'text-quiet', '5 4')}
          {named(log.high_ratio, 'allowed', 'text-quiet', '5 4')}
          {bandPath && <path d={bandPath} className="fill-signal/25" />}
          {named(reached.low, 'start', 'text-replace')}
          {named(reached.high, 'reached', 'text-replace')}
          <path d={drawn(points) ?? ''} fill="none" className="stroke-ink" strokeWidth="2" />
          {place?.engine != null && place.speed != null && (
            <circle
              cx={x(place.speed)}
              cy={y(place.engine)}
              r="6"
              className="fill-paper stroke-signal"
              strokeWidth="3"
            />
          )}
        </svg>
      )}
    </div>
  )
}
