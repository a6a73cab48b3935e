// A clutch as it comes apart: its parts along the shaft in tear-down order, drawn from the kind's data.
import type { ClutchPart } from '../../api/server/client'
import { FindingMark, StateMark } from '../../parts/marks'
import { SHAPES } from './shapes'

interface ClutchStackProps {
  name: string
  parts: readonly ClutchPart[]
  /** The worst that was decided of a part's items, 'to do' while one is not looked at, nothing where none is judged. */
  state: (part: string) => string
  /** Whether a part comes off for a job chosen, and whether it is off by now. */
  job: (part: string) => '' | 'on' | 'off'
  hand: string
  choose: (part: string) => void
}

export function ClutchStack({ name, parts, state, job, hand, choose }: ClutchStackProps) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: a picture whose parts are pressed, not a form
    <div className="overflow-x-auto" role="group" aria-label={`${name}, in the order it comes apart`}>
      <div className="relative flex min-w-fit">
        <div className="absolute top-[48px] right-0 left-0 border-t-2 border-dashed border-alu-deep opacity-60" />
        {parts.map((part) => {
          const now = state(part.key)
          const coming = job(part.key)
          return (
            <button
              key={part.key}
              type="button"
              tabIndex={-1}
              onClick={() => choose(part.key)}
              className={`relative flex min-w-12 flex-1 flex-col items-center border-b-4 pb-1 ${
                coming ? 'before:absolute before:inset-x-1 before:top-0 before:border-t-4 before:content-[""]' : ''
              } ${coming === 'off' ? 'before:border-keep' : 'before:border-ink'} ${
                part.key === hand ? 'border-signal bg-card' : 'border-transparent hover:bg-card'
              }`}
            >
              <svg
                viewBox="0 0 64 132"
                className={`h-24 w-14 ${coming === 'off' ? 'opacity-40' : ''}`}
                aria-hidden="true"
              >
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
                className={`mt-0.5 text-center text-xs leading-tight ${part.key === hand ? 'font-bold' : 'text-quiet'}`}
              >
                {part.name}
                {(part.count ?? 1) > 1 && ` ×${part.count}`}
                {coming === 'off' && <span className="block font-semibold text-keep">off</span>}
              </span>
            </button>
          )
        })}
      </div>
    </div>
  )
}
