// What the words on screen mean: read once, it does not change while the server runs.
import { useQuery } from '@tanstack/react-query'
import { api, must } from './client'

/** What the words on screen mean, by key. */
export function useGlossary() {
  return useQuery({
    queryKey: ['glossary'],
    queryFn: () => must(api.GET('/api/guide/glossary')),
    staleTime: Number.POSITIVE_INFINITY,
  }).data?.terms
}
