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
      {scores && <Odds groups={scores.odds} />}
      {scores && scores.words.length > 0 && (
        <p className="mt-3 text-sm" data-words>
          Riders’ words against the way the prediction pointed:{' '}
          {scores.words.map((each) => `${each.place} ${each.agreed} of ${each.count}`).join(', ')}.
        </p>
      )}
    </section>
  )
}

type Group = Awaited<ReturnType<typeof ask>>['odds'][number]

const share = (part: number) => `${figure(100 * part, 0)} %`

/** Answers taken up: the odds they were taken at, and how many landed. */
function Odds({ groups }: { groups: Group[] }) {
  if (groups.every((each) => each.count === 0)) return null
  return (
    <>
      <h3 className="mt-4 text-sm font-semibold">
        Answers taken up <span className="font-normal text-quiet">landed in both windows at their first run</span>
      </h3>
      <table className="w-full text-sm" aria-label="Odds and outcomes">
        <thead className="text-right text-quiet">
          <tr>
            <th className="text-left font-normal">odds</th>
            <th className="font-normal">ridden</th>
            <th className="font-normal">mean odds</th>
            <th className="font-normal">landed</th>
            <th className="pl-2 font-normal">95 %</th>
          </tr>
        </thead>
        <tbody>
          {groups.map((group) => (
            <tr key={group.low} className="border-t border-line" data-odds={group.high}>
              <td className="py-1">
                {share(group.low)} to {share(group.high)}
              </td>
              <td className="reading text-right">{group.count}</td>
              {group.landed == null || group.odds == null || group.landed_low == null || group.landed_high == null ? (
                <td colSpan={3} className="text-right text-quiet">
                  shown from five on
                </td>
              ) : (
                <>
                  <td className="reading text-right">{share(group.odds)}</td>
                  <td className="reading text-right">
                    {group.landed} of {group.count}
                  </td>
                  <td className="reading pl-2 text-right">
                    {share(group.landed_low)}–{share(group.landed_high)}
                  </td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </>
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
