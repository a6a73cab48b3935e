// One kind of clutch from access to traps, as a page a hand can follow or print; and limits of the workshop's own.
import { useQueryClient } from '@tanstack/react-query'
import { Printer, TriangleAlert } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { useAct } from '../../api/outbox/saved'
import type { KindView } from '../../api/server/client'
import { withUnit } from '../../api/server/units'
import { Button, Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { Choice } from '../../parts/field/Choice'
import { figure, told } from '../../parts/format'
import { FIELD } from '../machine/act'
import { named, OfModel, THIS_MACHINE, whose } from '../machine/OfModel'
import { InOrder } from './JobPage'

interface KindPageProps {
  known: KindView
  /** How the clutch that is read of is made; what is not answered is as its kind assumes. */
  answered: Record<string, string>
  answer: (answered: Record<string, string>) => void
}

export function KindPage({ known, answered, answer }: KindPageProps) {
  const { guide } = known
  return (
    <div className="space-y-5">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <div>
          <h2 className="text-xl font-bold">{guide.name}</h2>
          <p className="max-w-prose">{guide.looks}</p>
          {known.machine && <p className="text-sm text-quiet">As it is on {known.machine}</p>}
        </div>
        <span className="print:hidden">
          <Button look="plain" onClick={() => window.print()} data-main>
            <Printer size={18} aria-hidden="true" /> Print
          </Button>
        </span>
      </div>
      <InOrder parts={guide.part} />
      <div className="grid gap-x-8 gap-y-5 lg:grid-cols-2">
        <section className="min-w-0 space-y-5">
          <div>
            <Heading aside={guide.way.map((way) => way.key).join(', ')}>Belt off</Heading>
            {guide.way.map((way) => (
              <div key={way.key} className="mb-2">
                <h3 className="font-semibold">
                  {way.key}. {way.name}
                </h3>
                <ol className="list-decimal space-y-1 pl-6">
                  {way.steps.map((step) => (
                    <li key={step}>{step}</li>
                  ))}
                </ol>
                <p className="mt-1 text-sm">
                  <b>{way.stop}</b> <span className="text-quiet">Back on: {way.back}</span>
                </p>
              </div>
            ))}
            {guide.housing.map((each) => (
              <p key={each.text} className="mt-1 text-quiet">
                {each.text}
              </p>
            ))}
          </div>
          <div>
            <Heading aside="in order; the way back is the same list reversed">Apart</Heading>
            <ol className="list-decimal space-y-2 pl-6">
              {guide.part.map((part) => (
                <li key={part.key}>
                  <b>{part.name}</b> <span className="text-sm text-quiet">({part.depth})</span>. {part.held}{' '}
                  {part.mark && <>Mark first: {part.mark} </>}
                  {part.off} {part.heat && <>Heat: {part.heat} </>}
                  {part.look && <span className="text-quiet">Look at: {part.look}</span>}
                  <Falls out={guide.loose?.filter((each) => each.part === part.key)} />
                  {(part.trap || part.hazard) && (
                    <Stop words={part.trap} hazard={part.hazard ? known.hazards[part.hazard] : undefined} />
                  )}
                </li>
              ))}
            </ol>
          </div>
          <div>
            <Heading aside="the other way round">Back</Heading>
            <ol className="list-decimal space-y-1 pl-6">
              {[...guide.part].reverse().map((part) => (
                <li key={part.key}>
                  <b>{part.name}</b>. {part.back} {part.facing && <span className="text-quiet">{part.facing}</span>}{' '}
                  {part.dry_run && <>First: {part.dry_run}</>}
                  {part.stop && <Stop words={part.stop} />}
                </li>
              ))}
            </ol>
          </div>
        </section>
        <section className="min-w-0 space-y-5">
          <div>
            <Heading>Lubrication</Heading>
            <ul className="space-y-1">
              {guide.lubrication.map((each) => (
                <li key={each.where}>
                  <b>{each.where}:</b> {each.what}. {each.text}
                </li>
              ))}
            </ul>
          </div>
          <div>
            <Heading aside="torques are the manual's">Fasteners</Heading>
            <ul className="space-y-1">
              {guide.fastener.map((each) => (
                <li key={each.key}>
                  <b>
                    {each.place} ×{each.count}
                  </b>
                  : <Sized known={known} fastener={each.key} />
                  {each.tightness}
                  {each.plausible && (
                    <span className="text-quiet">
                      , plausible {each.plausible.low}–{figure(each.plausible.high, 0)} {each.plausible.unit}
                    </span>
                  )}
                  {each.compound && `; ${each.compound.kind}: ${each.compound.where}`}
                  {each.note && `; ${each.note}`}
                  {each.tools && each.tools.length > 0 && (
                    <span className="text-quiet"> · {each.tools.join(', ')}</span>
                  )}
                  {each.people === 2 && ' · two people'}
                </li>
              ))}
            </ul>
          </div>
          <div className="print:hidden">
            <Heading aside="each on a page of its own">Whole jobs</Heading>
            <ul className="divide-y divide-line border-y border-line">
              <li>
                <Link to={`/guide/${known.key}/belt`} className="block min-h-11 py-2 hover:bg-card">
                  <b>Belt change</b> <span className="text-quiet">In the workshop, and by hand on the trail.</span>
                </Link>
              </li>
              {known.jobs.map((each) => (
                <li key={each.key}>
                  <Link to={`/guide/${known.key}/${each.key}`} className="block min-h-11 py-2 hover:bg-card">
                    <b>{each.name}</b> <span className="text-quiet">{each.text}</span>
                  </Link>
                </li>
              ))}
            </ul>
          </div>
          <div className="print:hidden">
            <Heading aside="asked where it shows itself, kept with the machine">How it may be made</Heading>
            {guide.variant.map((each) => (
              <div key={each.key} className="border-t border-line py-1.5">
                <p className="mb-1">{each.question}</p>
                <Choice
                  label={each.question}
                  value={answered[each.key] ?? each.assume}
                  options={Object.entries(each.answers).map(([value, name]) => ({ value, name }))}
                  compact
                  choose={(value) => answer({ ...answered, [each.key]: value })}
                />
              </div>
            ))}
          </div>
          <div>
            <Heading aside="the parts that come off for it">What a change opens</Heading>
            <ul>
              {guide.slot.map((each) => (
                <li key={each.key}>
                  <b>{each.key.replaceAll('_', ' ')}:</b>{' '}
                  {each.opens
                    .map((key) => guide.part.find((part) => part.key === key)?.name.toLowerCase() ?? key)
                    .join(', ') || 'nothing'}
                  {each.note && <span className="text-quiet"> · {each.note}</span>}
                </li>
              ))}
            </ul>
          </div>
          {known.schools.length > 0 && (
            <div>
              <Heading aside="chosen in the bench guide">Where practice differs</Heading>
              {known.schools.map((each) => {
                const chosen = each.question.schools.find((school) => school.key === each.followed)
                return (
                  <p key={each.question.key}>
                    <b>{each.question.name}:</b> {chosen?.name}. <span className="text-quiet">{chosen?.why}</span>
                  </p>
                )
              })}
            </div>
          )}
          <Limits known={known} />
        </section>
      </div>
      <section>
        <Heading aside={`not stated otherwise: ${guide.origin}`}>What wears</Heading>
        <ul className="grid gap-x-8 gap-y-2 lg:grid-cols-2">
          {guide.item.map((item) => (
            <li key={item.key} className="border-t border-line pt-1.5">
              <b>{item.name}</b>
              {item.measure && (
                <span className="reading text-sm">
                  {' '}
                  {item.measure.name}
                  {item.measure.limit != null &&
                    `, limit ${told(item.measure.limit, item.measure.unit)} (${item.measure.origin})`}
                </span>
              )}
              <span className="block text-sm text-quiet">
                {item.how} {item.normal} {item.consequence}
              </span>
            </li>
          ))}
        </ul>
      </section>
    </div>
  )
}

/** What a fastener of the machine it was opened from is turned with. */
function Sized({ known, fastener }: { known: KindView; fastener: string }) {
  const size = known.sizes.find((each) => each.fastener === fastener)
  return size ? (
    <span className="reading">
      {[size.size, size.thread].filter(Boolean).join(', ')}
      {'; '}
    </span>
  ) : null
}

function Falls({ out }: { out: KindView['guide']['loose'] }) {
  if (!out?.length) return null
  return (
    <span className="block text-sm">
      Falls out with it: {out.map((each) => `${each.name.toLowerCase()} ×${each.count}`).join(', ')}
    </span>
  )
}

function Stop({ words, hazard }: { words?: string; hazard?: string }) {
  return (
    <span className="mt-0.5 flex gap-2 text-sm">
      <TriangleAlert size={18} aria-hidden="true" className="mt-0.5 shrink-0 text-watch" />
      <span>
        <b>{words}</b> {hazard}
      </span>
    </span>
  )
}

/** Limits as manuals give them: each of one machine, or of every one of a make and model. */
function Limits({ known }: { known: KindView }) {
  const client = useQueryClient()
  const measured = known.guide.item.filter((each) => each.measure)
  const [item, choose] = useState(measured[0]?.key ?? '')
  const [value, type] = useState('')
  const [of, setOf] = useState(THIS_MACHINE)
  const unit = measured.find((each) => each.key === item)?.measure?.unit ?? ''
  const taken = () => {
    client.invalidateQueries({ queryKey: ['kind', known.key] })
    client.invalidateQueries({ queryKey: ['visit'] })
  }
  const state = useAct(
    {
      subject: `kind ${known.key}`,
      place: 'limit',
      label: 'Limit of the manual',
      href: `/guide/${known.key}`,
      held: false,
      repeats: true,
      target: () => ({
        method: 'POST',
        path: `/api/guide/kinds/${known.key}/limits`,
        around: { item, value: withUnit(value, unit), origin: 'manual', ...whose({ ...of, every: true }) },
      }),
    },
    () => {
      type('')
      taken()
    },
  )
  return (
    <div className="print:hidden">
      <Heading aside="one machine’s is stated at its visit">Limits that manuals give</Heading>
      <ul>
        {known.limits.map((limit) => (
          <Limit key={limit.id} known={known} limit={limit} taken={taken} />
        ))}
      </ul>
      <form
        className="grid grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)_auto] items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          state.run()
        }}
      >
        <label className="text-sm text-quiet">
          Item
          <select value={item} onChange={(event) => choose(event.target.value)} className={FIELD}>
            {measured.map((each) => (
              <option key={each.key} value={each.key}>
                {each.name}, {each.measure?.name}
              </option>
            ))}
          </select>
        </label>
        <label className="text-sm text-quiet">
          Limit{unit && `, ${unit}`}
          <input
            value={value}
            maxLength={20}
            onChange={(event) => type(event.target.value)}
            className={`reading ${FIELD}`}
          />
        </label>
        <Button action={state} submits disabled={value.trim() === '' || !named({ ...of, every: true })}>
          State it
        </Button>
        <OfModel value={of} set={setOf} model="" always />
      </form>
      <Done action={state} />
    </div>
  )
}

function Limit({ known, limit, taken }: { known: KindView; limit: KindView['limits'][number]; taken: () => void }) {
  const item = known.guide.item.find((each) => each.key === limit.name)
  const away = useAct(
    {
      subject: `kind ${known.key}`,
      place: `limit ${limit.id}`,
      label: 'Withdraw a limit',
      href: `/guide/${known.key}`,
      held: false,
      target: () => ({ method: 'POST', path: `/api/guide/kinds/${known.key}/limits/${limit.id}/withdraw`, around: {} }),
    },
    taken,
  )
  return (
    <li className="flex items-center justify-between gap-3 border-t border-line" data-limit={limit.name}>
      <span>
        {item?.name}: <b className="reading">{told(limit.value, item?.measure?.unit ?? '')}</b>{' '}
        <span className="text-sm text-quiet">
          {limit.whose} · {limit.stated_by}
        </span>
      </span>
      <button type="button" onClick={away.run} className="min-h-11 text-sm underline underline-offset-4">
        Withdraw{limit.touches > 1 && ` from ${limit.touches} machines`}
      </button>
    </li>
  )
}
