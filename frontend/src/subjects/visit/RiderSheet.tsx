// The sheet a rider takes along: may it leave, what was wrong, done and fitted, before and after, what to look at. One
// A4; photos come on a second.
import type { VisitView } from '../../api/server/client'
import { day, figure } from '../../parts/format'
import { FindingMark } from '../../parts/marks'
import { Still } from '../../parts/photos/OnPhoto'
import { useVisitPhotos } from '../../parts/photos/PhotoRow'
import type { Page } from './Sheet'

type Rider = NonNullable<Page['rider']>

const MOST_PHOTOS = 6

const MARKS = { may: 'keep', 'as it is': 'watch', 'not yet': 'watch', no: 'replace' } as const

const EDGES = {
  may: 'border-keep',
  'as it is': 'border-watch',
  'not yet': 'border-watch',
  no: 'border-replace',
} as const

interface RiderSheetProps {
  visit: VisitView
  page: Page
  rider: Rider
  /** Whether it is this page that is printed. */
  printed: boolean
}

export function RiderSheet({ visit, page, rider, printed }: RiderSheetProps) {
  const photos = Object.values(useVisitPhotos(visit.id)?.photos ?? {})
    .flat()
    .slice(0, MOST_PHOTOS)
  const { words, state, why = [] } = rider.leave
  const { noted = [] } = rider
  const priced = rider.done.some((each) => each.price != null)
  return (
    <section
      aria-label="Rider's sheet"
      className={`rounded-md border border-line bg-card px-6 py-4 text-[0.9375rem] leading-snug ${printed ? 'print:border-0 print:p-0' : 'print:hidden'}`}
    >
      <header className="mb-2.5">
        {page.workshop && <p className="font-bold text-signal-words">{page.workshop}</p>}
        <h2 className="text-2xl leading-tight font-bold wrap-anywhere">{page.machine}</h2>
        <p className="text-sm wrap-anywhere text-quiet">
          {[page.owner, page.when, page.scope, `visit ${visit.id}`].filter(Boolean).join(' · ')}
        </p>
      </header>
      <div className={`rounded-md border-2 px-4 py-2.5 ${EDGES[state]}`} data-leave={state}>
        <p className="flex items-baseline gap-2.5 text-xl font-bold">
          <FindingMark finding={MARKS[state]} size={16} />
          {words}
        </p>
        {why.length > 0 && <p className="wrap-anywhere">{why.slice(0, MOST_WHY).map(sentence).join(' ')}</p>}
        {why.length > MOST_WHY && <p className="text-quiet">and {why.length - MOST_WHY} more in the record</p>}
      </div>
      <Part title="What was wrong">
        {rider.wrong.length === 0 && <p className="text-quiet">Nothing was said.</p>}
        {rider.wrong.map((line) => (
          <p key={line.words} className={`wrap-anywhere ${line.tone === 'amiss' ? 'font-semibold' : ''}`}>
            {line.words}
          </p>
        ))}
      </Part>
      <Part title="What was done and fitted">
        {rider.done.length === 0 && <p className="text-quiet">Nothing is noted as done.</p>}
        <table className="w-full">
          <tbody>
            {rider.done.map((each) => (
              <tr key={each.what + each.part} className="border-b border-line align-baseline">
                <td className="w-2/5 py-0.5 pr-3 wrap-anywhere">{each.what}</td>
                <td className="py-0.5 pr-3 wrap-anywhere text-quiet">{each.part}</td>
                {priced && (
                  <td className="reading py-0.5 text-right whitespace-nowrap">
                    {each.price != null && figure(each.price, 2)}
                  </td>
                )}
              </tr>
            ))}
            {rider.total != null && (
              <tr className="font-bold">
                <td colSpan={2} className="py-0.5">
                  Parts, as priced
                </td>
                <td className="reading py-0.5 text-right">{figure(rider.total, 2)}</td>
              </tr>
            )}
          </tbody>
        </table>
      </Part>
      {rider.belt.length > 0 && (
        <section className="mt-2.5 rounded-md bg-paper px-4 py-2 print:border print:border-line" aria-label="The belt">
          <p className="wrap-anywhere">
            <b>{rider.belt[0]}</b>
            {rider.belt[1] && ` · ${rider.belt[1]}`}
          </p>
          {rider.steps.map((each) => (
            <p key={each}>{each}</p>
          ))}
        </section>
      )}
      {rider.compared.length > 0 && <BeforeAfter rows={rider.compared} />}
      {rider.pairs.length + rider.torqued.length > 0 && (
        <div className="grid grid-cols-[3fr_2fr] gap-x-8 max-sm:grid-cols-1 print:grid-cols-[3fr_2fr]">
          {rider.pairs.length > 0 && (
            <Part title="Set-up">
              <table className="w-full">
                <thead className="text-sm text-quiet">
                  <tr>
                    <td />
                    <th className="text-right font-normal">as found</th>
                    <th className="text-right font-normal">as left</th>
                  </tr>
                </thead>
                <tbody>
                  {rider.pairs.map((each) => (
                    <tr key={each.name} className="border-t border-line">
                      <td className="py-0.5 wrap-anywhere">{each.name}</td>
                      <td className="reading py-0.5 text-right text-quiet">{each.found}</td>
                      <td className={`reading py-0.5 text-right ${each.changed ? 'font-semibold' : ''}`}>
                        {each.left}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Part>
          )}
          {rider.torqued.length > 0 && (
            <Part title="Tightened">
              <table className="w-full">
                <tbody>
                  {rider.torqued.map((each) => (
                    <tr key={each.name} className="border-b border-line">
                      <td className="py-0.5 wrap-anywhere">{each.name}</td>
                      <td className={`reading py-0.5 text-right ${each.changed ? 'font-semibold' : ''}`}>
                        {each.left}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Part>
          )}
        </div>
      )}
      <Part title="What to look at, and when">
        {rider.look_at.length === 0 && <p className="text-quiet">Nothing was said.</p>}
        <table className="w-full">
          <tbody>
            {rider.look_at.map((each) => (
              <tr key={each.what} className="border-b border-line align-baseline">
                <td className="py-0.5 pr-3 font-semibold wrap-anywhere whitespace-pre-line">{each.what}</td>
                <td className="reading py-0.5 text-right whitespace-nowrap">{each.when}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="mt-1 text-sm text-quiet">
          Squeal, smoke or a jerk at take-off: stop, let it cool, ring us. The guard stays on while the engine runs.
        </p>
      </Part>
      <footer className="mt-3 flex flex-wrap justify-between gap-x-8 gap-y-1 border-t border-ink pt-1.5 text-sm">
        <p className="min-w-0 wrap-anywhere">
          {rider.who.length > 0 && (
            <>
              <b>{rider.who.join(', ')}</b> <span className="text-quiet">tightened and fitted, as noted here</span>
            </>
          )}
          {rider.who.length > 0 && noted.length > 0 && <span className="text-quiet"> · </span>}
          {noted.length > 0 && (
            <>
              <span className="text-quiet">written by</span> <b>{noted.join(', ')}</b>
            </>
          )}
        </p>
        <p className="min-w-0 wrap-anywhere">
          {visit.signed_off_at ? (
            <>
              <b>{visit.signed_off_by}</b>{' '}
              <span className="text-quiet">
                {visit.unrepaired ? 'closed it' : 'signed'}, {day(visit.signed_off_at)}
              </span>
            </>
          ) : (
            <span className="text-watch">not signed</span>
          )}
        </p>
        {visit.signed_off_at && <p className="hidden w-48 border-b border-line print:block">Received by</p>}
      </footer>
      <p className="mt-1 text-xs text-quiet">
        A figure predicted comes from a model of the clutch, the ± is its standard deviation. For limits, torques and
        lubricants the machine’s own manual comes first.
      </p>
      {photos.length > 0 && (
        <section className="mt-4 print:break-before-page" aria-label="Photos">
          <h3 className="font-bold print:mb-2 print:text-lg">Photos</h3>
          <div className="grid grid-cols-3 gap-3 print:grid-cols-2">
            {photos.map((photo) => (
              <figure key={photo.id} className="break-inside-avoid">
                <Still photo={photo} />
                <figcaption className="text-sm wrap-anywhere text-quiet">{photo.caption}</figcaption>
              </figure>
            ))}
          </div>
        </section>
      )}
    </section>
  )
}

const MOST_WHY = 6

const sentence = (words: string) => `${words[0]?.toUpperCase()}${words.slice(1)}${/[.!?]$/.test(words) ? '' : '.'}`

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section className="mt-2.5">
      <h3 className="mb-0.5 border-b border-ink font-bold">{title}</h3>
      {children}
    </section>
  )
}

/** Each figure on a scale of its own: before as a bar, after as a disc, what is wanted as a band. */
function BeforeAfter({ rows }: { rows: Rider['compared'] }) {
  return (
    <section className="mt-2.5">
      <h3 className="mb-0.5 flex items-baseline justify-between border-b border-ink font-bold">
        Before, and after{' '}
        <span className="text-sm font-normal text-quiet">rpm · bar before, disc after, band wanted</span>
      </h3>
      <table className="w-full">
        <thead className="text-sm text-quiet">
          <tr>
            <td />
            <th className="text-right font-normal">before</th>
            <th className="text-right font-normal">after</th>
            <td className="max-sm:hidden print:table-cell" />
            <th className="text-right font-normal">wanted</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.name} className="border-t border-line">
              <td className="py-0.5">{row.name}</td>
              <Speed speed={row.before} />
              <Speed speed={row.after} strong />
              <td className="w-44 pl-4 max-sm:hidden print:table-cell">
                <Scale row={row} />
              </td>
              <td className="reading py-0.5 text-right whitespace-nowrap text-quiet">
                {row.wanted ? (
                  <>
                    {figure(row.wanted.rpm, 0)}
                    <span className="max-sm:block print:inline"> ± {figure(row.wanted.tolerance_rpm, 0)}</span>
                  </>
                ) : (
                  'not stated'
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Speed({ speed, strong }: { speed: Rider['compared'][number]['before']; strong?: boolean }) {
  return (
    <td className="py-0.5 text-right whitespace-nowrap">
      {speed ? (
        <>
          <span className={`reading ${strong ? 'font-semibold' : ''}`}>
            {figure(speed.rpm, 0)}
            {speed.sd_rpm > 0 && <span className="max-sm:block print:inline"> ± {figure(speed.sd_rpm, 0)}</span>}
          </span>
          <span className="block text-xs leading-none text-quiet">{speed.how}</span>
        </>
      ) : (
        '–'
      )}
    </td>
  )
}

const WIDE = 170

function Scale({ row }: { row: Rider['compared'][number] }) {
  const { before, after, wanted } = row
  const window = wanted && [wanted.rpm - wanted.tolerance_rpm, wanted.rpm + wanted.tolerance_rpm]
  const ends = [before?.rpm, after?.rpm, ...(window ?? [])].filter((each) => each != null)
  const [low, high] = [Math.min(...ends), Math.max(...ends)]
  const room = Math.max((high - low) * 0.15, 30)
  const at = (rpm: number) => ((rpm - low + room) / (high - low + 2 * room)) * WIDE
  return (
    <svg viewBox={`0 0 ${WIDE} 18`} className="h-4.5 w-full" aria-hidden="true">
      {wanted && (
        <rect
          x={at(wanted.rpm - wanted.tolerance_rpm)}
          width={at(wanted.rpm + wanted.tolerance_rpm) - at(wanted.rpm - wanted.tolerance_rpm)}
          y="1"
          height="14"
          className="fill-band"
        />
      )}
      <path d={`M0 16.5H${WIDE}`} className="stroke-line" />
      {before && <path d={`M${at(before.rpm)} 2V15`} className="stroke-quiet" strokeWidth="3" />}
      {after && <circle cx={at(after.rpm)} cy="8.5" r="4.5" className="fill-signal" />}
    </svg>
  )
}
