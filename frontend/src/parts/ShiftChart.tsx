// The full-throttle shift against vehicle speed: target as a band, as found thin, as left thick, measured as points.
import { scaleLinear } from 'd3-scale'
import { area, curveMonotoneX, line } from 'd3-shape'
import type { CurvePoint, Prediction, VisitView } from '../api/client'
import { usePrediction } from '../api/desk'
import { figure } from './format'

const WIDTH = 620
const HEIGHT = 372
const EDGE = { left: 78, right: 12, top: 14, bottom: 44 }

interface Dot {
  kph: number
  rpm: number
}

/** The nodes the clutch holds; while it slips at launch the engine only comes up from the bite. */
function held(prediction: Prediction): CurvePoint[] {
  const kept = prediction.curve.filter((point) => !point.flags.includes('slip-limited'))
  return kept.length > 1 ? kept : prediction.curve
}

const draw = line<Dot>()
  .x((d) => d.kph)
  .y((d) => d.rpm)
  .curve(curveMonotoneX)

export function ShiftChart({ visit, at }: { visit: VisitView; at?: CurvePoint }) {
  const { intake, setup } = visit
  const [found, left] = [usePrediction(visit.found), usePrediction(visit.left)]
  const shown = [found, left].filter((each): each is Prediction => each != null)
  if (shown.length === 0)
    return (
      <p className="min-h-96 p-6 text-quiet">
        {visit.fault ? `No curve: ${visit.fault.reason}` : 'Drawing the shift…'}
      </p>
    )
  const fastest = Math.max(...shown.flatMap((each) => each.curve.map((point) => point.speed_kph)))
  const low = Math.min(intake.target_engagement_rpm - 600, ...shown.map((each) => each.engagement.touch_rpm))
  const high = Math.max(
    setup.rev_limit_rpm,
    intake.target_shift_rpm + 300,
    ...shown.flatMap((each) => held(each).map((p) => p.rpm)),
  )
  const x = scaleLinear([0, fastest * 1.04], [EDGE.left, WIDTH - EDGE.right]).nice()
  const y = scaleLinear([Math.floor(low / 500) * 500, high + 250], [HEIGHT - EDGE.bottom, EDGE.top])
  const toDots = (each: Prediction): Dot[] => held(each).map((p) => ({ kph: x(p.speed_kph), rpm: y(p.rpm) }))
  const launch = (each: Prediction) => {
    const first = held(each)[0]
    return first ? `M${x(0)},${y(each.engagement.bite_rpm)}L${x(first.speed_kph)},${y(first.rpm)}` : ''
  }
  const band = left?.band
  const bandPath =
    left && band
      ? (area<CurvePoint>()
          .x((p) => x(p.speed_kph))
          .y0((p) => y(p.rpm - (band.curve_rpm[left.curve.indexOf(p)] ?? 0)))
          .y1((p) => y(p.rpm + (band.curve_rpm[left.curve.indexOf(p)] ?? 0)))
          .curve(curveMonotoneX)(held(left)) ?? '')
      : ''
  const run = visit.runs.filter((each) => each.on_left).at(-1)
  // A measured shift is one rpm for the whole shift: drawn across it, with a point at each end.
  const shiftEnds = left ? [held(left)[0]?.speed_kph ?? 0, left.shift.full_shift_kph] : [0, fastest]
  const points = [
    { rpm: run?.engagement_rpm, kph: 0, name: 'measured engagement' },
    ...shiftEnds.map((kph) => ({ rpm: run?.shift_rpm, kph, name: 'measured shift' })),
  ]
  const targetTop = intake.target_shift_rpm + intake.target_shift_tolerance_rpm
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label="Engine rpm at full throttle against vehicle speed"
      >
        <clipPath id="plot">
          <rect
            x={EDGE.left}
            y={EDGE.top}
            width={WIDTH - EDGE.left - EDGE.right}
            height={HEIGHT - EDGE.top - EDGE.bottom}
          />
        </clipPath>
        {y.ticks(6).map((rpm) => (
          <g key={rpm}>
            <line x1={EDGE.left} x2={WIDTH - EDGE.right} y1={y(rpm)} y2={y(rpm)} className="stroke-line" />
            <text x={EDGE.left - 8} y={y(rpm) + 4} textAnchor="end" className="reading fill-quiet text-[13px]">
              {figure(rpm, 0)}
            </text>
          </g>
        ))}
        {x.ticks(8).map((kph) => (
          <text
            key={kph}
            x={x(kph)}
            y={HEIGHT - EDGE.bottom + 20}
            textAnchor="middle"
            className="reading fill-quiet text-[13px]"
          >
            {kph}
          </text>
        ))}
        <text x={(EDGE.left + WIDTH) / 2} y={HEIGHT - 6} textAnchor="middle" className="fill-quiet text-[13px]">
          vehicle speed, km/h
        </text>
        <text
          transform={`translate(13 ${HEIGHT / 2 - 12}) rotate(-90)`}
          textAnchor="middle"
          className="fill-quiet text-[13px]"
        >
          engine rpm, full throttle
        </text>
        <g clipPath="url(#plot)">
          <rect
            x={EDGE.left}
            width={WIDTH}
            y={y(targetTop)}
            className="fill-band"
            height={y(intake.target_shift_rpm - intake.target_shift_tolerance_rpm) - y(targetTop)}
          />
          <rect
            x={EDGE.left}
            width={70}
            className="fill-band"
            y={y(intake.target_engagement_rpm + intake.target_engagement_tolerance_rpm)}
            height={
              y(intake.target_engagement_rpm - intake.target_engagement_tolerance_rpm) -
              y(intake.target_engagement_rpm + intake.target_engagement_tolerance_rpm)
            }
          />
          <line
            x1={EDGE.left}
            x2={WIDTH}
            y1={y(setup.rev_limit_rpm)}
            y2={y(setup.rev_limit_rpm)}
            className="stroke-replace"
            strokeDasharray="2 4"
            strokeWidth="1.5"
          />
          <path d={bandPath} className="fill-signal" opacity="0.13" data-band />
          {found && (
            <>
              <path d={launch(found)} className="fill-none stroke-alu-deep" strokeWidth="1.5" strokeDasharray="3 4" />
              <path
                d={draw(toDots(found)) ?? ''}
                className="fill-none stroke-alu-deep"
                strokeWidth="2"
                data-curve="found"
              />
            </>
          )}
          {left && (
            <>
              <path d={launch(left)} className="fill-none stroke-signal" strokeWidth="2" strokeDasharray="3 4" />
              <path
                d={draw(toDots(left)) ?? ''}
                className="fill-none stroke-signal"
                strokeWidth="4"
                data-curve="left"
              />
            </>
          )}
        </g>
        <text
          x={WIDTH - EDGE.right - 4}
          y={y(setup.rev_limit_rpm) - 6}
          textAnchor="end"
          className="fill-replace text-[13px]"
        >
          rev limit {figure(setup.rev_limit_rpm, 0)}
        </text>
        <text x={EDGE.left + 78} y={y(intake.target_engagement_rpm) + 5} className="fill-keep text-[13px]">
          target engagement {figure(intake.target_engagement_rpm, 0)} ±{' '}
          {figure(intake.target_engagement_tolerance_rpm, 0)}
        </text>
        <text
          x={WIDTH - EDGE.right - 4}
          y={y(intake.target_shift_rpm - Math.max(intake.target_shift_tolerance_rpm, band?.mean_rpm ?? 0)) + 20}
          textAnchor="end"
          className="fill-keep text-[13px]"
        >
          target shift {figure(intake.target_shift_rpm, 0)} ± {figure(intake.target_shift_tolerance_rpm, 0)}
        </text>
        {run?.shift_rpm != null && (
          <line
            x1={x(shiftEnds[0] ?? 0)}
            x2={x(shiftEnds[1] ?? 0)}
            y1={y(run.shift_rpm)}
            y2={y(run.shift_rpm)}
            className="stroke-ink"
            strokeWidth="1.5"
          />
        )}
        {points.map((point) =>
          point.rpm == null ? null : (
            <circle
              key={`${point.name} ${point.kph}`}
              cx={x(point.kph)}
              cy={y(point.rpm)}
              r="6"
              className="fill-ink stroke-card"
              strokeWidth="2"
            >
              <title>{`${point.name} ${figure(point.rpm, 0)} rpm`}</title>
            </circle>
          ),
        )}
        {at && !at.flags.includes('slip-limited') && (
          <circle cx={x(at.speed_kph)} cy={y(at.rpm)} r="7" className="fill-card stroke-signal" strokeWidth="4" />
        )}
      </svg>
      <figcaption className="flex flex-wrap gap-x-5 gap-y-1 pl-2 text-sm text-quiet">
        <Key className="border-t-2 border-alu-deep">as found</Key>
        <Key className="border-t-4 border-signal">as left</Key>
        {band && <Key className="h-3 bg-signal opacity-20">one standard deviation, not yet calibrated</Key>}
        <Key className="border-t-2 border-dashed border-alu-deep">slipping launch</Key>
        {run && <Key className="border-t-2 border-ink">measured</Key>}
      </figcaption>
    </figure>
  )
}

function Key({ className, children }: { className: string; children: React.ReactNode }) {
  return (
    <span className="flex items-center gap-2">
      <span className={`inline-block w-6 ${className}`} />
      {children}
    </span>
  )
}
