// A clutch as it comes apart: its parts along the shaft in tear-down order, drawn from the kind's data.
import type { ClutchPart } from '../api/client'
import { FindingMark, StateMark } from './marks'

const CELL = 64
const TALL = 150
const AXIS = 66

const METAL = 'fill-alu stroke-alu-deep'
const STEEL = 'fill-alu-deep stroke-ink'

function Spring() {
  const turns = Array.from(
    { length: 9 },
    (_, turn) => `${turn === 0 ? 'M' : 'L'}${12 + turn * 5},${turn % 2 ? 96 : 36}`,
  )
  return <path d={turns.join('')} className="fill-none stroke-alu-deep" strokeWidth="4" strokeLinejoin="round" />
}

/** Half above and half below the axis alike. */
function Mirrored({ children }: { children: React.ReactNode }) {
  return (
    <>
      <g>{children}</g>
      <g transform={`translate(0 ${2 * AXIS}) scale(1 -1)`}>{children}</g>
    </>
  )
}

const SHAPES: Record<ClutchPart['shape'], React.ReactNode> = {
  bolt: <path d="M8 52h14v28H8ZM22 59h34v14H22Z" className={STEEL} />,
  cover: <path d="M22 14 40 22V110L22 118ZM40 52h8v28h-8Z" className={METAL} />,
  spring: <Spring />,
  spider: (
    <>
      <path d="M22 44h20v44H22Z" className={METAL} />
      <Mirrored>
        <path d="M22 44 26 14H38L42 44Z" className={METAL} />
        <circle cx="32" cy="24" r="6" className={STEEL} />
      </Mirrored>
    </>
  ),
  buttons: (
    <Mirrored>
      <rect x="24" y="18" width="16" height="12" rx="3" className={METAL} />
      <rect x="24" y="38" width="16" height="12" rx="3" className={METAL} />
    </Mirrored>
  ),
  arms: (
    <Mirrored>
      <path d="M14 34C30 26 46 30 54 48" className="fill-none stroke-alu-deep" strokeWidth="8" strokeLinecap="round" />
      <circle cx="14" cy="34" r="5" className="fill-card stroke-ink" strokeWidth="2" />
    </Mirrored>
  ),
  'moving-sheave': <path d="M20 8H30L46 56V76L30 124H20Z" className={METAL} />,
  'fixed-sheave': <path d="M34 8H44V56H60V76H44V124H34L18 76V56Z" className={METAL} />,
  rollers: (
    <Mirrored>
      <circle cx="32" cy="26" r="13" className={METAL} />
      <circle cx="32" cy="26" r="4" className={STEEL} />
    </Mirrored>
  ),
  washers: (
    <>
      {[20, 28, 36].map((x) => (
        <rect key={x} x={x} y="42" width="5" height="48" rx="1" className={METAL} />
      ))}
    </>
  ),
  bearing: (
    <>
      <rect x="20" y="40" width="24" height="52" rx="3" className={METAL} />
      <Mirrored>
        <circle cx="32" cy="49" r="5" className={STEEL} />
      </Mirrored>
    </>
  ),
  helix: <path d="M16 30H30L48 44V88L30 102H16ZM22 44 38 58M22 66 44 78M22 84 36 94" className={METAL} />,
  followers: (
    <Mirrored>
      <rect x="20" y="22" width="24" height="18" rx="4" className={METAL} />
      <path d="M32 40V54" className="stroke-alu-deep" strokeWidth="5" />
    </Mirrored>
  ),
  ring: <ellipse cx="32" cy={AXIS} rx="8" ry="36" className="fill-none stroke-alu-deep" strokeWidth="5" />,
  plate: (
    <>
      <rect x="26" y="16" width="10" height="100" rx="2" className={METAL} />
      <Mirrored>
        <rect x="36" y="24" width="12" height="14" rx="2" className={STEEL} />
      </Mirrored>
    </>
  ),
  shaft: <rect x="6" y="56" width="52" height="20" rx="2" className={STEEL} />,
  clickers: (
    <Mirrored>
      <rect x="22" y="20" width="20" height="20" rx="3" className={METAL} />
      <path d="M32 22V30" className="stroke-ink" strokeWidth="3" />
    </Mirrored>
  ),
}

interface ClutchStackProps {
  name: string
  parts: readonly ClutchPart[]
  /** The worst that was decided of a part's items, 'to do' while one is not looked at, nothing where none is judged. */
  state: (part: string) => string
  hand: string
  choose: (part: string) => void
}

export function ClutchStack({ name, parts, state, hand, choose }: ClutchStackProps) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: a picture whose parts are pressed, not a form
    <div className="overflow-x-auto" role="group" aria-label={`${name}, in the order it comes apart`}>
      <div className="relative flex min-w-fit">
        <div className="absolute top-[48px] right-0 left-0 border-t-2 border-dashed border-alu-deep opacity-60" />
        {parts.map((part) => {
          const now = state(part.key)
          return (
            <button
              key={part.key}
              type="button"
              tabIndex={-1}
              onClick={() => choose(part.key)}
              className={`relative flex min-w-16 flex-1 flex-col items-center border-b-4 pb-1 ${
                part.key === hand ? 'border-signal bg-card' : 'border-transparent hover:bg-card'
              }`}
            >
              <svg viewBox={`0 0 ${CELL} ${TALL - 18}`} className="h-24 w-14" aria-hidden="true">
                {SHAPES[part.shape]}
              </svg>
              {now === 'keep' || now === 'watch' || now === 'replace' ? (
                <FindingMark finding={now} size={16} />
              ) : now ? (
                <StateMark state="to do" />
              ) : (
                <span className="h-[18px]" />
              )}
              <span
                className={`mt-0.5 px-0.5 text-center text-xs leading-tight ${part.key === hand ? 'font-bold' : 'text-quiet'}`}
              >
                {part.name}
                {(part.count ?? 1) > 1 && ` ×${part.count}`}
              </span>
            </button>
          )
        })}
      </div>
    </div>
  )
}
