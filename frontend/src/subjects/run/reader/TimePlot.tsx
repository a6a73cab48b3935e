// Engine, speed and belt over time, with the pull's marks to be dragged; zoomed and read by mouse, touch and keys.
import { useEffect, useMemo, useRef, useState } from 'react'
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import type { RunLogView, Traces, VisitView } from '../../../api/server/client'
import { inShown, useUnits } from '../../../api/server/units'
import { figure, unitName } from '../../../parts/format'
import { useSize } from '../../../parts/size'
import { useGestures } from './gestures'
import { type Handle, Handles, NAMES_ROOM } from './Handles'

export interface Place {
  /** Seconds from the log's start. */
  time: number
  engine: number | null
  speed: number | null
  secondary: number | null
}

interface TimePlotProps {
  visit: VisitView
  log: RunLogView
  traces: Traces
  /** Seconds from the log's start that are in sight. */
  window: readonly [number, number]
  handles: Handle[]
  closed: boolean
  look: (window: readonly [number, number]) => void
  point: (place: Place | null) => void
  /** Puts a mark; `wait`, how soon it is kept [ms], null while it is on its way. */
  drag: (mark: string, at: number, wait: number | null) => void
}

const HEIGHT = 256
const LEAST_SECONDS = 0.5

const css = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()

/** The ends of a scale; of one on which nothing lies in sight, any. */
function ranged(low: number | null, high: number | null, ends: (span: number) => [number, number]): [number, number] {
  if (low == null || high == null || !Number.isFinite(high - low)) return [0, 1]
  return ends(Math.max(high - low, 1))
}

/** The column of a field, in the hand's units; a stretch of many points as its least and most. */
function columns(traces: Traces, from: number) {
  const times = traces.stamps.map((stamp) => stamp - from)
  const of = (field: string) => {
    const trace = traces.traces.find((each) => each.field === field)
    if (!trace) return null
    const read = (values: (number | null)[]) =>
      values.map((value) => (value == null ? null : inShown(value, trace.unit)))
    const least = read(trace.least)
    return { least, most: traces.size === 1 ? least : read(trace.most) }
  }
  return {
    times,
    engine: of('engine_rpm'),
    speed: of('speed_kph'),
    belt: of('belt_temp_c'),
    secondary: of('secondary_rpm'),
  }
}

export function TimePlot({ visit, log, traces, window: seen, handles, closed, look, point, drag }: TimePlotProps) {
  const [box, { width }] = useSize<HTMLDivElement>()
  const host = useRef<HTMLDivElement>(null)
  const plot = useRef<uPlot | null>(null)
  const [ready, setReady] = useState(0)
  const units = useUnits()
  // biome-ignore lint/correctness/useExhaustiveDependencies: another table of units draws it anew
  const shownColumns = useMemo(() => columns(traces, log.from_s), [traces, log.from_s, units])
  const { times, engine, speed, belt } = shownColumns
  const { target_shift_rpm: target, target_shift_tolerance_rpm: tolerance } = visit.intake
  const act = useRef({ look, point, columns: shownColumns })
  act.current = { look, point, columns: shownColumns }

  const series = [engine && 'engine', speed && 'speed', belt && 'belt'].filter(Boolean).join(' ')
  // biome-ignore lint/correctness/useExhaustiveDependencies: made anew where what it draws is another, else only fed
  useEffect(() => {
    if (!host.current || width === 0) return
    const [ink, quiet, line, watch, band] = ['--ink', '--quiet', '--line', '--watch', '--band'].map(css)
    const font = '13px "Atkinson Hyperlegible Mono", monospace'
    const both = (scale: string, stroke: string, wide: number) => [
      { scale, stroke, width: wide, points: { show: false }, spanGaps: false },
      { scale, stroke, width: wide, points: { show: false }, spanGaps: false },
    ]
    const axis = { stroke: quiet, font, grid: { stroke: line, width: 1 }, ticks: { show: false } }
    const made = new uPlot(
      {
        width,
        height: HEIGHT,
        padding: [NAMES_ROOM, null, null, null],
        legend: { show: false },
        cursor: { drag: { x: true, y: false, setScale: false }, points: { show: false }, y: false },
        select: { show: true, left: 0, top: 0, width: 0, height: 0 },
        scales: {
          x: { time: false },
          rpm: {
            range: (_u, low, high) => ranged(low, high, (span) => [Math.max(0, low - 0.04 * span), high + 0.08 * span]),
          },
          speed: { range: (_u, low, high) => ranged(low, high, () => [0, Math.max(1, high * 2.6)]) },
          belt: { range: (_u, low, high) => ranged(low, high, () => [Math.min(0, low), Math.max(20, high * 2.2)]) },
        },
        axes: [
          { ...axis, values: (_u, ticks) => ticks.map((tick) => figure(tick, tick % 1 ? 1 : 0)), size: 30 },
          {
            ...axis,
            scale: 'rpm',
            size: 62,
            values: (_u, ticks) => ticks.map((tick) => figure(tick, 0)),
            label: engine ? 'rpm' : undefined,
            labelSize: 18,
            labelFont: font,
            show: engine != null,
          },
          {
            ...axis,
            scale: 'speed',
            side: 1,
            size: 48,
            grid: { show: false },
            values: (_u, ticks) => ticks.map((tick) => figure(tick, 0)),
            label: unitName('km/h'),
            labelSize: 18,
            labelFont: font,
            show: speed != null,
          },
        ],
        series: [
          {},
          ...both('rpm', ink ?? '', 2),
          ...both('speed', css('--alu-deep'), 2),
          ...both('belt', watch ?? '', 1.5),
        ],
        bands: [1, 3, 5].map((least) => ({
          series: [least + 1, least] as [number, number],
          fill: `${[ink, css('--alu-deep'), watch][(least - 1) / 2]}55`,
        })),
        hooks: {
          drawClear: [
            (u) => {
              const { ctx, bbox } = u
              ctx.save()
              if (engine) {
                const [top, bottom] = [target + tolerance, target - tolerance].map((rpm) =>
                  u.valToPos(rpm, 'rpm', true),
                )
                const from = Math.max(bbox.top, Math.min(top ?? 0, bottom ?? 0))
                const to = Math.min(bbox.top + bbox.height, Math.max(top ?? 0, bottom ?? 0))
                if (to > from) {
                  ctx.fillStyle = band ?? ''
                  ctx.fillRect(bbox.left, from, bbox.width, to - from)
                }
              }
              ctx.restore()
            },
          ],
          setSelect: [
            (u) => {
              if (u.select.width < 6) return
              const [from, to] = [u.posToVal(u.select.left, 'x'), u.posToVal(u.select.left + u.select.width, 'x')]
              u.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false)
              act.current.look([from, to])
            },
          ],
          setCursor: [
            (u) => {
              const { idx } = u.cursor
              const now = act.current.columns
              const time = idx == null ? undefined : now.times[idx]
              if (idx == null || time === undefined) return act.current.point(null)
              const value = (column: { most: (number | null)[] } | null) => column?.most[idx] ?? null
              act.current.point({
                time,
                engine: value(now.engine),
                speed: value(now.speed),
                secondary: value(now.secondary),
              })
            },
          ],
          draw: [() => setReady((before) => before + 1)],
        },
      },
      [[]],
      host.current,
    )
    plot.current = made
    return () => {
      plot.current = null
      made.destroy()
    }
  }, [width, series, units, target, tolerance, document.documentElement.dataset.theme])

  // biome-ignore lint/correctness/useExhaustiveDependencies: fed whenever it was made anew
  useEffect(() => {
    const u = plot.current
    if (!u) return
    const empty = new Array<null>(times.length).fill(null)
    const pair = (column: { least: (number | null)[]; most: (number | null)[] } | null) =>
      column ? [column.least, column.most] : [empty, empty]
    u.batch(() => {
      u.setData([times, ...pair(engine), ...pair(speed), ...pair(belt)] as uPlot.AlignedData, false)
      u.setScale('x', { min: seen[0], max: seen[1] })
    })
  }, [times, engine, speed, belt, seen[0], seen[1], width, series, units])

  const zoom = (factor: number, middle = (seen[0] + seen[1]) / 2) => {
    const end = log.to_s - log.from_s
    const span = Math.min(end, Math.max(LEAST_SECONDS, (seen[1] - seen[0]) * factor))
    const share = (middle - seen[0]) / (seen[1] - seen[0])
    const from = Math.min(Math.max(0, middle - share * span), end - span)
    look([from, from + span])
  }
  const pan = (share: number) => {
    const end = log.to_s - log.from_s
    const span = seen[1] - seen[0]
    const from = Math.min(Math.max(0, seen[0] + share * span), end - span)
    look([from, from + span])
  }
  const step = (by: number) => {
    const u = plot.current
    if (!u) return
    const idx = Math.min(times.length - 1, Math.max(0, (u.cursor.idx ?? u.valToIdx((seen[0] + seen[1]) / 2)) + by))
    u.setCursor({ left: u.valToPos(times[idx] ?? 0, 'x'), top: 10 })
  }
  useGestures(host, plot, zoom)
  return (
    <div ref={box} className="relative select-none">
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing that is read by keys */}
      <div
        ref={host}
        role="group"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: zoomed and read by keys
        tabIndex={0}
        aria-label={`Engine and speed over time. Arrows read along it, plus and minus zoom, comma and full stop move, Home shows all of it.`}
        className="touch-pan-y"
        onKeyDown={(event) => {
          const keys = new Map<string, () => void>([
            ['ArrowRight', () => step(event.shiftKey ? 20 : 1)],
            ['ArrowLeft', () => step(event.shiftKey ? -20 : -1)],
            ['+', () => zoom(0.5)],
            ['=', () => zoom(0.5)],
            ['-', () => zoom(2)],
            [',', () => pan(-0.25)],
            ['.', () => pan(0.25)],
            ['Home', () => look([0, log.to_s - log.from_s])],
          ])
          const done = keys.get(event.key)
          if (!done || event.ctrlKey || event.metaKey || event.altKey || event.target !== event.currentTarget) return
          event.preventDefault()
          event.stopPropagation()
          done()
        }}
      />
      {ready > 0 && plot.current && (
        <Handles plot={plot.current} handles={handles} seen={seen} closed={closed} drag={drag} />
      )}
    </div>
  )
}
