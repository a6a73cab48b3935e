// The full-throttle shift on a scale around its window, against speed, ratio or travel: as found thin, as left thick,
// backshift dashed, an answer dotted, measured as points.
import { scaleLinear } from 'd3-scale'
import { area, curveMonotoneX, line } from 'd3-shape'
import type { CurvePoint, Prediction, VisitView } from '../../../api/server/client'
import { inShown } from '../../../api/server/units'
import { useGhost } from '../../../api/visit/bench'
import { usePrediction } from '../../../api/visit/desk'
import { figure, reading, told, unitName } from '../../../parts/format'
import { useSize } from '../../../parts/size'

const EDGE = { left: 58, right: 12, top: 8, bottom: 22 }
const LEAST_SPAN = 500
/** Beyond this the window would shrink to a line; what lies further off is said in words. */
const MOST_SPAN = 1800

/** What a shift can be drawn against: the field of a point, its unit, and what it is called. */
export const AGAINST = {
  speed: { of: (p: CurvePoint) => p.speed_kph, unit: 'km/h', name: 'vehicle speed', down: false },
  ratio: { of: (p: CurvePoint) => p.ratio, unit: '', name: 'ratio', down: true },
  travel: { of: (p: CurvePoint) => p.travel_mm, unit: 'mm', name: 'sheave travel', down: false },
} as const

export type Against = keyof typeof AGAINST

/** The nodes the clutch holds; while it slips at launch the engine only comes up from the bite. */
export function held(curve: readonly CurvePoint[]): readonly CurvePoint[] {
  const kept = curve.filter((point) => !point.flags.includes('slip-limited'))
  return kept.length > 1 ? kept : curve
}

/** Of the shift, so much at its start is the launch settling: it may run off the scale. */
const SETTLING = 0.1

function settled(curve: readonly CurvePoint[]): number[] {
  const points = held(curve)
  return points.slice(Math.floor(points.length * SETTLING)).map((point) => point.rpm)
}

/** The rpm to show: the window, all of the curve as left, and of the rest what comes near. */
function span(visit: VisitView, left: Prediction | undefined, others: number[]) {
  const { target_shift_rpm: target, target_shift_tolerance_rpm: tolerance } = visit.intake
  const first = [target - tolerance, target + tolerance, ...(left ? settled(left.curve) : [])]
  let [low, high] = [Math.min(...first), Math.max(...first)]
  for (const rpm of others) {
    if (rpm < low && high - rpm <= MOST_SPAN) low = rpm
    if (rpm > high && rpm - low <= MOST_SPAN) high = rpm
  }
  const pad = Math.max((high - low) * 0.07, (LEAST_SPAN - (high - low)) / 2)
  return [low - pad, high + pad] as const
}

interface ChartProps {
  visit: VisitView
  at?: CurvePoint
  against?: Against
  backshift?: boolean
}

export function ShiftChart({ visit, at, against = 'speed', backshift = false }: ChartProps) {
  const [box, { width, height }] = useSize<HTMLDivElement>()
  const [found, left, answer] = [usePrediction(visit.found), usePrediction(visit.left), usePrediction(useGhost(visit))]
  const run = visit.runs.filter((each) => each.on_left).at(-1)
  const drawn = found || left
  return (
    <div ref={box} className="relative min-h-56 flex-[1_1_13.75rem] overflow-hidden md:min-h-36">
      {!drawn && (
        <p className="p-4 text-quiet">{visit.fault ? `No curve: ${visit.fault.reason}` : 'Drawing the shift…'}</p>
      )}
      {drawn && width > 0 && (
        <Plot
          {...{ visit, found, left, answer, at, against, backshift, width, height }}
          measured={run?.measured_shift_rpm}
        />
      )}
    </div>
  )
}

interface PlotProps extends Required<Pick<ChartProps, 'visit' | 'against' | 'backshift'>> {
  found?: Prediction
  left?: Prediction
  answer?: Prediction
  measured?: number | null
  at?: CurvePoint
  width: number
  height: number
}

function Plot({ visit, found, left, answer, measured, at, against, backshift, width, height }: PlotProps) {
  const { target_shift_rpm: target, target_shift_tolerance_rpm: tolerance } = visit.intake
  const limit = visit.setup.rev_limit_rpm
  const { of, unit, name, down } = AGAINST[against]
  const back = backshift ? left?.backshift_curve : undefined
  const curves = [found?.curve, left?.curve, answer?.curve, back].filter((each) => each != null)
  const places = curves.flatMap((each) => held(each).map(of))
  const [first, last] = [Math.min(...places), Math.max(...places)]
  const ends = down ? [last, first] : [first, last]
  const axis = scaleLinear(
    ends.map((each) => inShown(each ?? 0, unit)),
    [EDGE.left + 8, width - EDGE.right - 8],
  )
  const x = (point: CurvePoint) => axis(inShown(of(point), unit))
  const others = [found?.curve, answer?.curve, back].flatMap((each) => (each ? settled(each) : []))
  const y = scaleLinear(span(visit, left, [...others, ...(measured == null ? [] : [measured])]), [
    height - EDGE.bottom,
    EDGE.top,
  ])
  const [low = 0, high = 0] = y.domain()
  const draw = line<CurvePoint>()
    .x(x)
    .y((point) => y(point.rpm))
    .curve(curveMonotoneX)
  const curve = (each: readonly CurvePoint[]) => draw([...held(each)]) ?? ''
  const band = left?.band
  const bandPath =
    left && band
      ? (area<CurvePoint>()
          .x(x)
          .y0((p) => y(p.rpm - (band.curve_rpm[left.curve.indexOf(p)] ?? 0)))
          .y1((p) => y(p.rpm + (band.curve_rpm[left.curve.indexOf(p)] ?? 0)))
          .curve(curveMonotoneX)([...held(left.curve)]) ?? '')
      : ''
  const across = left ? [held(left.curve)[0], left.curve.at(-1)] : []
  const [from, to] = [across[0] ? of(across[0]) : first, across[1] ? of(across[1]) : last]
  // Words stand where no line runs through them.
  const lines = curves.map((each) => held(each).map((point): [number, number] => [x(point), y(point.rpm)]))
  const inSight = limit > low && limit < high
  const limitAt = clearOf(lines, width - EDGE.right - LABEL, [
    inSight ? y(limit) - 5 : EDGE.top + 12,
    ...(inSight ? [y(limit) + 15] : []),
    EDGE.top + 28,
    height - EDGE.bottom - 6,
  ])
  const targetAt = clearOf(
    lines,
    width - EDGE.right - LABEL,
    [
      y(target - tolerance) - 6,
      y(target + tolerance) - 5,
      y(target + tolerance) + 15,
      y(target - tolerance) + 15,
      height - EDGE.bottom - 6,
      height - EDGE.bottom - 24,
      EDGE.top + 30,
    ].filter((each) => each > EDGE.top + 10 && each < height - EDGE.bottom && Math.abs(each - limitAt) > 16),
  )
  const said = [
    `Target ${figure(target, 0)} plus or minus ${figure(tolerance, 0)}`,
    found && `as found ${figure(found.shift.mean_rpm, 0)} in the mean`,
    left && `as left ${figure(left.shift.mean_rpm, 0)}, from ${reading(from, unit)} to ${told(to, unit)}`,
    back && left?.backshift && `backshift ${figure(left.backshift.mean_rpm, 0)}`,
    answer && `the answer ${figure(answer.shift.mean_rpm, 0)}`,
    measured != null && `measured ${figure(measured, 0)}`,
  ]
  return (
    <svg
      width={width}
      height={height}
      className="absolute inset-0"
      role="img"
      aria-label={`Engine rpm at full throttle against ${name}. ${said.filter(Boolean).join(', ')}`}
    >
      <clipPath id="plot">
        <rect
          x={EDGE.left}
          y={EDGE.top}
          width={width - EDGE.left - EDGE.right}
          height={Math.max(height - EDGE.top - EDGE.bottom, 0)}
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
        .filter((place) => axis(place) < width - 60)
        .map((place) => (
          <text
            key={place}
            x={axis(place)}
            y={height - EDGE.bottom + 16}
            textAnchor="middle"
            className="reading fill-quiet text-[13px]"
          >
            {place}
          </text>
        ))}
      <text x={width - EDGE.right} y={height - EDGE.bottom + 16} textAnchor="end" className="fill-quiet text-[13px]">
        {unit ? unitName(unit) : name}
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
          className="fill-none stroke-keep"
          strokeWidth="1.5"
          strokeDasharray="6 3"
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
        {found && (
          <path d={curve(found.curve)} className="fill-none stroke-alu-deep" strokeWidth="2" data-curve="found" />
        )}
        {back && (
          <path
            d={curve(back)}
            className="fill-none stroke-signal"
            strokeWidth="1.6"
            strokeDasharray="7 4"
            data-curve="backshift"
          />
        )}
        {answer && (
          <path
            d={curve(answer.curve)}
            className="fill-none stroke-ink"
            strokeWidth="2.4"
            strokeDasharray="2 4"
            data-curve="answer"
          />
        )}
        {left && (
          <path
            d={curve(left.curve)}
            className="fill-none stroke-signal"
            strokeWidth="4"
            data-curve="left"
            data-key={visit.left?.key}
          />
        )}
        {measured != null && across[0] && across[1] && (
          <g className="fill-ink stroke-ink">
            <line x1={x(across[0])} x2={x(across[1])} y1={y(measured)} y2={y(measured)} strokeWidth="1.5" />
            {[across[0], across[1]].map((end) => (
              <circle key={of(end)} cx={x(end)} cy={y(measured)} r="5" className="stroke-card" strokeWidth="2" />
            ))}
          </g>
        )}
        {at && !at.flags.includes('slip-limited') && (
          <circle cx={x(at)} cy={y(at.rpm)} r="7" className="fill-card stroke-signal" strokeWidth="4" />
        )}
      </g>
      <text
        x={width - EDGE.right - 6}
        y={targetAt}
        textAnchor="end"
        className="halo fill-keep text-[13px]"
        data-label="target"
      >
        {visit.intake.target_typical ? 'typical' : 'target'} {figure(target, 0)} ± {figure(tolerance, 0)}
      </text>
      <text
        x={width - EDGE.right - 4}
        y={limitAt}
        textAnchor="end"
        className="halo fill-replace text-[13px]"
        data-label="limit"
      >
        rev limit {figure(limit, 0)}
        {limit >= high && ' ↑'}
      </text>
    </svg>
  )
}

/** Room for the longest label beside the right edge, and the height of a line of words [px]. */
const LABEL = 150
const WORDS = 13

/** The first of some heights at which words from `left` to the right edge have no line running through them. */
function clearOf(lines: readonly (readonly [number, number][])[], left: number, heights: readonly number[]): number {
  const crossed = (at: number) =>
    lines.some((line) =>
      line.some(([px, py], index) => {
        const [nx, ny] = line[index + 1] ?? [px, py]
        if (Math.max(px, nx) < left) return false
        return Math.min(py, ny) < at + 4 && Math.max(py, ny) > at - WORDS
      }),
    )
  return heights.find((at) => !crossed(at)) ?? heights[0] ?? WORDS
}

/** What the lines are, with their figures, and what the band stands on. */
export function ShiftKey({ visit }: { visit: VisitView }) {
  const run = visit.runs.filter((each) => each.on_left).at(-1)
  const on = visit.calibration
  const stands = visit.left?.anchor?.length
    ? `calibrated on ${on?.runs ?? 0} ${on?.runs === 1 ? 'run' : 'runs'}, last ${on?.anchor}`
    : on
      ? 'calibrated, no anchor'
      : 'not calibrated'
  return (
    <p className="flex flex-wrap gap-x-4 text-sm text-quiet">
      <Key className="border-t-2 border-alu-deep">
        as found {visit.found ? figure(visit.found.shift.mean_rpm, 0) : '–'}
      </Key>
      <Key className="border-t-4 border-signal">
        <b className="text-signal-words">as left {visit.left ? figure(visit.left.shift.mean_rpm, 0) : '–'}</b>
        {visit.left?.band && ` ± ${figure(visit.left.band.mean_rpm, 0)}, ${stands}`}
      </Key>
      {run?.measured_shift_rpm != null && (
        <Key className="border-t-2 border-ink">measured {figure(run.measured_shift_rpm, 0)}</Key>
      )}
    </p>
  )
}

function Key({ className, children }: { className: string; children: React.ReactNode }) {
  return (
    <span className="flex min-w-0 items-center gap-2 sm:whitespace-nowrap">
      <span aria-hidden="true" className={`inline-block w-5 ${className}`} />
      <span>{children}</span>
    </span>
  )
}
