// The run reader: what a log shows, pull by pull, with its marks, its figures, and what they count as.
import { ChevronLeft, ChevronRight, Download } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import type { RunLogView, RunSummary } from '../../../api/server/client'
import { useDesk, usePrediction, useVisitAct } from '../../../api/visit/desk'
import { Button, Done } from '../../../parts/Button'
import { day, figure, unitName } from '../../../parts/format'
import { useSize } from '../../../parts/size'
import { Back } from '../Back'
import { Compared } from '../Compared'
import { type Run, tried, useLog, usePull, useTraces } from '../log'
import { NextChange } from '../NextChange'
import { Counted } from './Counted'
import { Found } from './Found'
import type { Handle } from './Handles'
import { useMoving } from './moving'
import { SpeedPlot } from './SpeedPlot'
import { type Place, TimePlot } from './TimePlot'
import { TraceTable } from './TraceTable'
import { VerdictCard } from './VerdictCard'

const MARK_NAMES: Record<string, string> = {
  engagement: 'first motion',
  shift_start: 'shift starts',
  full_shift: 'full shift',
  reopened: 'throttle open again',
  recovered: 'back from the chop',
}

const KINDS: Record<string, string> = { stab: 'full-throttle stab', 'roll-on': 'roll-on', chop: 'with a chop' }

/** Seconds shown before and after a pull. */
const BESIDE = 1

type Dragged = { pull: number; mark: string; at: number }

export function Reader({ run, number, close }: { run: Run; number: number; close: () => void }) {
  const { visit, closed } = useDesk()
  const log = useLog(visit, run)
  const best = useMemo(() => (log ? longest(log) : null), [log])
  const [chosen, setChosen] = useState<number | null>(null)
  const [seen, setSeen] = useState<readonly [number, number] | null>(null)
  const [place, setPlace] = useState<Place | null>(null)
  const [dragged, setDragged] = useState<Dragged | null>(null)
  const [preview, setPreview] = useState<RunSummary | null>(null)
  const [box, { width }] = useSize<HTMLDivElement>()
  const at = chosen ?? best
  const pull = log?.pulls.find((each) => each.number === at)
  const summary = usePull(visit, run, at)
  const end = log ? log.to_s - log.from_s : 1
  const around = pull && log ? ([pull.from_s, pull.to_s].map((each) => each - log.from_s) as [number, number]) : null
  const inSight: readonly [number, number] =
    seen ?? (around ? [Math.max(0, around[0] - BESIDE), Math.min(end, around[1] + BESIDE)] : [0, end])
  const points = log ? pointsOf(log, inSight) : ([0, 1] as const)
  const traces = useTraces(visit, run, points, width)
  const prediction = usePrediction(
    run.on_left ? visit.left : run.revision_id === visit.found_revision_id ? visit.found : null,
  )

  const { keep, move, resting } = useMoving(run, number, log)
  // Until the answer has come the mark stays where it was put, and its figures stay those of there.
  // biome-ignore lint/correctness/useExhaustiveDependencies: what came says that it has
  useEffect(() => {
    if (resting()) setDragged(null)
  }, [log])
  // biome-ignore lint/correctness/useExhaustiveDependencies: what came says that it has
  useEffect(() => {
    if (resting()) setPreview(null)
  }, [summary])

  const counts = useVisitAct({
    place: `log.${run.id}.counts`,
    label: run.log?.counts ? `Set the log of run ${number} aside` : `Let the log of run ${number} count`,
    station: 'road-test',
    path: `/runs/${run.id}/log/counts`,
    body: () => ({ counts: !run.log?.counts }),
  })
  const again = useVisitAct({
    place: `log.${run.id}.again`,
    label: `Count the log of run ${number} anew`,
    station: 'road-test',
    path: `/runs/${run.id}/log/again`,
    body: () => ({}),
  })

  if (!log || at == null || !summary)
    return (
      <div ref={box}>
        <Back close={close} />
        <p className="py-6 text-quiet">
          {log && log.pulls.length === 0 ? 'No pull was found in this log.' : 'Opening the log…'}
        </p>
        {log && log.pulls.length === 0 && <Found log={log} summary={log.summary} />}
      </div>
    )

  const handles: Handle[] = (pull?.marks ?? []).flatMap((each) => {
    const mine = dragged?.mark === each.mark && dragged.pull === at
    const stands = mine ? dragged.at : (each.moved_s ?? each.found_s ?? Number.NaN) - log.from_s
    return Number.isFinite(stands)
      ? [{ mark: each.mark, name: MARK_NAMES[each.mark] ?? each.mark, at: stands, moved: mine || each.moved_s != null }]
      : []
  })
  const drag = (mark: string, to: number, wait: number | null) => {
    const limited = Math.min(end, Math.max(0, to))
    setDragged({ pull: at, mark, at: limited })
    const marks = Object.fromEntries(
      (pull?.marks ?? []).flatMap((each) => (each.moved_s == null ? [] : [[each.mark, each.moved_s]])),
    )
    tried(visit, run, at, { ...marks, [mark]: limited + log.from_s }).then((answer) => answer && setPreview(answer))
    if (wait != null) keep({ pull: at, mark, now: Math.round((limited + log.from_s) * 1e4) / 1e4 }, wait)
  }
  const shown = preview ?? summary
  const moved = pull?.marks.filter((each) => each.moved_s != null) ?? []
  const choose = (next: number) => {
    setChosen(next)
    setSeen(null)
    setDragged(null)
    setPreview(null)
  }
  const ratio =
    place?.engine && place.secondary
      ? place.engine / place.secondary
      : place?.engine && place.speed && log.kph_per_rpm
        ? (place.engine * log.kph_per_rpm) / kphOf(place.speed)
        : null
  return (
    <div data-reader={run.id}>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <Back close={close} />
        <h2 className="text-lg font-bold">
          Run {number},{' '}
          {run.on_left ? 'as left' : run.revision_id === visit.found_revision_id ? 'as found' : 'an earlier set-up'}
        </h2>
        <span className="min-w-0 truncate text-sm text-quiet" title={log.name}>
          {log.name} · {day(log.kept_at)} · {figure(log.summary.samples, 0)} rows
          {log.summary.dropped > 0 && `, ${figure(log.summary.dropped, 0)} put right or left out`}
        </span>
        <span className="ml-auto flex items-center gap-1">
          <Step label="Pull before" disabled={at === 0} act={() => choose(at - 1)}>
            <ChevronLeft size={18} aria-hidden="true" />
          </Step>
          <span className="text-sm">
            pull {at + 1} of {log.summary.pulls.length}, {KINDS[pull?.kind ?? 'stab']}
          </span>
          <Step label="Next pull" disabled={at >= log.pulls.length - 1} act={() => choose(at + 1)}>
            <ChevronRight size={18} aria-hidden="true" />
          </Step>
        </span>
      </div>
      <div className="grid gap-x-6 gap-y-4 lg:grid-cols-[8fr_5fr]">
        <section ref={box} className="min-w-0" aria-label="Traces">
          <div className="flex min-h-9 flex-wrap items-center gap-x-3 text-sm">
            <span className={place ? 'reading' : 'text-quiet'} role="status" aria-label="At the cursor">
              {place
                ? [
                    `${figure(place.time, 2)} s`,
                    place.engine != null && `${figure(place.engine, 0)} rpm`,
                    place.speed != null && `${figure(place.speed, 1)} ${unitName('km/h')}`,
                    ratio != null && `ratio ${figure(ratio, 2)}`,
                  ]
                    .filter(Boolean)
                    .join(' · ')
                : 'drag across to look closer'}
            </span>
            <span className="ml-auto flex gap-4 text-quiet">
              {seen && (
                <button
                  type="button"
                  className="-my-1 min-h-11 underline underline-offset-4"
                  onClick={() => setSeen(null)}
                >
                  this pull
                </button>
              )}
              {shiftIn(handles) && (
                <button
                  type="button"
                  className="-my-1 min-h-11 underline underline-offset-4"
                  onClick={() => setSeen(shiftIn(handles))}
                >
                  the shift
                </button>
              )}
              <button
                type="button"
                className="-my-1 min-h-11 underline underline-offset-4"
                onClick={() => setSeen([0, end])}
              >
                whole log
              </button>
              <TraceTable visit={visit} run={run} log={log} points={points} />
            </span>
          </div>
          {traces && (
            <>
              <TimePlot
                visit={visit}
                log={log}
                traces={traces}
                window={inSight}
                handles={handles}
                closed={closed}
                look={setSeen}
                point={setPlace}
                drag={drag}
              />
              <h3 className="mt-2 text-sm font-semibold">
                Engine against speed{' '}
                <span className="font-normal text-quiet">
                  rays are ratios; dashed, what the sheaves allow; red, reached; shaded, the prediction ±
                </span>
              </h3>
              <SpeedPlot
                visit={visit}
                log={log}
                traces={traces}
                prediction={prediction}
                reached={{ low: shown.low_ratio.value ?? null, high: shown.high_ratio.value ?? null }}
                place={place}
              />
            </>
          )}
        </section>
        <section className="min-w-0 space-y-2" aria-label="Figures">
          <VerdictCard visit={visit} run={run} log={log} />
          <NextChange />
          <Counted visit={visit} log={log} />
          <Found log={log} summary={shown} />
          {moved.length > 0 && (
            <ul className="text-sm">
              {moved.map((each) => (
                <li key={each.mark} className="flex flex-wrap items-center gap-x-2 border-t border-line">
                  <span className="text-signal-words">{MARK_NAMES[each.mark]} moved by hand</span>
                  <span className="reading text-quiet">
                    {each.found_s == null ? '' : `found at ${figure(each.found_s - log.from_s, 2)} s, `}put at{' '}
                    {figure((each.moved_s ?? 0) - log.from_s, 2)} s
                  </span>
                  {!closed && (
                    <button
                      type="button"
                      className="ml-auto -my-1 min-h-11 underline underline-offset-4"
                      onClick={() => {
                        keep({ pull: at, mark: each.mark, now: null }, 0)
                      }}
                    >
                      as found
                    </button>
                  )}
                </li>
              ))}
            </ul>
          )}
          <Done action={move} />
          {log.summary.limits.length > 0 && (
            <ul className="text-sm text-quiet">
              {log.summary.limits.map((each) => (
                <li key={each}>{each}</li>
              ))}
            </ul>
          )}
        </section>
      </div>
      <div className="mt-4 grid items-center gap-x-6 gap-y-3 rounded-md bg-tray px-4 py-3 lg:grid-cols-2">
        <div>
          <h3 className="mb-1 text-sm font-semibold">Prediction kept for this run</h3>
          <Compared rows={run.comparison} />
        </div>
        <div>
          <div className="flex flex-wrap items-center gap-3">
            {!closed && (
              <Button look="plain" action={counts}>
                {run.log?.counts ? 'Set the log aside' : 'Let the log count'}
              </Button>
            )}
            {!closed && log.stale && (
              <Button look="plain" action={again}>
                Count it anew: its set-up was put right
              </Button>
            )}
            <a
              className="flex min-h-11 items-center gap-2 text-sm underline underline-offset-4"
              href={`/api/visits/${visit.id}/runs/${run.id}/log/file`}
              download={log.name}
            >
              <Download size={16} aria-hidden="true" /> the log as it was sent, {figure(log.size / 1e6, 1)} MB
            </a>
          </div>
          <Done action={counts} />
          <Done action={again} />
        </div>
      </div>
    </div>
  )
}

/** The stretch from where the shift starts to a little past its end. */
function shiftIn(handles: Handle[]): readonly [number, number] | null {
  const [from, to] = ['shift_start', 'full_shift'].map((mark) => handles.find((each) => each.mark === mark)?.at)
  return from != null && to != null && to > from ? [from, to + 0.08 * (to - from)] : null
}

/** The pull that tells most at first sight: the longest. */
function longest(log: RunLogView): number | null {
  const most = [...log.pulls].sort((one, other) => other.to_s - other.from_s - (one.to_s - one.from_s))[0]
  return most ? most.number : null
}

/** The points of the even clock that a stretch of the log lies on. */
function pointsOf(log: RunLogView, [from, to]: readonly [number, number]): readonly [number, number] {
  const known = [
    { at: 0, point: 0 },
    ...log.pulls.flatMap((each) => [
      { at: each.from_s - log.from_s, point: each.first },
      { at: each.to_s - log.from_s, point: each.last },
    ]),
    { at: log.to_s - log.from_s, point: log.points },
  ]
  const pointAt = (time: number) => {
    const next = known.findIndex((each) => each.at >= time)
    const [before, after] = [known[Math.max(0, next - 1)], known[next < 0 ? known.length - 1 : next]]
    if (!before || !after || after.at <= before.at) return after?.point ?? log.points
    return before.point + ((time - before.at) / (after.at - before.at)) * (after.point - before.point)
  }
  const [first, last] = [Math.floor(pointAt(from)), Math.ceil(pointAt(to))]
  return [Math.max(0, first), Math.max(first + 1, Math.min(log.points, last))]
}

const kphOf = (value: number) => (unitName('km/h') === 'mph' ? value * 1.609344 : value)

function Step({
  label,
  disabled,
  act,
  children,
}: {
  label: string
  disabled: boolean
  act: () => void
  children: React.ReactNode
}) {
  return (
    <button
      type="button"
      aria-label={label}
      disabled={disabled}
      onClick={act}
      className="flex size-11 items-center justify-center rounded hover:bg-card disabled:opacity-40"
    >
      {children}
    </button>
  )
}
