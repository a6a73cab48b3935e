// What explains the complaint: causes by their chance, how each finding moved them, and the next check worth making.
import { useDesk } from '../../api/visit/desk'
import { Heading } from '../../parts/Caution'
import { figure } from '../../parts/format'

const percent = (chance: number) => `${figure(chance * 100, 0)} %`

export function Explained() {
  const { visit } = useDesk()
  const { causes, telling } = visit.strip
  if (causes.length === 0)
    return (
      <p className="text-sm text-quiet">
        Nothing explained yet: pick the symptoms at Intake, or find something worn, and the likely causes follow.
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
                <span>{cause.name}</span>
                <span className="h-3 rounded-sm bg-tray" aria-hidden="true">
                  <span className="block h-3 rounded-sm bg-signal" style={{ width: `${cause.chance * 100}%` }} />
                </span>
                <span className="reading text-right font-semibold">{percent(cause.chance)}</span>
              </summary>
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
      {telling[0] && (
        <p className="mt-1 text-sm">
          Most telling next: <b>{telling[0].name.toLowerCase()}</b>{' '}
          <span className="text-quiet">({figure(telling[0].bits, 2)} bit)</span>
        </p>
      )}
    </section>
  )
}
