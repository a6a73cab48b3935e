// The bench guide: what is known of each kind, to follow beside the machine or print for the trail; and the schools.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { useDraft } from '../api/outbox/draft'
import { useSaved } from '../api/outbox/saved'
import { api, must } from '../api/server/client'
import { useGlossary } from '../api/server/glossary'
import { Arrival } from '../parts/Arrival'
import { Bar } from '../parts/bar/Bar'
import { Heading } from '../parts/Caution'
import { Choice } from '../parts/field/Choice'
import { Remark } from '../parts/field/Field'
import { BeltPage } from '../subjects/kinds/BeltPage'
import { useKindAsked } from '../subjects/kinds/guide'
import { JobPage } from '../subjects/kinds/JobPage'
import { KindPage } from '../subjects/kinds/KindPage'

const DEFERS =
  'The manufacturer’s manual, local rules and a qualified technician come first. Limits and torques are the manual’s.'

export function GuidePlace() {
  const { kind, job } = useParams()
  const [search] = useSearchParams()
  const machine = Number(search.get('machine')) || undefined
  const [answered, answer] = useState<Record<string, string>>()
  const asked = useKindAsked(kind ?? '', answered ?? (machine ? undefined : {}), machine)
  const known = asked.data
  const page = known?.jobs.find((each) => each.key === job)
  return (
    <>
      <Bar>Bench guide</Bar>
      <main id="work" tabIndex={-1} className="px-5 py-4 outline-none">
        <Arrival title={[page?.name, known?.guide.name, 'Bench guide'].filter(Boolean).join(' · ')} />
        <p className="mb-3 border-l-4 border-watch bg-card px-3 py-2 text-sm font-semibold">{DEFERS}</p>
        {kind ? (
          known ? (
            job === 'belt' ? (
              <BeltPage known={known} />
            ) : page ? (
              <JobPage known={known} job={page} />
            ) : (
              <KindPage known={known} answered={answered ?? {}} answer={answer} />
            )
          ) : (
            <p className="text-lg">
              {asked.error ? (
                <>
                  There is no such page: {asked.error.message}.{' '}
                  <Link to="/guide" className="inline-flex min-h-11 items-center underline underline-offset-4">
                    All kinds
                  </Link>
                </>
              ) : (
                'Opening…'
              )}
            </p>
          )
        ) : (
          <Overview />
        )}
      </main>
    </>
  )
}

function Overview() {
  const [wanted, want] = useDraft('guide find')
  const guide = useQuery({ queryKey: ['guide'], queryFn: () => must(api.GET('/api/guide')) }).data
  const found = useQuery({
    queryKey: ['guide-find', wanted],
    queryFn: () => must(api.GET('/api/guide/find', { params: { query: { find: wanted } } })),
    enabled: wanted.trim() !== '',
    placeholderData: (last) => last,
  }).data?.found
  return (
    <div className="grid gap-x-8 gap-y-5 lg:grid-cols-2">
      <section className="min-w-0 space-y-4">
        <label className="block text-sm text-quiet">
          Find in all of it
          <input
            type="search"
            value={wanted}
            maxLength={80}
            data-find
            placeholder="rattle, lurches, won't come off, needle cage…"
            onChange={(event) => want(event.target.value)}
            className="mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-3 text-base text-ink placeholder:text-quiet focus:border-signal"
          />
        </label>
        {wanted.trim() ? (
          <ul className="divide-y divide-line border-y border-line" aria-live="polite">
            {found?.map((line) => (
              <li key={`${line.kind}${line.section}${line.heading}${line.text}`} className="py-2" data-found>
                <p className="text-sm text-quiet">
                  {line.kind ? (
                    <Link to={`/guide/${line.kind}`} className="underline underline-offset-4">
                      {line.kind_name}
                    </Link>
                  ) : (
                    'Everywhere'
                  )}{' '}
                  · {line.section} · {line.origin}
                </p>
                <p>
                  {line.heading && <b>{line.heading}. </b>}
                  {line.text}
                </p>
              </li>
            ))}
            {found?.length === 0 && <li className="py-2 text-quiet">Nothing holds all of these words.</li>}
          </ul>
        ) : (
          <ul className="divide-y divide-line border-y border-line">
            {guide?.kinds.map((each) => (
              <li key={each.key}>
                <Link to={`/guide/${each.key}`} className="block min-h-11 py-2 hover:bg-card">
                  <b>{each.name}</b> <span className="text-quiet">{each.looks}</span>
                </Link>
              </li>
            ))}
          </ul>
        )}
      </section>
      <section className="min-w-0 space-y-5">
        <Glossary />
        <div>
          <Heading aside="the workshop's choice, shown with what it concerns">Where practice differs</Heading>
          <ul className="space-y-4">
            {guide?.questions.map((each) => (
              <Schools key={each.question.key} {...each} />
            ))}
          </ul>
        </div>
      </section>
    </div>
  )
}

/** What the words on screen mean: here all of them, elsewhere each where it stands. */
function Glossary() {
  const terms = useGlossary()
  return (
    <details data-glossary>
      <summary className="flex min-h-11 cursor-pointer items-center font-bold underline underline-offset-4">
        Glossary{terms ? `, ${terms.length} terms` : ''}
      </summary>
      <dl className="space-y-2">
        {terms?.map((term) => (
          <div key={term.key} id={`term-${term.key}`}>
            <dt className="font-semibold">
              {term.name}
              {term.also.length > 0 && <span className="font-normal text-quiet"> · {term.also.join(', ')}</span>}
            </dt>
            <dd className="leading-snug">{term.text}</dd>
          </div>
        ))}
      </dl>
    </details>
  )
}

interface SchoolsProps {
  question: {
    key: string
    name: string
    where: string
    default: string
    schools: { key: string; name: string; why: string }[]
  }
  followed: string
}

function Schools({ question, followed }: SchoolsProps) {
  const client = useQueryClient()
  const saved = useSaved({
    subject: 'workshop',
    place: `school ${question.key}`,
    label: question.name,
    href: '/guide',
    target: { method: 'PATCH', path: '/api/guide/school', around: { question: question.key }, only: true },
    field: question.key,
    stored: followed,
    read: (data) => {
      client.setQueryData(['guide'], data)
      return (data as { questions: SchoolsProps[] }).questions.find((each) => each.question.key === question.key)
        ?.followed
    },
    show: (value) => String(value ?? ''),
    closed: false,
  })
  const chosen = question.schools.find((each) => each.key === saved.text)
  return (
    <li data-question={question.key}>
      <p className="mb-1">
        <b>{question.name}</b> <span className="text-sm text-quiet">{question.where} · common practice, no source</span>
      </p>
      <div className="[&_button]:whitespace-normal">
        <Choice
          label={question.name}
          value={saved.text}
          compact
          options={question.schools.map((each) => ({ value: each.key, name: each.name }))}
          choose={(value) => saved.choose(value)}
        />
      </div>
      <p className="mt-1 text-sm text-quiet">{chosen?.why}</p>
      <Remark saved={saved} id={`school-${question.key}`} />
    </li>
  )
}
