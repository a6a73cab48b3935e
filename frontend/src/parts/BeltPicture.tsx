// The belt as it lies in low ratio, with the three places it is measured at and how thick of the wear is used.
import type { Drawing, VisitView } from '../api/client'
import { beltLoop } from './ClutchPicture'
import { useSize } from './size'

/** Where on the loop the places lie: top span, round the secondary, bottom span. */
function places(r1: number, r2: number, distance: number) {
  return [
    { place: 1, x: distance * 0.42, y: -(r1 + (r2 - r1) * 0.42) },
    { place: 2, x: distance + r2, y: 0 },
    { place: 3, x: distance * 0.42, y: r1 + (r2 - r1) * 0.42 },
  ]
}

export function BeltPicture({ drawing, belt }: { drawing: Drawing; belt: VisitView['belt'] }) {
  const { hub_radius_mm: r1, closed_radius_mm: r2, centre_distance_mm: distance, cord_depth_mm: cord } = drawing
  const loop = beltLoop(r1, r2, distance, cord, 16)
  const [box, room] = useSize<SVGSVGElement>()
  const wide = distance + r1 + r2 + 40
  // Words keep their size on the screen, whatever the scale of the drawing.
  const word = room.width > 0 ? 13 / Math.min(room.width / wide, room.height / (2 * r2 + 40)) : 14
  const next = [1, 2, 3].find((place) => belt.widths_mm[place] == null)
  return (
    <svg
      ref={box}
      fontSize={word}
      viewBox={`${-r1 - 14} ${-r2 - 20} ${wide} ${2 * r2 + 40}`}
      className="max-h-52 w-full"
      role="img"
      aria-label="Where the belt is measured"
    >
      <path d={loop.path} fillRule="evenodd" className="fill-belt" />
      <path d={loop.path} fillRule="evenodd" className="fill-none stroke-belt-edge" strokeWidth="1" />
      <path d={loop.cord} className="fill-none stroke-[#b9bdc1]" strokeWidth="1.2" strokeDasharray="6 4" />
      <text x={distance / 2} y="-3" textAnchor="middle" className="fill-quiet">
        a third of the way round
      </text>
      <text x={distance / 2} y={word * 1.1} textAnchor="middle" className="fill-quiet">
        between each place
      </text>
      {places(r1, r2, distance).map(({ place, x, y }) => {
        const width = belt.widths_mm[place]
        const low = width != null && width <= belt.limit_mm
        return (
          <g key={place}>
            <circle
              cx={x}
              cy={y}
              r="17"
              className={`fill-card ${place === next ? 'stroke-signal' : low ? 'stroke-replace' : 'stroke-ink'}`}
              strokeWidth={place === next ? 5 : 3}
            />
            <text
              x={x}
              y={y + word * 0.4}
              textAnchor="middle"
              fontSize={word * 1.2}
              className="reading fill-ink font-semibold"
            >
              {place}
            </text>
          </g>
        )
      })}
    </svg>
  )
}
