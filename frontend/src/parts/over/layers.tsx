// The two layers over a page, on the library's: one in the middle that holds the page, one beside its button.
import { Dialog, Popover } from 'radix-ui'
import { useRef } from 'react'
import { Button } from '../Button'
import type { AsideLook } from './Aside'
import type { LayerProps, Over } from './Over'
import type { PanelLook } from './Panel'

/** The focus back to the button, unless it was led elsewhere. */
const back = (over: Over) => (event: Event) => {
  event.preventDefault()
  if (!over.led.current) over.opener.current?.focus()
}

export function PanelLayer({
  over,
  title,
  about,
  width = 'w-[34rem]',
  inside,
  closes,
  children,
}: PanelLook & LayerProps) {
  const box = inside ? 'flex flex-col gap-3 p-5' : 'space-y-4 overflow-auto p-6'
  return (
    <Dialog.Root open onOpenChange={over.show}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-[#22262a99]" />
        <Dialog.Content
          {...(about ? {} : { 'aria-describedby': undefined })}
          onCloseAutoFocus={back(over)}
          className={`fixed top-1/2 left-1/2 z-40 max-h-[92dvh] max-w-[94vw] -translate-1/2 rounded-lg bg-paper shadow-2xl ${width} ${box}`}
        >
          <Dialog.Title className="text-xl font-bold wrap-anywhere">{title}</Dialog.Title>
          {about && <Dialog.Description className="text-quiet">{about}</Dialog.Description>}
          {children}
          {closes && (
            <div className="flex justify-end">
              <Dialog.Close asChild>
                <Button look="plain">Close</Button>
              </Dialog.Close>
            </div>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

export function AsideLayer({ over, label, side, align, className = 'w-96 p-3', children }: AsideLook & LayerProps) {
  const { opener } = over
  const elsewhere = useRef(false)
  return (
    <Popover.Root open onOpenChange={over.show}>
      <Popover.Anchor virtualRef={opener as React.RefObject<HTMLButtonElement>} />
      <Popover.Portal>
        <Popover.Content
          side={side}
          align={align}
          sideOffset={6}
          aria-label={label}
          // Its button closes it by itself; a touch elsewhere takes the focus there.
          onInteractOutside={(event) => {
            if (opener.current?.contains(event.target as Node)) event.preventDefault()
            else elsewhere.current = true
          }}
          onCloseAutoFocus={(event) => {
            if (elsewhere.current) event.preventDefault()
            else back(over)(event)
          }}
          className={`z-50 max-h-[70dvh] max-w-[94vw] overflow-auto rounded-md border border-line bg-card text-ink shadow-xl ${className}`}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
