// Both clutches and the belt to scale at one point of the shift: side view above, section along the shafts below.
import type { CurvePoint, Drawing } from '../api/client'
import { inShown } from '../api/units'
import { figure, unitName } from './format'
import { useSize } from './size'

interface Loop {
  path: string
  cord: string
}

/** The outline of a belt round two pulleys whose centres lie `distance` apart on a level line. */
export function beltLoop(r1: number, r2: number, distance: number, cordDepth: number, thickness: number): Loop {
  const outline = (a: number, b: number) => {
    const lean = Math.asin((b - a) / distance)
    const [s, c] = [Math.sin(lean), Math.cos(lean)]
    const top1 = `${-a * s},${-a * c}`
    const top2 = `${distance - b * s},${-b * c}`
    const low2 = `${distance - b * s},${b * c}`
    const low1 = `${-a * s},${a * c}`
    return `M${top1}L${top2}A${b},${b} 0 ${lean >= 0 ? 1 : 0} 1 ${low2}L${low1}A${a},${a} 0 ${lean > 0 ? 0 : 1} 1 ${top1}Z`
  }
  const outer = cordDepth
  const inner = cordDepth - thickness
  return { path: outline(r1 + outer, r2 + outer) + outline(r1 + inner, r2 + inner), cord: outline(r1, r2) }
}

const BELT_THICKNESS = 14

/** Words wider than so many millimetres of the drawing would run into each other. */
const SMALL = 20

export function ClutchPicture({ drawing, curve, at }: { drawing: Drawing; curve: CurvePoint[]; at: CurvePoint }) {
  const [box, room] = useSize<SVGSVGElement>()
  const { centre_distance_mm: distance, cord_depth_mm: cord } = drawing
  const first = curve[0] ?? at
  const last = curve.at(-1) ?? at
  const rim1 = last.primary_radius_mm + cord + 4
  const rim2 = Math.max(first.secondary_radius_mm, drawing.closed_radius_mm) + cord + 4
  const loop = beltLoop(at.primary_radius_mm, at.secondary_radius_mm, distance, cord, BELT_THICKNESS)
  const left = -rim1 - 28
  const width = rim1 + distance + rim2 + 56
  const top = -Math.max(rim1, rim2) - 8
  const section = Math.max(rim1, rim2) + 62
  const height = section + 84 - top
  // Words keep their size on the screen, whatever the scale of the drawing.
  const word = room.width > 0 ? 13 / Math.min(room.width / width, room.height / height) : 14
  return (
    <svg
      ref={box}
      viewBox={`${left} ${top} ${width} ${height}`}
      className="absolute inset-0 size-full"
      fontSize={word}
      role="img"
      aria-label={`Clutches to scale in ratio ${figure(at.ratio, 2)}`}
    >
      <Sheave x={0} rim={rim1} hub={drawing.hub_radius_mm} />
      <Sheave x={distance} rim={rim2} hub={drawing.hub_radius_mm} />
      <path d={loop.path} fillRule="evenodd" className="fill-belt stroke-belt-edge" strokeWidth="0.5" />
      <path d={loop.cord} className="fill-none stroke-[#b9bdc1]" strokeWidth="1" strokeDasharray="5 4" />
      <g textAnchor="middle" className="fill-ink">
        <text x={(distance + rim1 - rim2) / 2} y="0" fontSize={word * 1.9} className="reading font-semibold">
          {figure(at.ratio, 2)}
        </text>
        <text x={(distance + rim1 - rim2) / 2} y={word * 1.15} className="fill-quiet">
          ratio
        </text>
      </g>
      <Section x={0} rim={rim1} radius={at.primary_radius_mm} drawing={drawing} y={section} flip={false} />
      <Section x={distance} rim={rim2} radius={at.secondary_radius_mm} drawing={drawing} y={section} flip />
      <Clamp x={-rim1 * 0.9} y={section - 50} newtons={at.clamp_primary_n} down />
      <Clamp x={distance + rim2 * 0.9} y={section + 50} newtons={at.clamp_secondary_n} />
      <g className="fill-quiet" textAnchor="middle" display={word > SMALL ? 'none' : undefined}>
        <text x="0" y={section + 80}>
          primary
        </text>
        <text x={distance} y={section + 80}>
          secondary
        </text>
      </g>
    </svg>
  )
}

/** The clamp force where it acts: on the moving face, toward the belt. */
function Clamp({ x, y, newtons, down = false }: { x: number; y: number; newtons: number; down?: boolean }) {
  const to = down ? 1 : -1
  return (
    <g className="fill-signal-words">
      <path d={`M${x - 2.5},${y - 14 * to}h5v${12 * to}h5l-7.5,${11 * to}l-7.5,${-11 * to}h5Z`} />
      <text
        x={down ? x - 12 : x + 12}
        y={down ? y - 19 : y + 29}
        textAnchor={down ? 'start' : 'end'}
        className="reading"
      >
        {figure(inShown(newtons, 'N'), 0)} {unitName('N')}
      </text>
    </g>
  )
}

function Sheave({ x, rim, hub }: { x: number; rim: number; hub: number }) {
  return (
    <g>
      <circle cx={x} cy="0" r={rim} className="fill-alu stroke-alu-deep" opacity="0.55" strokeWidth="1" />
      <circle cx={x} cy="0" r={hub * 0.8} className="fill-alu stroke-alu-deep" strokeWidth="0.8" />
      <circle cx={x} cy="0" r={hub * 0.34} className="fill-alu-deep" />
    </g>
  )
}

/** A pair of sheave faces cut along the shaft: the fixed one stays, the moving one stands where the belt holds it. */
function Section({
  x,
  rim,
  radius,
  drawing,
  y,
  flip,
}: {
  x: number
  rim: number
  radius: number
  drawing: Drawing
  y: number
  flip: boolean
}) {
  const slope = Math.tan((drawing.half_angle_deg * Math.PI) / 180)
  const { belt_width_mm: width, cord_depth_mm: cord } = drawing
  const hub = drawing.hub_radius_mm * 0.34
  const outer = radius + cord
  const inner = outer - BELT_THICKNESS
  const dish = 7
  const base = 34
  // Axial place of the fixed face at a radius, and of the moving face, which the belt's flanks keep apart.
  const fixed = (r: number) => base + (r - hub) * slope
  const moving = (r: number) => fixed(outer) - width + (outer - r) * slope
  const face = (side: 1 | -1) => {
    const at = (r: number) => x + side * r
    const still = `M${at(hub)},${fixed(hub)}L${at(rim)},${fixed(rim)}L${at(rim)},${fixed(rim) + 4}L${at(hub)},${fixed(hub) + dish + 8}Z`
    const slide = `M${at(hub)},${moving(hub)}L${at(rim)},${moving(rim)}L${at(rim)},${moving(rim) - 4}L${at(hub)},${moving(hub) - dish - 8}Z`
    const belt = `M${at(outer)},${fixed(outer)}L${at(inner)},${fixed(inner)}L${at(inner)},${moving(inner)}L${at(outer)},${moving(outer)}Z`
    return (
      <g key={side}>
        <path d={still} className="fill-alu stroke-alu-deep" strokeWidth="0.7" />
        <path d={slide} className="fill-alu stroke-signal" strokeWidth="0.9" />
        <path d={belt} className="fill-belt" />
      </g>
    )
  }
  return (
    <g transform={`translate(0 ${y}) scale(1 ${flip ? -1 : 1})`}>
      <rect x={x - hub} y={-56} width={2 * hub} height={112} className="fill-alu-deep" />
      {face(1)}
      {face(-1)}
    </g>
  )
}
