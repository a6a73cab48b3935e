// What is drawn on a photo, laid over it in shares of its sides.
import type { PhotoView } from '../../api/server/client'

export type Mark = PhotoView['marks'][number]

interface MarksProps {
  marks: readonly Mark[]
  width: number
  height: number
}

/** Half the width of an arrow's head, and the weight of a line, as shares of the photo's longer side. */
const HEAD = 0.03
const WEIGHT = 0.008

export function Marks({ marks, width, height }: MarksProps) {
  const side = Math.max(width, height)
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="pointer-events-none absolute inset-0 size-full"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      {marks.map((mark, index) => {
        const at = [mark.x1 * width, mark.y1 * height, mark.x2 * width, mark.y2 * height] as const
        const path = mark.kind === 'ring' ? ring(...at) : arrow(...at, HEAD * side)
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: marks have no other name
          <g key={index} fill="none" strokeLinecap="round" strokeLinejoin="round">
            <path d={path} stroke="#fff" strokeWidth={WEIGHT * side * 2} />
            <path d={path} stroke="#c8410b" strokeWidth={WEIGHT * side} />
          </g>
        )
      })}
    </svg>
  )
}

function ring(x1: number, y1: number, x2: number, y2: number): string {
  const [rx, ry] = [Math.abs(x2 - x1) / 2, Math.abs(y2 - y1) / 2]
  const [cx, cy] = [(x1 + x2) / 2, (y1 + y2) / 2]
  return `M${cx - rx} ${cy}a${rx} ${ry} 0 1 0 ${2 * rx} 0a${rx} ${ry} 0 1 0 ${-2 * rx} 0Z`
}

function arrow(x1: number, y1: number, x2: number, y2: number, head: number): string {
  const long = Math.hypot(x2 - x1, y2 - y1) || 1
  const [ux, uy] = [(x2 - x1) / long, (y2 - y1) / long]
  const [bx, by] = [x2 - ux * head * 1.6, y2 - uy * head * 1.6]
  return `M${x1} ${y1}L${x2} ${y2}M${bx - uy * head} ${by + ux * head}L${x2} ${y2}L${bx + uy * head} ${by - ux * head}`
}
