// A word about what just happened, above the strip: read aloud, with the way back where there is one.
import { Undo2, X } from 'lucide-react'
import { hush, useNotice } from '../../api/server/notices'

export function Notices({ undo }: { undo?: () => void }) {
  const notice = useNotice()
  return (
    <div
      role="status"
      className="pointer-events-none fixed inset-x-0 bottom-24 z-30 flex justify-center px-4 print:hidden"
      data-notices
    >
      {notice && (
        <div className="pointer-events-auto flex max-w-2xl items-center gap-4 rounded-md border border-bar-line bg-bar py-1 pr-1 pl-4 text-on-bar shadow-xl">
          <span className="min-w-0 break-words">{notice.text}</span>
          {notice.undo && undo && (
            <button type="button" onClick={undo} className="flex min-h-11 items-center gap-2 px-2 font-bold underline">
              <Undo2 size={18} aria-hidden="true" /> Undo
            </button>
          )}
          <button type="button" onClick={hush} aria-label="Close" className="flex size-11 items-center justify-center">
            <X size={18} aria-hidden="true" />
          </button>
        </div>
      )}
    </div>
  )
}
