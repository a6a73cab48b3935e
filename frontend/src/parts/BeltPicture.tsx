// The belt as it lies in low ratio, with the three places it is measured at and how thick of the wear is used.
import type { Drawing, VisitView } from '../api/client'
import { beltLoop } from './ClutchPicture'

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
  const next = [1, 2, 3].find((place) => belt.widths_mm[place] == null)
  return (
    <svg
      viewBox={`${-r1 - 14} ${-r2 - 20} ${distance + r1 + r2 + 40} ${2 * r2 + 40}`}
      className="max-h-52 w-full"
      role="img"
      aria-label="Where the belt is measured"
    >
      <path d={loop.path} fillRule="evenodd" className="fill-belt" />
      <path d={loop.path} fillRule="evenodd" className="fill-none stroke-belt-edge" strokeWidth="1" />
      <path d={loop.cord} className="fill-none stroke-[#b9bdc1]" strokeWidth="1.2" strokeDasharray="6 4" />
      <text x={distance / 2} y="-2" textAnchor="middle" className="fill-quiet text-[14px]">
        a third of the way round
      </text>
      <text x={distance / 2} y="17" textAnchor="middle" className="fill-quiet text-[14px]">
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
            <text x={x} y={y + 6} textAnchor="middle" className="reading fill-ink text-[17px] font-semibold">
              {place}
            </text>
          </g>
        )
      })}
    </svg>
  )
}
