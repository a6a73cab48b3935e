// The two clutches from above: to scale, but for the error, which is drawn larger and said so.
import { useDesk } from '../../api/visit/desk'
import { useSize } from '../../parts/size'

/** How much of the picture's height an error at its tolerance takes, so that one just out is plain. */
const PLAIN = 14

/** A sheave's width on the picture against its radius. */
const NARROW = 0.16

export function PlanView() {
  const { visit } = useDesk()
  const {
    alignment,
    read,
    centres_mm: centres,
    primary_mm: r1,
    secondary_mm: r2,
    offset: { value: offset },
    toe: { value: toe },
  } = visit.line_up
  const error = alignment?.offset_mm ?? 0
  const deg = alignment?.toe_deg ?? 0
  const worst = Math.max(Math.abs(error) / offset, Math.abs(deg) / toe, 1)
  // Both errors in one scale: many times what they are, less where one is far out.
  const times = Math.max(1, Math.round(Math.min(PLAIN / offset, 60 / (Math.max(Math.abs(error), offset) + 0.01))))
  const degTimes = Math.max(1, Math.round(Math.min(3 / toe, 14 / Math.max(Math.abs(deg), toe))))
  const [box, room] = useSize<HTMLElement>()
  const [left, right] = [-r2 * 1.15, centres + r1 * 1.25]
  const width = right - left
  const height = width * 0.31
  // Words keep the size they are read at, however wide the picture is.
  const text = room.width > 0 ? (13 * width) / room.width : width / 38
  const wide = room.width > 420
  const words = alignment
    ? `From above: the primary ${Math.abs(error) < 0.005 ? 'in line' : `${error > 0 ? 'in' : 'out'} by ${Math.abs(error).toFixed(2)} mm`}, toe ${deg.toFixed(2)}°`
    : 'From above: the two clutches, not measured yet'
  return (
    <figure ref={box} className="rounded-md border border-line bg-card p-3">
      <svg
        viewBox={`${left} ${-height / 2} ${width} ${height}`}
        className="w-full"
        role="img"
        aria-label={words}
        data-plan
      >
        <path d={`M${left},0H${right}`} className="stroke-alu-deep" strokeDasharray="6 6" strokeWidth={1} />
        <Sheaves x={0} radius={r2} />
        <g transform={`translate(${centres} ${error * times}) rotate(${deg * degTimes})`}>
          <Sheaves x={0} radius={r1} out={worst > 1} />
        </g>
        <g className="text-signal" fill="none" stroke="currentColor">
          <path d={`M${-r2},${-r2 * NARROW}H${centres + r1 * 1.15}`} strokeWidth={2} />
        </g>
        {alignment && read.way === 'gaps' && (
          <Gaps x={centres} radius={r1} bar={-r2 * NARROW} error={error * times} deg={deg * degTimes} size={text} />
        )}
        <Label x={0} y={height / 2 - 8} size={text}>
          secondary
        </Label>
        <Label x={centres} y={height / 2 - 8} size={text}>
          primary
        </Label>
        {wide && (
          <Label x={centres / 2} y={-r2 * NARROW - 6} size={text} signal>
            bar
          </Label>
        )}
        <Label x={left + 4} y={-height / 2 + text * 1.3} size={text} start>
          out
        </Label>
        {wide && (
          <Label x={left + 4} y={height / 2 - 8} size={text} start>
            in, chassis
          </Label>
        )}
        <Label x={right - 4} y={-height / 2 + text * 1.3} size={text} end>
          front →
        </Label>
      </svg>
      <figcaption className="text-center text-sm text-quiet">
        {alignment
          ? `From above, to scale; offset drawn ${times} times and toe ${degTimes} times what they are.`
          : 'From above, to scale. Read the bar: the error is drawn larger than it is.'}
      </figcaption>
    </figure>
  )
}

interface GapsProps {
  x: number
  radius: number
  bar: number
  error: number
  deg: number
  size: number
}

/** From the bar to the primary's face, at its rear and its front edge. */
function Gaps({ x, radius, bar, error, deg, size }: GapsProps) {
  const at = (way: number) => {
    const face = error - radius * NARROW * 0.6 + way * radius * Math.sin((deg * Math.PI) / 180)
    return { x: x + way * radius * 0.97, face }
  }
  return (
    <g>
      {([-1, 1] as const).map((way) => {
        const { x: edge, face } = at(way)
        return (
          <g key={way}>
            <path d={`M${edge},${bar}V${face}`} className="stroke-signal" strokeWidth={1.5} strokeDasharray="3 3" />
            <Label x={edge} y={bar - size * 0.5} size={size} signal>
              {way < 0 ? 'rear gap' : 'front gap'}
            </Label>
          </g>
        )
      })}
    </g>
  )
}

/** Two sheaves edge on, the belt's groove between them. */
function Sheaves({ x, radius, out }: { x: number; radius: number; out?: boolean }) {
  const half = radius * NARROW
  const face = (way: number) =>
    `M${x - radius},${half * way}L${x - radius * 0.3},${half * 0.25 * way}H${x + radius * 0.3}L${x + radius},${half * way}L${x + radius},${half * 1.3 * way}H${x - radius}Z`
  return (
    <g className={out ? 'fill-alu stroke-replace' : 'fill-alu stroke-ink'} strokeWidth={1.5}>
      <path d={face(-1)} />
      <path d={face(1)} />
      <path d={`M${x - 4},${-half * 1.8}h8V${half * 1.8}h-8Z`} className="fill-alu-deep stroke-none" />
    </g>
  )
}

interface LabelProps {
  x: number
  y: number
  size: number
  start?: boolean
  end?: boolean
  signal?: boolean
  children: React.ReactNode
}

function Label({ x, y, size, start, end, signal, children }: LabelProps) {
  return (
    <text
      x={x}
      y={y}
      fontSize={size}
      textAnchor={start ? 'start' : end ? 'end' : 'middle'}
      className={signal ? 'fill-signal-words' : 'fill-quiet'}
    >
      {children}
    </text>
  )
}
