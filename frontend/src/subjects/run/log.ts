// A run's log as the server answers it: sent in parts, read while it is watched, drawn stretch by stretch.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useState } from 'react'
import {
  api,
  must,
  type RunLogView,
  type RunSummary,
  refusalOf,
  type UploadView,
  type VisitView,
} from '../../api/server/client'

export type Run = VisitView['runs'][number]

const WATCH_MS = 150

const pathOf = (visit: VisitView, run: number) => ({ visit_id: visit.id, run_id: run })

export interface Sending {
  upload: UploadView | null
  /** What is being done, empty when nothing is. */
  doing: string
  /** How far it has come [0–1]. */
  part: number
  fault: string
  send: (file: File) => Promise<void>
  read: (columns: { header: string; field: string }[], name: string) => Promise<void>
  giveUp: () => Promise<void>
}

/** Sends a file for a run, has it read, and says how that goes. */
export function useSending(visit: VisitView, run: number, drawn: () => void): Sending {
  const client = useQueryClient()
  const [upload, setUpload] = useState<UploadView | null>(null)
  const [doing, setDoing] = useState('')
  const [part, setPart] = useState(0)
  const [fault, setFault] = useState('')
  const path = pathOf(visit, run)

  const watch = useCallback(
    async (id: number) => {
      let opened = false
      for (;;) {
        const answer = await api
          .GET('/api/visits/{visit_id}/runs/{run_id}/log/uploads/{upload_id}', {
            params: { path: { visit_id: visit.id, run_id: run, upload_id: id } },
          })
          .catch(() => null)
        const now = answer?.data
        // Nothing is known of it there any more: given up here, or by a server that was started anew.
        if ((answer && !now) || (now?.state === 'waiting' && !now.doing)) {
          setDoing('')
          if (now) setFault('the server was started anew: have it read again')
          return
        }
        if (now) {
          setUpload(now)
          setDoing(now.doing)
          setPart(0.3 + 0.7 * now.progress)
          const over = !['waiting', 'reading'].includes(now.state)
          if ((now.drawn && !opened) || over) {
            await client.invalidateQueries({ queryKey: ['visit', visit.id] })
            await client.invalidateQueries({ queryKey: ['log', run] })
            if (now.drawn && !opened) drawn()
            opened = true
          }
          if (over) {
            setDoing('')
            if (now.state === 'refused') setFault(`${now.refusal_field}: ${now.refusal}`)
            else setUpload(null)
            return
          }
        }
        await new Promise((done) => window.setTimeout(done, WATCH_MS))
      }
    },
    [client, visit.id, run, drawn],
  )

  const read = async (columns: { header: string; field: string }[], name = '', id = upload?.id) => {
    if (id == null) return
    setFault('')
    setDoing('waiting for its turn')
    const answer = await api
      .POST('/api/visits/{visit_id}/runs/{run_id}/log/uploads/{upload_id}/read', {
        params: { path: { ...path, upload_id: id } },
        body: { columns, name },
      })
      .catch(() => null)
    if (!answer?.data) {
      setDoing('')
      setFault(answer ? told(refusalOf(answer)) : 'not read, no connection to the server')
      return
    }
    await watch(id)
  }

  const send = async (file: File) => {
    setFault('')
    setUpload(null)
    setDoing(`sending ${file.name}`)
    setPart(0)
    const begun = await api
      .POST('/api/visits/{visit_id}/runs/{run_id}/log/uploads', {
        params: { path },
        body: { name: file.name, size: file.size },
      })
      .catch(() => null)
    const announced = begun?.data
    if (!announced) {
      setDoing('')
      setFault(begun ? told(refusalOf(begun)) : 'not sent, no connection to the server')
      return
    }
    const size = announced.part
    const parts = Math.ceil(file.size / size)
    for (let number = 0; number < parts; number += 1) {
      const bytes = file.slice(number * size, (number + 1) * size)
      const answer = await api
        .PUT('/api/visits/{visit_id}/runs/{run_id}/log/uploads/{upload_id}/parts/{number}', {
          params: { path: { ...path, upload_id: announced.id, number } },
          // A part goes as the bytes it is.
          body: '' as never,
          bodySerializer: () => bytes as never,
          headers: { 'Content-Type': 'application/octet-stream' as never },
        })
        .catch(() => null)
      if (!answer?.data) {
        setDoing('')
        setFault(answer ? told(refusalOf(answer)) : 'not all of it sent, no connection to the server: send it again')
        return
      }
      setUpload(answer.data)
      setPart((0.3 * (number + 1)) / parts)
    }
    // What says its columns plainly, or was mapped before, is read at once.
    await read([], '', announced.id)
  }

  const giveUp = async () => {
    if (upload)
      await api
        .POST('/api/visits/{visit_id}/runs/{run_id}/log/uploads/{upload_id}/cancel', {
          params: { path: { ...path, upload_id: upload.id } },
          body: {} as never,
        })
        .catch(() => null)
    setUpload(null)
    setDoing('')
    setFault('')
  }

  return { upload, doing, part, fault, send, read, giveUp }
}

const told = ({ field, reason }: { field: string; reason: string }) => `${field}: ${reason}`

/** The log of a run: read again whenever its marks, or what it counts as, are others. */
export function useLog(visit: VisitView, run: Run | undefined) {
  return useQuery({
    queryKey: ['log', run?.id, run?.log?.state, run?.revision_id],
    queryFn: () =>
      must(api.GET('/api/visits/{visit_id}/runs/{run_id}/log', { params: { path: pathOf(visit, run?.id ?? 0) } })),
    enabled: run?.log != null,
    placeholderData: (last) => last,
    staleTime: 5_000,
  }).data
}

/** One pull's figures as its marks stand. */
export function usePull(visit: VisitView, run: Run, pull: number | null) {
  return useQuery({
    queryKey: ['log', run.id, run.log?.state, run.revision_id, 'pull', pull],
    queryFn: () =>
      must(
        api.GET('/api/visits/{visit_id}/runs/{run_id}/log/pulls/{pull}', {
          params: { path: { ...pathOf(visit, run.id), pull: pull ?? 0 } },
        }),
      ),
    enabled: pull != null,
    placeholderData: (last) => last,
    staleTime: Number.POSITIVE_INFINITY,
  }).data
}

/** A stretch of the traces, points of the even clock, as fine as it is drawn. */
export function useTraces(visit: VisitView, run: Run, [first, last]: readonly [number, number], width: number) {
  const points = Math.min(2000, Math.max(200, Math.round(width)))
  return useQuery({
    queryKey: ['log', run.id, run.log?.state.slice(0, 20), 'traces', first, last, points],
    queryFn: ({ signal }) =>
      must(
        api.GET('/api/visits/{visit_id}/runs/{run_id}/log/traces', {
          params: { path: pathOf(visit, run.id), query: { first, last, points } },
          signal,
        }),
      ),
    enabled: width > 0,
    placeholderData: (last) => last,
    staleTime: Number.POSITIVE_INFINITY,
  }).data
}

/** The figures of a pull with marks where they are dragged to. */
export async function tried(
  visit: VisitView,
  run: Run,
  pull: number,
  marks: Record<string, number>,
): Promise<RunSummary | null> {
  const answer = await api
    .POST('/api/visits/{visit_id}/runs/{run_id}/log/tried', {
      params: { path: pathOf(visit, run.id) },
      body: { pull, marks },
    })
    .catch(() => null)
  return answer?.data ?? null
}

/** What a log says is at fault: asked again whenever what it was read from is another. */
export function useVerdict(visit: VisitView, run: Run, log: RunLogView) {
  const { intake } = visit
  return useQuery({
    queryKey: [
      'log',
      run.id,
      run.log?.state,
      run.revision_id,
      'verdict',
      log.stale,
      intake.target_shift_rpm,
      visit.edit,
    ],
    queryFn: () =>
      must(api.GET('/api/visits/{visit_id}/runs/{run_id}/log/verdict', { params: { path: pathOf(visit, run.id) } })),
    placeholderData: (last) => last,
    // The pull is simulated after the log can be drawn.
    refetchInterval: (query) => (query.state.data?.verdict == null && query.state.dataUpdateCount < 40 ? 1000 : false),
    staleTime: 5_000,
  }).data
}
