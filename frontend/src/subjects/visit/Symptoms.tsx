// The complaint picked from symptoms: those its words suggest stand first.
import { useId } from 'react'
import { useDesk, useVisitField } from '../../api/visit/desk'
import { Remark } from '../../parts/field/Field'
import { useWords } from '../kinds/guide'

export function Symptoms() {
  const { visit } = useDesk()
  const words = useWords()
  const id = useId()
  const saved = useVisitField({
    station: 'intake',
    path: '/intake',
    label: 'Symptoms',
    place: 'symptoms',
    field: 'symptoms',
    show: (value) => JSON.stringify(value ?? []),
    read: (each) => each.intake.symptoms,
  })
  const picked: string[] = JSON.parse(saved.text || '[]')
  const turn = (key: string) =>
    saved.choose(picked.includes(key) ? picked.filter((each) => each !== key) : [...picked, key])
  const near = (key: string) => visit.strip.suggested.includes(key) || picked.includes(key)
  const all = words?.symptoms ?? []
  const chip = (each: { key: string; name: string }) => (
    <button
      key={each.key}
      type="button"
      aria-pressed={picked.includes(each.key)}
      disabled={saved.closed}
      data-place={each === all.find((other) => near(other.key)) ? 'symptoms' : undefined}
      onClick={() => turn(each.key)}
      className="min-h-11 rounded-md border-2 border-line px-2.5 text-sm font-semibold hover:border-ink aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper"
    >
      {each.name}
    </button>
  )
  return (
    <fieldset className="min-w-0" aria-describedby={`${id}-remark`}>
      <legend className="sr-only">Symptoms</legend>
      <div className="flex flex-wrap items-center gap-1.5">
        {all.filter((each) => near(each.key)).map(chip)}
        <details className="min-w-0 open:basis-full">
          <summary className="flex min-h-11 cursor-pointer items-center text-sm text-quiet underline underline-offset-4">
            {picked.length > 0 ? 'more symptoms' : 'pick its symptoms: they are weighed against what is found'}
          </summary>
          <div className="flex flex-wrap gap-1.5">{all.filter((each) => !near(each.key)).map(chip)}</div>
        </details>
      </div>
      <Remark saved={saved} id={`${id}-remark`} />
    </fieldset>
  )
}
