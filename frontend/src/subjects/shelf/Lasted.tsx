// How long each make lasted, those still running counted, beside its maker's word.
import { useQuery } from '@tanstack/react-query'
import { scaleLinear } from 'd3-scale'
import { api, must } from '../../api/server/client'
import { inShown } from '../../api/server/units'
import { Heading } from '../../parts/Caution'
import { figure, told, unitName } from '../../parts/format'

const SIZE = { width: 260, height: 110, left: 34, bottom: 22, top: 8, right: 8 }

export function Lasted() {
  const lasted = useQuery({ queryKey: ['lives'], queryFn: () => must(api.GET('/api/lasted')) }).data?.lasted
  if (!lasted || lasted.length === 0) return null
  return (
    <section aria-label="How long they lasted">
      <Heading aside="those still running counted; the band is 95 %">How long they lasted</Heading>
      <ul className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3 xl:grid-cols-4">
        {lasted.map((each) => (
          <Make key={each.kind + each.make} lasted={each} />
        ))}
      </ul>
    </section>
  )
}

type Make = NonNullable<Awaited<ReturnType<typeof ask>>>['lasted'][number]
const ask = () => must(api.GET('/api/lasted'))

function Make({ lasted }: { lasted: Make }) {
  const { survival, unit, said } = lasted
  const ended = survival.lives - survival.running
  const words = [
    `${survival.lives} ${survival.lives === 1 ? 'life' : 'lives'}, ${survival.running} still running`,
    survival.median == null ? 'more than half still run' : `half were out by ${told(survival.median, unit)}`,
  ].join('; ')
  return (
    <li className="rounded-md border border-line bg-card p-3 text-sm" data-lasted={lasted.kind}>
      <b className="first-letter:uppercase">{lasted.kind}</b>
      <span className="text-quiet"> {lasted.make || 'make not said'}</span>
      <Curve lasted={lasted} words={words} />
      <p>{words}.</p>
      {said != null && (
        <p className="text-quiet">
          Its maker says {told(said, unit)}
          {lasted.share_at_said != null && ended > 0
            ? `: ${figure(lasted.share_at_said * 100, 0)} % came so far here`
            : ': none has come so far here'}
          .
        </p>
      )}
    </li>
  )
}

function Curve({ lasted, words }: { lasted: Make; words: string }) {
  const { survival, unit, said } = lasted
  const last = Math.max(...survival.steps.map((step) => step.use), said ?? 0, 1)
  const x = scaleLinear([0, inShown(last, unit)], [SIZE.left, SIZE.width - SIZE.right])
  const y = scaleLinear([0, 1], [SIZE.height - SIZE.bottom, SIZE.top])
  const at = (use: number) => x(inShown(use, unit))
  const stairs = (of: (step: Make['survival']['steps'][number]) => number) => {
    let way = `M${x(0)},${y(1)}`
    for (const step of survival.steps) way += `H${at(step.use)}V${y(of(step))}`
    return way
  }
  let back = ''
  const steps = [...survival.steps].reverse()
  steps.forEach((step, index) => {
    const before = steps[index + 1]
    back += `L${at(step.use)},${y(step.low)}H${before ? at(before.use) : x(0)}`
  })
  return (
    <svg
      width="100%"
      viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
      role="img"
      aria-label={`Share still running: ${words}`}
    >
      {[0, 0.5, 1].map((share) => (
        <g key={share}>
          <line x1={SIZE.left} x2={SIZE.width - SIZE.right} y1={y(share)} y2={y(share)} className="stroke-line" />
          <text x={SIZE.left - 4} y={y(share) + 4} textAnchor="end" className="reading fill-quiet text-[12px]">
            {share * 100}
          </text>
        </g>
      ))}
      {x.ticks(3).map((tick) => (
        <text key={tick} x={x(tick)} y={SIZE.height - 5} textAnchor="middle" className="reading fill-quiet text-[12px]">
          {figure(tick, 0)}
        </text>
      ))}
      <path d={`${stairs((step) => step.high)}${back}Z`} className="fill-signal" opacity="0.14" />
      <path d={stairs((step) => step.share)} className="fill-none stroke-signal" strokeWidth="2.5" data-survival />
      {said != null && (
        <line x1={at(said)} x2={at(said)} y1={SIZE.top} y2={y(0)} className="stroke-ink" strokeDasharray="3 3" />
      )}
      <title>{`per cent still running against ${unitName(unit)}`}</title>
    </svg>
  )
}
