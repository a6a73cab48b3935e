// Engagement on a scale of its own around its window: as found a thin line, as left a point with its band.
import { scaleLinear } from 'd3-scale'
import type { PredictionFigures, VisitView } from '../../../api/server/client'
import { useGhost } from '../../../api/visit/bench'
import { figure, told } from '../../../parts/format'
import { useSize } from '../../../parts/size'

const HEIGHT = 56
const AXIS = 34
const EDGE = 30
const LEAST_SPAN = 600

export function EngagementScale({ visit }: { visit: VisitView }) {
  const [box, { width }] = useSize<HTMLDivElement>()
  const { target_engagement_rpm: target, target_engagement_tolerance_rpm: tolerance } = visit.intake
  const found = visit.found?.engagement.bite_rpm
  const left = visit.left?.engagement.bite_rpm
  const band = visit.left?.band?.bite_rpm ?? 0
  const answer = useGhost(visit)?.engagement.bite_rpm
  const measured = visit.runs.filter((run) => run.on_left).at(-1)?.measured_engagement_rpm
  const shown = [target - tolerance, target + tolerance, found, answer, measured].filter((each) => each != null)
  if (left != null) shown.push(left - band, left + band)
  const middle = (Math.min(...shown) + Math.max(...shown)) / 2
  const half = Math.max(LEAST_SPAN / 2, (Math.max(...shown) - Math.min(...shown)) * 0.56)
  const x = scaleLinear([middle - half, middle + half], [EDGE, Math.max(width - EDGE, EDGE + 1)])
  const said = [
    `Target ${figure(target, 0)} plus or minus ${figure(tolerance, 0)} rpm`,
    found != null && `as found ${figure(found, 0)}`,
    left != null && `as left ${figure(left, 0)} plus or minus ${figure(band, 0)}`,
    visit.left && hitWords(visit.left.engagement),
    answer != null && `the answer ${figure(answer, 0)}`,
    measured != null && `measured ${figure(measured, 0)}`,
  ]
  return (
    <div ref={box}>
      <svg
        width={width}
        height={HEIGHT}
        className="block"
        role="img"
        aria-label={`Engagement, rpm. ${said.filter(Boolean).join(', ')}`}
      >
        <rect
          x={x(target - tolerance)}
          width={x(target + tolerance) - x(target - tolerance)}
          y="2"
          height={AXIS - 2}
          className="fill-band"
        />
        <line x1={EDGE / 2} x2={width - EDGE / 2} y1={AXIS} y2={AXIS} className="stroke-alu-deep" strokeWidth="1.5" />
        {x.ticks(width < 440 ? 4 : 6).map((rpm) => (
          <g key={rpm}>
            <line x1={x(rpm)} x2={x(rpm)} y1={AXIS} y2={AXIS + 5} className="stroke-alu-deep" />
            <text x={x(rpm)} y={HEIGHT - 3} textAnchor="middle" className="reading fill-quiet text-[13px]">
              {figure(rpm, 0)}
            </text>
          </g>
        ))}
        {found != null && (
          <line x1={x(found)} x2={x(found)} y1="6" y2={AXIS - 4} className="stroke-alu-deep" strokeWidth="2.5" />
        )}
        {left != null && (
          <g className="stroke-signal">
            <line x1={x(left - band)} x2={x(left + band)} y1="19" y2="19" strokeWidth="3" opacity="0.6" />
            <circle cx={x(left)} cy="19" r="6" className="fill-signal" />
          </g>
        )}
        {answer != null && (
          <line
            x1={x(answer)}
            x2={x(answer)}
            y1="4"
            y2={AXIS}
            className="stroke-ink"
            strokeWidth="2.4"
            strokeDasharray="2 4"
            data-answer-engages
          />
        )}
        {measured != null && <circle cx={x(measured)} cy="19" r="5" className="fill-ink stroke-card" strokeWidth="2" />}
      </svg>
    </div>
  )
}

/** How hard the belt is taken: the clamp 100 rpm past the bite, and the part of it that comes at once. */
const hitWords = ({ hit_n, snap_n }: PredictionFigures['engagement']) =>
  `hit ${told(hit_n, 'N')}${snap_n < 0.5 ? '' : `, ${told(snap_n, 'N')} of it at once`}`

/** Where it engages, in figures. */
export function Engages({ visit: { found, left } }: { visit: VisitView }) {
  if (!left) return null
  return (
    <span className="reading">
      {found && <span className="max-lg:hidden">as found {figure(found.engagement.bite_rpm, 0)} </span>}
      <b className="text-signal-words">as left {figure(left.engagement.bite_rpm, 0)}</b>
      {left.band && ` ± ${figure(left.band.bite_rpm, 0)}`}
      {` · hit ${told(left.engagement.hit_n, 'N')}`}
      {left.engagement.snap_n >= 0.5 && (
        <span className="max-2xl:hidden">, {told(left.engagement.snap_n, 'N')} of it at once</span>
      )}
    </span>
  )
}
