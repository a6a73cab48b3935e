// The workshop as last answered: its people, its choices, and the units its hands read in.
import { useQuery } from '@tanstack/react-query'
import { cache } from './cache'
import { api, must, type WorkshopView } from './client'
import { setUnits } from './units'

/** So long an answer serves every bar and page drawn anew; what is written here replaces it at once. */
const STANDS_MS = 5_000

export function useWorkshop() {
  return useQuery({
    queryKey: ['workshop'],
    queryFn: () => must(api.GET('/api/workshop')),
    staleTime: STANDS_MS,
  })
}

/** Takes what the server answered; where the hand reads in other units now, all else is asked for anew. */
export function takeWorkshop(workshop: WorkshopView) {
  cache.setQueryData(['workshop'], workshop)
  if (setUnits(workshop.shown)) cache.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'workshop' })
}
