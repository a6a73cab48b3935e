// The belt off and on again, on a page of its own: by the workshop's ways, and by hand on the trail.
import type { KindView } from '../../api/server/client'
import { PageHead } from './PageHead'

/** The way's own tools, and those of what comes off for it. */
function layOut({ guide }: KindView, way: KindView['guide']['way'][number]): string[] {
  const off = guide.fastener.filter((each) => way.opens?.includes(each.part))
  return [...new Set([...(way.tools ?? []), ...off.flatMap((each) => each.tools ?? [])])]
}

export function BeltPage({ known }: { known: KindView }) {
  return (
    <article className="space-y-4" data-job-page="belt">
      <PageHead known={known} name="Belt change" />
      <div className="grid gap-x-8 gap-y-4 lg:grid-cols-2">
        {known.guide.way.map((way) => (
          <section key={way.key} className="break-inside-avoid border-t border-line pt-2">
            <h3 className="font-bold">{way.name}</h3>
            <p className="text-sm">
              <span className="text-quiet">Lay out </span>
              <b>{layOut(known, way).join(' · ') || 'nothing: by hand'}</b>
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
