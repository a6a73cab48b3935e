// Changes in words: what was on it, what is on it now.
import type { LoggedChange, VisitView } from '../api/server/client'
import { typed } from './format'
import { Quantity } from './Quantity'

export function ChangeWords({ changes, inline = false }: { changes: VisitView['setup']['changes']; inline?: boolean }) {
  if (changes.length === 0) return null
  return (
    <ul className={inline ? 'inline' : ''}>
      {changes.map((change) => (
        <li key={change.slot + change.label} className={inline ? "inline after:content-['_·_']" : ''}>
          {change.slot}, {change.label}
          {(change.found != null || change.left != null) && (
            <>
              : <span className="reading">{change.found == null ? 'none' : typed(change.found, change.unit)}</span> →{' '}
              <Quantity unit={change.left == null ? '' : change.unit} strong>
                {change.left == null ? 'none' : typed(change.left, change.unit)}
              </Quantity>
            </>
          )}
        </li>
      ))}
    </ul>
  )
}

type Line = LoggedChange['lines'][number]

/** A line of the log: the thing, and from what to what. */
export function ChangeLine({ line }: { line: Line }) {
  return <>{lineWords(line)}</>
}

export function lineWords({ what, was, now }: Line): string {
  if (!was && !now) return what
  return `${what}: ${was || 'nothing'} → ${now || 'nothing'}`
}

/** A change as the bar names it: its first line, and how many more there are. */
export function changeWords(change: LoggedChange): string {
  const [first, ...rest] = change.lines
  if (!first) return 'the last change'
  const read = change.instrument ? `, by ${change.instrument}` : ''
  return `${lineWords(first)}${rest.length > 0 ? `, and ${rest.length} more` : ''}${read}`
}
