// Calibration in sight: what the runs moved, how each fits, which contradicts the rest, what to measure next.
import { useCalibration } from '../../api/visit/bench'
import { useDesk, useVisitAct } from '../../api/visit/desk'
import { Button, Done } from '../../parts/Button'
import { day, figure, signed } from '../../parts/format'
import { FindingMark } from '../../parts/marks'

/** A ratio needs its decimals, an engine speed none. */
const digitsOf = (name: string) => (name.includes('ratio') ? 3 : 0)

export function Calibration() {
  const { visit, closed } = useDesk()
  const known = useCalibration(visit)
  const calibrate = useVisitAct({
    station: 'set-up',
    place: 'calibrate',
    label: 'Calibrate on every run',
    path: '/setup/calibrate',
    body: () => ({}),
    said: 'Calibrated on every run so far.',
  })
  if (!known) return <p className="text-quiet">Looking at the runs…</p>
  const { fresh_runs: fresh } = visit
  // What is told as predicted, and by the study, needs no line.
  const tellings = known.tellings.filter((each) => !each.plain)
  return (
    <div className="grid min-h-0 gap-x-6 gap-y-2 text-sm md:grid-cols-2">
      <div className="space-y-2">
        <p>
          {known.made_at ? (
            <>
              Calibrated {day(known.made_at)} by {known.made_by} on {known.runs.length}{' '}
              {known.runs.length === 1 ? 'run' : 'runs'}.
            </>
          ) : (
            'Not calibrated: the band is all that is known before a run.'
          )}
        </p>
        {fresh > 0 && !closed && (
          <div>
            <Button look="plain" action={calibrate} data-calibrate>
              Calibrate: {fresh} new {fresh === 1 ? 'run' : 'runs'}
            </Button>
            <Done action={calibrate} />
          </div>
        )}
        <div>
          <h3 className="font-semibold">How changes are told, others as predicted</h3>
          <ul>
            {tellings.map((each) => (
              <li key={each.kind} data-telling={each.kind}>
                {each.kind}: <span className="text-quiet">{each.words}</span>
              </li>
            ))}
          </ul>
        </div>
        {known.moved.length > 0 && (
          <div>
            <h3 className="font-semibold">What the runs moved</h3>
            <ul>
              {known.moved.map((each) => (
                <li key={each.name} className="flex flex-wrap justify-between gap-x-3 border-t border-line py-0.5">
                  <span className="first-letter:uppercase">{each.name}</span>
                  <span className="reading">
                    {each.up ? '▴' : '▾'} {figure(each.before, 2)} → {figure(each.value, 3)} ± {figure(each.sd, 3)}
                  </span>
                </li>
              ))}
            </ul>
          </div>
        )}
        {known.next.length > 0 && (
          <div>
            <h3 className="font-semibold">What to measure next</h3>
            <ul>
              {known.next.map((each) => (
                <li key={each.name} className="flex flex-wrap justify-between gap-x-3 border-t border-line py-0.5">
                  <span className="first-letter:uppercase">
                    {each.name}, {figure(each.minutes, 0)} min
                  </span>
                  <span className="reading text-quiet">
                    −{figure(each.engagement_off_rpm, 0)} / −{figure(each.shift_off_rpm, 0)} rpm
                  </span>
                </li>
              ))}
            </ul>
          </div>
        )}
      </div>
      <div className="space-y-2">
        {known.runs.length > 0 && (
          <table className="w-full">
            <thead className="text-right text-quiet">
              <tr>
                <th className="text-left font-normal">run</th>
                <th className="font-normal">measured</th>
                <th className="font-normal">fitted</th>
                <th className="font-normal">miss</th>
              </tr>
            </thead>
            <tbody>
              {known.runs.flatMap((run) =>
                run.figures.map((fit) => (
                  <tr key={`${run.run}${fit.figure}`} className="border-t border-line">
                    <td>
                      {run.run} {fit.figure}
                      <span className="block text-xs text-quiet">{run.note}</span>
                    </td>
                    <td className="reading text-right">{figure(fit.measured, digitsOf(fit.figure))}</td>
                    <td className="reading text-right">{figure(fit.predicted, digitsOf(fit.figure))}</td>
                    <td className={`reading text-right ${fit.expected == null ? '' : 'font-semibold text-replace'}`}>
                      {signed(fit.measured - fit.predicted, digitsOf(fit.figure))}
                      {fit.expected != null && (
                        <span className="flex items-center justify-end gap-1 font-sans text-xs">
                          <FindingMark finding="replace" size={12} />
                          the others say {figure(fit.expected, digitsOf(fit.figure))}
                        </span>
                      )}
                    </td>
                  </tr>
                )),
              )}
            </tbody>
          </table>
        )}
        {known.history.length > 1 && (
          <p className="text-quiet">
            Before:{' '}
            {known.history
              .filter((each) => !each.in_use)
              .map((each) => `${day(each.made_at)}, ${each.runs} ${each.runs === 1 ? 'run' : 'runs'}`)
              .join(' · ')}
          </p>
        )}
      </div>
    </div>
  )
}
