// A change tried becomes a change fitted: its reason, its parts from the shelf, and what was recorded in this visit.
import { useShares } from '../../api/visit/bench'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { ChangeWords } from '../../parts/ChangeWords'
import { TextField } from '../../parts/field/Field'
import { focusOn } from '../../parts/field/reading'
import { signed } from '../../parts/format'
import { Aside } from '../../parts/over/Aside'

export function Recording() {
  const { visit, closed } = useDesk()
  const at = { station: 'set-up' }
  const keep = useVisitAct(
    {
      ...at,
      place: 'record',
      label: 'Record as fitted',
      path: '/setup/record',
      body: ({ setup: { reason, draft } }) => ({ reason, draft }),
      said: 'Recorded as fitted.',
    },
    () => focusOn('nav [data-station="road-test"]'),
  )
  const drop = useVisitAct(
    {
      ...at,
      place: 'drop',
      label: 'Put back',
      path: '/setup/drop',
      body: ({ setup: { draft } }) => ({ draft }),
      drops: (entry) => entry.place.startsWith('set-up '),
      said: 'Put back to what was last recorded.',
    },
    () => focusOn('[aria-label="Slots"] input'),
  )
  const tried = Object.keys(visit.setup.draft).length > 0
  return (
    <div
      className={`flex flex-wrap items-end gap-x-3 gap-y-1 self-center ${tried ? 'min-w-[min(34rem,100%)] flex-[4]' : 'empty:hidden'}`}
    >
      {tried && (
        <>
          <div className="mt-1 min-w-52 flex-1">
            <TextField
              {...at}
              label="Tried, not yet recorded. Why this change?"
              place="reason"
              field="reason"
              path="/setup/reason"
              only
              limit={500}
              read={(each) => each.setup.reason}
              onEnter={keep.run}
            />
          </div>
          <Button look="plain" action={drop} disabled={closed}>
            Put back
          </Button>
          <Button look="sign" action={keep} disabled={closed} data-main>
            Record as fitted
          </Button>
        </>
      )}
      <Done action={keep} className="w-full text-sm" />
      <Done action={drop} className="w-full text-sm" />
    </div>
  )
}

/** What was recorded in this visit: the last reason in sight, all of it a touch away. */
export function Recorded() {
  const { id, setup, rebuild } = useDesk().visit
  const { recorded } = setup
  if (recorded.length === 0) return null
  const opened = rebuild.steps.filter((step) => step.shape != null)
  return (
    <Aside
      label="Recorded in this visit"
      side="top"
      align="end"
      className="w-96 p-3 text-sm"
      opener={
        <button
          type="button"
          title={recorded.at(-1)?.reason}
          className="flex min-h-11 max-w-full items-center text-left text-sm text-ink"
        >
          <span className="line-clamp-2 border-l-4 border-keep pl-2 break-words">
            <b>Recorded{recorded.length > 1 && ` ${recorded.length} times`}</b> {recorded.at(-1)?.reason}
          </span>
        </button>
      }
    >
      <ul className="space-y-2">
        {recorded.map((each) => (
          <li key={each.revision_id} className="border-l-4 border-keep pl-2 break-words">
            <ChangeWords changes={each.changes} />
            <span className="text-quiet">{each.reason}</span>
          </li>
        ))}
      </ul>
      {opened.length > 0 && (
        <p className="mt-2 border-t border-line pt-2">
          It opens {opened.map((step) => step.name.toLowerCase()).join(', ')}:{' '}
          <a href={`/visits/${id}/strip`} className="underline underline-offset-4">
            mark and look
          </a>
        </p>
      )}
    </Aside>
  )
}

/** What a kit brings that fills no slot, and what its maker's sheet says: a touch away, so that the tray stays low. */
export function KitNotes() {
  const { kits } = useDesk().visit.setup
  const told = kits.filter((kit) => kit.besides.length + kit.notes.length > 0)
  if (told.length === 0) return null
  return (
    <Aside
      label="Kits"
      side="top"
      align="end"
      className="w-96 space-y-2 p-3 text-sm leading-snug"
      opener={
        <button
          type="button"
          data-kits
          className="min-h-11 max-w-full text-left text-sm leading-tight underline underline-offset-4"
        >
          {told.map((kit) => kit.number).join(', ')}: what its sheet says
        </button>
      }
    >
      {told.map((kit) => (
        <ul key={kit.number} className="space-y-1">
          {kit.besides.length > 0 && (
            <li>
              <b>{kit.number}</b> brings besides: {kit.besides.join('; ')}
            </li>
          )}
          {kit.notes.map((note) => (
            <li key={note} className={note.startsWith('Not to be used') ? 'font-semibold text-replace' : ''}>
              {note}
            </li>
          ))}
        </ul>
      ))}
    </Aside>
  )
}

/** What each of several changes does of the whole: so that cause and effect stay readable. */
export function Shares() {
  const shares = useShares(useDesk().visit)
  if (!shares || shares.length < 2) return null
  return (
    <ul aria-label="Each change's share" className="text-xs leading-snug text-quiet" data-shares>
      <li className="font-semibold">Of the whole change, rpm:</li>
      {shares.map((each) => (
        <li key={each.slot}>
          {each.name}{' '}
          <span className="reading">
            {signed(each.engagement_rpm)}/{signed(each.shift_rpm)}
          </span>
        </li>
      ))}
    </ul>
  )
}
