// What each kind of clutch looks like to whoever stands before it: drawn from its own parts, one shape a kind.

const ALU = 'fill-alu stroke-alu-deep'

function turned(count: number, draw: (index: number) => React.ReactNode, from = -90) {
  return Array.from({ length: count }, (_, index) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: the parts never move
    <g key={index} transform={`rotate(${from + (360 / count) * index})`}>
      {draw(index)}
    </g>
  ))
}

const disc = (radius: number) => <circle r={radius} className={ALU} strokeWidth="1.5" />
const shaft = <circle r="3.5" className="fill-ink" />

const PICTURES: Record<string, React.ReactNode> = {
  // Three towers with a button on either side, the arms between them.
  'tower-and-button-primary': (
    <>
      {disc(23)}
      {turned(3, () => (
        <>
          <path d="M5-6 20-4.5V4.5L5 6Z" className="fill-alu-deep stroke-ink" strokeWidth="1" />
          <circle cx="19" cy="-6.5" r="2.6" className="fill-signal" />
          <circle cx="19" cy="6.5" r="2.6" className="fill-signal" />
        </>
      ))}
      {shaft}
    </>
  ),
  // The same spider on a stack of shims, seen from the side.
  'shimmed-spider-primary': (
    <>
      <rect x="-22" y="-16" width="44" height="7" rx="2" className={ALU} strokeWidth="1.5" />
      <path d="M-16-9-13 4H13L16-9Z" className="fill-alu-deep stroke-ink" strokeWidth="1" />
      {[6, 10, 14].map((y) => (
        <rect key={y} x="-12" y={y} width="24" height="2.4" className="fill-signal" />
      ))}
      <rect x="-18" y="18" width="36" height="5" rx="2" className={ALU} strokeWidth="1.5" />
    </>
  ),
  // One arm with its pockets.
  'loaded-arm-primary': (
    <>
      <path d="M-20 14C-14-14 6-20 21-15L19-7C8-11-4-6-9 16Z" className="fill-alu-deep stroke-ink" strokeWidth="1.2" />
      <circle cx="-14" cy="14" r="3" className="fill-card stroke-ink" />
      {[
        [-9, -1],
        [0, -10],
        [11, -13],
      ].map(([x, y]) => (
        <circle key={x} cx={x} cy={y} r="3.2" className="fill-signal stroke-ink" strokeWidth="0.8" />
      ))}
    </>
  ),
  // Three ramps, each with its numbered clicker.
  'adjustable-cam-primary': (
    <>
      {disc(23)}
      {turned(3, () => (
        <>
          <rect x="4" y="-3" width="15" height="6" rx="2.5" className="fill-alu-deep stroke-ink" strokeWidth="1" />
          <path d="M20-5.5 24.5-2.7V2.7L20 5.5 15.5 2.7V-2.7Z" className="fill-signal stroke-ink" strokeWidth="0.8" />
        </>
      ))}
      {shaft}
    </>
  ),
  // Rollers in their pockets.
  'roller-variator-primary': (
    <>
      {disc(23)}
      {turned(6, () => (
        <>
          <path d="M8-5.5H20V5.5H8Z" className="fill-card stroke-alu-deep" />
          <circle cx="14" r="4.6" className="fill-signal stroke-ink" strokeWidth="0.8" />
        </>
      ))}
      {shaft}
    </>
  ),
  // A hub with rollers on inclined seats: it turns one way.
  'one-way-bearing-primary': (
    <>
      {disc(23)}
      <circle r="13" className="fill-card stroke-ink" strokeWidth="1.2" />
      {turned(8, () => (
        <rect x="9" y="-1.6" width="3.4" height="3.4" rx="1.7" className="fill-alu-deep" />
      ))}
      <circle r="7.5" className={ALU} strokeWidth="1.2" />
      <path d="M-4-17.5A18 18 0 0 1 15-9.5" fill="none" className="stroke-signal" strokeWidth="2.6" />
      <path d="M18.5-5.5 11-9 17-14Z" className="fill-signal" />
      {shaft}
    </>
  ),
  // Driver and driven on one plate, a thin belt between.
  'light-torque-converter': (
    <>
      <rect x="-25" y="-17" width="50" height="34" rx="5" className="fill-card stroke-alu-deep" strokeWidth="1.5" />
      <path
        d="M-13-7 12-13A13 13 0 1 1 12 13L-13 7A7 7 0 0 1-13-7Z"
        fill="none"
        className="stroke-signal"
        strokeWidth="2"
      />
      <circle cx="-13" r="5" className={ALU} />
      <circle cx="11" r="10" className={ALU} />
      <circle cx="-13" r="1.8" className="fill-ink" />
      <circle cx="11" r="2.6" className="fill-ink" />
    </>
  ),
  // A helix held by screws, its three ramps.
  'bolt-in-helix-secondary': (
    <>
      <path d="M-21 15V1L-9-15V2L2-15V2L14-15 21-4V15Z" className="fill-alu-deep stroke-ink" strokeWidth="1.2" />
      {[-15, 0, 15].map((x) => (
        <circle key={x} cx={x} cy="10" r="2.6" className="fill-signal stroke-ink" strokeWidth="0.8" />
      ))}
    </>
  ),
  // A roller on the ramp of the jackshaft's own sheave.
  'jackshaft-roller-secondary': (
    <>
      <rect x="-25" y="-3" width="50" height="6" className="fill-ink" />
      <path d="M-14-18H-6L2 18H-14Z" className={ALU} strokeWidth="1.2" />
      <circle cx="6" cy="-8" r="6" className="fill-signal stroke-ink" strokeWidth="1" />
      <circle cx="6" cy="-8" r="1.8" className="fill-card" />
      <rect x="15" y="-17" width="6" height="34" rx="2" className={ALU} strokeWidth="1.2" />
    </>
  ),
  // One nut in the middle, a wide spring round it.
  'nut-retained-torque-spring-secondary': (
    <>
      {disc(23)}
      <circle r="16" fill="none" className="stroke-ink" strokeWidth="2.2" strokeDasharray="5 3" />
      <path d="M0-9 7.8-4.5V4.5L0 9-7.8 4.5V-4.5Z" className="fill-signal stroke-ink" strokeWidth="1" />
      <circle r="3" className="fill-card stroke-ink" />
    </>
  ),
  // Free to slide along its shaft between springs.
  'floating-secondary': (
    <>
      <rect x="-26" y="-2.5" width="52" height="5" className="fill-ink" />
      <path d="M-8-18H-3L1 0-3 18H-8ZM8-18H3L-1 0 3 18H8Z" className={ALU} strokeWidth="1.2" />
      <path d="M-22-7 -19 7-16-7-13 7M13-7 16 7 19-7 22 7" fill="none" className="stroke-signal" strokeWidth="2" />
    </>
  ),
}

export function KindPicture({ kind, size = 56 }: { kind: string; size?: number }) {
  return (
    <svg viewBox="-28 -26 56 52" width={size} height={(size * 52) / 56} aria-hidden="true">
      {PICTURES[kind]}
    </svg>
  )
}
