// What explains the complaint: causes by their chance, how each finding moved them, and the next check worth making.
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Done } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { figure } from '../../parts/format'

const percent = (chance: number) => `${figure(chance * 100, 0)} %`

export function Explained() {
  const { visit } = useDesk()
  const { causes, telling, first_ranked } = visit.strip
  if (causes.length === 0)
    return (
      <p className="text-sm text-quiet">
        {visit.intake.complaint === 'None, routine' && (visit.intake.symptoms ?? []).length === 0
          ? 'No complaint: there is nothing to explain.'
          : 'Nothing explained yet: pick the symptoms at Intake, or find something worn, and the likely causes follow.'}
      </p>
    )
  return (
    <section aria-label="What explains it">
      <Heading aside="chances, common practice put in numbers from memory">
        What explains{' '}
        {visit.intake.complaint
          ? `“${visit.intake.complaint.slice(0, 40)}${visit.intake.complaint.length > 40 ? '…' : ''}”`
          : 'it'}
      </Heading>
      <ol className="space-y-1" data-causes>
        {causes.slice(0, 4).map((cause) => (
          <li key={cause.key} data-cause={cause.key}>
            <details>
              <summary className="grid min-h-11 cursor-pointer grid-cols-[minmax(0,1fr)_5rem_3.5rem] items-center gap-3">
                <span>
                  {cause.name}
                  {cause.outcome && (
                    <b className={cause.outcome === 'was it' ? 'text-keep' : 'text-quiet'}>
                      {cause.outcome === 'was it' ? ' · that was it' : ' · was not'}
                    </b>
                  )}
                </span>
                <span className="h-3 rounded-sm bg-tray" aria-hidden="true">
                  <span className="block h-3 rounded-sm bg-signal" style={{ width: `${cause.chance * 100}%` }} />
                </span>
                <span className="reading text-right font-semibold">{percent(cause.chance)}</span>
              </summary>
              <CameTo cause={cause} />
              {cause.note && <p className="pb-1 text-sm">{cause.note}</p>}
              <p className="reading pb-2 text-sm text-quiet">
                {percent(cause.prior)} before anything was told
                {cause.steps.map(({ what, chance }) => (
                  <span key={what}>
                    {' '}
                    → {percent(chance)} {what.toLowerCase()}
                  </span>
                ))}
              </p>
            </details>
          </li>
        ))}
      </ol>
      {first_ranked.told > 0 && (
        <p className="mt-1 text-sm text-quiet" data-first-ranked>
          The first-ranked cause was the cause in {figure(first_ranked.first, 0)} of {figure(first_ranked.told, 0)}{' '}
          here.
        </p>
      )}
      {telling[0] && (
        <p className="mt-1 text-sm">
          Most telling next: <b>{telling[0].name.toLowerCase()}</b>
        </p>
      )}
    </section>
  )
}

const OUTCOMES = [
  ['was it', 'That was it'],
  ['was not', 'Was not'],
] as const

/** What a cause came to, once a hand knows. */
function CameTo({ cause }: { cause: ReturnType<typeof useDesk>['visit']['strip']['causes'][number] }) {
  const { closed } = useDesk()
  const next = (outcome: string) => (cause.outcome === outcome ? null : outcome)
  const acts = {
    'was it': useVisitAct({
      station: 'strip',
      place: `outcome.${cause.key}.was-it`,
      label: `${cause.name}: that was it`,
      path: '/strip/outcome',
      body: () => ({ cause: cause.key, outcome: next('was it') }),
    }),
    'was not': useVisitAct({
      station: 'strip',
      place: `outcome.${cause.key}.was-not`,
      label: `${cause.name}: was not`,
      path: '/strip/outcome',
      body: () => ({ cause: cause.key, outcome: next('was not') }),
    }),
  }
  if (closed) return null
  return (
    <div className="flex flex-wrap gap-2 py-1">
      {OUTCOMES.map(([outcome, words]) => (
        <button
          key={outcome}
          type="button"
          aria-pressed={cause.outcome === outcome}
          disabled={acts[outcome].busy}
          onClick={acts[outcome].run}
          className="min-h-11 rounded-md border-2 border-line bg-card px-3 text-sm hover:border-ink aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper"
        >
          {words}
        </button>
      ))}
      <Done action={acts['was it']} />
      <Done action={acts['was not']} />
    </div>
  )
}
