// The secondary cut along its shaft, one half of it: faces, belt, helix and spring where they stand now.
import type { ClutchPicture, PictureNode } from '../../../api/server/client'
import { beltOf, coil, type Drawn, faceOf, type Groove, groove, lit, METAL, path, rad, STEEL } from './frame'

export const SECONDARY_REACH = { from: -108, to: 26 }

export const secondaryGroove = (drawn: Pick<Drawn, 'picture' | 'node'>, rim: number): Groove =>
  groove(drawn.node.secondary_radius_mm, rim, 0, drawn)

interface SecondaryProps extends Drawn {
  kind: string
  rim: number
  ghost?: Groove
}

/** Drawn with the fixed face at the right: the belt runs from one fixed face to the other, as on the machine. */
export function SecondarySection({ picture, node, hand, kind, rim, ghost }: SecondaryProps) {
  const g = secondaryGroove({ picture, node }, rim)
  const shaft = picture.hub_radius_mm * 0.34
  const back = g.moving(g.hub) + 11
  const closed = back - node.opening_mm
  const stop = closed + picture.secondary_travel_mm + POST + 12
  const washer = picture.washer_secondary_mm
  return (
    <g transform="scale(-1 1)" strokeLinejoin="round">
      <rect x={-26} y="0" width={134} height={shaft} className={STEEL} />
      <rect x={-8} y={shaft} width={stop + 6} height={g.hub - shaft} className={METAL} strokeWidth="0.6" />
      <path d={faceOf(g, g.fixed, -7)} className={METAL} strokeWidth="0.8" />
      {ghost && <path d={beltOf(ghost)} className="fill-none stroke-quiet" strokeDasharray="3 2" strokeWidth="0.8" />}
      <path d={beltOf(g)} className={hand === 'belt' ? 'fill-signal' : 'fill-belt'} />
      <path d={faceOf(g, g.moving, 7)} className="fill-alu stroke-signal" strokeWidth="0.9" />
      <HelixBody picture={picture} hand={hand} kind={kind} closed={closed} stop={stop} />
      <Follower picture={picture} hand={hand} kind={kind} closed={closed} node={node} />
      <path
        d={coil(
          back + 4,
          stop - washer,
          shaft + 4,
          g.hub + (kind === 'nut-retained-torque-spring-secondary' ? 12 : 8),
          6,
        )}
        className={`fill-none ${hand === 'secondary_spring' || hand === 'holes' ? 'stroke-signal' : 'stroke-ink'}`}
        strokeWidth="1.8"
      />
      {washer > 0 && (
        <rect
          x={stop - washer}
          y={shaft}
          width={washer}
          height={g.hub - shaft + 10}
          className={lit(hand, 'washer:secondary', STEEL)}
        />
      )}
      {kind === 'floating-secondary' && (
        <path d={coil(-24, -8, shaft + 2, g.hub + 4, 3)} className="fill-none stroke-ink" strokeWidth="1.6" />
      )}
      {kind === 'nut-retained-torque-spring-secondary' && (
        <path d={`M${stop + 2},0V${shaft + 8}l6,3 6,-3V0Z`} className={STEEL} strokeWidth="0.8" />
      )}
    </g>
  )
}

interface PieceProps extends Pick<Drawn, 'picture' | 'hand'> {
  kind: string
  /** The moving sheave's back when the secondary is closed. */
  closed: number
}

const FOLLOWER = 4.5
/** How far the follower's post reaches from the sheave's back. */
const POST = 15

/** Where the follower stands when the secondary is so far open, the helix unrolled upward: on its ramp, to scale. */
function place(picture: ClutchPicture, closed: number, opening: number, turnDeg: number): [number, number] {
  return [closed + POST + opening, picture.helix_radius_mm - 6 + picture.helix_radius_mm * rad(turnDeg)]
}

/** The helix on the shaft, its ramp unrolled: every place the follower comes to lies on it. */
function HelixBody({ picture, hand, kind, closed, stop }: PieceProps & { stop: number }) {
  const way = picture.nodes.map((node) => place(picture, closed, node.opening_mm, node.turn_deg))
  const first = way[0] ?? ([stop, 40] as const)
  const last = way.at(-1) ?? first
  const foot = picture.hub_radius_mm * 0.55 + 10
  const ramp = way.map(([z, r]): [number, number] => [z + FOLLOWER, r])
  return (
    <g>
      <path
        d={path([
          [stop + 4, foot],
          [stop + 4, Math.max(last[1] + 8, foot + 10)],
          [last[0] + FOLLOWER, last[1] + 8],
          ...ramp.reverse(),
          [first[0] + FOLLOWER, Math.min(first[1], foot + 4)],
          [first[0] + FOLLOWER + 6, foot],
        ])}
        className={lit(hand, 'helix', METAL)}
        strokeWidth="0.9"
        opacity="0.92"
      />
      {kind === 'bolt-in-helix-secondary' && (
        <rect x={stop} y={foot + 8} width="9" height="4" rx="1" className={STEEL} strokeWidth="0.6" />
      )}
    </g>
  )
}

/** What rides on the helix: a roller on the jackshaft kind, a button or slider on the others. */
function Follower({ picture, hand, kind, closed, node }: PieceProps & { node: PictureNode }) {
  const [z, r] = place(picture, closed, node.opening_mm, node.turn_deg)
  const look = lit(hand, 'helix', 'fill-card stroke-ink')
  return (
    <g>
      <path d={`M${z - POST},${r - 3}H${z}V${r + 3}H${z - POST}Z`} className={METAL} strokeWidth="0.7" />
      {kind === 'jackshaft-roller-secondary' ? (
        <circle cx={z} cy={r} r={FOLLOWER} className={look} strokeWidth="1" />
      ) : (
        <rect x={z - FOLLOWER} y={r - 5} width={2 * FOLLOWER} height="10" rx="2" className={look} strokeWidth="1" />
      )}
    </g>
  )
}
