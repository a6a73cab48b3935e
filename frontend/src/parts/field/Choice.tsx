// One of a few, with targets for gloved fingers: plain, and kept like every other entry of a visit.
import { X } from 'lucide-react'
import { ToggleGroup } from 'radix-ui'
import { useId } from 'react'
import { useVisitField, type VisitField } from '../../api/visit/desk'
import { Remark } from './Field'

interface ChoiceProps<T extends string> {
  label: string
  value: T | null
  options: readonly { value: T; name: string }[]
  choose: (value: T) => void
  disabled?: boolean
  place?: string
  after?: string
  describedBy?: string
  /** Close together, for a row of several; pressing what is chosen clears it. */
  compact?: boolean
  clear?: () => void
}

export function Choice<T extends string>(props: ChoiceProps<T>) {
  const { label, value, options, choose, disabled, place, after, describedBy, compact, clear } = props
  const first = options.some((option) => option.value === value) ? value : options[0]?.value
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      aria-describedby={describedBy}
      value={value ?? ''}
      disabled={disabled}
      onValueChange={(next) => (next ? choose(next as T) : clear?.())}
      className={compact ? 'flex flex-wrap gap-1.5' : 'flex flex-wrap gap-2'}
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          data-place={option.value === first ? place : undefined}
          data-after={option.value === first ? after : undefined}
          className={`flex-1 rounded-md border-2 border-ink font-semibold whitespace-nowrap hover:bg-paper data-[state=on]:bg-ink data-[state=on]:text-paper disabled:opacity-60 ${compact ? 'min-h-11 px-1.5 text-sm' : 'min-h-12 px-3'}`}
        >
          {option.name}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  )
}

interface SavedChoiceProps<T extends string> extends Omit<VisitField, 'send'> {
  options: readonly { value: T; name: string }[]
  /** What is sent for a choice, where it is not its value. */
  send?: (value: T) => unknown
  /** What clears it, where it may be cleared. */
  none?: { name: string; value: null | '' }
  after?: string
  compact?: boolean
}

/** A choice of the visit: shown as chosen at once, marked until the server has it. */
export function SavedChoice<T extends string>({ options, send, none, after, compact, ...field }: SavedChoiceProps<T>) {
  const id = useId()
  const saved = useVisitField(field)
  const shown = saved.text || null
  /** What another hand chose is told by its name too. */
  const theirs = options.find((each) => each.value === saved.theirs)?.name ?? saved.theirs
  return (
    <div className="min-w-0">
      <div className="flex items-start gap-2">
        <div className="min-w-0 flex-1">
          <Choice
            label={field.label}
            value={shown as T | null}
            options={options}
            disabled={saved.closed}
            place={field.place}
            after={after}
            describedBy={`${id}-remark`}
            compact={compact}
            clear={compact && none ? () => saved.choose(none.value) : undefined}
            choose={(value) => saved.choose(send ? send(value) : value)}
          />
        </div>
        {none && !compact && (
          <button
            type="button"
            aria-label={none.name}
            title={none.name}
            disabled={!shown || saved.closed}
            className="flex size-12 shrink-0 items-center justify-center rounded-md hover:bg-card disabled:invisible"
            onClick={() => saved.choose(none.value)}
          >
            <X size={20} aria-hidden="true" />
          </button>
        )}
      </div>
      <Remark saved={{ ...saved, theirs }} id={`${id}-remark`} />
    </div>
  )
}

interface SavedSelectProps extends Omit<VisitField, 'show' | 'send'> {
  options: readonly { value: string; name: string }[]
  send: (value: string) => unknown
  /** The look of the list. */
  className: string
  hint?: React.ReactNode
  /** A visible label other than its name. */
  shown?: string
  /** Named for those who listen only. */
  unlabelled?: boolean
}

/** A choice of many, as a list. */
export function SavedSelect({ options, send, className, hint, shown, unlabelled, ...field }: SavedSelectProps) {
  const id = useId()
  const saved = useVisitField(field)
  return (
    <div className="min-w-0">
      <label htmlFor={id} className={unlabelled ? 'sr-only' : 'block truncate text-sm text-quiet'}>
        {shown ?? field.label}
      </label>
      <select
        id={id}
        value={saved.text}
        disabled={saved.closed}
        data-place={field.place}
        aria-describedby={`${id}-remark`}
        onChange={(event) => saved.choose(send(event.target.value))}
        className={className}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.name}
          </option>
        ))}
      </select>
      <Remark saved={saved} id={`${id}-remark`} />
      {hint && <div className="reading mt-1 text-xs text-quiet">{hint}</div>}
    </div>
  )
}
