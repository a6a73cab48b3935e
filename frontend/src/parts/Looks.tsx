// A choice by what one sees: each kind of clutch as a picture.
import { ToggleGroup } from 'radix-ui'
import { KindPicture } from './KindPicture'

interface LooksProps {
  title: string
  aside: string
  options: { key: string; name: string }[]
  value: string
  choose: (key: string) => void
}

const SIDE = / (primary|secondary)$/

export function Looks({ title, aside, options, value, choose }: LooksProps) {
  return (
    <section aria-label={title}>
      <div className="mb-1 flex items-baseline justify-between">
        <h2 className="text-base font-bold">{title}</h2>
        <p className="text-sm text-quiet">{aside}</p>
      </div>
      <ToggleGroup.Root
        type="single"
        aria-label={title}
        value={value}
        onValueChange={choose}
        className={`grid gap-1.5 ${options.length === 5 ? 'grid-cols-5' : 'grid-cols-4'}`}
      >
        {options.map((each) => (
          <ToggleGroup.Item
            key={each.key}
            value={each.key}
            className="flex min-h-19 flex-col items-center justify-between rounded-md border-2 border-line bg-card px-0.5 pt-1 pb-0.5 text-xs leading-tight hover:border-alu-deep data-[state=on]:border-signal data-[state=on]:font-bold"
          >
            <KindPicture kind={each.key} size={42} />
            <span className="text-center hyphens-auto" lang="en">
              {each.name.replace(SIDE, '')}
            </span>
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    </section>
  )
}
