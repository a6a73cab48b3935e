// The pulls of both sets over each other, and below B less A with what chance alone makes.
import { scaleLinear } from 'd3-scale'
import { area, line } from 'd3-shape'
import type { ComparedView, VisitView } from '../../../api/server/client'
import { inShown } from '../../../api/server/units'
import { figure, signed, unitName } from '../../../parts/format'
import { useSize } from '../../../parts/size'

export type Axis = 'time' | 'speed' | 'distance'
type Laid = NonNullable<ComparedView['laid_over']>

const UNITS: Record<Axis, string> = { time: 's', speed: 'km/h', distance: 'm' }
const TOP = 214
const LOW = 146
const EDGE = { left: 56, right: 16, top: 20, bottom: 26 }

interface OverlayProps {
  visit: VisitView
  laid: Laid
  told: number | null
  /** Half the interval that chance alone makes of two means [rpm]. */
  noise: number | null
}

export function Overlay({ visit, laid, told, noise }: OverlayProps) {
  const [box, { width }] = useSize<HTMLDivElement>()
  const unit = UNITS[laid.axis as Axis]
  const shown = (value: number) => (unit === 's' ? value : inShown(value, unit))
  const ends = [laid.at[0] ?? 0, laid.at.at(-1) ?? 1].map(shown)
  const x = scaleLinear(ends, [EDGE.left, Math.max(EDGE.left + 1, width - EDGE.right)])
  const place = (index: number) => x(shown(laid.at[index] ?? 0))
  // The shift is where sets differ: what lies below it needs no room.
  const window = visit.intake
  const [aim, give] = [window.target_shift_rpm, window.target_shift_tolerance_rpm]
  const every = [...laid.a.flat(), ...laid.b.flat()]
  const most = Math.max(...every, aim + give)
  const least = Math.max(
    Math.min(...every),
    Math.min(aim - give, ...laid.mean_a.slice(-45), ...laid.mean_b.slice(-45)) - 250,
  )
  const y = scaleLinear([least, most + 40], [TOP - EDGE.bottom, EDGE.top]).nice(5)
  const reach = Math.max(
    60,
    1.3 * (noise ?? 0),
    1.1 * Math.abs(told ?? 0),
    ...laid.difference.slice(8).map((each) => Math.min(600, Math.abs(each) + (laid.half?.[0] ?? 0))),
  )
  const z = scaleLinear([-reach, reach], [LOW - EDGE.bottom, EDGE.top]).nice(4)
  const clip = (value: number, [low = 0, high = 0]: number[]) => Math.max(low, Math.min(high, value))
  const drawn = line<number>()
    .x((_, index) => place(index))
    .y((rpm) => y(clip(rpm, y.domain())))
  const off = line<number>()
    .x((_, index) => place(index))
    .y((rpm) => z(clip(rpm, z.domain())))
  const band = area<number>()
    .x((_, index) => place(index))
    .y0((rpm, index) => z(clip(rpm - (laid.half?.[index] ?? 0), z.domain())))
    .y1((rpm, index) => z(clip(rpm + (laid.half?.[index] ?? 0), z.domain())))
  const [left, right] = x.range() as [number, number]
  const middle = Math.round(laid.at.length * 0.6)
  const above = (laid.mean_b[middle] ?? 0) >= (laid.mean_a[middle] ?? 0)
  return (
    <div ref={box}>
      {width > 0 && (
        <>
          <svg
            width={width}
            height={TOP}
            role="img"
            aria-label={`Engine speed of ${laid.a.length} pulls of A and ${laid.b.length} of B along ${laid.axis}`}
          >
            <rect
              x={left}
              width={right - left}
              y={y(aim + give)}
              height={Math.max(0, y(Math.max(least, aim - give)) - y(aim + give))}
              className="fill-keep"
              opacity={0.16}
            />
            <Axes x={x} y={y} bottom={TOP} unit={unit} label="rpm" />
            {laid.a.map((pull, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: pulls in their order
              <path key={index} d={drawn(pull) ?? ''} className="fill-none stroke-quiet" opacity={0.5} />
            ))}
            {laid.b.map((pull, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: pulls in their order
              <path key={index} d={drawn(pull) ?? ''} className="fill-none stroke-signal" opacity={0.5} />
            ))}
            <path d={drawn(laid.mean_a) ?? ''} className="fill-none stroke-quiet" strokeWidth={2} />
            <path d={drawn(laid.mean_b) ?? ''} className="fill-none stroke-signal" strokeWidth={3} />
            <text x={left + 6} y={y(aim + give) - 4} className="fill-keep text-[12px]">
              window {figure(aim, 0)} ± {figure(give, 0)}
            </text>
            <text
              x={place(middle)}
              y={y(clip(laid.mean_a[middle] ?? 0, y.domain())) + (above ? 18 : -10)}
              className="fill-ink text-[13px] font-bold"
            >
              A
            </text>
            <text
              x={place(middle)}
              y={y(clip(laid.mean_b[middle] ?? 0, y.domain())) + (above ? -10 : 18)}
              className="fill-signal-words text-[13px] font-bold"
            >
              B
            </text>
          </svg>
          <h3 className="text-sm font-semibold">
            B less A <span className="font-normal text-quiet">each at the same {laid.axis}</span>
          </h3>
          <svg width={width} height={LOW} role="img" aria-label={`B less A along ${laid.axis}`}>
            {noise != null && (
              <rect
                x={left}
                width={right - left}
                y={z(Math.min(noise, z.domain()[1] ?? noise))}
                height={z(Math.max(-noise, z.domain()[0] ?? -noise)) - z(Math.min(noise, z.domain()[1] ?? noise))}
                className="fill-line"
                opacity={0.6}
              />
            )}
            <Axes x={x} y={z} bottom={LOW} unit={unit} label="rpm" signs />
            {laid.half && <path d={band(laid.difference) ?? ''} className="fill-signal" opacity={0.18} />}
            <path d={off(laid.difference) ?? ''} className="fill-none stroke-signal" strokeWidth={2} />
            {told != null && Math.abs(told) <= (z.domain()[1] ?? 0) && (
              <>
                <line x1={left} x2={right} y1={z(told)} y2={z(told)} className="stroke-ink" strokeDasharray="5 4" />
                <text x={right - 4} y={z(told) - 4} textAnchor="end" className="fill-ink text-[12px]">
                  the model tells {signed(told)}
                </text>
              </>
            )}
            {noise != null && (
              <text x={left + 6} y={z(0) + 15} className="fill-ink text-[12px]">
                chance alone: ± {figure(noise, 0)} rpm of the mean shift
              </text>
            )}
          </svg>
        </>
      )}
    </div>
  )
}

type Scale = ReturnType<typeof scaleLinear<number, number>>

function Axes({
  x,
  y,
  bottom,
  unit,
  label,
  signs,
}: {
  x: Scale
  y: Scale
  bottom: number
  unit: string
  label: string
  signs?: boolean
}) {
  const [left, right] = x.range() as [number, number]
  return (
    <g className="text-[12px]">
      {y.ticks(4).map((tick) => (
        <g key={tick}>
          <line
            x1={left}
            x2={right}
            y1={y(tick)}
            y2={y(tick)}
            className="stroke-line"
            strokeWidth={tick === 0 ? 2 : 1}
          />
          <text x={left - 6} y={y(tick) + 4} textAnchor="end" className="reading fill-quiet">
            {signs && tick ? signed(tick) : figure(tick, 0)}
          </text>
        </g>
      ))}
      <text x={left - 6} y={12} textAnchor="end" className="fill-quiet">
        {label}
      </text>
      {x.ticks(7).map((tick) => (
        <text key={tick} x={x(tick)} y={bottom - 8} textAnchor="middle" className="reading fill-quiet">
          {figure(tick, 0)}
        </text>
      ))}
      <text x={right} y={bottom - 8} textAnchor="end" className="fill-quiet">
        {unitName(unit)}
      </text>
    </g>
  )
}
