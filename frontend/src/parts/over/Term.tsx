// A word of the trade where it stands: touched, it says in one sentence what it means.
import { useGlossary } from '../../api/server/glossary'
import { Aside } from './Aside'

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
    <Aside
      label="What it means"
      side="top"
      align="start"
      className="w-96 p-3 text-sm leading-snug"
      opener={
        <button
          type="button"
          data-term={term}
          className={`cursor-help rounded text-left hover:bg-paper/10 ${className}`}
        >
          {children}
        </button>
      }
    >
      <Meaning term={term} />
      {more}
    </Aside>
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
