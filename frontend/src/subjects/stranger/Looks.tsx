// A choice by what one sees: each kind of clutch as a picture, and large with what tells it apart.
import { ToggleGroup } from 'radix-ui'
import { Close } from '../../parts/over/Over'
import { Panel } from '../../parts/over/Panel'
import { KindPicture } from './KindPicture'
import { UNKNOWN } from './stranger'

interface LooksProps {
  title: string
  aside: string
  options: { key: string; name: string; looks: string }[]
  value: string
  choose: (key: string) => void
}

const SIDE = / (primary|secondary)$/

export function Looks({ title, aside, options, value, choose }: LooksProps) {
  const picked = options.find((each) => each.key === value)
  return (
    <section aria-label={title} className="relative">
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="text-base font-bold">{title}</h2>
      </div>
      <ToggleGroup.Root
        type="single"
        aria-label={title}
        value={value}
        // Tapped twice it stays: another way out of it is “don't know”.
        onValueChange={(key) => key && choose(key)}
        className={`grid gap-1 ${options.length === 5 ? 'grid-cols-6' : 'grid-cols-4'}`}
      >
        {options.map((each) => (
          <ToggleGroup.Item
            key={each.key}
            value={each.key}
            className="flex min-h-17 flex-col items-center justify-between rounded-md border-2 border-line bg-card px-0.5 pt-1 pb-0.5 text-xs leading-tight hover:border-alu-deep data-[state=on]:border-signal data-[state=on]:font-bold"
          >
            <KindPicture kind={each.key} size={36} />
            <span className="text-center hyphens-auto" lang="en">
              {each.name.replace(SIDE, '')}
            </span>
          </ToggleGroup.Item>
        ))}
        <ToggleGroup.Item
          value={UNKNOWN}
          className="flex min-h-17 items-center justify-center rounded-md border-2 border-dashed border-line px-0.5 text-sm leading-tight hover:border-alu-deep data-[state=on]:border-solid data-[state=on]:border-signal data-[state=on]:font-bold"
        >
          don't know
        </ToggleGroup.Item>
      </ToggleGroup.Root>
      {picked && <p className="mt-0.5 text-xs leading-snug text-quiet">{picked.looks}</p>}
      {/* Behind its choices for the keyboard, beside its title for the eye. */}
      <Panel
        title={title}
        opener={
          <button
            type="button"
            aria-label={`${aside}: which is it? ${title}`}
            className="absolute -top-2.5 right-0 min-h-11 text-sm text-quiet underline underline-offset-4"
          >
            {aside}: which is it?
          </button>
        }
      >
        <ul className="space-y-2">
          {options.map((each) => (
            <li key={each.key}>
              <Close>
                <button
                  type="button"
                  onClick={() => choose(each.key)}
                  className="flex w-full items-center gap-3 rounded-md border-2 border-line bg-card p-2 text-left hover:border-alu-deep"
                >
                  <span className="shrink-0">
                    <KindPicture kind={each.key} size={96} />
                  </span>
                  <span className="text-sm leading-snug">
                    <b className="block text-base">{each.name}</b>
                    {each.looks}
                  </span>
                </button>
              </Close>
            </li>
          ))}
        </ul>
      </Panel>
    </section>
  )
}
