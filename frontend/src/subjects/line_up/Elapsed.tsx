// Minutes on the server's clock: what it said they were, and what has gone by here since.
import { useEffect, useRef, useState } from 'react'

const TICK_MS = 1000

/** `minutes` as the last answer told them; only the time since then is this browser's. */
export function useElapsed(minutes: number): number {
  const told = useRef({ minutes, at: performance.now() })
  if (told.current.minutes !== minutes) told.current = { minutes, at: performance.now() }
  const [now, tick] = useState(() => performance.now())
  useEffect(() => {
    const timer = window.setInterval(() => tick(performance.now()), TICK_MS)
    return () => window.clearInterval(timer)
  }, [])
  return minutes + Math.max(0, now - told.current.at) / 60000
}

/** A running time as a clock shows it: minutes and seconds, from an hour on hours and minutes. */
export function clockWords(minutes: number): string {
  const seconds = Math.floor(minutes * 60)
  const two = (value: number) => String(value).padStart(2, '0')
  return seconds < 3600
    ? `${Math.floor(seconds / 60)}:${two(seconds % 60)} min`
    : `${Math.floor(seconds / 3600)} h ${two(Math.floor((seconds % 3600) / 60))} min`
}

interface ElapsedProps {
  minutes: number
  /** What it runs to, in minutes. */
  to?: number
}

export function Elapsed({ minutes, to }: ElapsedProps) {
  const run = useElapsed(minutes)
  return (
    <span className="reading" role="timer" data-elapsed={Math.floor(run)}>
      {clockWords(run)}
      {to != null && <span className="text-quiet"> of {clockWords(to).replace(':00 min', ' min')}</span>}
    </span>
  )
}

/** A time of the server as the bench's clock shows it. */
export function timeOfDay(at: string | undefined): string {
  return !at ? '' : new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
}
