// The belt as it lies in low ratio: the places it is measured at, and the marks found on it at theirs.
import type { Drawing, VisitView } from '../../api/server/client'
import { useSize } from '../../parts/size'
import { beltLoop, beltRing } from '../setup/picture/SideView'
import { type Loop, nearest, spot } from './loop'

interface BeltPictureProps {
  drawing: Drawing
  belt: VisitView['belt']
  places: number
  /** A place being pointed at, as a share of the way round. */
  pointed?: number | null
  point?: (share: number) => void
}

const COLOURS: Record<string, string> = {
  crack: 'fill-watch',
  glaze: 'fill-watch',
  age: 'fill-watch',
  clip: 'fill-keep',
}

export function BeltPicture({ drawing, belt, places, pointed, point }: BeltPictureProps) {
  const { hub_radius_mm: r1, closed_radius_mm: r2, centre_distance_mm: distance, cord_depth_mm: cord } = drawing
  const loop: Loop = { r1, r2, distance }
  const [box, room] = useSize<SVGSVGElement>()
  const wide = distance + r1 + r2 + 40
  // Words keep their size on the screen, whatever the scale of the drawing.
  const word = room.width > 0 ? 13 / Math.min(room.width / wide, room.height / (2 * r2 + 40)) : 14
  const numbers = Array.from({ length: places }, (_, index) => index + 1)
  const next = numbers.find((place) => belt.widths_mm[place] == null)
  const middle = belt.no_width ?? (belt.direction || 'places in equal steps round')
  return (
    <svg
      ref={box}
      fontSize={word}
      viewBox={`${-r1 - 14} ${-r2 - 20} ${wide} ${2 * r2 + 40}`}
      className={`max-h-48 w-full ${point ? 'cursor-crosshair' : ''}`}
      role="img"
      aria-label={['Where the belt is measured', ...belt.marks.map((mark) => `${mark.name}, ${mark.flank}`)].join(', ')}
      onPointerDown={(event) => {
        const matrix = event.currentTarget.getScreenCTM()
        if (!point || !matrix) return
        const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse())
        point(nearest(loop, at))
      }}
    >
      <path
        d={beltRing(r1, r2, distance, cord, 16)}
        fillRule="evenodd"
        className={`fill-belt ${belt.no_width ? 'opacity-40' : ''}`}
      />
      <path
        d={beltRing(r1, r2, distance, cord, 16)}
        fillRule="evenodd"
        className="fill-none stroke-belt-edge"
        strokeWidth="1"
      />
      <path
        d={beltLoop(r1, r2, distance)}
        className="fill-none stroke-[#b9bdc1]"
        strokeWidth="1.2"
        strokeDasharray="6 4"
      />
      <text x={distance / 2} y={word * 0.3} textAnchor="middle" className="fill-quiet">
        {middle}
      </text>
      {!belt.no_width &&
        numbers.map((place) => {
          const { x, y } = spot(loop, (place - 1) / places)
          const width = belt.widths_mm[place]
          const low = width != null && width <= belt.limit_mm
          return (
            <g key={place}>
              <circle
                cx={x}
                cy={y}
                r={word * 1.05}
                className={`fill-card ${place === next ? 'stroke-signal' : low ? 'stroke-replace' : 'stroke-ink'}`}
                strokeWidth={place === next ? 5 : 3}
              />
              <text
                x={x}
                y={y + word * 0.4}
                textAnchor="middle"
                fontSize={word * 1.1}
                className="reading fill-ink font-semibold"
              >
                {place}
              </text>
            </g>
          )
        })}
      {belt.marks.map((mark) => {
        const { x, y } = spot(loop, mark.place)
        const size = word * 0.8
        return (
          <path
            key={mark.id}
            d={`M${x},${y - size}l${size},${size}l${-size},${size}l${-size},${-size}Z`}
            className={`stroke-card ${COLOURS[mark.kind] ?? 'fill-replace'}`}
            strokeWidth="2"
            data-mark={mark.kind}
          >
            <title>{`${mark.name}, ${mark.flank}`}</title>
          </path>
        )
      })}
      {pointed != null && (
        <circle
          {...at(spot(loop, pointed))}
          r={word * 0.9}
          className="fill-none stroke-signal"
          strokeWidth="4"
          data-pointed
        />
      )}
    </svg>
  )
}

const at = ({ x, y }: { x: number; y: number }) => ({ cx: x, cy: y })
