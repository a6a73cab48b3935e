// A look at a machine as it is typed: asked for a moment after the last key, the last answer standing until the next.
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'

const PAUSE_MS = 250

/** A value once it has stood still for a moment. */
export function useSettled<T>(value: T): T {
  const text = JSON.stringify(value)
  const [settled, settle] = useState(text)
  useEffect(() => {
    const timer = window.setTimeout(() => settle(text), PAUSE_MS)
    return () => window.clearTimeout(timer)
  }, [text])
  return JSON.parse(settled)
}

export function useLook<Body, Answer>(name: string, body: Body, ask: (body: Body) => Promise<Answer>) {
  const standing = useSettled(body)
  return useQuery({
    queryKey: ['look', name, standing],
    queryFn: () => ask(standing),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  })
}
