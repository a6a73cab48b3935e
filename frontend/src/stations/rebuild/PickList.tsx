// What to lay out before starting, and what was said not to have come off.
import { useDesk } from '../../api/desk'
import { Tick } from '../../parts/Tick'

export function PickList() {
  const { visit } = useDesk()
  const { tools, left_on: leftOn } = visit.rebuild
  return (
    <div className="mt-2 space-y-1 text-sm">
      {tools.length > 0 && (
        <p data-tools>
          <span className="text-quiet">Lay out </span>
          {tools.join(' · ')}
        </p>
      )}
      {leftOn.map((each) => (
        <Tick
          key={each.place}
          station="rebuild"
          path="/rebuild/left-on"
          around={{ part: each.place }}
          only
          label={`${each.name}: did not come off`}
          place={`${each.place}.left_on`}
          field="left_on"
          read={(now) => now.rebuild.left_on.some((other) => other.place === each.place)}
        />
      ))}
    </div>
  )
}
