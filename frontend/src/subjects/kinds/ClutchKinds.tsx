// Of which kind each clutch is: asked wherever the work meets a clutch of which nobody has said it.
import { useDesk } from '../../api/visit/desk'
import { SavedSelect } from '../../parts/field/Choice'

const LIST = 'mt-1 h-12 w-full rounded-md border-2 bg-card px-2 text-base text-ink'

export function ClutchKinds() {
  const { kinds } = useDesk().visit
  const fields = [
    { field: 'primary_kind', side: 'primary', label: 'Kind of primary', options: kinds.primaries },
    { field: 'secondary_kind', side: 'secondary', label: 'Kind of secondary', options: kinds.secondaries },
  ] as const
  return (
    <div className="mb-3 grid gap-3 border-b border-line pb-3 sm:grid-cols-2">
      {fields
        .filter((each) => kinds.sides.includes(each.side))
        .map(({ field, label, options }) => (
          <SavedSelect
            key={field}
            label={label}
            place={field}
            field={field}
            station="intake"
            path="/kinds"
            read={(visit) => visit.kinds[field] ?? null}
            send={(key) => key || null}
            options={[
              { value: '', name: 'kind not stated' },
              ...options.map((kind) => ({ value: kind.key, name: kind.name })),
            ]}
            className={`${LIST} ${kinds[field] ? 'border-line' : 'border-watch'}`}
          />
        ))}
    </div>
  )
}
