// Changes in words: what was on it, what is on it now.
import type { VisitView } from '../api/client'
import { typed } from './format'
import { Quantity } from './Quantity'

export function ChangeWords({ changes, inline = false }: { changes: VisitView['setup']['changes']; inline?: boolean }) {
  if (changes.length === 0) return null
  return (
    <ul className={inline ? 'inline' : ''}>
      {changes.map((change) => (
        <li key={change.group + change.label} className={inline ? "inline after:content-['_·_']" : ''}>
          {change.group}, {change.label}: <span className="reading">{typed(change.found)}</span> →{' '}
          <Quantity unit={change.unit} strong>
            {typed(change.left)}
          </Quantity>
        </li>
      ))}
    </ul>
  )
}
