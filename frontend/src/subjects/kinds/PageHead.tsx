// The head of a job's page: what it is, of which kind, as it is on which machine, and the key that prints it.
import { Printer } from 'lucide-react'
import { Link } from 'react-router'
import type { KindView } from '../../api/server/client'
import { Button } from '../../parts/Button'

export function PageHead({ known, name, text }: { known: KindView; name: string; text?: string }) {
  return (
    <header className="flex flex-wrap items-start justify-between gap-3">
      <div>
        <h2 className="text-xl font-bold">{name}</h2>
        <p>
          <Link
            to={`/guide/${known.key}`}
            className="inline-flex min-h-11 items-center underline underline-offset-4 print:min-h-0 print:no-underline"
          >
            {known.guide.name}
          </Link>
          {known.machine && <span className="text-quiet"> · {known.machine}</span>}
        </p>
        {text && <p className="mt-1 max-w-prose">{text}</p>}
      </div>
      <span className="print:hidden">
        <Button look="plain" onClick={() => window.print()} data-main>
          <Printer size={18} aria-hidden="true" /> Print
        </Button>
      </span>
    </header>
  )
}
