// Set-up: see it, change it, ask for it: what the change in hand will do before the cover comes off.

import { Slider } from 'radix-ui'
import { useDeferredValue, useMemo, useState } from 'react'
import type { PictureNode, VisitView } from '../../api/server/client'
import { usePictures, useShelf } from '../../api/visit/bench'
import { useDesk, usePrediction, useSteps } from '../../api/visit/desk'
import { usePreviewed } from '../../api/visit/preview'
import { CautionLine } from '../../parts/Caution'
import { SlotFields } from '../../parts/field/SlotFields'
import { figure, told } from '../../parts/format'
import { Answers } from './Answers'
import { CurveTable } from './charts/CurveTable'
import { EngagementScale, Engages } from './charts/EngagementScale'
import { ClutchPicture } from './picture/ClutchPicture'
import { KitNotes, Recorded, Recording, Shares } from './Recording'
import { ShelfMenu } from './ShelfMenu'
import { Views } from './Views'

export { fetchViews } from './Views'

export function SetUp() {
  // The slot whose field the hand is in: the picture lights it, the shelf offers for it.
  const [hand, take] = useState('')
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <Sights hand={hand} />
      <Answers />
      <Tray hand={hand} take={take} />
    </div>
  )
}

/** What is seen of the set-up, with what is being typed: the clutches, and where the set-up aims and lands. */
function Sights({ hand }: { hand: string }) {
  const visit = usePreviewed(useDesk().visit)
  const pictures = usePictures(visit)
  // The curve is what the hand waits for: the picture is drawn right behind it.
  const { found, left } = useDeferredValue(pictures)
  const curve = usePrediction(visit.left)?.curve ?? []
  const [chosen, setNode] = useState<number>()
  const nodes = left?.nodes ?? []
  const at = Math.min(chosen ?? Math.round(nodes.length * 0.45), Math.max(nodes.length - 1, 0))
  const node = nodes[at]
  // The chart begins where the belt is gripped: what comes before has no speed on the road.
  const point = curve[at - (nodes.length - curve.length)]
  const { primary_kind, secondary_kind } = visit.kinds
  const kinds = useMemo(
    () => ({ primary: primary_kind ?? '', secondary: secondary_kind ?? '' }),
    [primary_kind, secondary_kind],
  )
  return (
    <div className="grid min-h-0 flex-1 gap-x-6 gap-y-1 overflow-y-auto px-5 pt-2 pb-1.5 md:grid-cols-[9fr_11fr] md:grid-rows-[minmax(17.5rem,1fr)]">
      <section aria-label="Clutches to scale" className="flex min-h-0 min-w-0 flex-col">
        <div className="flex shrink-0 flex-wrap items-center justify-between gap-x-3">
          <h2 className="text-base font-bold">Clutches to scale</h2>
          <CurveTable visit={visit} />
          <CautionLine visit={visit} station="set-up" />
        </div>
        {left && node ? (
          <>
            <div className="relative min-h-80 flex-1 md:min-h-44">
              <ClutchPicture picture={left} found={found} at={at} hand={hand} kinds={kinds} />
            </div>
            <Shift nodes={nodes} at={at} go={setNode} />
          </>
        ) : visit.fault ? (
          <p role="alert" className="text-replace">
            {visit.fault.reason}
          </p>
        ) : (
          <p className="text-quiet">Drawing the clutches…</p>
        )}
      </section>
      <div className="flex min-h-0 min-w-0 flex-col gap-1">
        <Warnings visit={visit} />
        <section aria-label="Engagement against its window">
          <div className="flex flex-wrap items-baseline justify-between gap-x-4">
            <h2 className="text-base font-bold">Engagement</h2>
            <span className="text-sm text-quiet">
              <Engages visit={visit} />
            </span>
          </div>
          <EngagementScale visit={visit} />
        </section>
        <Views visit={visit} at={point} />
      </div>
    </div>
  )
}

/** The way from idle to full shift: dragged, stepped by keys, or gone to by name. */
function Shift({ nodes, at, go }: { nodes: PictureNode[]; at: number; go: (node: number) => void }) {
  const node = nodes[at]
  if (!node) return null
  const last = nodes.length - 1
  return (
    <div className="shrink-0">
      <Slider.Root
        value={[at]}
        min={0}
        max={last}
        step={1}
        onValueChange={([next]) => go(next ?? 0)}
        className="relative flex h-9 w-full touch-none items-center"
      >
        <Slider.Track className="relative h-1.5 grow rounded bg-alu">
          <Slider.Range className="absolute h-full rounded bg-signal" />
          {nodes.map(
            (each, index) =>
              each.stage && (
                <span
                  key={each.stage}
                  title={each.stage}
                  className="absolute -top-1.5 h-4.5 w-0.5 bg-ink"
                  style={{ left: `${(index / last) * 100}%` }}
                />
              ),
          )}
        </Slider.Track>
        <Slider.Thumb
          aria-label="Point of the shift"
          aria-valuetext={`${node.stage ? `${node.stage}, ` : ''}${told(node.travel_mm, 'mm')} of travel, ${figure(node.rpm, 0)} rpm, ratio ${figure(node.ratio, 2)}`}
          className="block size-7 rounded-full border-4 border-signal bg-card"
        />
      </Slider.Root>
      <div className="-mt-2 flex justify-between text-xs text-quiet">
        <span>idle</span>
        <b className="text-ink">{node.stage ?? `${told(node.travel_mm, 'mm')} of travel`}</b>
        <span>full shift</span>
      </div>
    </div>
  )
}

function Warnings({ visit }: { visit: VisitView }) {
  const { fault, found, left } = visit
  if (!left?.warnings.length && !(fault && !found)) return null
  return (
    <ul className="rounded-md border-l-4 border-watch bg-card px-3 py-0.5 text-sm text-watch">
      {fault && !found && <li className="text-signal-words">{fault.reason}</li>}
      {left?.warnings.map((warning) => (
        <li key={warning}>{warning}</li>
      ))}
    </ul>
  )
}

/** What stood last where there is nothing now: the hand leaves a slot for the shelf. */
function useLast(value: string): string {
  const [last, keep] = useState(value)
  if (value && value !== last) keep(value)
  return value || last
}

/** The slots on a tray at the foot, with the reason for the change docked to them. */
function Tray({ hand, take }: { hand: string; take: (slot: string) => void }) {
  const last = useLast(hand)
  const { visit } = useDesk()
  const shelf = useShelf(visit)
  const tried = Object.keys(visit.setup.draft).length > 0
  return (
    <section aria-label="Slots" className="shrink-0 border-t-2 border-line bg-tray px-5 py-1">
      <div className="flex flex-wrap gap-x-3 gap-y-1">
        <SlotFields slots={visit.setup.slots} which="left" steps={useSteps(visit)} take={take} />
        <Recording />
        <div className="flex min-w-44 flex-1 flex-col items-end gap-1">
          <ShelfMenu shelf={shelf} hand={last} />
          <KitNotes />
          <div className="short:hidden w-full max-w-60">{tried ? <Shares /> : <Recorded />}</div>
        </div>
      </div>
    </section>
  )
}
