// The primary cut along its shaft, one half of it: faces, belt, weights, spring and cover where they stand now.
import { beltOf, coil, type Drawn, faceOf, type Groove, groove, lit, METAL, STEEL } from './frame'
import { Arm, Roller } from './Weights'

/** How far everything reaches along the shaft, for the room it needs. */
export const PRIMARY_REACH = { from: -26, to: 108 }

export const primaryGroove = (drawn: Pick<Drawn, 'picture' | 'node'>, rim: number): Groove =>
  groove(drawn.node.primary_radius_mm, rim, drawn.node.gap_mm, drawn)

interface PrimaryProps extends Drawn {
  kind: string
  rim: number
  ghost?: Groove
}

export function PrimarySection({ picture, node, hand, kind, rim, ghost }: PrimaryProps) {
  const g = primaryGroove({ picture, node }, rim)
  const shaft = picture.hub_radius_mm * 0.34
  const back = g.moving(g.hub) + 11
  const open = back + node.travel_mm
  const cover = open + (picture.weights === 'ramp-roller' ? 34 : 56)
  const weights = { picture, node, hand, kind, back, open }
  const spring = picture.washer_primary_mm
  return (
    <g strokeLinejoin="round">
      <rect
        x={PRIMARY_REACH.from}
        y="0"
        width={PRIMARY_REACH.to - PRIMARY_REACH.from}
        height={shaft}
        className={STEEL}
      />
      <rect x={-8} y={shaft} width={cover + 8} height={g.hub - shaft} className={METAL} strokeWidth="0.6" />
      {kind === 'one-way-bearing-primary' && <Bearing from={2} to={back - 14} low={g.hub} />}
      <path d={faceOf(g, g.fixed, -7)} className={METAL} strokeWidth="0.8" />
      {ghost && <path d={beltOf(ghost)} className="fill-none stroke-quiet" strokeDasharray="3 2" strokeWidth="0.8" />}
      <path d={beltOf(g)} className={hand === 'belt' ? 'fill-signal' : 'fill-belt'} />
      <path d={faceOf(g, g.moving, 7)} className={`fill-alu stroke-signal`} strokeWidth="0.9" />
      {picture.weights === 'ramp-roller' ? <Roller {...weights} /> : <Arm {...weights} />}
      <path
        d={coil(back + 3, cover - spring, shaft + 3, g.hub + 6, 5)}
        className={`fill-none ${hand === 'primary_spring' ? 'stroke-signal' : 'stroke-ink'}`}
        strokeWidth="1.8"
      />
      {spring > 0 && (
        <rect
          x={cover - spring}
          y={shaft}
          width={spring}
          height={g.hub - shaft + 8}
          className={lit(hand, 'washer:primary', STEEL)}
        />
      )}
      <path
        d={`M${cover},${shaft}V${rim * 0.86}l-8,3v4l12,-1V${shaft}Z`}
        className={METAL}
        strokeWidth="0.8"
        opacity="0.85"
      />
      {picture.limiter_mm > 0 && (
        <rect
          x={back + 1}
          y={g.hub + 8}
          width={picture.limiter_mm}
          height="6"
          className={lit(hand, 'limiter', STEEL)}
          strokeWidth="0.6"
        />
      )}
    </g>
  )
}

/** The idler that lets the belt rest while the engine turns, and drives it one way. */
function Bearing({ from, to, low }: { from: number; to: number; low: number }) {
  const count = Math.max(2, Math.floor((to - from) / 5))
  return (
    <g>
      <rect x={from} y={low} width={to - from} height="7" rx="1.5" className="fill-card stroke-ink" strokeWidth="0.8" />
      {Array.from({ length: count }, (_, i) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: rollers stay in their cage
          key={i}
          x={from + 1.5 + (i * (to - from - 3)) / count}
          y={low + 2}
          width="2.6"
          height="3"
          className="fill-ink"
        />
      ))}
    </g>
  )
}
