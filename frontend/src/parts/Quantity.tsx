// A reading with its unit: figures tabular, the unit close behind and quieter.
import { unitName } from './format'

export function Quantity({ children, unit, strong }: { children: React.ReactNode; unit: string; strong?: boolean }) {
  return (
    <span className="whitespace-nowrap">
      <span className={`reading ${strong ? 'font-semibold' : ''}`}>{children}</span>
      {unit && (
        <span className="text-quiet">
          {unit === 'deg' ? '' : '\u2009'}
          {unitName(unit)}
        </span>
      )}
    </span>
  )
}
