// Whether a number was recorded wrong, or the machine was changed.

const HOWS = [
  { value: 'correction', name: 'It was always so', words: 'The record was wrong: put right, no change.' },
  { value: 'change', name: 'It was changed', words: 'Another part or setting: recorded with its reason.' },
] as const

export type How = (typeof HOWS)[number]['value']

export function HowChoice({ how, choose }: { how: How; choose: (how: How) => void }) {
  return (
    <fieldset className="grid grid-cols-2 gap-2">
      <legend className="mb-1 text-sm text-quiet">Which of the two is it?</legend>
      {HOWS.map((each) => (
        <label
          key={each.value}
          className={`cursor-pointer rounded-md border-2 p-2.5 focus-within:outline-3 focus-within:outline-signal ${
            how === each.value ? 'border-signal bg-card' : 'border-line'
          }`}
        >
          <input
            type="radio"
            name="how"
            value={each.value}
            checked={how === each.value}
            onChange={() => choose(each.value)}
            className="sr-only"
          />
          <b>{each.name}</b>
          <span className="block text-sm text-quiet">{each.words}</span>
        </label>
      ))}
    </fieldset>
  )
}
