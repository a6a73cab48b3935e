// What each part of a clutch looks like beside its neighbours on the shaft: one drawing a part, 64 by 132, axis at 66.
import type { ClutchPart } from '../../api/server/client'

const AXIS = 66

const METAL = 'fill-alu stroke-alu-deep'
const STEEL = 'fill-alu-deep stroke-ink'
const DARK = 'fill-ink stroke-ink'
const LINE = 'fill-none stroke-alu-deep'
const INK = 'fill-none stroke-ink'

/** Half above and half below the axis alike. */
function Mirrored({ children }: { children: React.ReactNode }) {
  return (
    <>
      <g>{children}</g>
      <g transform={`translate(0 ${2 * AXIS}) scale(1 -1)`}>{children}</g>
    </>
  )
}

/** A coil spring along the axis: `turns` of it between two heights. */
function Coil({ from, to, turns, high }: { from: number; to: number; turns: number; high: number }) {
  const step = (to - from) / (turns * 2)
  const points = Array.from(
    { length: turns * 2 + 1 },
    (_, index) => `${index ? 'L' : 'M'}${from + index * step},${index % 2 ? AXIS + high : AXIS - high}`,
  )
  return <path d={points.join('')} className={LINE} strokeWidth="4" strokeLinejoin="round" />
}

const ring = (x: number, high: number, wide: number, look = METAL) => (
  <rect x={x} y={AXIS - high} width={wide} height={2 * high} rx="1.5" className={look} />
)

const arm = (
  <>
    <path d="M14 34C30 26 46 30 54 48" className={LINE} strokeWidth="8" strokeLinecap="round" />
    <circle cx="14" cy="34" r="5" className="fill-card stroke-ink" strokeWidth="2" />
  </>
)

const spiderBody = <path d="M22 44h20v44H22Z" className={METAL} />

export const SHAPES: Record<ClutchPart['shape'], React.ReactNode> = {
  adjuster: (
    <>
      <path d="M6 60H44V72H6Z" className={STEEL} />
      {[12, 18, 24, 30, 36].map((x) => (
        <path key={x} d={`M${x} 60 ${x + 3} 72`} className={INK} />
      ))}
      <path d="M44 50h12v32H44Z" className={METAL} />
    </>
  ),
  arms: <Mirrored>{arm}</Mirrored>,
  bolt: <path d="M8 52h14v28H8ZM22 59h34v14H22Z" className={STEEL} />,
  bushing: (
    <>
      {ring(16, 22, 32)}
      <rect x="16" y="56" width="32" height="20" className="fill-card stroke-alu-deep" />
    </>
  ),
  // Each end of the spider holds a pair of buttons, with the roller on its pin below them.
  'button-spider': (
    <>
      {spiderBody}
      <Mirrored>
        <path d="M22 44 24 10H40L42 44Z" className={METAL} />
        <rect x="17" y="12" width="7" height="10" rx="2" className={DARK} />
        <rect x="40" y="12" width="7" height="10" rx="2" className={DARK} />
        <circle cx="32" cy="32" r="6" className={STEEL} />
      </Mirrored>
    </>
  ),
  buttons: (
    <Mirrored>
      <rect x="12" y="24" width="12" height="18" rx="4" className={DARK} />
      <rect x="40" y="24" width="12" height="18" rx="4" className={DARK} />
    </Mirrored>
  ),
  carriers: (
    <Mirrored>
      <path d="M16 18H22V40H42V18H48V46H16Z" className={DARK} />
    </Mirrored>
  ),
  case: (
    <>
      <path d="M14 6C46 6 54 20 54 66S46 126 14 126" className={LINE} strokeWidth="5" />
      {[12, 40, 92, 120].map((y) => (
        <circle key={y} cx="14" cy={y} r="4" className={STEEL} />
      ))}
      <path d="M8 8V124" className={INK} strokeDasharray="4 3" />
    </>
  ),
  // Behind its screw, its cam's oblong beside it.
  clickers: (
    <Mirrored>
      <rect x="10" y="25" width="14" height="12" rx="2" className={STEEL} />
      <rect x="26" y="20" width="20" height="22" rx="3" className={METAL} />
      <path d="M36 23V31" className={INK} strokeWidth="3" />
      <ellipse cx="51" cy="31" rx="4" ry="8" className={METAL} />
    </Mirrored>
  ),
  // A C on its post.
  clip: (
    <>
      <rect x="4" y="60" width="46" height="12" rx="2" className={STEEL} />
      <path d="M42 48A20 20 0 1 0 42 84" className={INK} strokeWidth="5" />
    </>
  ),
  cover: <path d="M22 14 40 22V110L22 118ZM40 52h8v28h-8Z" className={METAL} />,
  cup: (
    <>
      <path d="M14 30H22V102H14ZM22 30H46V40H22ZM22 92H46V102H22Z" className={METAL} />
      {ring(24, 24, 6, DARK)}
    </>
  ),
  damper: (
    <>
      <path d="M12 22H26V110H12ZM26 50 46 58V74L26 82Z" className={METAL} />
      {ring(26, 40, 5, DARK)}
      <Mirrored>
        <circle cx="19" cy="34" r="3.5" className={STEEL} />
        <circle cx="19" cy="52" r="3.5" className={STEEL} />
      </Mirrored>
    </>
  ),
  drum: (
    <>
      <path d="M10 18H26L46 60V72L26 114H10Z" className={METAL} />
      <Mirrored>
        <rect x="13" y="26" width="12" height="16" rx="3" className="fill-card stroke-alu-deep" />
        <circle cx="19" cy="34" r="5" className={STEEL} />
      </Mirrored>
    </>
  ),
  'e-clip': <path d="M44 46A24 24 0 1 0 44 86M44 58H32M44 74H32M24 66H36" className={INK} strokeWidth="4.5" />,
  'fixed-sheave': <path d="M34 8H44V56H60V76H44V124H34L18 76V56Z" className={METAL} />,
  'float-spring': (
    <>
      <rect x="2" y="62" width="60" height="8" className={STEEL} />
      <Coil from={18} to={46} turns={3} high={22} />
    </>
  ),
  // Rollers on pins, concave side to the body.
  followers: (
    <Mirrored>
      <path d="M20 20H44V40Q32 34 20 40Z" className={METAL} />
      <path d="M32 37V54" className={LINE} strokeWidth="5" />
    </Mirrored>
  ),
  guide: <path d="M14 34H24V98H14ZM24 44H50V56H24ZM24 76H50V88H24Z" className={METAL} />,
  'guide-rollers': (
    <Mirrored>
      <rect x="28" y="14" width="8" height="40" rx="1" className={STEEL} />
      <circle cx="20" cy="28" r="8" className={METAL} />
      <circle cx="44" cy="28" r="8" className={METAL} />
    </Mirrored>
  ),
  helix: <path d="M16 30H30L48 44V88L30 102H16ZM22 44 38 58M22 66 44 78M22 84 36 94" className={METAL} />,
  // The half with its arms standing open on it.
  'half-with-arms': (
    <>
      <path d="M30 8H38L52 56V76L38 124H30Z" className={METAL} />
      <Mirrored>
        <path d="M10 40C18 26 26 26 30 34" className={LINE} strokeWidth="7" strokeLinecap="round" />
        <circle cx="28" cy="24" r="4" className="fill-card stroke-ink" strokeWidth="2" />
      </Mirrored>
    </>
  ),
  limiter: (
    <>
      <rect x="4" y="62" width="56" height="8" className={STEEL} />
      {ring(20, 18, 10)}
      {ring(34, 18, 10)}
    </>
  ),
  'moving-sheave': <path d="M20 8H30L46 56V76L30 124H20Z" className={METAL} />,
  nut: (
    <>
      <path d="M14 42H40L46 54V78L40 90H14L8 78V54Z" className={STEEL} />
      <path d="M8 66H46" className={INK} />
      {ring(49, 26, 5)}
    </>
  ),
  'nylon-washer': <rect x="28" y="36" width="8" height="60" rx="2" className="fill-card stroke-ink" strokeWidth="2" />,
  // A ring round a bearing, an arrow the way it turns.
  'one-way-bearing': (
    <>
      {ring(16, 30, 32)}
      <Mirrored>
        <circle cx="24" cy="46" r="4" className={STEEL} />
        <circle cx="34" cy="46" r="4" className={STEEL} />
        <rect x="14" y="40" width="4" height="12" className={DARK} />
        <rect x="46" y="40" width="4" height="12" className={DARK} />
      </Mirrored>
      <path d="M22 70C28 62 36 62 42 68M42 68 36 67M42 68 41 61" className={INK} strokeWidth="2.5" />
    </>
  ),
  'pack-cover': (
    <>
      <path d="M18 20H28V112H18Z" className={METAL} />
      <path d="M32 24V108" className={INK} strokeWidth="4" />
      <Mirrored>
        <circle cx="23" cy="30" r="3.5" className={STEEL} />
      </Mirrored>
    </>
  ),
  // A roller on its pin, a thrust washer at each side.
  pins: (
    <Mirrored>
      <rect x="6" y="30" width="52" height="6" rx="2" className={STEEL} />
      <rect x="24" y="20" width="16" height="26" rx="5" className={METAL} />
      <rect x="18" y="23" width="4" height="20" className={DARK} />
      <rect x="42" y="23" width="4" height="20" className={DARK} />
    </Mirrored>
  ),
  plate: (
    <>
      {ring(22, 44, 7)}
      {ring(32, 40, 7, DARK)}
    </>
  ),
  // Three posts, a guide on each.
  'ramp-plate': (
    <>
      <path d="M24 16H32V116H24ZM32 30 46 44V54L32 48ZM32 102 46 88V78L32 84Z" className={METAL} />
      <Mirrored>
        <rect x="18" y="18" width="18" height="8" rx="2" className={DARK} />
      </Mirrored>
    </>
  ),
  ring: <ellipse cx="32" cy={AXIS} rx="8" ry="36" className={LINE} strokeWidth="5" />,
  rollers: (
    <Mirrored>
      <circle cx="32" cy="30" r="15" className={METAL} />
      {[0, 60, 120, 180, 240, 300].map((turn) => (
        <circle
          key={turn}
          cx={32 + 10 * Math.cos((turn * Math.PI) / 180)}
          cy={30 + 10 * Math.sin((turn * Math.PI) / 180)}
          r="2.4"
          className={DARK}
        />
      ))}
      <circle cx="32" cy="30" r="4.5" className={STEEL} />
    </Mirrored>
  ),
  shims: (
    <>
      {[18, 26, 34, 42].map((x) => (
        <g key={x}>{ring(x, 26, 4)}</g>
      ))}
    </>
  ),
  sliders: (
    <Mirrored>
      <rect x="20" y="20" width="24" height="24" rx="2" className={METAL} />
      <circle cx="32" cy="32" r="4" className={STEEL} />
    </Mirrored>
  ),
  spider: (
    <>
      {spiderBody}
      <Mirrored>
        <path d="M22 44 26 14H38L42 44Z" className={METAL} />
      </Mirrored>
      <path d="M22 58H42M22 66H42M22 74H42" className={INK} />
    </>
  ),
  spring: <Coil from={12} to={52} turns={5} high={30} />,
  'spring-guides': (
    <>
      {ring(12, 34, 6, DARK)}
      <path d="M18 50H26V82H18Z" className={DARK} />
      {ring(46, 34, 6, DARK)}
      <path d="M38 50H46V82H38Z" className={DARK} />
    </>
  ),
  // Its ends are bent: they sit in holes.
  'torque-spring': (
    <>
      <Coil from={14} to={50} turns={4} high={30} />
      <path d="M14 36V22H8M50 36V22H56" className={LINE} strokeWidth="4" />
    </>
  ),
  // The towers stand on the moving sheave.
  'tower-sheave': (
    <>
      <path d="M34 8H42L58 56V76L42 124H34Z" className={METAL} />
      <Mirrored>
        <path d="M8 16H34V30H8Z" className={METAL} />
      </Mirrored>
    </>
  ),
  'wear-plates': (
    <Mirrored>
      <rect x="14" y="22" width="5" height="24" className={DARK} />
      <rect x="45" y="22" width="5" height="24" className={DARK} />
    </Mirrored>
  ),
  weights: (
    <Mirrored>
      <path d="M16 22H48L44 42H20Z" className={METAL} />
      <path d="M24 28H40M24 34H38" className={INK} />
    </Mirrored>
  ),
}
