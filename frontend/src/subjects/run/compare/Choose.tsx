// Which runs stand in A and which in B: every run of the machine that measured something, and who rode it where.
import { Dialog } from 'radix-ui'
import type { RunToChoose } from '../../../api/server/client'
import { buttonLook } from '../../../parts/Button'
import { day } from '../../../parts/format'
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
    <Dialog.Root>
      <Dialog.Trigger className="min-h-11 text-sm underline underline-offset-4">choose runs</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-[#22262a99]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-40 flex max-h-[92dvh] w-[52rem] max-w-[96vw] -translate-1/2 flex-col gap-3 rounded-lg bg-paper p-5 shadow-2xl"
        >
          <Dialog.Title className="text-lg font-bold">Which runs to set beside each other</Dialog.Title>
          <p className="text-sm text-quiet">
            Each set holds runs of one set-up; three pulls of each tell noise from gain.
          </p>
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
            <Dialog.Close className={buttonLook('main')}>Done</Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
