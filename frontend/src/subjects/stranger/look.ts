// A look at a machine as it is typed: asked for a moment after the last key, the last answer standing until the next,
// in this browser too, so that a page opened while the server is away still has its fields.
import { useQuery } from '@tanstack/react-query'
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

const AGAIN_MS = 1500

const kept = (name: string) => `jaxel.look.${name}`

function last<Answer extends object | null>(name: string): Answer | undefined {
  try {
    return JSON.parse(localStorage.getItem(kept(name)) ?? 'null') ?? undefined
  } catch {
    return undefined
  }
}

/** Forgets the last answer of a name: the next machine starts with nothing of this one. */
export const forgetLook = (name: string) => localStorage.removeItem(kept(name))

/** `ask` answers what is found; a server that is away is asked again by itself, a refusal is not. `keep`, whether the last
 * answer stands here after a reload. */
export function useLook<Body, Answer extends object | null>(
  name: string,
  body: Body,
  ask: (body: Body) => Promise<Answer>,
  keep = false,
) {
  const standing = useSettled(body)
  const query = useQuery<Answer, Error, Answer>({
    queryKey: ['look', name, standing],
    queryFn: async () => {
      const answer = await ask(standing)
      if (keep) localStorage.setItem(kept(name), JSON.stringify(answer))
      return answer
    },
    placeholderData: ((previous: Answer | undefined) =>
      previous ?? (keep ? last<Answer>(name) : undefined)) as () => undefined,
    staleTime: Number.POSITIVE_INFINITY,
    retry: (_, error) => !refused(error),
    retryDelay: AGAIN_MS,
    networkMode: 'always',
  })
  /** What the answer is of: nothing while it is of what was typed before. */
  return { ...query, of: query.isPlaceholderData ? undefined : standing }
}

/** Whether the server answered, and said no. */
const refused = (error: Error) => error.cause !== undefined
