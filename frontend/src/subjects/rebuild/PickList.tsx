// What to lay out before starting, and what was said not to have come off.
import { Popover } from 'radix-ui'
import { useDesk } from '../../api/visit/desk'
import { Tick } from '../../parts/field/Tick'

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
    <Popover.Root>
      <Popover.Trigger className="ml-auto min-h-11 px-2 underline underline-offset-4">
        {tools.length} tools to lay out
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={4}
          aria-label="Tools"
          className="z-40 w-72 max-w-[94vw] rounded-md border border-line bg-card p-3 text-ink shadow-xl"
        >
          <ul className="space-y-1">
            {tools.map((each) => (
              <li key={each} className="first-letter:uppercase">
                {each}
              </li>
            ))}
          </ul>
          <Sizes />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
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
