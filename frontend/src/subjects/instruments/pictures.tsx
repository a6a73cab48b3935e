// The bench's devices, drawn as this bench has them.
const METAL = 'fill-alu stroke-alu-deep'
const BODY = 'fill-ink'
const GLASS = 'fill-card'

/** What stands on a display, to read it from an arm's length. */
function Display({ x, y, width, text }: { x: number; y: number; width: number; text: string }) {
  return (
    <>
      <rect x={x} y={y} width={width} height="18" rx="2" className={GLASS} />
      <text x={x + width / 2} y={y + 14} textAnchor="middle" fontSize="14" className="reading fill-ink font-bold">
        {text}
      </text>
    </>
  )
}

const DRAWN: Record<string, (text: string) => React.ReactNode> = {
  caliper: (text) => (
    <>
      <path d="M14 14H226V28H14Z M14 28H26V62L18 70H14Z" className={METAL} />
      {Array.from({ length: 22 }, (_, each) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a rule's marks never move
        <path key={each} d={`M${90 + each * 6} 28v-${each % 5 ? 4 : 8}`} className="stroke-alu-deep" />
      ))}
      <path d="M96 28H108V70H104L96 62Z" className={METAL} />
      <path d="M34 40H90L80 62H44Z" className="fill-belt" />
      <rect x="92" y="8" width="96" height="30" rx="5" className={BODY} />
      <Display x={98} y={14} width={84} text={text} />
    </>
  ),
  'feeler gauge': (text) => (
    <>
      {[-26, -12, 2, 16].map((turn) => (
        <rect
          key={turn}
          x="76"
          y="36"
          width="120"
          height="7"
          rx="3"
          className={METAL}
          transform={`rotate(${turn} 84 40)`}
        />
      ))}
      <rect x="34" y="30" width="62" height="20" rx="9" className={BODY} />
      <text x="64" y="70" textAnchor="middle" fontSize="13" className="reading fill-ink font-bold">
        {text}
      </text>
    </>
  ),
  scale: (text) => (
    <>
      <path d="M70 30H170L160 38H80Z" className={METAL} />
      <path d="M112 38H128V46H112Z" className={METAL} />
      <path d="M62 46H178L190 74H50Z" className={BODY} />
      <Display x={84} y={51} width={72} text={text} />
      <path d="M92 26C104 12 132 12 146 24" fill="none" strokeWidth="7" className="stroke-alu-deep" />
      <circle cx="94" cy="26" r="5" className="fill-signal" />
    </>
  ),
  'spring tester': (text) => (
    <>
      <path d="M60 8H150V16H60Z M60 64H150V72H60Z M68 16H76V64H68Z M134 16H142V64H134Z" className={METAL} />
      <path d="M84 24H126V31H84Z" className={METAL} />
      <path d="M88 34L122 39L88 44L122 49L88 54L122 59" fill="none" strokeWidth="4" className="stroke-alu-deep" />
      <path d="M105 12V24" strokeWidth="6" className="stroke-signal" />
      <rect x="156" y="26" width="62" height="28" rx="4" className={BODY} />
      <Display x={160} y={31} width={54} text={text} />
    </>
  ),
  'torque wrench': (text) => (
    <>
      <path d="M150 20L40 62" strokeWidth="11" className="stroke-alu-deep" />
      <path d="M74 49L40 62" strokeWidth="15" className="stroke-ink" />
      <circle cx="160" cy="17" r="13" className={METAL} />
      <path d="M154 13L160 10L166 13V20L160 23L154 20Z" className={GLASS} />
      <text x="150" y="66" textAnchor="middle" fontSize="14" className="reading fill-ink font-bold">
        {text}
      </text>
    </>
  ),
  tachometer: (text) => (
    <>
      <circle cx="120" cy="40" r="33" className={BODY} />
      <circle cx="120" cy="40" r="28" className={GLASS} />
      <path d="M98 52A26 26 0 1 1 142 52" fill="none" strokeWidth="3" className="stroke-alu-deep" />
      <path d="M120 42L136 22" strokeWidth="3" className="stroke-signal" />
      <text x="120" y="61" textAnchor="middle" fontSize="13" className="reading fill-ink font-bold">
        {text}
      </text>
    </>
  ),
  thermometer: (text) => (
    <>
      <path d="M76 14H166L160 34H124L112 72H90L100 34H76Z" className={METAL} />
      <rect x="84" y="14" width="60" height="20" rx="3" className={BODY} />
      <Display x={88} y={15} width={52} text={text} />
      <path d="M170 24H226" strokeWidth="2" strokeDasharray="5 4" className="stroke-signal" />
    </>
  ),
  'run logger': () => (
    <>
      <rect x="66" y="10" width="92" height="56" rx="7" className={BODY} />
      <rect x="74" y="17" width="76" height="30" rx="2" className={GLASS} />
      <path d="M78 42L94 42L102 24L146 26" fill="none" strokeWidth="3" className="stroke-signal" />
      <path d="M158 50C186 50 180 20 206 20" fill="none" strokeWidth="3" className="stroke-alu-deep" />
      <rect x="206" y="14" width="14" height="12" rx="2" className={METAL} />
      <circle cx="84" cy="57" r="4" className="fill-alu" />
    </>
  ),
  'alignment bar': (text) => (
    <>
      <path d="M30 46H210V56H30Z" className={BODY} />
      <path d="M46 18H90V26H46Z M46 32H90V40H46Z M140 16H196V24H140Z M140 32H196V40H140Z" className={METAL} />
      <path d="M168 76V60M162 66L168 59L174 66" fill="none" strokeWidth="2.5" className="stroke-signal" />
      <text x="110" y="74" textAnchor="middle" fontSize="13" className="reading fill-ink font-bold">
        {text}
      </text>
    </>
  ),
  'angle gauge': (text) => (
    <>
      <path d="M60 64A60 60 0 0 1 180 64Z" className={METAL} />
      {[30, 60, 90, 120, 150].map((turn) => (
        <path key={turn} d="M66 64H74" className="stroke-alu-deep" transform={`rotate(${turn} 120 64)`} />
      ))}
      <path d="M120 64L158 22" strokeWidth="4" className="stroke-signal" />
      <text x="120" y="58" textAnchor="middle" fontSize="13" className="reading fill-ink font-bold">
        {text}
      </text>
    </>
  ),
}

/** @example <DevicePicture device="caliper" text="35.42" /> */
export function DevicePicture({ device, text = '' }: { device: string; text?: string }) {
  return (
    <svg viewBox="0 0 240 80" className="h-full w-full" aria-hidden="true">
      {DRAWN[device]?.(text)}
    </svg>
  )
}
