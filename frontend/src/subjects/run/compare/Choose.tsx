// Which runs stand in A and which in B: every run of the machine that measured something, and who rode it where.
import type { RunToChoose } from '../../../api/server/client'
import { Button } from '../../../parts/Button'
import { day } from '../../../parts/format'
import { Close } from '../../../parts/over/Over'
import { Panel } from '../../../parts/over/Panel'
import { nameOf, type Sets } from './sets'

interface ChooseProps {
  runs: RunToChoose[]
  sets: Sets
  choose: (sets: Sets) => void
  visitId: number
}

export function Choose({ runs, sets, choose, visitId }: ChooseProps) {
  const turn = (side: 'a' | 'b', run: number) => {
    const other = side === 'a' ? 'b' : 'a'
    // A set is of one set-up: a run of another begins it anew.
    const setUp = (id: number) => runs.find((each) => each.run_id === id)?.revision_id
    const here = sets[side].filter((each) => setUp(each) === setUp(run))
    choose({
      ...sets,
      [side]: here.includes(run) ? here.filter((each) => each !== run) : [...here, run],
      [other]: sets[other].filter((each) => each !== run),
    })
  }
  return (
    <Panel
      title="Which runs to set beside each other"
      width="w-[52rem]"
      inside
      opener={
        <button type="button" className="min-h-11 text-sm underline underline-offset-4">
          choose runs
        </button>
      }
    >
      <p className="text-sm text-quiet">Each set holds runs of one set-up; three pulls of each tell noise from gain.</p>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: scrolled by keys */}
      <section aria-label="Runs" tabIndex={0} className="min-h-0 flex-1 overflow-auto">
        <table className="w-full text-sm">
          <thead className="text-left text-quiet">
            <tr>
              <th className="w-12 text-center font-normal">A</th>
              <th className="w-12 text-center font-normal">B</th>
              <th className="font-normal">run</th>
              <th className="font-normal">set-up</th>
              <th className="font-normal">rider, strip</th>
            </tr>
          </thead>
          <tbody>
            {runs.map((run) => (
              <tr key={run.run_id} className="border-t border-line">
                {(['a', 'b'] as const).map((side) => (
                  <td key={side} className="text-center">
                    <label className="flex min-h-11 items-center justify-center">
                      <input
                        type="checkbox"
                        aria-label={`${nameOf(run, visitId)} in ${side.toUpperCase()}`}
                        checked={sets[side].includes(run.run_id)}
                        onChange={() => turn(side, run.run_id)}
                        className="size-5 accent-signal"
                      />
                    </label>
                  </td>
                ))}
                <td>
                  Run {run.number} <span className="text-quiet">· {day(run.day)}</span>
                  <span className="block text-xs text-quiet">{run.log_name ?? 'typed off a tachometer'}</span>
                </td>
                <td>
                  {run.reason || 'as it came in'}
                  {run.corrected && <span className="block text-xs text-watch">put right since</span>}
                </td>
                <td className="text-quiet">
                  {[run.rider || 'rider not said', run.strip || 'strip not said'].join(', ')}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <div className="flex justify-end">
        <Close>
          <Button>Done</Button>
        </Close>
      </div>
    </Panel>
  )
}
