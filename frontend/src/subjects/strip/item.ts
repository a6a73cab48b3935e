// What the parts of the strip share: where an item's fields live, and what is said of it in a few words.
import type { ItemView, WearItem } from '../../api/server/client'
import { reading, unitName } from '../../parts/format'

export const DEPTHS = [
  { value: 'on machine', name: 'On the machine' },
  { value: 'off the machine', name: 'Off, unopened' },
  { value: 'cover off', name: 'Cover off' },
  { value: 'full strip', name: 'Full strip' },
] as const

/** A clutch that came alone is on no machine. */
export const ON_BENCH = [
  { value: 'on machine', name: 'Unopened' },
  { value: 'cover off', name: 'Cover off' },
  { value: 'full strip', name: 'Full strip' },
] as const

/** The item's name in addresses and open things. */
export const itemPlace = (item: Pick<ItemView, 'side' | 'key'>) => `${item.side}_${item.key}`

export const itemPath = (item: Pick<ItemView, 'side' | 'key'>) => `/strip/items/${item.side}/${item.key}`

/** The part's name in addresses. */
export const partPlace = (side: string, part: string) => `part_${side}_${part}`

/** Whether a hand has said anything of it. */
export const said = (item: ItemView) =>
  Boolean(item.looked || item.grade || item.overruled || item.compared || item.note) ||
  item.readings.length > 0 ||
  item.rings.length > 0

/** How many alike it is. */
export const countOf = (known: WearItem) => known.count ?? 1

/** Places of an item that has several. */
export const placeName = (known: WearItem, place: number) =>
  countOf(known) > 1 ? 'ABCDEFGHIJKLMNOPQRSTUVWX'[place] : ''

/** An item's finding as a list shows it. */
export function brief(item: ItemView, known: WearItem | undefined): string {
  const unit = known?.measure?.unit ?? ''
  const read = item.readings.map((each) => reading(each, unit, unit === 'mm' ? 1 : 0)).join(' / ')
  const rings = item.rings.map((each) => each ?? '–').join(' ')
  const words = [read && `${read} ${unitName(unit)}`.trim(), rings && `hub ${rings} rim`, item.grade]
  return words.filter(Boolean).join(', ')
}
