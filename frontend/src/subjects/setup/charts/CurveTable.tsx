// The pictures as a table: every place of the shift in figures, from idle to full shift.
import type { PictureNode, VisitView } from '../../../api/server/client'
import { usePictures } from '../../../api/visit/bench'
import { figure, reading, unitName } from '../../../parts/format'
import { Panel } from '../../../parts/over/Panel'
import { nearest } from '../picture/ClutchPicture'

interface Column {
  name: string
  of: (node: PictureNode) => string
  strong?: boolean
}

const told = (value: number | null | undefined, unit: string, digits?: number) =>
  value == null ? '–' : digits == null ? reading(value, unit) : figure(value, digits)

function columns(arms: boolean): Column[] {
  return [
    { name: `travel, ${unitName('mm')}`, of: (n) => reading(n.travel_mm, 'mm', 1) },
    { name: 'ratio', of: (n) => figure(n.ratio, 2) },
    { name: 'rpm', of: (n) => figure(n.rpm, 0), strong: true },
    { name: unitName('km/h'), of: (n) => told(n.speed_kph, 'km/h') },
    { name: `gap, ${unitName('mm')}`, of: (n) => reading(n.gap_mm, 'mm', 1) },
    { name: `slack, ${unitName('mm')}`, of: (n) => reading(n.slack_mm, 'mm', 1) },
    arms
      ? { name: 'arm, °', of: (n) => told(n.arm_deg, '', 1) }
      : { name: `rollers, ${unitName('mm')}`, of: (n) => told(n.roller_mm, 'mm') },
    { name: `clamp primary, ${unitName('N')}`, of: (n) => told(n.clamp_primary_n, 'N') },
    { name: `clamp secondary, ${unitName('N')}`, of: (n) => told(n.clamp_secondary_n, 'N') },
    { name: `tight side, ${unitName('N')}`, of: (n) => told(n.tight_n, 'N') },
    { name: `slack side, ${unitName('N')}`, of: (n) => told(n.slack_n, 'N') },
    { name: 'grip primary', of: (n) => told(n.grip_primary, '', 2) },
    { name: 'grip secondary', of: (n) => told(n.grip_secondary, '', 2) },
  ]
}

export function CurveTable({ visit }: { visit: VisitView }) {
  const { found, left } = usePictures(visit)
  const shown = left ?? found
  const rows = columns(shown?.weights !== 'ramp-roller')
  return (
    <Panel
      closes
      title="From idle to full shift, place by place"
      width="w-[76rem]"
      inside
      opener={
        <button type="button" className="min-h-11 text-sm text-quiet underline underline-offset-4">
          as a table
        </button>
      }
    >
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: scrolled by keys */}
      <section aria-label="Places of the shift" tabIndex={0} className="min-h-0 overflow-auto">
        <table className="reading w-full text-right text-sm">
          <thead className="sticky top-0 bg-paper font-sans text-quiet">
            <tr>
              <th scope="col" className="px-2 text-left font-normal">
                as left
              </th>
              {rows.map(({ name }, index) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: the columns never move
                <th key={index} scope="col" className="px-2 py-1 font-normal">
                  {name}
                </th>
              ))}
              <th scope="col" className="px-2 font-normal">
                rpm as found
              </th>
            </tr>
          </thead>
          <tbody>
            {shown?.nodes.map((node, index) => {
              const before = found ? nearest(found, node.travel_mm) : undefined
              return (
                // biome-ignore lint/suspicious/noArrayIndexKey: the places never move
                <tr key={index} className="border-t border-line">
                  <th scope="row" className="px-2 text-left font-sans font-normal whitespace-nowrap text-quiet">
                    {node.stage ?? <span className="sr-only">place {index + 1}</span>}
                  </th>
                  {rows.map(({ of, strong }, column) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: the columns never move
                    <td key={column} className={`px-2 py-0.5 ${strong ? 'font-semibold' : ''}`}>
                      {of(node)}
                    </td>
                  ))}
                  <td className="px-2 text-quiet">{before ? figure(before.rpm, 0) : '–'}</td>
                </tr>
              )
            })}
          </tbody>
        </table>
      </section>
    </Panel>
  )
}
