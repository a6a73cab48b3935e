// How the belt comes off: by which of the ways of these clutches, with its steps, its stop and what it takes.
import { useQuery } from '@tanstack/react-query'
import { api, must } from '../../api/server/client'
import { useDesk } from '../../api/visit/desk'
import { Heading } from '../../parts/Caution'
import { SavedChoice } from '../../parts/field/Choice'

export function WayOff() {
  const { id, belt, strip } = useDesk().visit
  const ways =
    useQuery({
      queryKey: ['ways', id, strip.clutches],
      queryFn: () => must(api.GET('/api/visits/{visit_id}/belt/ways', { params: { path: { visit_id: id } } })),
      staleTime: Number.POSITIVE_INFINITY,
    }).data?.ways ?? []
  const way = ways.find((each) => each.key === belt.way) ?? ways[0]
  return (
    <section aria-label="Way it comes off" className="space-y-1">
      <Heading aside={way?.tools?.join(', ') || undefined}>How it comes off</Heading>
      <SavedChoice
        station="belt"
        path="/belt"
        label="Way it comes off"
        place="way"
        field="way"
        compact
        options={ways.map((each) => ({ value: each.key, name: each.name }))}
        none={{ name: 'Not said', value: '' }}
        read={(each) => each.belt.way}
      />
      {way && (
        <details className="text-sm">
          <summary className="flex min-h-11 cursor-pointer items-center text-quiet underline underline-offset-4">
            {belt.way ? 'Step by step, and back on' : `Step by step: ${way.name.toLowerCase()}`}
          </summary>
          <ol className="list-decimal space-y-0.5 pl-6">
            {way.steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
          <p className="mt-1 border-l-4 border-watch pl-3">
            <b>{way.stop}</b> {way.back && <>Back on: {way.back}</>}
          </p>
        </details>
      )}
    </section>
  )
}
