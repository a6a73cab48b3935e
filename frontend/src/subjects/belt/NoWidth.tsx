// A belt that has no width: how it failed, and everywhere its pieces go, each asked before the machine leaves.
import { useDesk } from '../../api/visit/desk'
import { SavedChoice, SavedSelect } from '../../parts/field/Choice'
import { TextField } from '../../parts/field/Field'
import { useWords } from '../kinds/guide'

const AT = { station: 'belt', path: '/belt' }

const WHYS = [
  { value: 'broke', name: 'Broke' },
  { value: 'lost cord', name: 'Lost its cord' },
  { value: 'in pieces', name: 'In pieces' },
  { value: 'missing', name: 'Missing' },
] as const

const CAUSES = [
  { value: 'found', name: 'Found' },
  { value: 'not found', name: 'Not found' },
  { value: 'not looked for', name: 'Not looked for' },
] as const

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)

export function NoWidth() {
  const { belt } = useDesk().visit
  const words = useWords()
  return (
    <div className="space-y-3">
      <div>
        <p className="mb-1 text-sm text-quiet">Nothing to measure?</p>
        <SavedChoice
          {...AT}
          label="Belt without a width"
          place="no_width"
          field="no_width"
          compact
          options={WHYS}
          none={{ name: 'It has a width', value: null }}
          read={(each) => each.belt.no_width ?? null}
        />
      </div>
      {belt.no_width && (
        <>
          <SavedSelect
            {...AT}
            label="How it failed"
            place="failure"
            field="failure"
            options={[{ key: '', name: 'not said yet' }, ...(words?.failures ?? [])].map((each) => ({
              value: each.key,
              name: each.name,
            }))}
            send={(value) => value}
            className="mt-1 h-12 w-full rounded-md border-2 border-line bg-card px-2 text-base"
            read={(each) => each.belt.failure}
          />
          {belt.searches.map((search) => (
            <div key={search.key} className="grid items-center gap-x-3 gap-y-1 sm:grid-cols-[1fr_1.4fr]">
              <span className="text-sm first-letter:uppercase">{search.name}</span>
              <SavedChoice
                {...AT}
                label={search.name}
                place={search.key}
                field={search.key}
                compact
                options={Object.entries(words?.searched[search.key] ?? {}).map(([value, name]) => ({
                  value,
                  name: capital(name),
                }))}
                none={{ name: 'Not asked', value: '' }}
                read={(each) => each.belt.searches.find((other) => other.key === search.key)?.found ?? ''}
              />
            </div>
          ))}
          <p className="mb-1 text-sm text-quiet">What caused it?</p>
          <SavedChoice
            {...AT}
            label="Cause of the failure"
            place="cause"
            field="cause"
            compact
            options={CAUSES}
            none={{ name: 'Not said', value: '' }}
            read={(each) => each.belt.cause}
          />
          {belt.cause === 'found' && (
            <TextField
              {...AT}
              label="What it was"
              place="cause_words"
              field="cause_words"
              limit={500}
              read={(each) => each.belt.cause_words}
            />
          )}
        </>
      )}
    </div>
  )
}
