// A word of the trade where it stands: touched, it says in one sentence what it means.
import { Popover } from 'radix-ui'
import { useGlossary } from '../api/server/glossary'

interface TermProps {
  /** The word's key in the glossary. */
  term: string
  children: React.ReactNode
  className?: string
}

export function Term({ term, children, className = '' }: TermProps) {
  return (
    <Popover.Root>
      <Popover.Trigger data-term={term} className={`cursor-help rounded text-left hover:bg-paper/10 ${className}`}>
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          sideOffset={6}
          aria-label="What it means"
          className="z-50 w-80 max-w-[94vw] rounded-md border border-line bg-card p-3 text-sm leading-snug text-ink shadow-xl"
        >
          <Meaning term={term} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function Meaning({ term }: { term: string }) {
  const known = useGlossary()?.find((each) => each.key === term)
  if (!known) return null
  return (
    <>
      <b>{known.name}.</b> {known.text}{' '}
      <a href="/guide" className="whitespace-nowrap text-quiet underline underline-offset-4">
        All words
      </a>
    </>
  )
}
