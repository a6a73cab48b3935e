// One of a few, with targets for gloved fingers.
import { ToggleGroup } from 'radix-ui'

interface ChoiceProps<T extends string> {
  label: string
  value: T | null
  options: readonly { value: T; name: string }[]
  choose: (value: T) => void
  disabled?: boolean
}

export function Choice<T extends string>({ label, value, options, choose, disabled }: ChoiceProps<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value ?? ''}
      disabled={disabled}
      onValueChange={(next) => next && choose(next as T)}
      className="flex flex-wrap gap-2"
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          className="min-h-12 flex-1 rounded-md border-2 border-ink px-3 font-semibold whitespace-nowrap hover:bg-card data-[state=on]:bg-ink data-[state=on]:text-paper disabled:opacity-60"
        >
          {option.name}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  )
}
