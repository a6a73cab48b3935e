// Set-up: what the change in hand will do, before the cover comes off.

import { Popover, Slider } from 'radix-ui'
import { useState } from 'react'
import type { CurvePoint, PredictionFigures, StripView } from '../api/client'
import { useDesk, usePrediction, useSteps, useStrip, useVisitAct } from '../api/desk'
import { inShown } from '../api/units'
import { Aims } from '../parts/Aims'
import { Button, Done } from '../parts/Button'
import { Heading, StationCaution } from '../parts/Caution'
import { ChangeWords } from '../parts/ChangeWords'
import { ClutchPicture } from '../parts/ClutchPicture'
import { TextField } from '../parts/Field'
import { figure, reading, told, unitName } from '../parts/format'
import { Quantity } from '../parts/Quantity'
import { focusOn } from '../parts/reading'
import { SlotFields } from '../parts/SlotFields'

export function SetUp() {
  const { visit } = useDesk()
  const curve = usePrediction(visit.left)?.curve ?? []
  const [chosen, setNode] = useState<number>()
  const node = Math.min(chosen ?? Math.round(curve.length / 3), Math.max(curve.length - 1, 0))
  const at = curve[node]
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="grid min-h-0 flex-1 gap-x-6 gap-y-1 overflow-y-auto px-5 pt-2 pb-2 md:grid-cols-[9fr_11fr] md:grid-rows-[minmax(min-content,1fr)_auto]">
        <section aria-label="Clutches to scale" className="flex min-w-0 flex-col lg:row-span-2">
          <div className="mb-1.5 shrink-0">
            <StationCaution visit={visit} station="set-up" />
          </div>
          <Heading aside="drag, or ← →">Clutches to scale, as left</Heading>
          {at ? (
            <>
              <div className="relative min-h-64 flex-1 md:min-h-24">
                <ClutchPicture drawing={visit.setup.drawing} curve={curve} at={at} />
              </div>
              <Slider.Root
                value={[node]}
                min={0}
                max={curve.length - 1}
                step={1}
                onValueChange={([next]) => setNode(next ?? 0)}
                className="relative flex h-11 w-full shrink-0 touch-none items-center"
              >
                <Slider.Track className="relative h-1.5 grow rounded bg-alu">
                  <Slider.Range className="absolute h-full rounded bg-signal" />
                </Slider.Track>
                <Slider.Thumb
                  aria-label="Point of the shift"
                  aria-valuetext={`${told(at.speed_kph, 'km/h')}, ${figure(at.rpm, 0)} rpm, ratio ${figure(at.ratio, 2)}`}
                  className="block size-7 rounded-full border-4 border-signal bg-card"
                />
              </Slider.Root>
              <NodeFigures at={at} />
            </>
          ) : visit.fault ? (
            <p role="alert" className="text-replace">
              {visit.fault.reason}
            </p>
          ) : (
            <p className="text-quiet">Drawing the clutches…</p>
          )}
        </section>
        <div className="flex min-w-0 flex-col gap-1">
          <Warnings />
          <Aims visit={visit} at={at} />
        </div>
        <div className="min-w-0 space-y-1 max-lg:md:col-span-2">
          <SimulatedPull />
          <Figures />
        </div>
      </div>
      <Tray />
    </div>
  )
}

function Warnings() {
  const { fault, found, left } = useDesk().visit
  if (!left?.warnings.length && !(fault && !found)) return null
  return (
    <ul className="rounded-md border-l-4 border-watch bg-card px-3 py-1 text-sm text-watch">
      {fault && !found && <li className="text-signal-words">{fault.reason}</li>}
      {left?.warnings.map((warning) => (
        <li key={warning}>{warning}</li>
      ))}
    </ul>
  )
}

function NodeFigures({ at }: { at: CurvePoint }) {
  const figures = [
    { name: 'engine', text: figure(at.rpm, 0), unit: 'rpm' },
    { name: 'vehicle', text: reading(at.speed_kph, 'km/h'), unit: 'km/h' },
    { name: 'grip, primary', text: figure(at.grip_primary, 2), unit: '', low: at.grip_primary < 1 },
    { name: 'grip, secondary', text: figure(at.grip_secondary, 2), unit: '', low: at.grip_secondary < 1 },
    { name: 'tight / slack', text: `${reading(at.tight_n, 'N')} / ${reading(at.slack_n, 'N')}`, unit: 'N' },
  ]
  return (
    <dl className="flex shrink-0 flex-wrap justify-between gap-x-3 text-sm">
      {figures.map((each) => (
        <div key={each.name}>
          <dt className="text-xs text-quiet">{each.name}</dt>
          <dd className={each.low ? 'text-replace' : ''}>
            <Quantity unit={each.unit} strong>
              {each.text}
            </Quantity>
          </dd>
        </div>
      ))}
    </dl>
  )
}

/** The slots on a tray at the foot, with the reason for the change docked to them. */
function Tray() {
  const { visit } = useDesk()
  return (
    <section aria-label="Slots" className="shrink-0 border-t-2 border-line bg-tray px-5 py-2">
      <div className="flex flex-wrap gap-x-5 gap-y-1">
        <SlotFields slots={visit.setup.slots} which="left" steps={useSteps(visit)} />
        <div className="short:hidden min-w-48 flex-1 text-xs text-quiet">
          <p>
            Under each slot: engagement / shift, rpm, for the step named above it. Weights may be typed as weighed: 59.0
            59.1 58.9
          </p>
          <Recorded />
        </div>
      </div>
      <Recording />
    </section>
  )
}

function Recording() {
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
    <div className="flex flex-wrap items-end gap-x-4 gap-y-1">
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
function Recorded() {
  const { recorded } = useDesk().visit.setup
  if (recorded.length === 0) return null
  return (
    <Popover.Root>
      <Popover.Trigger
        title={recorded.at(-1)?.reason}
        className="flex min-h-11 max-w-full items-center text-left text-sm text-ink"
      >
        <span className="line-clamp-2 border-l-4 border-keep pl-2 break-words">
          <b>Recorded{recorded.length > 1 && ` ${recorded.length} times`}</b> {recorded.at(-1)?.reason}
        </span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={6}
          aria-label="Recorded in this visit"
          className="z-40 max-h-[60dvh] w-96 max-w-[94vw] overflow-auto rounded-md border border-line bg-card p-3 text-sm text-ink shadow-xl"
        >
          <ul className="space-y-2">
            {recorded.map((each) => (
              <li key={each.revision_id} className="border-l-4 border-keep pl-2 break-words">
                <ChangeWords changes={each.changes} />
                <span className="text-quiet">{each.reason}</span>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

interface FigureCell {
  name: string
  unit: string
  digits: number
  found?: number | null
  left?: number | null
}

function Figures() {
  const { found, left } = useDesk().visit
  if (!found || !left) return null
  const pair = (name: string, unit: string, digits: number, of: (p: PredictionFigures) => number | undefined) => ({
    name,
    unit,
    digits,
    found: of(found),
    left: of(left),
  })
  return (
    <section aria-label="Predicted figures">
      <Cells
        cells={[
          pair('Shift slope', 'rpm', 0, (p) => p.shift.slope_rpm),
          pair('Backshift', 'rpm', 0, (p) => p.backshift?.mean_rpm),
          pair('Over limit', 'rpm', 0, (p) => p.shift.over_rev_rpm),
          pair('Top ratio', '', 2, (p) => p.belt.high_ratio),
          pair('Top of shift', 'km/h', 0, (p) => p.shift.full_shift_kph),
          pair('Bite in 100 rpm', 'N', 0, (p) => p.engagement.bite_rate_n_per_100rpm),
        ]}
      />
    </section>
  )
}

function SimulatedPull() {
  const { strip, working } = useStrip(useDesk().visit)
  const ridden = (name: string, key: string, unit: string, digits: number): FigureCell => ({
    name,
    unit,
    digits,
    found: strip?.found?.[key],
    left: strip?.left[key],
  })
  return (
    <section aria-label="Simulated pull">
      <h2 className="flex flex-wrap gap-x-3 text-sm">
        <b>Simulated pull</b>
        <span role="status" className="text-quiet" data-pull={working ? 'working' : 'done'}>
          {working ? 'working…' : pullWords(strip)}
        </span>
      </h2>
      <Cells
        faded={working}
        cells={[
          ridden('0–30 mph', 'to_30_mph_s', 's', 2),
          ridden('0–60 mph', 'to_60_mph_s', 's', 2),
          ridden(told(200, 'm'), 'to_200_m_s', 's', 2),
          ridden(told(400, 'm'), 'to_400_m_s', 's', 2),
          ridden('Low gearing', 'lowest_gearing', '', 2),
          ridden('Hottest belt', 'belt_temperature_max_c', '°C', 0),
        ]}
      />
    </section>
  )
}

/** What the pull was made on, and whether the engine ran on its limiter: in the launch it is no over-rev. */
function pullWords(strip: StripView | undefined): string {
  if (!strip) return ''
  const { found, left } = strip
  const limiter = (pull: StripView['found']) => {
    if (!pull) return 'not told'
    const [launch, shift] = [pull.limiter_launch_s ?? 0, pull.limiter_shift_s ?? 0]
    if (shift > 0) return `${figure(shift, 1)} s in the shift`
    return launch > 0 ? `${figure(launch, 1)} s at launch` : 'never'
  }
  const [was, now] = [limiter(found), limiter(left)]
  return `ground grip ${figure(left.ground_grip ?? 0, 1)}; on limiter ${was === now ? now : `${was} → ${now}`}`
}

/** Figures side by side: as found small, as left below it in bold. */
function Cells({ cells, faded = false }: { cells: FigureCell[]; faded?: boolean }) {
  return (
    <dl
      className={`grid grid-cols-3 gap-x-2 gap-y-1 border-t border-line pt-0.5 md:grid-cols-6 ${faded ? 'opacity-60' : ''}`}
    >
      {cells.map(({ name, unit, digits, found, left }) => (
        <div key={name} data-figure={name} className="min-w-0">
          <dt className="truncate text-xs text-quiet" title={unit ? `${name}, ${unitName(unit)}` : name}>
            {name}
            {unit && `, ${unitName(unit)}`}
          </dt>
          <dd className="reading flex flex-wrap gap-x-1.5 text-xs leading-4 text-quiet md:block">
            <span className="sr-only">as found</span> {found == null ? '–' : figure(inShown(found, unit), digits)}{' '}
            <span className="block text-sm leading-4 font-semibold text-ink">
              <span className="sr-only">as left</span> {left == null ? '–' : figure(inShown(left, unit), digits)}
            </span>
          </dd>
        </div>
      ))}
    </dl>
  )
}
