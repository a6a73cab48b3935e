// Reading a plot by one finger; zooming it by two, or by a wheel with the control key.
import { useEffect, useRef } from 'react'
import type uPlot from 'uplot'

/** Pinching zooms about its middle, and so does a wheel with the control key. */
export function useGestures(
  host: React.RefObject<HTMLDivElement | null>,
  plot: React.RefObject<uPlot | null>,
  zoom: (factor: number, middle?: number) => void,
) {
  const latest = useRef(zoom)
  latest.current = zoom
  useEffect(() => {
    const element = host.current
    if (!element) return
    const fingers = new Map<number, number>()
    let apart = 0
    const middleOf = (x: number) => {
      const u = plot.current
      return u ? u.posToVal(x - u.over.getBoundingClientRect().left, 'x') : undefined
    }
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey) return
      event.preventDefault()
      latest.current(event.deltaY > 0 ? 1.25 : 0.8, middleOf(event.clientX))
    }
    const down = (event: PointerEvent) => {
      if (event.pointerType !== 'mouse') fingers.set(event.pointerId, event.clientX)
    }
    const move = (event: PointerEvent) => {
      if (!fingers.has(event.pointerId)) return
      fingers.set(event.pointerId, event.clientX)
      const [one, other] = [...fingers.values()]
      if (one !== undefined && other === undefined && plot.current)
        plot.current.setCursor({ left: one - plot.current.over.getBoundingClientRect().left, top: 10 })
      if (one === undefined || other === undefined) return
      const now = Math.abs(one - other)
      if (apart > 0 && Math.abs(now - apart) > 8) {
        latest.current(apart / Math.max(now, 1), middleOf((one + other) / 2))
        apart = now
      } else if (apart === 0) apart = now
    }
    const up = (event: PointerEvent) => {
      fingers.delete(event.pointerId)
      apart = 0
    }
    element.addEventListener('wheel', wheel, { passive: false })
    element.addEventListener('pointerdown', down)
    element.addEventListener('pointermove', move)
    element.addEventListener('pointerup', up)
    element.addEventListener('pointercancel', up)
    return () => {
      element.removeEventListener('wheel', wheel)
      element.removeEventListener('pointerdown', down)
      element.removeEventListener('pointermove', move)
      element.removeEventListener('pointerup', up)
      element.removeEventListener('pointercancel', up)
    }
  }, [host, plot])
}
