// How a reading is taken: where the jaws go, in one drawing. What is measured is in the signal colour.

const PART = 'fill-alu stroke-alu-deep'
const TOOL = 'fill-card stroke-ink'

/** Between two points, with an arrow at each end. */
function Span({ x1, y1, x2, y2 }: { x1: number; y1: number; x2: number; y2: number }) {
  const length = Math.hypot(x2 - x1, y2 - y1)
  const angle = (Math.atan2(y2 - y1, x2 - x1) * 180) / Math.PI
  return (
    <g transform={`translate(${x1} ${y1}) rotate(${angle})`} className="fill-signal stroke-signal">
      <line x2={length} strokeWidth="2.4" />
      <path d="M0 0 8-4V4Z" strokeWidth="0" />
      <path d={`M${length} 0 ${length - 8}-4V4Z`} strokeWidth="0" />
    </g>
  )
}

/** A caliper's two jaws, open between x and x + width. */
function Jaws({ x, y, width, deep = 34 }: { x: number; y: number; width: number; deep?: number }) {
  return (
    <g className={TOOL} strokeWidth="1.6">
      <rect x={x - 26} y={y - 12} width={width + 92} height="12" rx="2" />
      <path d={`M${x} ${y}V${y + deep}L${x - 9} ${y + deep - 10}V${y}Z`} />
      <path d={`M${x + width} ${y}V${y + deep}L${x + width + 9} ${y + deep - 10}V${y}Z`} />
      <rect x={x + width - 4} y={y - 16} width="34" height="20" rx="3" />
    </g>
  )
}

const Wheel = ({ x, y, r, hole = 6 }: { x: number; y: number; r: number; hole?: number }) => (
  <g>
    <circle cx={x} cy={y} r={r} className={PART} strokeWidth="1.6" />
    <circle cx={x} cy={y} r={hole} className="fill-ink" />
  </g>
)

const Scale = ({ x, width = 64 }: { x: number; width?: number }) => (
  <g className={TOOL} strokeWidth="1.6">
    <rect x={x} y="92" width={width} height="6" rx="2" />
    <path d={`M${x + 8} 98H${x + width - 8}L${x + width} 122H${x}Z`} />
    <rect x={x + width / 2 - 14} y="105" width="28" height="11" rx="2" className="fill-ink" />
  </g>
)

const ARM = 'M0 0C10-24 34-34 62-28L60-17C40-22 24-12 12 6Z'

const DRAWINGS: Record<string, React.ReactNode> = {
  'belt-width': (
    <>
      <path d="M62 66H138L126 112H74Z" className={PART} strokeWidth="1.6" />
      {[80, 92, 104, 116].map((x) => (
        <circle key={x} cx={x + 2} cy="82" r="3" className="fill-ink" />
      ))}
      <Jaws x={62} y={40} width={76} deep={50} />
      <Span x1={62} y1={60} x2={138} y2={60} />
    </>
  ),
  'belt-round': (
    <>
      <circle cx="100" cy="72" r="44" fill="none" className="stroke-ink" strokeWidth="10" />
      <circle cx="100" cy="72" r="52" fill="none" className="stroke-signal" strokeWidth="2.6" />
      <path d="M100 20H150V30H100Z" className={TOOL} strokeWidth="1.4" />
      <path d="M112 20v5m10-5v5m10-5v5m10-5v5" className="stroke-ink" />
    </>
  ),
  'centre-distance': (
    <>
      <Wheel x={56} y={78} r={34} hole={10} />
      <Wheel x={146} y={78} r={44} hole={10} />
      <rect x="30" y="20" width="142" height="9" rx="2" className={TOOL} strokeWidth="1.6" />
      <path d="M46 29V78M156 29V78" className="stroke-ink" strokeDasharray="3 3" />
      <Span x1={46} y1={40} x2={156} y2={40} />
    </>
  ),
  'over-belt': (
    <>
      <Wheel x={100} y={84} r={30} hole={8} />
      <circle cx="100" cy="84" r="35" fill="none" className="stroke-ink" strokeWidth="8" />
      <Jaws x={61} y={26} width={78} deep={62} />
      <Span x1={61} y1={48} x2={139} y2={48} />
    </>
  ),
  'side-gap': (
    <>
      <path d="M40 20H56L84 124H40ZM160 20H144L116 124H160Z" className={PART} strokeWidth="1.6" />
      <path d="M70 56H118L110 100H82Z" className="fill-ink" />
      <path d="M128 24 118 108" className="stroke-signal" strokeWidth="4" />
      <rect
        x="124"
        y="8"
        width="16"
        height="20"
        rx="3"
        className={TOOL}
        strokeWidth="1.4"
        transform="rotate(7 132 18)"
      />
    </>
  ),
  'angle-gauge': (
    <>
      <path d="M100 20 148 124H100Z" className={PART} strokeWidth="1.6" />
      <path d="M100 12V132" className="stroke-ink" strokeDasharray="4 4" />
      <path d="M101 19 152 130" className="stroke-ink" strokeWidth="4" />
      <path d="M100 70A50 50 0 0 0 121 65" fill="none" className="stroke-signal" strokeWidth="3" />
      <path d="M60 96A40 40 0 0 1 140 96Z" className={TOOL} strokeWidth="1.4" transform="translate(-32 14) scale(.7)" />
    </>
  ),
  travel: (
    <>
      <rect x="30" y="56" width="22" height="62" className={PART} strokeWidth="1.6" />
      <rect x="112" y="56" width="22" height="62" className={PART} strokeWidth="1.6" />
      <rect x="82" y="56" width="22" height="62" className="fill-none stroke-alu-deep" strokeDasharray="4 3" />
      <rect x="20" y="84" width="150" height="6" className="fill-ink" />
      <rect x="52" y="26" width="118" height="12" rx="2" className={TOOL} strokeWidth="1.6" />
      <path d="M52 32H112V56" fill="none" className="stroke-ink" strokeWidth="2" />
      <Span x1={82} y1={48} x2={112} y2={48} />
    </>
  ),
  scale: (
    <>
      <path d={ARM} transform="translate(72 88)" className={PART} strokeWidth="1.6" />
      <Scale x={64} width={76} />
      <path d="M92 110H112" className="stroke-signal" strokeWidth="3" />
    </>
  ),
  'scale-roller': (
    <>
      <circle cx="102" cy="76" r="16" className={PART} strokeWidth="1.6" />
      <circle cx="102" cy="76" r="7" className="fill-card stroke-ink" />
      <Scale x={64} width={76} />
      <path d="M92 110H112" className="stroke-signal" strokeWidth="3" />
    </>
  ),
  'stamp-helix': (
    <>
      <path d="M34 118V88L72 40V88L110 40V88L148 40 168 64V118Z" className={PART} strokeWidth="1.6" />
      <circle cx="100" cy="98" r="17" fill="none" className="stroke-signal" strokeWidth="3" />
      <path d="M113 110 132 128" className="stroke-signal" strokeWidth="5" />
      <path
        d="M96 90 91 100H99M97 96V106M107 90 102 100H110M108 96V106"
        fill="none"
        className="stroke-ink"
        strokeWidth="2"
      />
    </>
  ),
  'two-weighings': (
    <>
      <path d="M34 122V94H54V122Z" className={TOOL} strokeWidth="1.6" />
      <path d={ARM} transform="translate(42 90) rotate(22) scale(1.6)" className={PART} strokeWidth="1.1" />
      <circle cx="44" cy="88" r="4" className="fill-ink" />
      <Scale x={112} />
      <path d="M134 110H154" className="stroke-signal" strokeWidth="3" />
      <Span x1={44} y1={36} x2={142} y2={36} />
      <path d="M44 40V82M142 40V88" className="stroke-ink" strokeDasharray="3 3" />
    </>
  ),
  stamp: (
    <>
      <path d={ARM} transform="translate(40 108) scale(2)" className={PART} strokeWidth="0.9" />
      <circle cx="112" cy="62" r="20" fill="none" className="stroke-signal" strokeWidth="3" />
      <path d="M126 77 148 100" className="stroke-signal" strokeWidth="5" />
      <path d="M104 71 112 52 120 71M107 65H117" fill="none" className="stroke-ink" strokeWidth="3" />
    </>
  ),
  pivot: (
    <>
      <Wheel x={100} y={84} r={44} hole={7} />
      <circle cx="136" cy="84" r="5" className="fill-ink" />
      <Jaws x={100} y={36} width={36} deep={42} />
      <Span x1={100} y1={58} x2={136} y2={58} />
    </>
  ),
  swing: (
    <>
      <rect x="26" y="40" width="14" height="86" className={PART} strokeWidth="1.6" />
      <rect x="40" y="100" width="40" height="20" className="fill-signal" />
      <rect x="80" y="40" width="14" height="86" className={PART} strokeWidth="1.6" />
      <path d={ARM} transform="translate(94 76) rotate(14)" className={PART} strokeWidth="1.4" />
      <circle cx="94" cy="76" r="4" className="fill-ink" />
      <path d="M94 76H160" className="stroke-ink" strokeDasharray="4 3" />
      <path d="M136 76A42 42 0 0 0 130 54" fill="none" className="stroke-signal" strokeWidth="3" />
    </>
  ),
  'roller-path': (
    <>
      <rect x="26" y="40" width="14" height="86" className={PART} strokeWidth="1.6" />
      <rect x="40" y="100" width="34" height="20" className="fill-signal" />
      <path d="M74 40H90L112 126H74Z" className={PART} strokeWidth="1.6" />
      <circle cx="112" cy="70" r="14" className="fill-alu-deep stroke-ink" />
      <path d="M20 126H170" className="stroke-ink" strokeDasharray="4 3" />
      <Span x1={112} y1={126} x2={112} y2={72} />
    </>
  ),
  'spring-tester': (
    <>
      <path d="M58 14H142V24H58ZM58 116H142V126H58Z" className={TOOL} strokeWidth="1.6" />
      <path d="M66 14V126M134 14V126" className="stroke-ink" strokeWidth="3" />
      <path
        d="M82 30 118 40 82 50 118 60 82 70 118 80 82 90 118 100 82 110"
        fill="none"
        className="stroke-alu-deep"
        strokeWidth="5"
      />
      <Span x1={152} y1={26} x2={152} y2={114} />
    </>
  ),
  torsion: (
    <>
      <Wheel x={84} y={76} r={44} hole={8} />
      <rect x="84" y="70" width="96" height="11" rx="4" className={TOOL} strokeWidth="1.6" />
      <path d="M150 60A66 66 0 0 0 118 20" fill="none" className="stroke-signal" strokeWidth="3" />
      <path d="M112 16 124 16 117 27Z" className="fill-signal" />
    </>
  ),
  holes: (
    <>
      <Wheel x={100} y={72} r={50} hole={8} />
      {[0, 1, 2, 3].map((each) => (
        <circle
          key={each}
          cx={100 + 34 * Math.cos((each - 2) * 0.6)}
          cy={72 + 34 * Math.sin((each - 2) * 0.6)}
          r="5.5"
          className={each === 1 ? 'fill-signal' : 'fill-card stroke-ink'}
        />
      ))}
    </>
  ),
  'helix-lift': (
    <>
      <path d="M30 118V92L92 36V92L154 36V118Z" className={PART} strokeWidth="1.6" />
      <circle cx="110" cy="66" r="8" className="fill-alu-deep stroke-ink" />
      <Span x1={164} y1={118} x2={164} y2={40} />
      <Span x1={92} y1={128} x2={154} y2={128} />
    </>
  ),
  turns: (
    <>
      <Wheel x={58} y={80} r={30} hole={7} />
      <Wheel x={142} y={80} r={44} hole={7} />
      <path
        d="M36 52A36 36 0 0 1 84 56M116 40A50 50 0 0 1 182 52"
        fill="none"
        className="stroke-signal"
        strokeWidth="3"
      />
      <path d="M88 62 78 60 86 51ZM186 58 176 55 184 47Z" className="fill-signal" />
      <path d="M58 80V54M142 80V42" className="stroke-ink" strokeWidth="3" />
    </>
  ),
  'roll-out': (
    <>
      <circle cx="52" cy="70" r="34" fill="none" className="stroke-ink" strokeWidth="11" />
      <circle cx="150" cy="70" r="34" fill="none" className="stroke-alu-deep" strokeWidth="4" strokeDasharray="5 4" />
      <path d="M12 112H192" className="stroke-ink" strokeWidth="2" />
      <Span x1={52} y1={124} x2={150} y2={124} />
    </>
  ),
  sheet: (
    <>
      <path d="M62 16H122L142 36V126H62Z" className={TOOL} strokeWidth="1.8" />
      <path d="M74 52H130M74 68H130M74 84H112" className="stroke-alu-deep" strokeWidth="4" />
      <path d="M74 104H104" className="stroke-signal" strokeWidth="5" />
    </>
  ),
}

export function HowTo({ drawing, words }: { drawing: string; words: string }) {
  return (
    <svg
      viewBox="0 0 200 140"
      role="img"
      aria-label={words}
      className="h-auto w-full rounded-md border border-line bg-card"
    >
      {DRAWINGS[drawing] ?? DRAWINGS.sheet}
    </svg>
  )
}
