// What the shelf has for a slot: one press puts a part on the tray; what is typed over it stays a reading of it.
import { Popover } from 'radix-ui'
import { useState } from 'react'
import type { ShelfOption, ShelfView, SlotView } from '../../api/client'
import { useDesk, useVisitAct } from '../../api/desk'
import { Done } from '../../parts/Button'
import { figure } from '../../parts/format'

interface ShelfMenuProps {
  slot: SlotView
  shelf: ShelfView | undefined
}

export function ShelfMenu({ slot, shelf }: ShelfMenuProps) {
  const { visit, closed } = useDesk()
  const [open, setOpen] = useState(false)
  const keys = slot.parts.map((part) => part.slot)
  const groups = (shelf?.slots ?? []).filter((each) => keys.includes(each.slot))
  const held = slot.parts.filter((part) => part.stock).map((part) => part.stock)
  const kits = slot === visit.setup.slots[0] ? (shelf?.kits ?? []) : []
  const tried = keys.some((key) => `part.${key}` in visit.setup.draft)
  const words = held.length > 0 ? held.join(', ') : 'shelf'
  if (closed || (groups.length === 0 && kits.length === 0 && held.length === 0)) return null
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        aria-label={`${slot.name}, from the shelf${held.length > 0 ? `: ${words}` : ''}`}
        data-shelf={slot.name}
        className={`-my-1 inline-flex min-h-7 items-center rounded px-1 text-sm underline decoration-dotted underline-offset-4 hover:bg-card ${tried ? 'font-semibold text-signal-words' : 'text-quiet'}`}
      >
        {words} ▾
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={6}
          aria-label={`${slot.name}: parts of the shelf`}
          className="z-40 max-h-[60dvh] w-[26rem] max-w-[94vw] overflow-auto rounded-md border border-line bg-card p-2 text-ink shadow-xl"
        >
          {groups.map((group) => (
            <div key={group.slot}>
              <h3 className="px-2 pt-1 text-sm text-quiet first-letter:uppercase">{group.name}</h3>
              {fitting(group.parts).map((part) => (
                <Choice key={part.part} slot={group.slot} part={part} done={() => setOpen(false)} />
              ))}
              {(`part.${group.slot}` in visit.setup.draft ||
                slot.numbers.some((number) => number.key in visit.setup.draft)) && (
                <Choice slot={group.slot} part={null} done={() => setOpen(false)} />
              )}
            </div>
          ))}
          {kits.length > 0 && <h3 className="px-2 pt-2 text-sm text-quiet">Kits, several slots at once</h3>}
          {kits.map((part) => (
            <Choice key={part.part} slot="kit" part={part} done={() => setOpen(false)} />
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** What fits first. */
const fitting = (parts: ShelfOption[]) =>
  [...parts].sort((one, other) => Number(Boolean(one.refused)) - Number(Boolean(other.refused)))

function Choice({ slot, part, done }: { slot: string; part: ShelfOption | null; done: () => void }) {
  const name = part?.number ?? 'as it was recorded'
  const fill = useVisitAct(
    {
      station: 'set-up',
      place: `shelf.${slot}.${part?.part ?? 0}`,
      label: `${name} on the tray`,
      path: '/setup/fill',
      body: ({ setup: { draft } }) => ({
        draft,
        fills: [{ slot, part: part?.part ?? null, numbers: {} }],
        whole: false,
      }),
      held: false,
      said: part ? `${name} on the tray.` : 'Put back as it was recorded.',
    },
    done,
  )
  const gone = part?.pieces === 0
  return (
    <div>
      <button
        type="button"
        onClick={fill.run}
        disabled={fill.busy || Boolean(part?.refused)}
        data-part={part?.number}
        className="grid min-h-11 w-full grid-cols-[auto_1fr_auto] items-center gap-x-3 rounded px-2 text-left hover:bg-paper disabled:opacity-60"
      >
        <b>{name}</b>
        <span className="min-w-0 text-sm break-words text-quiet">
          {part?.refused || part?.words}
          {part?.make && ` · ${part.make}`}
        </span>
        <span className={`reading text-right text-sm ${gone ? 'text-replace' : 'text-quiet'}`}>
          {part && (part.pieces == null ? 'not counted' : gone ? 'none left' : `${part.pieces} here`)}
          {part?.price ? ` · ${figure(part.price, part.price % 1 ? 2 : 0)}` : ''}
        </span>
      </button>
      <Done action={fill} className="px-2 text-sm" />
    </div>
  )
}
