// Road test: did it do what was predicted, and is it in the window.
import { lazy, Suspense, useCallback } from 'react'
import { useSearchParams } from 'react-router'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { focusOn } from '../../parts/field/reading'
import { Aims } from './Aims'
import { Compared } from './Compared'
import { firstSets, readSets, writeSets } from './compare/sets'
import { NextChange } from './NextChange'
import { RiderWords } from './RiderWords'
import { RunCard } from './RunCard'

// The traces and their drawing come when a log is opened, or once the rest stands.
const readerFile = () => import('./reader/Reader').then(({ Reader }) => ({ default: Reader }))
const compareFile = () => import('./compare/Compare').then(({ Compare }) => ({ default: Compare }))
const Reader = lazy(readerFile)
const Compare = lazy(compareFile)

/** Fetches them: a server that goes away then closes no log that is read. */
export const fetchTraces = () => Promise.allSettled([readerFile(), compareFile()])

export function RoadTest() {
  const { visit, closed } = useDesk()
  const [search, setSearch] = useSearchParams()
  const open = useCallback((run: number | null) => setSearch(run == null ? {} : { log: String(run) }), [setSearch])
  const sets = readSets(search.get('compare'))
  const begin = useVisitAct(
    {
      place: 'run',
      label: 'Begin a run',
      station: 'road-test',
      path: '/runs',
      body: (now) => ({ revision_id: now.left_revision_id }),
    },
    () => focusOn('main [data-run="last"] input:placeholder-shown'),
  )
  const opened = visit.runs.find((each) => each.log && String(each.id) === search.get('log'))
  if (opened)
    return (
      <Suspense>
        <Reader key={opened.id} run={opened} number={visit.runs.indexOf(opened) + 1} close={() => open(null)} />
      </Suspense>
    )
  if (sets)
    return (
      <Suspense>
        <Compare
          sets={sets}
          choose={(next) => setSearch({ compare: writeSets(next) }, { replace: true })}
          close={() => open(null)}
        />
      </Suspense>
    )
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-[11fr_10fr]">
      <section className="min-w-0 space-y-4">
        <Heading aside="rpm, full throttle, before and after on the same strip">Runs</Heading>
        {visit.runs.length > 0 && (
          <button
            type="button"
            className="-mt-2 min-h-11 text-sm underline underline-offset-4"
            onClick={() => setSearch({ compare: writeSets(firstSets(visit)) })}
          >
            Lay runs over each other: gain or noise?
          </button>
        )}
        <Baseline />
        {visit.runs.map((run, index) => (
          <RunCard
            key={run.id}
            run={run}
            number={index + 1}
            last={index === visit.runs.length - 1}
            open={() => open(run.id)}
          />
        ))}
        {!closed && (
          <Button look="plain" wide action={begin} data-main data-place="run" data-after="run">
            {visit.runs.length === 0 ? 'Begin a run on the set-up as left' : 'Begin another run'}
          </Button>
        )}
        <Done action={begin} />
        <RiderWords />
      </section>
      <div className="flex min-h-[28rem] min-w-0 flex-col gap-2 self-start">
        <NextChange />
        <Aims visit={visit} />
      </div>
    </div>
  )
}

function Baseline() {
  const { visit } = useDesk()
  if (visit.baseline.length === 0) return <p className="text-quiet">No baseline was measured at Intake.</p>
  return (
    <div className="rounded-md border border-line px-4 py-3">
      <h3 className="mb-1 font-semibold">Before, as found</h3>
      <Compared rows={visit.baseline} />
    </div>
  )
}
