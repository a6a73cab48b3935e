// How the secondary spring is wound: which way the top turns, drawn from the helix's end, and the holes it stands in.
import { useDesk } from '../../api/visit/desk'
import { SavedChoice } from '../../parts/field/Choice'
import { NumberField, TextField } from '../../parts/field/Field'
import { told } from '../../parts/format'

const TURNS = [
  { value: 'anticlockwise', name: '↺ Anticlockwise' },
  { value: 'clockwise', name: '↻ Clockwise' },
] as const

const AT = { station: 'rebuild', path: '/rebuild' }

export function Wind() {
  const { visit } = useDesk()
  const { wind } = visit.rebuild
  return (
    <section aria-label="Wind of the spring" className="grid gap-4 sm:grid-cols-[13rem_minmax(0,1fr)]">
      <TopView closes={wind.closes} wound={wind.wound} to={wind} />
      <div className="min-w-0 space-y-2">
        <p className="text-sm leading-snug text-quiet">
          With the spring out, push the sheave shut on the helix: it turns as it closes. The top of the spring is turned
          that same way, so that it pushes the helix against its followers.
        </p>
        <div>
          <p className="text-sm">Seen from the helix, the sheave closes turning</p>
          <SavedChoice
            {...AT}
            label="The sheave closes turning"
            place="closes"
            field="closes"
            compact
            options={TURNS}
            none={{ name: 'Not seen', value: '' }}
            read={(now) => now.rebuild.wind.closes}
          />
        </div>
        <div>
          <p className="text-sm">The top was turned</p>
          <SavedChoice
            {...AT}
            label="The top was turned"
            place="wound"
            field="wound"
            compact
            options={TURNS}
            none={{ name: 'Not wound yet', value: '' }}
            read={(now) => now.rebuild.wind.wound}
          />
        </div>
        <div className="grid grid-cols-3 gap-2">
          <TextField
            {...AT}
            label="Sheave hole"
            place="sheave_hole"
            field="sheave_hole"
            limit={12}
            read={(now) => now.rebuild.wind.sheave_hole}
          />
          <TextField
            {...AT}
            label="Helix hole"
            place="helix_hole"
            field="helix_hole"
            limit={12}
            read={(now) => now.rebuild.wind.helix_hole}
          />
          <NumberField
            {...AT}
            label="Wound"
            called="Spring wound"
            unit="deg"
            place="wound_deg"
            field="wound_deg"
            read={(now) => now.rebuild.wind.wound_deg}
          />
        </div>
        {(wind.to_sheave || wind.to_deg != null) && (
          <p className="text-sm">
            <span className="text-quiet">The set-up says </span>
            <b>
              {wind.to_sheave && `${wind.to_sheave} in the sheave, ${wind.to_helix} in the helix`}
              {wind.to_deg != null && ` · ${told(wind.to_deg, 'deg')}`}
            </b>
          </p>
        )}
        {wind.noted && (
          <p className="text-sm">
            <span className="text-quiet">As it came apart </span>“{wind.noted}”
          </p>
        )}
      </div>
    </section>
  )
}

interface TopViewProps {
  closes: string
  wound: string
  to: { to_sheave: string; to_helix: string }
}

const R = 66

/** An arrow round the middle, the way it turns. */
function Arrow({ radius, turn, className }: { radius: number; turn: string; className: string }) {
  const way = turn === 'clockwise' ? 1 : -1
  const at = (deg: number) => {
    const angle = ((deg - 90) * Math.PI) / 180
    return [radius * Math.cos(angle), radius * Math.sin(angle)] as const
  }
  const [x0, y0] = at(-70 * way)
  const [x1, y1] = at(70 * way)
  const tip = ((70 * way - 90 + 90 * way) * Math.PI) / 180
  const side = (turned: number) => `${x1 + 12 * Math.cos(tip + turned)},${y1 + 12 * Math.sin(tip + turned)}`
  return (
    <g className={className}>
      <path
        d={`M${x0},${y0}A${radius},${radius} 0 0 ${way > 0 ? 1 : 0} ${x1},${y1}`}
        fill="none"
        stroke="currentColor"
        strokeWidth="5"
      />
      <path
        d={`M${side(Math.PI - 0.6)}L${x1},${y1}L${side(Math.PI + 0.6)}`}
        fill="none"
        stroke="currentColor"
        strokeWidth="5"
      />
    </g>
  )
}

function TopView({ closes, wound, to }: TopViewProps) {
  const wrong = closes !== '' && wound !== '' && closes !== wound
  const words = closes
    ? `The sheave closes turning ${closes}${wound ? `; the top was turned ${wound}${wrong ? ': the wrong way' : ''}` : ''}`
    : 'Not said yet which way the sheave closes'
  return (
    <figure>
      <svg viewBox="-90 -94 180 188" className="w-full max-w-52" role="img" aria-label={words}>
        <circle r={R + 18} className="fill-tray stroke-alu-deep" strokeWidth="1.5" />
        <circle r={R - 14} className="fill-alu stroke-alu-deep" strokeWidth="1.5" />
        <circle r="14" className="fill-alu-deep" />
        {[90, 210, 330].map((deg) => (
          <path
            key={deg}
            d={`M0,-18L8,${-(R - 16)}H-8Z`}
            transform={`rotate(${deg})`}
            className="fill-tray stroke-alu-deep"
          />
        ))}
        {closes && <Arrow radius={R + 4} turn={closes} className="text-ink" />}
        {wound && <Arrow radius={34} turn={wound} className={wrong ? 'text-replace' : 'text-keep'} />}
        {to.to_helix && (
          <text y={4} textAnchor="middle" className="reading fill-card text-xs font-bold">
            {to.to_helix}
          </text>
        )}
      </svg>
      <figcaption className="text-center text-xs leading-snug text-quiet">
        From the helix's end. Outer arrow: the sheave as it closes. Inner: the top as it was turned.
        {wrong && <b className="block text-replace">They must turn the same way.</b>}
      </figcaption>
    </figure>
  )
}
