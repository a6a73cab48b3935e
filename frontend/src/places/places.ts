// Every place, fetched when a hand goes there, or once the page in hand stands.
import { fetchAhead, fetched } from '../parts/fetched'
import { fetchLayers } from '../parts/over/Over'
import { STATIONS } from './stations'

const FETCH = {
  altitudeCard: () => import('./AltitudeCard').then(({ AltitudeCard }) => ({ default: AltitudeCard })),
  belt: () => import('./BeltPlace').then(({ BeltPlace }) => ({ default: BeltPlace })),
  bringIn: () => import('./BringIn').then(({ BringIn }) => ({ default: BringIn })),
  guide: () => import('./GuidePlace').then(({ GuidePlace }) => ({ default: GuidePlace })),
  machine: () => import('./MachinePlace').then(({ MachinePlace }) => ({ default: MachinePlace })),
  parts: () => import('./PartsPlace').then(({ PartsPlace }) => ({ default: PartsPlace })),
  floor: () => import('./ShopFloor').then(({ ShopFloor }) => ({ default: ShopFloor })),
  visit: () => import('./VisitPlace').then(({ VisitPlace }) => ({ default: VisitPlace })),
  log: () => import('./LogPlace').then(({ LogPlace }) => ({ default: LogPlace })),
  workshop: () => import('./WorkshopPlace').then(({ WorkshopPlace }) => ({ default: WorkshopPlace })),
}

export const AltitudeCard = fetched(FETCH.altitudeCard)
export const BeltPlace = fetched(FETCH.belt)
export const BringIn = fetched(FETCH.bringIn)
export const GuidePlace = fetched(FETCH.guide)
export const MachinePlace = fetched(FETCH.machine)
export const PartsPlace = fetched(FETCH.parts)
export const ShopFloor = fetched(FETCH.floor)
export const VisitPlace = fetched(FETCH.visit)
export const LogPlace = fetched(FETCH.log)
export const WorkshopPlace = fetched(FETCH.workshop)

/** Fetches the other places behind the one in hand, a visit's stations first where a visit is open. */
export function fetchOthers() {
  const others = Object.values(FETCH)
  const all = window.location.pathname.startsWith('/visits/') ? [...STATIONS, ...others] : [...others, ...STATIONS]
  window.addEventListener('load', () => void fetchAhead([fetchLayers, ...all]), { once: true })
}
