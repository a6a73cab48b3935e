// Changes in words: what was on it, what is on it now.
import type { VisitView } from '../api/client'
import { typed, unitName } from './format'

export function ChangeWords({ changes }: { changes: VisitView['setup']['changes'] }) {
  if (changes.length === 0) return null
  return (
    <ul>
      {changes.map((change) => (
        <li key={change.group + change.label}>
          {change.group}, {change.label}: <span className="reading">{typed(change.found)}</span> →{' '}
          <span className="reading font-semibold">{typed(change.left)} {unitName(change.unit)}</span>
        </li>
      ))}
    </ul>
  )
}
