// What every drawing of a clutch shares: how a part is lit, the lie of the faces, lines and coils.
import type { ClutchPicture, PictureNode } from '../../../api/server/client'

export interface Drawn {
  picture: ClutchPicture
  node: PictureNode
  /** The slot under the hand, lit where it is drawn. */
  hand: string
}

export const BELT_THICKNESS = 14
export const METAL = 'fill-alu stroke-alu-deep'
export const STEEL = 'fill-alu-deep stroke-ink'

/** The look of a part: lit while its slot is under the hand. */
export function lit(hand: string, slot: string, look = METAL): string {
  const held = slot.endsWith(':') ? hand.startsWith(slot) : hand === slot
  return held ? 'fill-signal stroke-signal' : look
}

export const rad = (deg: number) => (deg * Math.PI) / 180

/** A zigzag of so many turns between two places, `from` and `to` along the shaft, low and high off it. */
export function coil(from: number, to: number, low: number, high: number, turns: number): string {
  const step = (to - from) / (turns * 2)
  return Array.from(
    { length: turns * 2 + 1 },
    (_, i) => `${i ? 'L' : 'M'}${from + step * i},${i % 2 ? high : low}`,
  ).join('')
}

export const path = (points: readonly (readonly [number, number])[], close = true) =>
  points.map(([x, y], i) => `${i ? 'L' : 'M'}${x},${y}`).join('') + (close ? 'Z' : '')

/** Where the two faces and the belt lie along a shaft, the fixed face's foot at 0 and the groove opening outward. */
export interface Groove {
  rim: number
  hub: number
  outer: number
  inner: number
  /** The fixed face at a radius, negative: it leans away from the belt. */
  fixed: (r: number) => number
  /** The moving face at a radius. */
  moving: (r: number) => number
  /** The belt's far flank at a radius. */
  flank: (r: number) => number
}

export function groove(radius: number, rim: number, gap: number, { picture }: Pick<Drawn, 'picture'>): Groove {
  const lean = Math.tan(rad(picture.half_angle_deg))
  const outer = radius + picture.cord_depth_mm
  const hub = picture.hub_radius_mm * 0.55
  const fixed = (r: number) => -(r - hub) * lean
  const flank = (r: number) => fixed(outer) + picture.belt_width_mm + (r - outer) * lean
  return {
    rim,
    hub,
    outer,
    inner: outer - BELT_THICKNESS,
    fixed,
    flank,
    moving: (r) => flank(r) + gap,
  }
}

export const faceOf = (g: Groove, face: (r: number) => number, thick: number): string =>
  path([
    [face(g.hub), g.hub],
    [face(g.rim), g.rim],
    [face(g.rim) + thick * 0.5, g.rim],
    [face(g.hub) + thick * 1.6, g.hub],
  ])

export const beltOf = (g: Groove): string =>
  path([
    [g.fixed(g.outer), g.outer],
    [g.fixed(g.inner), g.inner],
    [g.flank(g.inner), g.inner],
    [g.flank(g.outer), g.outer],
  ])
