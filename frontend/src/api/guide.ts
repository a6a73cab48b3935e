// What is known of clutch kinds: read once, it does not change while the server runs.
import { useQuery } from '@tanstack/react-query'
import { api, must } from './client'

export function useKind(key: string) {
  return useQuery({
    queryKey: ['kind', key],
    queryFn: () => must(api.GET('/api/guide/kinds/{kind}', { params: { path: { kind: key } } })),
    enabled: key !== '',
    staleTime: Number.POSITIVE_INFINITY,
  }).data
}

/** What a hand picks from: marks, failures, symptoms. */
export function useWords() {
  return useQuery({
    queryKey: ['words'],
    queryFn: () => must(api.GET('/api/guide/words')),
    staleTime: Number.POSITIVE_INFINITY,
  }).data
}
