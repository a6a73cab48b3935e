// Worth it or not: what putting a bare clutch right takes, beside a used one and a new one.
import { useNavigate } from 'react-router'
import { useDraft } from '../../api/outbox/draft'
import { subjectOf, useDesk } from '../../api/visit/desk'
import { Button } from '../../parts/Button'
import { Heading } from '../../parts/Caution'
import { NumberField } from '../../parts/field/Field'

export function Worth() {
  const { visit, closed } = useDesk()
  const go = useNavigate()
  const [, setReason] = useDraft(`${subjectOf(visit)} unrepaired`)
  const { worth } = visit.strip
  if (!worth) return null
  return (
    <section aria-label="Worth it or not" className="print:hidden" data-worth>
      <Heading aside="parts and minutes against another clutch">Worth it or not</Heading>
      <ul className="space-y-0.5">
        {worth.words.map((words) => (
          <li key={words}>{words}.</li>
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <div className="w-36">
          <Price field="used_price" label="A used one costs" />
        </div>
        <div className="w-36">
          <Price field="new_price" label="A new one costs" />
        </div>
        {!closed && (
          <Button
            look="plain"
            onClick={() => {
              setReason(`returned, not worth it. ${worth.words.join('. ')}`.slice(0, 500))
              go(`/visits/${visit.id}/hand-over#unrepaired`)
            }}
          >
            Return it: not worth it
          </Button>
        )}
      </div>
    </section>
  )
}

function Price({ field, label }: { field: 'used_price' | 'new_price'; label: string }) {
  return (
    <NumberField
      station="strip"
      path="/strip"
      label={label}
      called={label}
      place={field}
      field={field}
      read={(visit) => visit.strip.worth?.[field]}
    />
  )
}
