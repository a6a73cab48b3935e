// Both clutches and the belt from the side, to scale: the belt climbs as it is dragged through the shift.
import type { ClutchPicture, PictureNode } from '../../../api/server/client'
import { BELT_THICKNESS } from './frame'

/** The outline of a belt round two pulleys whose centres lie `distance` apart on a level line; the slack hangs below. */
export function beltLoop(r1: number, r2: number, distance: number, sag = 0): string {
  const lean = Math.asin((r2 - r1) / distance)
  const [s, c] = [Math.sin(lean), Math.cos(lean)]
  const [top1, top2] = [`${-r1 * s},${-r1 * c}`, `${distance - r2 * s},${-r2 * c}`]
  const [low2, low1] = [`${distance - r2 * s},${r2 * c}`, `${-r1 * s},${r1 * c}`]
  const middle = `${(distance - (r1 + r2) * s) / 2},${((r1 + r2) * c) / 2 + 2 * sag}`
  const under = sag > 0.2 ? `Q${middle} ${low1}` : `L${low1}`
  return `M${top1}L${top2}A${r2},${r2} 0 ${lean >= 0 ? 1 : 0} 1 ${low2}${under}A${r1},${r1} 0 ${lean > 0 ? 0 : 1} 1 ${top1}Z`
}

/** A belt whose cord line lies at these radii, so thick that its back and its foot are two such loops. */
export const beltRing = (r1: number, r2: number, distance: number, cord: number, thick: number, sag = 0) =>
  beltLoop(r1 + cord, r2 + cord, distance, sag) + beltLoop(r1 + cord - thick, r2 + cord - thick, distance, sag)

/** How far the slack strand hangs at mid-span: √(((s + δ)/2)² − (s/2)²). */
function sagOf(picture: ClutchPicture, node: PictureNode): number {
  const span = Math.sqrt(picture.centre_distance_mm ** 2 - (node.secondary_radius_mm - node.primary_radius_mm) ** 2)
  return Math.sqrt(((span + node.slack_mm) / 2) ** 2 - (span / 2) ** 2)
}

interface SideProps {
  picture: ClutchPicture
  node: PictureNode
  ghost?: PictureNode
  rims: [number, number]
  hand: string
}

export function SideView({ picture, node, ghost, rims, hand }: SideProps) {
  const { centre_distance_mm: distance, cord_depth_mm: cord, hub_radius_mm: hub } = picture
  const [r1, r2, sag] = [node.primary_radius_mm, node.secondary_radius_mm, sagOf(picture, node)]
  return (
    <g>
      {[0, distance].map((x, side) => (
        <g key={x}>
          <circle cx={x} r={rims[side]} className="fill-alu stroke-alu-deep" opacity="0.5" strokeWidth="1" />
          <circle cx={x} r={hub * 0.8} className="fill-alu stroke-alu-deep" strokeWidth="0.8" />
          <circle cx={x} r={hub * 0.34} className="fill-alu-deep" />
        </g>
      ))}
      <Masses picture={picture} node={node} />
      {ghost && (
        <path
          d={beltLoop(ghost.primary_radius_mm + cord, ghost.secondary_radius_mm + cord, distance)}
          className="fill-none stroke-quiet"
          strokeWidth="1.2"
          strokeDasharray="4 3"
        />
      )}
      <path
        d={beltRing(r1, r2, distance, cord, BELT_THICKNESS, sag)}
        fillRule="evenodd"
        className={hand === 'belt' ? 'fill-signal' : 'fill-belt stroke-belt-edge'}
        strokeWidth="0.5"
      />
      <path
        d={beltLoop(r1, r2, distance, sag)}
        className="fill-none stroke-[#b9bdc1]"
        strokeWidth="1"
        strokeDasharray="5 4"
      />
    </g>
  )
}

/** Where the weights' masses turn, at the radius they stand at now. */
function Masses({ picture, node }: { picture: ClutchPicture; node: PictureNode }) {
  return (
    <g>
      {Array.from({ length: picture.count }, (_, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the weights stay where they are
        <g key={place} transform={`rotate(${-90 + (360 / picture.count) * place})`}>
          <line x1={picture.hub_radius_mm * 0.8} x2={node.mass_mm} className="stroke-alu-deep" strokeWidth="2" />
          <circle cx={node.mass_mm} r="5" className="fill-signal stroke-card" strokeWidth="1" />
        </g>
      ))}
    </g>
  )
}
