// The full-throttle shift against vehicle speed, on a scale around its window: as found thin, as left thick, measured as points.
import { scaleLinear } from 'd3-scale'
import { area, curveMonotoneX, line } from 'd3-shape'
import type { CurvePoint, Prediction, VisitView } from '../api/client'
import { usePrediction } from '../api/desk'
import { inShown } from '../api/units'
import { figure, reading, told, unitName } from './format'
import { useSize } from './size'

const EDGE = { left: 58, right: 12, top: 8, bottom: 22 }
const LEAST_SPAN = 500
/** Beyond this the window would shrink to a line; what lies further off is said in words. */
const MOST_SPAN = 1800

interface Dot {
  kph: number
  rpm: number
}

/** The nodes the clutch holds; while it slips at launch the engine only comes up from the bite. */
export function held(prediction: Prediction): CurvePoint[] {
  const kept = prediction.curve.filter((point) => !point.flags.includes('slip-limited'))
  return kept.length > 1 ? kept : prediction.curve
}

/** Of the shift, so much at its start is the launch settling: it may run off the scale. */
const SETTLING = 0.1

function settled(prediction: Prediction): number[] {
  const points = held(prediction)
  return points.slice(Math.floor(points.length * SETTLING)).map((point) => point.rpm)
}

/** The rpm to show: the window, all of the curve as left, and of the rest what comes near. */
function span(visit: VisitView, found: Prediction | undefined, left: Prediction | undefined, measured?: number | null) {
  const { target_shift_rpm: target, target_shift_tolerance_rpm: tolerance } = visit.intake
  const first = [target - tolerance, target + tolerance, ...(left ? settled(left) : [])]
  let [low, high] = [Math.min(...first), Math.max(...first)]
  const others = [...(found ? settled(found) : []), ...(measured == null ? [] : [measured])]
  for (const rpm of others) {
    if (rpm < low && high - rpm <= MOST_SPAN) low = rpm
    if (rpm > high && rpm - low <= MOST_SPAN) high = rpm
  }
  const pad = Math.max((high - low) * 0.07, (LEAST_SPAN - (high - low)) / 2)
  return [low - pad, high + pad] as const
}

export function ShiftChart({ visit, at }: { visit: VisitView; at?: CurvePoint }) {
  const [box, { width, height }] = useSize<HTMLDivElement>()
  const [found, left] = [usePrediction(visit.found), usePrediction(visit.left)]
  const run = visit.runs.filter((each) => each.on_left).at(-1)
  const drawn = found || left
  return (
    <div ref={box} className="relative min-h-56 flex-1 overflow-hidden md:min-h-36">
      {!drawn && (
        <p className="p-4 text-quiet">{visit.fault ? `No curve: ${visit.fault.reason}` : 'Drawing the shift…'}</p>
      )}
      {drawn && width > 0 && (
        <Plot visit={visit} found={found} left={left} measured={run?.shift_rpm} at={at} width={width} height={height} />
      )}
    </div>
  )
}

interface PlotProps {
  visit: VisitView
  found?: Prediction
  left?: Prediction
  measured?: number | null
  at?: CurvePoint
  width: number
  height: number
}

function Plot({ visit, found, left, measured, at, width, height }: PlotProps) {
  const { target_shift_rpm: target, target_shift_tolerance_rpm: tolerance } = visit.intake
  const limit = visit.setup.rev_limit_rpm
  const points = [found, left].flatMap((each) => (each ? held(each) : []))
  const [slow, fast] = [Math.min(...points.map((p) => p.speed_kph)), Math.max(...points.map((p) => p.speed_kph))]
  const axis = scaleLinear([inShown(slow, 'km/h'), inShown(fast, 'km/h')], [EDGE.left + 8, width - EDGE.right - 8])
  const x = (kph: number) => axis(inShown(kph, 'km/h'))
  const y = scaleLinear(span(visit, found, left, measured), [height - EDGE.bottom, EDGE.top])
  const [low = 0, high = 0] = y.domain()
  const draw = line<Dot>()
    .x((d) => x(d.kph))
    .y((d) => y(d.rpm))
    .curve(curveMonotoneX)
  const curve = (each: Prediction) => draw(held(each).map((p) => ({ kph: p.speed_kph, rpm: p.rpm }))) ?? ''
  const band = left?.band
  const bandPath =
    left && band
      ? (area<CurvePoint>()
          .x((p) => x(p.speed_kph))
          .y0((p) => y(p.rpm - (band.curve_rpm[left.curve.indexOf(p)] ?? 0)))
          .y1((p) => y(p.rpm + (band.curve_rpm[left.curve.indexOf(p)] ?? 0)))
          .curve(curveMonotoneX)(held(left)) ?? '')
      : ''
  const ends = left ? [held(left)[0]?.speed_kph ?? slow, left.shift.full_shift_kph] : [slow, fast]
  const said = [
    `Target ${figure(target, 0)} plus or minus ${figure(tolerance, 0)}`,
    found && `as found ${figure(found.shift.mean_rpm, 0)} in the mean`,
    left && `as left ${figure(left.shift.mean_rpm, 0)}, from ${reading(ends[0], 'km/h')} to ${told(ends[1], 'km/h')}`,
    measured != null && `measured ${figure(measured, 0)}`,
  ]
  return (
    <svg
      width={width}
      height={height}
      className="absolute inset-0"
      role="img"
      aria-label={`Engine rpm at full throttle against vehicle speed. ${said.filter(Boolean).join(', ')}`}
    >
      <clipPath id="plot">
        <rect
          x={EDGE.left}
          y={EDGE.top}
          width={width - EDGE.left - EDGE.right}
          height={height - EDGE.top - EDGE.bottom}
        />
      </clipPath>
      {y.ticks(Math.max(3, height / 52)).map((rpm) => (
        <g key={rpm}>
          <line x1={EDGE.left} x2={width - EDGE.right} y1={y(rpm)} y2={y(rpm)} className="stroke-line" />
          <text x={EDGE.left - 8} y={y(rpm) + 4} textAnchor="end" className="reading fill-quiet text-[13px]">
            {figure(rpm, 0)}
          </text>
        </g>
      ))}
      {axis
        .ticks(width < 440 ? 4 : 8)
        .filter((speed) => axis(speed) < width - 60)
        .map((speed) => (
          <text
            key={speed}
            x={axis(speed)}
            y={height - EDGE.bottom + 16}
            textAnchor="middle"
            className="reading fill-quiet text-[13px]"
          >
            {speed}
          </text>
        ))}
      <text x={width - EDGE.right} y={height - EDGE.bottom + 16} textAnchor="end" className="fill-quiet text-[13px]">
        {unitName('km/h')}
      </text>
      <text x={EDGE.left - 8} y={height - EDGE.bottom + 16} textAnchor="end" className="fill-quiet text-[13px]">
        rpm
      </text>
      <g clipPath="url(#plot)">
        <rect
          x={EDGE.left}
          width={width}
          y={y(target + tolerance)}
          height={y(target - tolerance) - y(target + tolerance)}
          className="fill-band"
          data-window
        />
        {limit > low && limit < high && (
          <line
            x1={EDGE.left}
            x2={width}
            y1={y(limit)}
            y2={y(limit)}
            className="stroke-replace"
            strokeDasharray="2 4"
            strokeWidth="1.5"
          />
        )}
        <path d={bandPath} className="fill-signal" opacity="0.13" data-band />
        {found && <path d={curve(found)} className="fill-none stroke-alu-deep" strokeWidth="2" data-curve="found" />}
        {left && (
          <path
            d={curve(left)}
            className="fill-none stroke-signal"
            strokeWidth="4"
            data-curve="left"
            data-key={visit.left?.key}
          />
        )}
        {measured != null && (
          <g className="fill-ink stroke-ink">
            <line x1={x(ends[0] ?? 0)} x2={x(ends[1] ?? 0)} y1={y(measured)} y2={y(measured)} strokeWidth="1.5" />
            {ends.map((kph) => (
              <circle key={kph} cx={x(kph)} cy={y(measured)} r="5" className="stroke-card" strokeWidth="2" />
            ))}
          </g>
        )}
        {at && !at.flags.includes('slip-limited') && (
          <circle cx={x(at.speed_kph)} cy={y(at.rpm)} r="7" className="fill-card stroke-signal" strokeWidth="4" />
        )}
      </g>
      <text
        x={width - EDGE.right - 6}
        y={Math.min(Math.max(y(target - tolerance) - 6, EDGE.top + 30), height - EDGE.bottom - 6)}
        textAnchor="end"
        className="halo fill-keep text-[13px]"
      >
        target {figure(target, 0)} ± {figure(tolerance, 0)}
      </text>
      <text
        x={width - EDGE.right - 4}
        y={limit > low && limit < high ? y(limit) - 5 : EDGE.top + 12}
        textAnchor="end"
        className="halo fill-replace text-[13px]"
      >
        rev limit {figure(limit, 0)}
        {limit >= high && ' ↑'}
      </text>
    </svg>
  )
}

/** What the lines are, with their figures. */
export function ShiftKey({ visit }: { visit: VisitView }) {
  const run = visit.runs.filter((each) => each.on_left).at(-1)
  return (
    <p className="flex flex-wrap gap-x-4 text-sm text-quiet">
      <Key className="border-t-2 border-alu-deep">
        as found {visit.found ? figure(visit.found.shift.mean_rpm, 0) : '–'}
      </Key>
      <Key className="border-t-4 border-signal">
        <b className="text-signal-words">as left {visit.left ? figure(visit.left.shift.mean_rpm, 0) : '–'}</b>
        {visit.left?.band && ` ± ${figure(visit.left.band.mean_rpm, 0)}, not calibrated`}
      </Key>
      {run?.shift_rpm != null && <Key className="border-t-2 border-ink">measured {figure(run.shift_rpm, 0)}</Key>}
    </p>
  )
}

function Key({ className, children }: { className: string; children: React.ReactNode }) {
  return (
    <span className="flex items-center gap-2 whitespace-nowrap">
      <span aria-hidden="true" className={`inline-block w-5 ${className}`} />
      <span>{children}</span>
    </span>
  )
}
