// The picture that measures: both clutches from the side and cut along their shafts, to scale, at one place of the shift.
import { memo } from 'react'
import type { ClutchPicture as Picture, PictureNode } from '../../../api/server/client'
import { figure, told } from '../../../parts/format'
import { useSize } from '../../../parts/size'
import { PRIMARY_REACH, PrimarySection, primaryGroove } from './PrimarySection'
import { SECONDARY_REACH, SecondarySection, secondaryGroove } from './SecondarySection'
import { SideView } from './SideView'

interface PictureProps {
  picture: Picture
  found?: Picture | null
  at: number
  hand: string
  kinds: { primary: string; secondary: string }
}

/** The node of a picture that lies nearest to a travel. */
export function nearest(picture: Picture, travel: number): PictureNode | undefined {
  return picture.nodes.reduce<PictureNode | undefined>(
    (best, each) => (best && Math.abs(best.travel_mm - travel) <= Math.abs(each.travel_mm - travel) ? best : each),
    undefined,
  )
}

/** Rims that every place of the belt lies inside. */
function rimsOf(picture: Picture): [number, number] {
  const cord = picture.cord_depth_mm + 4
  return [
    Math.max(...picture.nodes.map((node) => node.primary_radius_mm)) + cord,
    Math.max(picture.closed_radius_mm, ...picture.nodes.map((node) => node.secondary_radius_mm)) + cord,
  ]
}

const WORD = 13
const HEAD = 6
const LINE = 17
/** Rows of words over the secondary's section. */
const ROWS = 3
/** Narrower than this the words have no room beside the drawing. */
const NARROW = 440
const ROWS_NARROW = 4
/** A side view smaller than this, from its middle to its rim, shows nothing. */
const LEAST_SIDE = 24

/** Drawn anew only when something of it moves. */
export const ClutchPicture = memo(function ClutchPicture({ picture, found, at, hand, kinds }: PictureProps) {
  const [box, { width, height }] = useSize<HTMLDivElement>()
  const node = picture.nodes[at]
  return (
    <div ref={box} className="absolute inset-0 overflow-hidden">
      {node && width > 0 && <Sheet {...{ picture, found, node, hand, kinds, width, height }} />}
    </div>
  )
})

interface SheetProps extends Omit<PictureProps, 'at'> {
  node: PictureNode
  width: number
  height: number
}

function Sheet({ picture, found, node, hand, kinds, width, height }: SheetProps) {
  const rims = rimsOf(picture)
  const before = found && found !== picture ? nearest(found, node.travel_mm) : undefined
  const moved =
    before &&
    (Math.abs(before.primary_radius_mm - node.primary_radius_mm) > 0.2 ||
      Math.abs(before.secondary_radius_mm - node.secondary_radius_mm) > 0.2)
  const ghost = moved ? before : undefined
  const distance = picture.centre_distance_mm
  const wide = rims[0] + distance + rims[1]
  const most = Math.max(...rims)
  // Where there is no room beside the words, the side view stands under them; where there is none at all, it is left out.
  const narrow = width < NARROW
  const sideTop = narrow ? ROWS_NARROW * LINE : 0
  const sideRoom = narrow ? Math.max(height * 0.36 - LINE, 0) : height * 0.37
  const side = Math.min((width - (narrow ? 12 : 250)) / wide, (sideRoom - HEAD) / (2 * most))
  const sideTall = sideTop + (narrow ? 2 * most * side + HEAD : sideRoom)
  const sees = side * most > LEAST_SIDE
  const floor = height - (narrow ? 2 : 1) * LINE - 2
  // The primary's section stands under the side view, the secondary's beside it.
  const reach = PRIMARY_REACH.to - PRIMARY_REACH.from
  const over1 = sees ? sideTall : sideTop
  const cut = Math.min(
    (width / 2 - 8) / reach,
    (floor - over1 - 8) / (rims[0] + 2),
    (floor - (narrow ? over1 : ROWS * LINE)) / (rims[1] + 2),
  )
  const left = (width - wide * side) / 2 + rims[0] * side
  const middle = sideTop + HEAD / 2 + most * side
  const primaryAt = width * 0.25 - ((PRIMARY_REACH.from + PRIMARY_REACH.to) / 2) * cut
  const secondaryAt = width * 0.75 - ((SECONDARY_REACH.from + SECONDARY_REACH.to) / 2) * cut
  const drawn = { picture, node, hand }
  const over = found && ghost ? { picture: found, node: ghost } : undefined
  const [one, two] = [primaryGroove(drawn, rims[0]), secondaryGroove(drawn, rims[1])]
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`Clutches to scale, ${node.stage ? `at ${node.stage}, ` : ''}ratio ${figure(node.ratio, 2)}, sheave travel ${told(node.travel_mm, 'mm')}`}
      fontSize={WORD}
    >
      {sees && (
        <g transform={`translate(${left} ${middle}) scale(${side})`}>
          <SideView {...drawn} ghost={ghost} rims={rims} />
        </g>
      )}
      <g transform={`translate(${primaryAt} ${floor}) scale(${cut} ${-cut})`}>
        <PrimarySection {...drawn} kind={kinds.primary} rim={rims[0]} ghost={over && primaryGroove(over, rims[0])} />
      </g>
      <g transform={`translate(${secondaryAt} ${floor}) scale(${cut} ${-cut})`}>
        <SecondarySection
          {...drawn}
          kind={kinds.secondary}
          rim={rims[1]}
          ghost={over && secondaryGroove(over, rims[1])}
        />
      </g>
      <text
        x={sees ? left + ((distance + rims[0] - rims[1]) * side) / 2 : width / 2}
        y={sees ? middle + 5 : 20}
        fontSize="22"
        textAnchor="middle"
        className="halo reading fill-ink font-semibold"
      >
        {figure(node.ratio, 2)}
      </text>
      <Words {...{ node, picture, width, height }} />
      <Clamp
        x={primaryAt + (one.moving(rims[0]) + 7) * cut}
        y={floor - Math.max(rims[0], (picture.nodes.at(-1)?.roller_mm ?? 0) + 26) * cut + 9}
        newtons={node.clamp_primary_n}
      />
      <Clamp
        x={secondaryAt - (two.moving(rims[1] * 0.8) + 9) * cut}
        y={floor - rims[1] * cut * 0.78}
        newtons={node.clamp_secondary_n}
        toRight
      />
    </svg>
  )
}

interface WordsProps {
  node: PictureNode
  picture: Picture
  width: number
  height: number
}

/** What is measured where: in the corners of the clutch it is of, and under its section. */
function Words({ node, picture, width, height }: WordsProps) {
  const rows = (...all: (string | false | null)[]) => all.filter((row): row is string => Boolean(row))
  const primary = rows(
    `${figure(node.rpm, 0)} rpm`,
    node.gap_mm > 0.02 && `gap ${told(node.gap_mm, 'mm')}`,
    node.grip_primary != null && `grip ${figure(node.grip_primary, 2)}`,
    node.tight_n != null && `tight ${told(node.tight_n, 'N')}`,
    node.tight_n != null && `slack ${told(node.slack_n ?? 0, 'N')}`,
    node.tight_n == null && node.slack_mm > 0.05 && `loose by ${told(node.slack_mm, 'mm')}`,
    node.tight_n == null && picture.deflection_mm > 0.05 && `deflects ${told(picture.deflection_mm, 'mm')}`,
  )
  const secondary = rows(
    node.speed_kph != null && told(node.speed_kph, 'km/h'),
    node.grip_secondary != null && `grip ${figure(node.grip_secondary, 2)}`,
    picture.ride_mm !== 0 && `rides ${told(Math.abs(picture.ride_mm), 'mm')} ${picture.ride_mm > 0 ? 'low' : 'high'}`,
  )
  const weights =
    node.arm_deg != null
      ? `arms ${told(node.arm_deg, 'deg')}`
      : node.roller_mm != null && `rollers at ${told(node.roller_mm, 'mm')}`
  const helix =
    node.turn_deg > 0.05
      ? `turned ${told(node.turn_deg, 'deg')}`
      : picture.holes && `holes ${picture.holes}, wound ${told(picture.wind_deg, 'deg')}`
  return (
    <g className="fill-quiet">
      <Stack x={2} rows={primary} />
      <Stack x={width - 2} rows={secondary} end />
      <Caption x={width * 0.25} foot={height} narrow={width < NARROW}>
        {rows('primary', `belt ${told(picture.belt_width_mm, 'mm')}`, weights)}
      </Caption>
      <Caption x={width * 0.75} foot={height} narrow={width < NARROW}>
        {rows('secondary', `${told(node.opening_mm, 'mm')} open`, helix)}
      </Caption>
    </g>
  )
}

/** What stands under a section: on one line, or its last word on a second. */
function Caption({ x, foot, narrow, children }: { x: number; foot: number; narrow: boolean; children: string[] }) {
  const lines = narrow && children.length > 2 ? [children.slice(0, 2), children.slice(2)] : [children]
  return (
    <>
      {lines.map((words, index) => (
        <text key={words.join()} x={x} y={foot - 3 - (lines.length - 1 - index) * LINE} textAnchor="middle">
          {words.join(' · ')}
        </text>
      ))}
    </>
  )
}

/** The clamp where it acts: behind the moving face, toward the belt. */
function Clamp({ x, y, newtons, toRight }: { x: number; y: number; newtons?: number | null; toRight?: boolean }) {
  if (newtons == null) return null
  return (
    <text x={x} y={y} textAnchor={toRight ? 'end' : 'start'} className="halo reading fill-signal-words font-semibold">
      {toRight ? `${told(newtons, 'N')} ▸` : `◂ ${told(newtons, 'N')}`}
    </text>
  )
}

function Stack({ x, rows, end = false }: { x: number; rows: string[]; end?: boolean }) {
  return (
    <>
      {rows.map((row, index) => (
        <text key={row} x={x} y={13 + index * LINE} textAnchor={end ? 'end' : 'start'} className="halo reading">
          {row}
        </text>
      ))}
    </>
  )
}
