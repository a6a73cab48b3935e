// A panel over the page: what it is called, what it asks, and a way out.
import { Dialog } from 'radix-ui'

interface PanelProps {
  /** What opens it. */
  opener: React.ReactNode
  title: string
  /** What it is for, where its title does not say it. */
  about?: string
  open?: boolean
  onOpenChange?: (open: boolean) => void
  /** As wide as the screen lets it: for a picture. */
  wide?: boolean
  children: React.ReactNode
}

export function Panel({ opener, title, about, open, onOpenChange, wide, children }: PanelProps) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Trigger asChild>{opener}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-[#22262a99]" />
        <Dialog.Content
          {...(about ? {} : { 'aria-describedby': undefined })}
          className={`fixed top-1/2 left-1/2 z-40 max-h-[92dvh] ${wide ? 'w-[68rem] p-4' : 'w-[34rem] p-6'} max-w-[94vw] -translate-1/2 space-y-4 overflow-auto rounded-lg bg-paper shadow-2xl`}
        >
          <Dialog.Title className="text-xl font-bold wrap-anywhere">{title}</Dialog.Title>
          {about && <Dialog.Description className="text-quiet">{about}</Dialog.Description>}
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

/** Closes the panel it stands in. */
export const PanelClose = Dialog.Close
