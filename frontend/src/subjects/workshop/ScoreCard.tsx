// The workshop's score card: what was predicted against what was then measured, of each day's own prediction.
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, must } from '../../api/server/client'
import { Heading } from '../../parts/Caution'
import { figure, signed } from '../../parts/format'

const ask = () => must(api.GET('/api/scores'))
type Tally = Awaited<ReturnType<typeof ask>>['tallies'][number]

export function ScoreCard() {
  const scores = useQuery({ queryKey: ['scores'], queryFn: ask }).data
  return (
    <section className="min-w-0" aria-label="Score card">
      <Heading aside="each by what was predicted that day">Score card of predictions</Heading>
      {!scores || scores.tallies.length === 0 ? (
        <p className="text-quiet">No run has been predicted and then measured yet.</p>
      ) : (
        <table className="w-full text-sm">
          <thead className="text-right text-quiet">
            <tr>
              <th className="text-left font-normal">rpm</th>
              <th className="font-normal">runs</th>
              <th className="font-normal">in the 90 % band</th>
              <th className="font-normal">mean miss</th>
              <th className="font-normal">usual miss</th>
            </tr>
          </thead>
          <tbody>
            {scores.tallies.map((tally) => (
              <Row key={tally.figure} tally={tally}>
                <b>{tally.figure}</b>
              </Row>
            ))}
            {scores.machines.flatMap((machine) =>
              machine.tallies.map((tally) => (
                <Row key={`${machine.machine_id}${tally.figure}`} tally={tally}>
                  <Link
                    to={`/machines/${machine.machine_id}`}
                    className="inline-flex min-h-11 min-w-11 items-center break-words underline underline-offset-4"
                  >
                    {machine.name}
                  </Link>
                  <span className="block text-xs text-quiet">{tally.figure.toLowerCase()}</span>
                </Row>
              )),
            )}
          </tbody>
        </table>
      )}
    </section>
  )
}

function Row({ tally, children }: { tally: Tally; children: React.ReactNode }) {
  return (
    <tr className="border-t border-line" data-tally={tally.figure}>
      <td className="py-1">{children}</td>
      <td className="reading text-right">{tally.runs}</td>
      <td className="reading text-right">
        {tally.inside} of {tally.runs}
      </td>
      <td className="reading text-right">{signed(tally.mean_miss_rpm)}</td>
      <td className="reading text-right">{figure(tally.rms_miss_rpm, 0)}</td>
    </tr>
  )
}
