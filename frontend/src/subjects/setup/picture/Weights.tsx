// The weights that close the primary: arms on their pivots against their rollers, or rollers in ramp pockets.
import type { ClutchPicture } from '../../../api/server/client'
import { type Drawn, lit, METAL, path, rad, STEEL } from './frame'

const ROLLER = 7

interface Cam {
  /** Where the roller turns, from the pivot at the open stop: along the shaft and off it. */
  along: number
  off: number
}

/**
 * Where an arm's roller must stand so that the arm rides on it all the way to its tip: a set-up gives the swing, not the
 * casting, and this is the one place from which every swing it names is reached.
 */
function camOf(picture: ClutchPicture): Cam {
  const last = picture.nodes.at(-1)
  const swung = rad(last?.arm_deg ?? 45)
  const reach = Math.max(...picture.stations.map((each) => each.distance_mm), (picture.arm_mm ?? 30) + 8) - 2
  const u = (reach - 9 * Math.tan(swung)) * Math.cos(swung)
  return { along: u - (last?.travel_mm ?? 30), off: (9 + u * Math.sin(swung)) / Math.cos(swung) }
}

/** The arm's outline about its pivot, its line along the shaft: under the roller's way, over its stations. */
function armOutline(picture: ClutchPicture, cam: Cam): string {
  const face = picture.nodes.map((node): [number, number] => {
    const swing = rad(-(node.arm_deg ?? 0))
    const [z, r] = [cam.along + node.travel_mm, cam.off]
    const [x, y] = [z * Math.cos(swing) - r * Math.sin(swing), z * Math.sin(swing) + r * Math.cos(swing)]
    return [x, y - ROLLER]
  })
  const end = face.at(-1) ?? [40, 0]
  return path([[-6, 2], ...face, [end[0] + 3, end[1] - 4], [end[0] - 2, -7], [4, -7], [-5, -4]])
}

/** How many pockets an arm's load shows as pieces. */
function Load({ station, hand }: { station: ClutchPicture['stations'][number]; hand: string }) {
  const angle = rad(station.deg)
  const [x, y] = [station.distance_mm * Math.cos(angle), station.distance_mm * Math.sin(angle)]
  const pieces = station.mass_g > 0 ? Math.max(station.pieces, 1) : 0
  const room = station.room ?? 1
  return (
    <g transform={`translate(${x} ${y})`}>
      {Array.from({ length: room }, (_, place) => (
        <circle
          // biome-ignore lint/suspicious/noArrayIndexKey: a pocket's places never move
          key={place}
          cy={(place - (room - 1) / 2) * 6.2}
          r={room > 1 ? 2.8 : 3.6}
          className={
            hand === `load:${station.name}`
              ? 'fill-signal stroke-signal'
              : place < pieces
                ? 'fill-ink stroke-ink'
                : 'fill-card stroke-ink'
          }
          strokeWidth="0.8"
        />
      ))}
    </g>
  )
}

interface WeightsProps extends Drawn {
  kind: string
  /** Where the moving sheave's back stands now, and at the open stop. */
  back: number
  open: number
}

export function Arm({ picture, node, hand, kind, back, open }: WeightsProps) {
  const cam = camOf(picture)
  const pivot = picture.pivot_mm ?? 45
  const at = open + 5 + cam.along
  const swing = node.arm_deg ?? 0
  const tower = kind !== 'adjustable-cam-primary'
  return (
    <g>
      <Spider picture={picture} hand={hand} kind={kind} at={at} top={pivot + cam.off} />
      <g transform={`translate(${back + 5} ${pivot})`}>
        <path d="M-7-9H3V6H-7Z" className={METAL} strokeWidth="0.7" />
        <g transform={`rotate(${swing})`}>
          <path d={armOutline(picture, cam)} className={lit(hand, 'arms', STEEL)} strokeWidth="0.8" />
          {picture.stations.map((station) => (
            <Load key={station.name} station={station} hand={hand} />
          ))}
          <circle
            cx={(picture.arm_mm ?? 0) * Math.cos(rad(picture.arm_line_deg ?? 0))}
            cy={(picture.arm_mm ?? 0) * Math.sin(rad(picture.arm_line_deg ?? 0))}
            r="1.6"
            className="fill-card stroke-ink"
            strokeWidth="0.5"
          />
        </g>
        <circle r="2.6" className="fill-card stroke-ink" strokeWidth="0.9" />
      </g>
      <circle cx={at} cy={pivot + cam.off} r={ROLLER} className={METAL} strokeWidth="0.9" />
      <circle cx={at} cy={pivot + cam.off} r="2" className="fill-ink" />
      {tower && kind !== 'loaded-arm-primary' && (
        <rect x={at - 13} y={pivot + cam.off - 4} width="5" height="8" rx="1.5" className="fill-card stroke-ink" />
      )}
      {picture.clicker != null && <Clicker picture={picture} hand={hand} x={at} y={pivot + cam.off} />}
    </g>
  )
}

/** The spider that holds the roller: a tower from the shaft, on its shims where it stands on any. */
function Spider({
  picture,
  hand,
  kind,
  at,
  top,
}: Omit<WeightsProps, 'node' | 'back' | 'open'> & { at: number; top: number }) {
  const hub = picture.hub_radius_mm * 0.55
  const shims = kind === 'shimmed-spider-primary' || picture.shim_mm > 0
  return (
    <g>
      <path
        d={path([
          [at - 4, hub],
          [at - 5, top + 4],
          [at + 5, top + 4],
          [at + 13, hub + 8],
          [at + 13, hub],
        ])}
        className={METAL}
        strokeWidth="0.7"
        opacity="0.75"
      />
      {shims && (
        <g data-part="shim">
          {[0, 1, 2].map((sheet) => (
            <rect
              key={sheet}
              x={at - 5.6 - Math.max(picture.shim_mm, 0.6) + (sheet * Math.max(picture.shim_mm, 0.6)) / 3}
              y={hub}
              width={Math.max(picture.shim_mm, 0.6) / 3}
              height="14"
              className={lit(hand, 'shim', STEEL)}
              strokeWidth="0.3"
            />
          ))}
        </g>
      )}
    </g>
  )
}

/** The numbered cam on the roller's axle, turned to its position. */
function Clicker({ picture, hand, x, y }: { picture: ClutchPicture; hand: string; x: number; y: number }) {
  const sides = picture.clickers ?? 6
  const turned = ((picture.clicker ?? 1) - 1) * (360 / sides)
  const points = Array.from({ length: sides }, (_, side): [number, number] => {
    const angle = rad((360 / sides) * side)
    return [7.4 * Math.cos(angle), 7.4 * Math.sin(angle)]
  })
  return (
    <g transform={`translate(${x + 17} ${y})`}>
      <g transform={`rotate(${turned})`}>
        <path d={path(points)} className={lit(hand, 'clicker', 'fill-card stroke-ink')} strokeWidth="1" />
        <circle cx="5.4" r="1" className="fill-ink" />
      </g>
      <text
        transform="scale(1 -1)"
        y="3.4"
        textAnchor="middle"
        fontSize="10"
        className={`reading font-semibold ${hand === 'clicker' ? 'fill-on-signal' : 'fill-ink'}`}
      >
        {picture.clicker}
      </text>
    </g>
  )
}

/** A roller or a driver's weight between its ramp in the sheave and the plate behind it. */
export function Roller({ picture, node, hand, kind, back, open }: WeightsProps) {
  const diameter = Number(picture.size?.match(/[\d.]+/)?.[0] ?? 18)
  const round = Math.min(diameter / 2, 11)
  const plate = open + 26
  const at = plate - round
  // The pocket is the sheave's and moves with it: at each travel the roller, held by the plate, touches it there.
  const pocket = picture.nodes.map((each): [number, number] => [
    at - round - node.travel_mm + each.travel_mm,
    each.roller_mm ?? 0,
  ])
  const inner = pocket[0] ?? [back, 30]
  const outer = pocket.at(-1) ?? [back, 70]
  const radius = node.roller_mm ?? 40
  const weight = kind === 'light-torque-converter'
  return (
    <g>
      <path
        d={path([
          ...pocket,
          [outer[0] - 1, outer[1] + 6],
          [back, outer[1] + 6],
          [back, inner[1] - 12],
          [inner[0], inner[1] - 12],
        ])}
        className={METAL}
        strokeWidth="0.8"
      />
      <path
        d={path([
          [plate, picture.hub_radius_mm * 0.55],
          [plate, outer[1] + 10],
          [plate + 4, outer[1] + 10],
          [plate + 9, picture.hub_radius_mm * 0.55],
        ])}
        className={METAL}
        strokeWidth="0.8"
      />
      {weight ? (
        <path
          d={`M${at - round},${radius - round * 0.8}L${at + round},${radius - round * 1.1}V${radius + round * 0.9}L${at - round * 0.6},${radius + round * 0.9}Z`}
          className={lit(hand, 'arms', STEEL)}
          strokeWidth="1"
        />
      ) : (
        <>
          <circle cx={at} cy={radius} r={round} className={lit(hand, 'arms', STEEL)} strokeWidth="1" />
          <circle cx={at} cy={radius} r={round * 0.45} className="fill-card stroke-ink" strokeWidth="0.7" />
        </>
      )}
      {!weight && (
        <rect
          x={plate - 1}
          y={outer[1] + 1}
          width="7"
          height="9"
          rx="1"
          className="fill-card stroke-ink"
          strokeWidth="0.7"
        />
      )}
    </g>
  )
}
