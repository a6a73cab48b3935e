// The fasteners of one place round their circle, numbered as they are tightened: criss-cross, and in how many rounds.

const R = 78

interface CircleProps {
  /** Places round the circle, from 0 clockwise, in the order they are tightened. */
  order: number[]
  done: boolean
  first: boolean
  passes: number
  place: string
  marked: boolean
}

export function Circle({ order, done, first, passes, place, marked }: CircleProps) {
  const count = order.length
  const at = (index: number) => {
    const angle = (index / count) * 2 * Math.PI - Math.PI / 2
    return [count === 1 ? 0 : R * Math.cos(angle), count === 1 ? 0 : R * Math.sin(angle)] as const
  }
  const small = count > 8
  const words = `${place}: ${count === 1 ? 'one' : `${count}, criss-cross`}${passes > 1 ? ', two rounds' : ''}`
  return (
    <figure className="w-full max-w-60">
      <svg viewBox="-106 -106 212 212" className="w-full" role="img" aria-label={words}>
        <circle r="100" className="fill-tray stroke-alu-deep" strokeWidth="1.5" />
        <circle r="34" className="fill-alu stroke-alu-deep" strokeWidth="1.5" />
        {count > 1 && (
          <path
            d={`M${order.map((each) => at(each).join(',')).join('L')}`}
            className="fill-none stroke-alu-deep"
            strokeDasharray="4 5"
          />
        )}
        {order.map((each, turn) => {
          const [x, y] = at(each)
          return (
            <g key={each} transform={`translate(${x} ${y})`}>
              <circle
                r={small ? 13 : 17}
                className={done ? 'fill-keep stroke-keep' : 'fill-card stroke-ink'}
                strokeWidth={first && !done ? 4 : 2}
              />
              <text
                y={5}
                textAnchor="middle"
                className={`reading font-bold ${small ? 'text-xs' : 'text-sm'} ${done ? 'fill-paper' : 'fill-ink'}`}
              >
                {turn + 1}
              </text>
            </g>
          )
        })}
        {marked && <path d="M70,-78L84,-92" className="stroke-signal" strokeWidth="5" />}
      </svg>
      <figcaption className="text-center text-xs text-quiet">
        {count === 1 ? 'one' : `in the order of the numbers${passes > 1 ? ', two rounds' : ''}`}
        {marked && ' · marked at the stroke'}
      </figcaption>
    </figure>
  )
}
