// What is known of clutch kinds: read once, it does not change while the server runs.
import { useQuery } from '@tanstack/react-query'
import { api, must } from '../../api/server/client'

/** A kind with all its variants, or one clutch of it as it was `answered` to be made. */
export function useKind(key: string, answered?: Record<string, string>, machine_id?: number, bare?: boolean) {
  return useKindAsked(key, answered, machine_id, bare).data
}

/** The same, with what was refused: a kind, or a machine, that there is not. */
export function useKindAsked(key: string, answered?: Record<string, string>, machine_id?: number, bare?: boolean) {
  const fitted =
    answered &&
    Object.entries(answered)
      .map(([variant, answer]) => `${variant}=${answer}`)
      .join(',')
  return useQuery({
    queryKey: ['kind', key, fitted ?? null, machine_id ?? null, bare ?? false],
    queryFn: () =>
      must(
        api.GET('/api/guide/kinds/{kind}', { params: { path: { kind: key }, query: { fitted, machine_id, bare } } }),
      ),
    placeholderData: (last) => (last?.key === key ? last : undefined),
    enabled: key !== '',
    staleTime: Number.POSITIVE_INFINITY,
  })
}

/** What a hand picks from: marks, failures, symptoms. */
export function useWords() {
  return useQuery({
    queryKey: ['words'],
    queryFn: () => must(api.GET('/api/guide/words')),
    staleTime: Number.POSITIVE_INFINITY,
  }).data
}
