// What to look at in the time there is: the readings that narrow most together.
import type { LookView } from '../../api/server/client'
import { figure } from '../../parts/format'

interface BestProps {
  look: LookView
  minutes: number
  onMinutes: (minutes: number) => void
  onPick: (reading: string) => void
}

const MINUTES = [5, 10, 20, 40]

export function Best({ look, minutes, onMinutes, onPick }: BestProps) {
  const names = new Map(look.lines.map((line) => [line.key, line.name]))
  const { best } = look
  return (
    <div data-best className="mb-2 flex flex-wrap items-center gap-x-2 text-sm">
      <label className="flex items-center gap-1.5 font-semibold">
        In
        <select
          value={minutes}
          onChange={(event) => onMinutes(Number(event.target.value))}
          className="h-11 rounded-md border-2 border-line bg-card px-1.5"
        >
          {MINUTES.map((each) => (
            <option key={each} value={each}>
              {each} min
            </option>
          ))}
        </select>
      </label>
      {best.readings.length === 0 ? (
        <span className="text-quiet">nothing left that narrows it much</span>
      ) : (
        <>
          {best.readings.map((key, index) => (
            <span key={key} className="flex items-center gap-x-2">
              {index > 0 && <span aria-hidden="true">·</span>}
              <button
                type="button"
                onClick={() => onPick(key)}
                className="min-h-11 min-w-11 text-left underline underline-offset-4"
              >
                {names.get(key)}
              </button>
            </span>
          ))}
          <span className="text-quiet">
            leave engagement ± <b className="reading text-ink">{figure(best.engagement_sd_rpm, 0)}</b>, shift ±{' '}
            <b className="reading text-ink">{figure(best.shift_sd_rpm, 0)}</b> rpm
          </span>
        </>
      )}
    </div>
  )
}
