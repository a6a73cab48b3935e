// Places round a belt as it lies in low ratio: a share of the way round from the lettering, in the middle of the top span.

export interface Loop {
  r1: number
  r2: number
  distance: number
}

export interface Spot {
  x: number
  y: number
}

/** The loop's pieces in the order one goes round it: half the top span, the secondary, the bottom span, the primary, home. */
export function spot(loop: Loop, share: number): Spot {
  const { r1, r2, distance } = loop
  const lean = Math.asin((r2 - r1) / distance)
  const span = Math.sqrt(distance ** 2 - (r2 - r1) ** 2)
  const [wrap1, wrap2] = [Math.PI - 2 * lean, Math.PI + 2 * lean]
  const whole = 2 * span + wrap1 * r1 + wrap2 * r2
  const top = (part: number): Spot => {
    const from = { x: -Math.sin(lean) * r1, y: -Math.cos(lean) * r1 }
    const to = { x: distance - Math.sin(lean) * r2, y: -Math.cos(lean) * r2 }
    return { x: from.x + (to.x - from.x) * part, y: from.y + (to.y - from.y) * part }
  }
  let way = (((share % 1) + 1) % 1) * whole
  if (way <= span / 2) return top(0.5 + way / span)
  way -= span / 2
  if (way <= wrap2 * r2) {
    const angle = -Math.PI / 2 - lean + way / r2
    return { x: distance + Math.cos(angle) * r2, y: Math.sin(angle) * r2 }
  }
  way -= wrap2 * r2
  if (way <= span) {
    const back = top(1 - way / span)
    return { x: back.x, y: -back.y }
  }
  way -= span
  if (way <= wrap1 * r1) {
    const angle = Math.PI / 2 + lean + way / r1
    return { x: Math.cos(angle) * r1, y: Math.sin(angle) * r1 }
  }
  way -= wrap1 * r1
  return top(way / span)
}

const STEPS = 400

/** The place of the loop nearest to a point, as a share of the way round. */
export function nearest(loop: Loop, at: Spot): number {
  let best = { share: 0, away: Number.POSITIVE_INFINITY }
  for (let step = 0; step < STEPS; step++) {
    const share = step / STEPS
    const there = spot(loop, share)
    const away = (there.x - at.x) ** 2 + (there.y - at.y) ** 2
    if (away < best.away) best = { share, away }
  }
  return best.share
}
