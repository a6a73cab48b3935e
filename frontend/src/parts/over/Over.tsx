// What a button opens over the page: fetched at the first time, gone when it is closed, the focus back at its button.
import { Slot } from 'radix-ui'
import { createContext, Suspense, useContext, useRef, useState } from 'react'

/** The layers are most of what a page would weigh, and few pages open one at once. */
export const fetchLayers = () => import('./layers')

export interface Over {
  /** What opened it. */
  opener: React.RefObject<HTMLButtonElement | null>
  show: (open: boolean) => void
  /** Set by what leads elsewhere: the focus goes along. */
  led: React.RefObject<boolean>
}

/** What a layer needs besides its look. */
export interface LayerProps {
  over: Over
  children: React.ReactNode
}

const Open = createContext<Over>({ opener: { current: null }, show: () => undefined, led: { current: false } })

export interface OpenerProps {
  /** The button that opens it. */
  opener: React.ReactNode
  open?: boolean
  onOpenChange?: (open: boolean) => void
  children: React.ReactNode
}

interface OverProps extends OpenerProps {
  layer: (over: Over, children: React.ReactNode) => React.ReactNode
}

export function OverPage({ opener, open, onOpenChange, layer, children }: OverProps) {
  const [own, setOwn] = useState(false)
  const button = useRef<HTMLButtonElement>(null)
  const led = useRef(false)
  const shown = open ?? own
  const show = (next: boolean) => {
    if (next) led.current = false
    setOwn(next)
    onOpenChange?.(next)
  }
  const over = { opener: button, show, led }
  return (
    <>
      <Slot.Root ref={button} aria-haspopup="dialog" aria-expanded={shown} onClick={() => show(!shown)}>
        {opener}
      </Slot.Root>
      {shown && (
        <Open value={over}>
          <Suspense>{layer(over, children)}</Suspense>
        </Open>
      )}
    </>
  )
}

interface CloseProps {
  /** Whether it leads elsewhere. */
  leads?: boolean
  children: React.ReactNode
}

/** Closes what it stands in, besides what its button or link does. */
export function Close({ leads = false, children }: CloseProps) {
  const { show, led } = useContext(Open)
  const close = () => {
    led.current = leads
    show(false)
  }
  return <Slot.Root onClick={close}>{children}</Slot.Root>
}

/** Closes what a part of it stands in. */
export function useClose(): () => void {
  const { show } = useContext(Open)
  return () => show(false)
}
