// A panel over the page: what it is called, what it asks, and a way out.
import { fetched } from '../fetched'
import { fetchLayers, type LayerProps, type OpenerProps, OverPage } from './Over'

const Layer = fetched<PanelLook & LayerProps>(() => fetchLayers().then(({ PanelLayer }) => ({ default: PanelLayer })))

export interface PanelLook {
  title: string
  /** What it is for, where its title does not say it. */
  about?: string
  width?: string
  /** Whether a part of it scrolls, and not the whole: for tables and lists. */
  inside?: boolean
  /** Whether nothing is done in it: it ends with the way out. */
  closes?: boolean
}

export function Panel({ title, about, width, inside, closes, ...opener }: PanelLook & OpenerProps) {
  return (
    <OverPage
      {...opener}
      layer={(over, children) => (
        <Layer over={over} title={title} about={about} width={width} inside={inside} closes={closes}>
          {children}
        </Layer>
      )}
    />
  )
}
