// A reading that settles nothing: why, and what a hand may say to it.
import { Button } from '../../parts/Button'
import type { Line } from './Readings'

interface AskedProps {
  line: Line
  /** The reading is so, however far it lies from what is typical. */
  onSo: () => void
  /** It is what was likely meant. */
  onMeant: (field: string, typed: string) => void
  onDrop: () => void
}

export function Asked({ line, onSo, onMeant, onDrop }: AskedProps) {
  if (!line.reason) return null
  return (
    <div
      role="alert"
      data-asked={line.key}
      className={`border-l-4 pl-2 text-sm ${line.state === 'refused' ? 'border-replace' : 'border-watch'}`}
    >
      <p>
        <b>{line.name}</b> {line.reason}.{line.state === 'far' && ' Is it so?'}
      </p>
      <div className="mt-1 flex flex-wrap gap-2">
        {line.state === 'far' && line.meant && (
          <Button look="main" onClick={() => onMeant(line.field, line.meant_typed)}>
            {line.meant}
          </Button>
        )}
        {line.state === 'far' && (
          <Button look="plain" onClick={onSo}>
            It is so
          </Button>
        )}
        <Button look="plain" onClick={onDrop}>
          Leave it out
        </Button>
      </div>
    </div>
  )
}
