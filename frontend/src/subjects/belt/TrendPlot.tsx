// A belt's width over the distance on it: what was measured, how it wears with its range, and where it meets the limit.
import { scaleLinear } from 'd3-scale'
import { area, line } from 'd3-shape'
import type { BeltLifeView } from '../../api/server/client'
import { inShown, shown } from '../../api/server/units'
import { figure, reading, told, unitName } from '../../parts/format'
import { useSize } from '../../parts/size'

const TALL = 200
const EDGE = { left: 52, right: 14, top: 12, bottom: 38 }

export function TrendPlot({ life, now }: { life: BeltLifeView; now?: number }) {
  const [box, room] = useSize<HTMLDivElement>()
  const wide = Math.max(280, room.width)
  const band = life.trend?.band ?? []
  /** One that ran before it was known here is followed by the machine's own meter. */
  const byMeter = !life.life_known && life.fitted_at_km == null
  const far = Math.max(...life.points.map((each) => each.use), ...band.map((each) => each.use), 1)
  const low = Math.min(life.limit_mm - 0.3, ...life.points.map((each) => each.width_mm))
  const high = Math.max(life.new_width_mm + 0.2, ...life.points.map((each) => each.width_mm))
  const x = scaleLinear([0, far], [EDGE.left, wide - EDGE.right])
  const y = scaleLinear([low, high], [TALL - EDGE.bottom, EDGE.top])
  const inside = (width: number) => y(Math.max(low, Math.min(high, width)))
  const shade = area<(typeof band)[number]>()
    .x((each) => x(each.use))
    .y0((each) => inside(each.low_mm))
    .y1((each) => inside(each.high_mm))(band)
  const middle = line<(typeof band)[number]>()
    .x((each) => x(each.use))
    .y((each) => y(each.width_mm))(band.filter((each) => each.width_mm >= low))
  const told_ = life.points.map((each) => `${told(each.use, life.unit)}: ${told(each.width_mm, 'mm')}`).join(', ')
  return (
    <div ref={box}>
      <svg
        width={wide}
        height={TALL}
        className="block max-w-full"
        role="img"
        aria-label={`Width over distance. ${told_}. Limit ${told(life.limit_mm, 'mm')}`}
      >
        {y.ticks(5).map((tick) => (
          <g key={tick}>
            <line x1={EDGE.left} x2={wide - EDGE.right} y1={y(tick)} y2={y(tick)} className="stroke-line" />
            <text x={EDGE.left - 6} y={y(tick) + 4} textAnchor="end" className="reading fill-quiet text-[12px]">
              {reading(tick, 'mm', 0)}
            </text>
          </g>
        ))}
        {x.ticks(Math.max(3, Math.round(wide / 130))).map((tick) => (
          <text key={tick} x={x(tick)} y={TALL - 22} textAnchor="middle" className="reading fill-quiet text-[12px]">
            {reading(tick, life.unit)}
          </text>
        ))}
        <text x={(EDGE.left + wide) / 2} y={TALL - 5} textAnchor="middle" className="fill-quiet text-[12px]">
          {byMeter ? 'odometer' : life.life_known ? 'on the belt' : 'on it since it is known here'},{' '}
          {unitName(life.unit)}; width, {unitName('mm')}
        </text>
        {shade && <path d={shade} className="fill-band" data-band />}
        {middle && (
          <path d={middle} className="fill-none stroke-keep" strokeWidth="2" strokeDasharray="6 4" data-line />
        )}
        <line
          x1={EDGE.left}
          x2={wide - EDGE.right}
          y1={y(life.limit_mm)}
          y2={y(life.limit_mm)}
          className="stroke-replace"
          strokeWidth="2"
        />
        <text x={EDGE.left + 6} y={y(life.limit_mm) + 15} className="fill-replace text-[12px]">
          wear limit {told(life.limit_mm, 'mm')}
        </text>
        {life.points.map((each) => {
          const here = each.visit_id != null && each.visit_id === now
          return (
            <circle
              key={`${each.visit_id ?? 'fitted'}`}
              cx={x(each.use)}
              cy={y(each.width_mm)}
              r={here ? 7 : 5}
              className={here ? 'fill-card stroke-signal' : 'fill-ink stroke-card'}
              strokeWidth={here ? 4 : 1}
              data-point={each.visit_id ?? 'fitted'}
            >
              <title>{`${told(each.use, life.unit)}: ${told(each.width_mm, 'mm')}${each.on ? `, ${each.on}` : ', as fitted'}`}</title>
            </circle>
          )
        })}
      </svg>
    </div>
  )
}

/** Wear [mm in 1,000 km or hours] as the hand reads it. */
export function wearRate(wear: number, unit: BeltLifeView['unit']): string {
  const rate = inShown(wear, 'mm') / inShown(1, unit)
  return `${figure(rate, shown('mm').digits + 1)} ${unitName('mm')} in 1,000 ${unitName(unit)}`
}

/** What a standing start is timed to, as the hand reads it. */
export const startName = () => `Off the line, ${told(20, 'm')}`

/** A forecast to two figures: more would claim what no caliper tells. */
const roughly = (use: number) => (use > 0 ? Number(use.toPrecision(2)) : 0)

/** The distance left, in words: its middle and its range, or the near end where its widths say no more. */
export function Left({ life }: { life: BeltLifeView }) {
  const { trend } = life
  if (life.no_trend) return <p className="text-sm text-watch">{life.no_trend}</p>
  if (!trend) return <p className="text-sm text-quiet">A trend follows once its width is known at two distances.</p>
  const { left_from: from, left_to: to, left: middle } = trend
  return (
    <p className="rounded-md border border-line bg-card px-4 py-3" data-left>
      {trend.at_limit ? (
        <b className="text-lg text-replace">At its limit: replace it now.</b>
      ) : to != null && middle != null ? (
        <>
          <b className="text-lg">About {told(roughly(middle), life.unit)} left</b>, from{' '}
          {reading(roughly(from), life.unit)} to {told(roughly(to), life.unit)}, {figure(trend.confidence * 10, 0)}{' '}
          times in ten.
        </>
      ) : (
        <>
          <b className="text-lg">At least {told(roughly(from), life.unit)} left</b>; how far at the most, its widths do
          not tell yet.
        </>
      )}{' '}
      <span className="text-quiet">{wearRate(trend.wear_mm_per_1000, life.unit)} now</span>
    </p>
  )
}
