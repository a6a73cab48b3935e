// What devices of this browser's bench send: to the field that waits, else held and shown.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { useBench } from '../../api/instruments/drawer'
import { readingWords, waiting } from '../../api/instruments/waiting'
import { api, type DeviceView, type HeldReading, must } from '../../api/server/client'
import { say } from '../../api/server/notices'

const LISTEN_MS = 1000

/** Which devices there are, and whether stand-ins answer: of a machine that is made up. */
export function useInstruments(visit: number) {
  return useQuery({
    queryKey: ['instruments', visit],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/instruments', { params: { path: { visit_id: visit } } })),
    staleTime: Number.POSITIVE_INFINITY,
  }).data
}

/** Hears this browser's bench while a visit is open: a reading goes to the field that waits, one page alone has it. */
export function useHeard(devices: DeviceView[] | undefined) {
  const bench = useBench()
  const client = useQueryClient()
  const told = useRef(new Set<number>())
  const query = useQuery({
    queryKey: ['heard', bench],
    queryFn: () => must(api.GET('/api/benches/{bench_id}/readings', { params: { path: { bench_id: bench } } })),
    enabled: bench > 0,
    refetchInterval: LISTEN_MS,
  })
  const held = bench ? (query.data?.readings ?? []) : []
  const taken = async (reading: HeldReading) => {
    const at = { params: { path: { bench_id: bench, reading_id: reading.id } }, body: {} as never }
    const answer = await api.POST('/api/benches/{bench_id}/readings/{reading_id}/take', at).catch(() => null)
    void client.invalidateQueries({ queryKey: ['heard', bench] })
    return answer?.data != null
  }
  const give = async (reading: HeldReading) => {
    const device = devices?.find((each) => each.key === reading.instrument)
    const to = waiting()
    if (!to || !device || !(await taken(reading))) return
    const still = waiting()
    const { value, unit } = reading
    if (still) still.take({ device: device.key, name: device.name, value, unit, quantity: device.unit })
    else say(`${device.name} ${readingWords(reading)} was for ${to.label}, which is gone. Read it again.`)
  }
  const giving = useRef(give)
  giving.current = give
  useEffect(() => {
    for (const reading of held) {
      if (told.current.has(reading.id)) continue
      told.current.add(reading.id)
      if (waiting() && document.visibilityState === 'visible') void giving.current(reading)
      else
        say(
          `${readingWords(reading)} came in from the ${reading.instrument}. Touch the field it belongs to, then Alt I.`,
        )
    }
  }, [held])
  return { held, give, letGo: taken }
}
