// What to lay out before starting, and what was said not to have come off.
import { useDesk } from '../../api/visit/desk'
import { Tick } from '../../parts/field/Tick'
import { Aside } from '../../parts/over/Aside'

/** The whole list, before anything is begun. */
export function PickList() {
  const { visit } = useDesk()
  const { tools } = visit.rebuild
  if (tools.length === 0) return null
  return (
    <p className="mb-2 text-sm leading-snug" data-tools>
      <span className="text-quiet">Lay out before you start </span>
      <b>{tools.join(' · ')}</b> <Sizes />
    </p>
  )
}

/** What is turned with which size, where this machine's is known. */
export function Sizes() {
  const { drives } = useDesk().visit.rebuild
  const sized = drives.filter((each) => each.size || each.thread)
  if (sized.length === 0) return null
  return (
    <span data-sizes>
      {sized
        .map((each) => `${each.place.toLowerCase()} ${[each.size, each.thread].filter(Boolean).join(', ')}`)
        .join(' · ')}
    </span>
  )
}

/** The list a touch away, once the work has begun. */
export function LayOut() {
  const { visit } = useDesk()
  const { tools } = visit.rebuild
  return (
    <Aside
      label="Tools"
      side="top"
      align="end"
      className="w-72 p-3"
      opener={
        <button type="button" className="ml-auto min-h-11 px-2 underline underline-offset-4">
          {tools.length} tools to lay out
        </button>
      }
    >
      <ul className="space-y-1">
        {tools.map((each) => (
          <li key={each} className="first-letter:uppercase">
            {each}
          </li>
        ))}
      </ul>
      <Sizes />
    </Aside>
  )
}

/** Parts that a hand said did not come off: each can be taken back. */
export function LeftOn() {
  const { visit } = useDesk()
  return (
    <div className="mt-1 text-sm empty:hidden">
      {visit.rebuild.left_on.map((each) => (
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
