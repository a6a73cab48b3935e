// A word of the trade where it stands: touched, it says in one sentence what it means.
import { Popover } from 'radix-ui'
import { useGlossary } from '../api/server/glossary'

interface TermProps {
  /** The word's key in the glossary. */
  term: string
  children: React.ReactNode
  className?: string
  /** What else is told of it here: where its figure comes from. */
  more?: React.ReactNode
}

export function Term({ term, children, className = '', more }: TermProps) {
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
          className="z-50 max-h-[70dvh] w-96 max-w-[94vw] overflow-auto rounded-md border border-line bg-card p-3 text-sm leading-snug text-ink shadow-xl"
        >
          <Meaning term={term} />
          {more}
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
