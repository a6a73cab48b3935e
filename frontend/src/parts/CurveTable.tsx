// The pictures as a table: every point of the shift in figures.
import { Dialog } from 'radix-ui'
import type { VisitView } from '../api/client'
import { usePrediction } from '../api/desk'
import { Button } from './Button'
import { figure, reading, unitName } from './format'

export function CurveTable({ visit }: { visit: VisitView }) {
  const [found, left] = [usePrediction(visit.found), usePrediction(visit.left)]
  return (
    <Dialog.Root>
      <Dialog.Trigger className="min-h-11 text-sm text-quiet underline underline-offset-4">as a table</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-[#22262a99]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-40 flex max-h-[92dvh] w-[56rem] max-w-[96vw] -translate-1/2 flex-col gap-3 rounded-lg bg-paper p-5 shadow-2xl"
        >
          <Dialog.Title className="text-lg font-bold">The shift, point by point</Dialog.Title>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: scrolled by keys */}
          <section aria-label="Points of the shift" tabIndex={0} className="min-h-0 overflow-auto">
            <table className="reading w-full text-right text-sm">
              <thead className="sticky top-0 bg-paper font-sans">
                <tr>
                  <th colSpan={5} scope="colgroup" className="text-center">
                    as left
                  </th>
                  <th colSpan={3} scope="colgroup" className="text-center">
                    as found
                  </th>
                </tr>
                <tr className="text-quiet">
                  {[
                    'ratio',
                    unitName('km/h'),
                    'rpm',
                    'grip, primary',
                    'grip, secondary',
                    'ratio',
                    unitName('km/h'),
                    'rpm',
                  ].map((name, index) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: the columns never move
                    <th key={index} scope="col" className="px-2 py-1 font-normal">
                      {name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {(left ?? found)?.curve.map((_, index) => {
                  const [l, f] = [left?.curve[index], found?.curve[index]]
                  return (
                    // biome-ignore lint/suspicious/noArrayIndexKey: the points never move
                    <tr key={index} className="border-t border-line">
                      <td className="px-2 py-0.5">{l ? figure(l.ratio, 2) : '–'}</td>
                      <td className="px-2">{l ? reading(l.speed_kph, 'km/h') : '–'}</td>
                      <td className="px-2 font-semibold">{l ? figure(l.rpm, 0) : '–'}</td>
                      <td className="px-2">{l ? figure(l.grip_primary, 2) : '–'}</td>
                      <td className="px-2">{l ? figure(l.grip_secondary, 2) : '–'}</td>
                      <td className="px-2">{f ? figure(f.ratio, 2) : '–'}</td>
                      <td className="px-2">{f ? reading(f.speed_kph, 'km/h') : '–'}</td>
                      <td className="px-2">{f ? figure(f.rpm, 0) : '–'}</td>
                    </tr>
                  )
                })}
              </tbody>
            </table>
          </section>
          <div className="flex justify-end">
            <Dialog.Close asChild>
              <Button look="plain">Close</Button>
            </Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
