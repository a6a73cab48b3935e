// The belt off and on again, on a page of its own: by the workshop's ways, and by hand on the trail.
import { Printer } from 'lucide-react'
import { Link } from 'react-router'
import type { KindView } from '../../api/server/client'
import { Button } from '../../parts/Button'

export function BeltPage({ known }: { known: KindView }) {
  return (
    <article className="space-y-4" data-job-page="belt">
      <header className="flex flex-wrap items-start justify-between gap-3">
        <div>
          <h2 className="text-xl font-bold">Belt change</h2>
          <p>
            <Link
              to={`/guide/${known.key}`}
              className="inline-flex min-h-11 items-center underline underline-offset-4 print:min-h-0 print:no-underline"
            >
              {known.guide.name}
            </Link>
            {known.machine && <span className="text-quiet"> · {known.machine}</span>}
          </p>
        </div>
        <span className="print:hidden">
          <Button look="plain" onClick={() => window.print()} data-main>
            <Printer size={18} aria-hidden="true" /> Print
          </Button>
        </span>
      </header>
      <div className="grid gap-x-8 gap-y-4 lg:grid-cols-2">
        {known.guide.way.map((way) => (
          <section key={way.key} className="break-inside-avoid border-t border-line pt-2">
            <h3 className="font-bold">{way.name}</h3>
            <p className="text-sm">
              <span className="text-quiet">Lay out </span>
              <b>{way.tools && way.tools.length > 0 ? way.tools.join(' · ') : 'nothing: by hand'}</b>
            </p>
            <ol className="mt-1 list-decimal space-y-1 pl-6">
              {way.steps.map((step) => (
                <li key={step}>{step}</li>
              ))}
            </ol>
            <p className="mt-1 border-l-4 border-watch pl-3">
              <b>{way.stop}</b>
            </p>
            {way.back && (
              <p className="mt-1">
                <b>Back on</b> {way.back}
              </p>
            )}
          </section>
        ))}
      </div>
      {known.guide.housing.map((each) => (
        <p key={each.text} className="text-quiet">
          {each.text}
        </p>
      ))}
    </article>
  )
}
