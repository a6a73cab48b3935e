// The room a drawing has, in pixels: what is drawn in them keeps its words at a size that can be read.
import { type RefObject, useEffect, useRef, useState } from 'react'

export interface Size {
  width: number
  height: number
}

export function useSize<T extends Element>(): [RefObject<T | null>, Size] {
  const element = useRef<T>(null)
  const [size, setSize] = useState<Size>({ width: 0, height: 0 })
  useEffect(() => {
    const watched = element.current
    if (!watched) return
    const watcher = new ResizeObserver(([entry]) => {
      if (!entry) return
      const { width, height } = entry.contentRect
      setSize((before) => (before.width === width && before.height === height ? before : { width, height }))
    })
    watcher.observe(watched)
    return () => watcher.disconnect()
  }, [])
  return [element, size]
}
