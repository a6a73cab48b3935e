// The hand-over page, on screen and on paper: rows of words and figures as the server made them, photos beside items.
import { useQuery } from '@tanstack/react-query'
import { api, must, type VisitView } from '../../api/server/client'
import { day } from '../../parts/format'
import { Still } from '../../parts/photos/OnPhoto'
import { useVisitPhotos } from '../../parts/photos/PhotoRow'

const TONES: Record<string, string> = {
  plain: '',
  strong: 'font-semibold',
  quiet: 'text-quiet',
  amiss: 'font-semibold text-signal-words',
}

/** The page of a visit as the server makes it. */
export function usePage(visit: VisitView) {
  return useQuery({
    queryKey: ['page', visit.id, visit.edit, visit.signed_off_at],
    queryFn: () => must(api.GET('/api/visits/{visit_id}/page', { params: { path: { visit_id: visit.id } } })),
    placeholderData: (before) => before,
  }).data?.page
}

export type Page = NonNullable<ReturnType<typeof usePage>>

interface SheetProps {
  visit: VisitView
  page: Page
  /** Whether it is this page that is printed. */
  printed: boolean
}

export function Sheet({ visit, page, printed }: SheetProps) {
  const photos = useVisitPhotos(visit.id)?.photos
  return (
    <article
      aria-label="Hand-over page"
      className={`rounded-md border border-line bg-card px-6 py-4 ${printed ? 'print:border-0 print:p-0' : 'print:hidden'}`}
    >
      <header className="mb-3 flex items-baseline justify-between gap-4">
        <div className="min-w-0">
          <h2 className="text-xl font-bold wrap-anywhere">{page.machine}</h2>
          <p className="break-words text-quiet">{page.owner}</p>
        </div>
        <p className="max-w-64 min-w-0 text-right text-sm wrap-anywhere text-quiet">
          {page.workshop && <b className="block text-ink">{page.workshop}</b>}
          Clutch service
          <br />
          {page.when}
          <br />
          {page.scope}
        </p>
      </header>
      <dl>
        {page.rows.map((row) => (
          <div
            key={row.key}
            data-row={row.key}
            className="grid gap-x-4 border-t border-line py-1.5 sm:grid-cols-[9rem_1fr] print:grid-cols-[9rem_1fr] print:py-1"
          >
            <dt className="text-quiet">{row.name}</dt>
            <dd className="min-w-0 break-words whitespace-pre-line">
              {(row.lines ?? []).map((line, place) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: the lines of a page never move
                <span key={place} className={`block ${TONES[line.tone ?? 'plain']}`} data-item={line.item || undefined}>
                  {line.words}
                  {line.item &&
                    photos?.[line.item]?.map((photo) => (
                      <span key={photo.id} className="mr-2 inline-block">
                        <Still photo={photo} small />
                      </span>
                    ))}
                </span>
              ))}
              {row.table && <Figures table={row.table} />}
            </dd>
          </div>
        ))}
        <div className="grid gap-x-4 border-t border-line py-1.5 sm:grid-cols-[9rem_1fr] print:grid-cols-[9rem_1fr]">
          <dt className="text-quiet">State</dt>
          <dd>{page.closed || <span className="text-watch">open: {visit.open.length} missing</span>}</dd>
        </div>
      </dl>
      {page.note && <p className="mt-2 text-sm text-quiet">{page.note}</p>}
      {visit.addenda.length > 0 && (
        <section aria-label="Addenda" className="mt-4 border-t-2 border-ink pt-2">
          <h3 className="font-bold">Added since</h3>
          {visit.addenda.map((each) => (
            <p key={each.id} className="mt-1 wrap-anywhere whitespace-pre-line">
              <span className="text-quiet">
                {day(each.added_at)}, {each.added_by}:
              </span>{' '}
              {each.text}
            </p>
          ))}
        </section>
      )}
      {visit.signed_off_at && (
        <div className="mt-10 hidden grid-cols-2 gap-10 text-xs print:grid">
          <p className="border-t border-ink pt-1">Technician</p>
          <p className="border-t border-ink pt-1">Received by</p>
        </div>
      )}
      <p className="mt-3 border-t border-line pt-2 text-xs text-quiet">
        A figure predicted comes from a model of the clutch; the ± beside it is its standard deviation, beside a target
        the width of its window. For limits, torques and lubricants the machine’s own manual always comes first.
      </p>
    </article>
  )
}

interface FiguresTable {
  heads: readonly string[]
  rows: readonly (readonly string[])[]
}

function Figures({ table }: { table: FiguresTable }) {
  return (
    <table
      className={`w-full max-w-lg text-right text-sm [overflow-wrap:normal] ${table.heads.length > 4 ? 'stack' : ''}`}
    >
      <thead className="text-quiet">
        <tr>
          {table.heads.map((head) =>
            head ? (
              <th key={head} className="pl-2 font-normal first:pl-0 first:text-left">
                {head}
              </th>
            ) : (
              <td key="name" />
            ),
          )}
        </tr>
      </thead>
      <tbody className="reading">
        {table.rows.map((cells) => (
          <tr key={cells[0]} className="border-t border-line">
            {cells.map((cell, place) => (
              <td key={table.heads[place] || 'name'} className={place === 0 ? 'py-1 text-left font-sans' : 'py-1 pl-2'}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
