// Stock sheets: out as comma-separated values, in with a report of what was refused and why.
import { useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { useAction } from '../../api/outbox/action'
import { api, must, refusalOf } from '../../api/server/client'
import { followed, type Job, under } from '../../api/server/jobs'
import { Button, buttonLook, Done } from '../../parts/Button'
import { Close } from '../../parts/over/Over'
import { Panel } from '../../parts/over/Panel'
import { Progress } from '../../parts/Progress'
import { KEY } from './view'

interface Report {
  added: number
  changed: number
  alike: number
  refused: { line: number; number: string; column: string; reason: string }[]
}

const MOST_BYTES = 1_000_000

export function Sheet() {
  const client = useQueryClient()
  const file = useRef<HTMLInputElement>(null)
  const [report, tell] = useState<Report>()
  const [job, follow] = useState<Job>()
  const take = useAction(async () => {
    const chosen = file.current?.files?.[0]
    if (!chosen) return 'Choose a file first.'
    if (chosen.size > MOST_BYTES) return 'The sheet is larger than 1,000 kB: split it.'
    const answer = await api.POST('/api/sheets', { body: { text: await chosen.text() } })
    if (file.current) file.current.value = ''
    if (!answer.data) return `Not taken in: the sheet ${refusalOf(answer).reason}.`
    const done = await followed(
      answer.data,
      (each) => must(api.GET('/api/sheets/{job}', { params: { path: { job: each } } })),
      follow,
    )
    if (done.refused) return `Not taken in: the ${done.refused.field} ${done.refused.reason}.`
    if (!done.report) return 'Given up: nothing of it was kept.'
    client.setQueryData(KEY, done.report.parts)
    tell(done.report)
    return ''
  })
  return (
    <div className="flex flex-wrap items-end gap-3">
      <a href="/api/parts.csv" className={buttonLook('plain')}>
        Sheet out
      </a>
      <Panel
        opener={<Button look="plain">Sheet in</Button>}
        title="Take a stock sheet in"
        about="Comma-separated values with a header, as “Sheet out” writes them. A header may name another unit: force_start_lbf. Known numbers are changed where the sheet says otherwise."
      >
        <input
          ref={file}
          type="file"
          accept=".csv,text/csv,text/plain"
          aria-label="Stock sheet"
          className="min-h-11 w-full text-sm"
          onChange={() => {
            tell(undefined)
            take.run()
          }}
        />
        {job && under(job) && (
          <Progress
            job={job}
            what="Stock sheet"
            stop={() =>
              void api.POST('/api/sheets/{job}/cancel', { params: { path: { job: job.job } }, body: {} as never })
            }
          />
        )}
        <Done action={take} />
        {report && (
          <section aria-label="What became of it" className="space-y-2" role="status">
            <p>
              <b>{report.added}</b> added, <b>{report.changed}</b> changed, <b>{report.alike}</b> stood so already,{' '}
              <b>{report.refused.length}</b> refused.
            </p>
            {report.refused.length > 0 && (
              <ul className="max-h-72 divide-y divide-line overflow-auto border-y border-line text-sm">
                {report.refused.map((row) => (
                  <li key={`${row.line}${row.number}`} className="py-1" data-refused={row.line}>
                    Line {row.line}
                    {row.number && `, ${row.number}`}: {row.column && <b>{row.column}</b>} {row.reason}
                  </li>
                ))}
              </ul>
            )}
          </section>
        )}
        <div className="flex justify-end">
          <Close>
            <Button look="plain">Close</Button>
          </Close>
        </div>
      </Panel>
    </div>
  )
}
