// The logs of a machine's runs: opened where they were read, or given back as they were sent.
import { Download } from 'lucide-react'
import { Link } from 'react-router'
import type { MachineView } from '../../api/server/client'
import { Heading } from '../../parts/Caution'
import { day, figure } from '../../parts/format'

export function Logs({ view }: { view: MachineView }) {
  if (view.logs.length === 0) return null
  return (
    <section>
      <Heading aside="as they were sent">Logs of its runs</Heading>
      <ul>
        {view.logs.map((each) => (
          <li key={each.run_id} className="flex flex-wrap items-center gap-x-4 border-t border-line">
            <Link
              className="flex min-h-11 min-w-0 items-center truncate font-semibold underline underline-offset-4"
              to={`/visits/${each.visit_id}/road-test?log=${each.run_id}`}
            >
              {each.name}
            </Link>
            <span className="text-sm text-quiet">
              {day(each.kept_at)}, {each.kept_by}
              {!each.counts && ', set aside'}
            </span>
            <a
              className="ml-auto flex min-h-11 items-center gap-2 text-sm underline underline-offset-4"
              href={`/api/visits/${each.visit_id}/runs/${each.run_id}/log/file`}
              download={each.name}
            >
              <Download size={16} aria-hidden="true" />
              <span className="sr-only">{each.name}, </span>
              {figure(each.size / 1e6, 1)} MB
            </a>
          </li>
        ))}
      </ul>
    </section>
  )
}
