// Changes in words: what was on it, what is on it now.
import type { VisitView } from '../api/client'
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
              : <span className="reading">{change.found == null ? 'none' : typed(change.found)}</span> →{' '}
              <Quantity unit={change.left == null ? '' : change.unit} strong>
                {change.left == null ? 'none' : typed(change.left)}
              </Quantity>
            </>
          )}
        </li>
      ))}
    </ul>
  )
}
