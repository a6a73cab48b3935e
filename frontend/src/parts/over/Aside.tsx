// What stands beside the button that opened it, over the page: a list to choose from, a word's meaning.
import { fetched } from '../fetched'
import { fetchLayers, type LayerProps, type OpenerProps, OverPage } from './Over'

const Layer = fetched<AsideLook & LayerProps>(() => fetchLayers().then(({ AsideLayer }) => ({ default: AsideLayer })))

export interface AsideLook {
  /** What it is called, for who does not see it. */
  label: string
  side?: 'top' | 'bottom'
  align?: 'start' | 'center' | 'end'
  /** Its width, and what else is its own. */
  className?: string
}

export function Aside({ label, side, align, className, ...opener }: AsideLook & OpenerProps) {
  return (
    <OverPage
      {...opener}
      layer={(over, children) => (
        <Layer over={over} label={label} side={side} align={align} className={className}>
          {children}
        </Layer>
      )}
    />
  )
}
