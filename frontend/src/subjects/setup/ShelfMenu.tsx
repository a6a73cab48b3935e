// The shelf at the tray: one press puts a part in its slot; what is typed over it stays a reading of it.
import type { ShelfOption, ShelfView } from '../../api/server/client'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { buttonLook, Done } from '../../parts/Button'
import { figure } from '../../parts/format'
import { Aside } from '../../parts/over/Aside'
import { useClose } from '../../parts/over/Over'

interface ShelfMenuProps {
  shelf: ShelfView | undefined
  /** The slot the hand was in last: its parts stand first. */
  hand: string
}

export function ShelfMenu({ shelf, hand }: ShelfMenuProps) {
  const { visit, closed } = useDesk()
  if (closed || !shelf || shelf.slots.length + shelf.kits.length === 0) return null
  const order = visit.setup.slots.flatMap((slot) => slot.parts.map((part) => part.slot))
  const place = (slot: string) => (slot === hand ? -1 : order.includes(slot) ? order.indexOf(slot) : order.length)
  const groups = [...shelf.slots].sort((one, other) => place(one.slot) - place(other.slot))
  const numbers = visit.setup.slots.flatMap((slot) =>
    slot.parts.flatMap((part) => slot.numbers.map((number) => ({ slot: part.slot, key: number.key }))),
  )
  const tried = (slot: string) =>
    `part.${slot}` in visit.setup.draft ||
    numbers.some((each) => each.slot === slot && each.key in visit.setup.draft && ofSlot(each.key, slot))
  return (
    <Aside
      label="Parts of the shelf"
      side="top"
      align="end"
      className="w-[30rem] p-2"
      opener={
        <button type="button" data-shelf className={`${buttonLook('plain')} min-h-11 px-3`}>
          From the shelf <kbd className="font-normal">p</kbd>
        </button>
      }
    >
      {groups.map((group) => (
        <div key={group.slot} data-group={group.slot}>
          <h3 className="px-2 pt-2 text-sm text-quiet first-letter:uppercase">{group.name}</h3>
          {fitting(group.parts).map((part) => (
            <Choice key={part.part} slot={group.slot} part={part} />
          ))}
          {tried(group.slot) && <Choice slot={group.slot} part={null} />}
        </div>
      ))}
      {shelf.kits.length > 0 && <h3 className="px-2 pt-2 text-sm text-quiet">Kits, several slots at once</h3>}
      {shelf.kits.map((part) => (
        <Choice key={part.part} slot="kit" part={part} />
      ))}
    </Aside>
  )
}

/** A number of the loads is one station's own. */
const ofSlot = (key: string, slot: string) => !slot.startsWith('load:') || key.endsWith(`.${slot.slice(5)}`)

/** What fits first. */
const fitting = (parts: ShelfOption[]) =>
  [...parts].sort((one, other) => Number(Boolean(one.refused)) - Number(Boolean(other.refused)))

function Choice({ slot, part }: { slot: string; part: ShelfOption | null }) {
  const close = useClose()
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
    close,
  )
  const gone = part?.pieces === 0
  return (
    <div>
      <button
        type="button"
        onClick={fill.run}
        disabled={fill.busy || Boolean(part?.refused)}
        data-part={part?.number}
        className="grid min-h-11 w-full grid-cols-[auto_1fr_auto] items-center gap-x-3 rounded px-2 text-left hover:bg-paper disabled:opacity-70"
      >
        <b>{name}</b>
        <span className="min-w-0 text-sm break-words text-quiet">
          {part?.refused || part?.words}
          {part?.make && ` · ${part.make}`}
          {part && part.besides.length > 0 && ` · also ${part.besides.join('; ')}`}
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
