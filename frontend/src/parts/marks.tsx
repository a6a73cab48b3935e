// Findings and station states by shape and word as well as colour.
export function FindingMark({ finding, size = 22 }: { finding: string; size?: number }) {
  const colour = finding === 'keep' ? 'text-keep' : finding === 'watch' ? 'text-watch' : 'text-replace'
  return (
    <svg width={size} height={size} viewBox="0 0 22 22" className={`shrink-0 ${colour}`} aria-hidden="true">
      {finding === 'keep' && <circle cx="11" cy="11" r="9" fill="currentColor" />}
      {finding === 'watch' && <path d="M11 1 21 11 11 21 1 11Z" fill="currentColor" />}
      {finding === 'replace' && <rect x="2.5" y="2.5" width="17" height="17" fill="currentColor" />}
    </svg>
  )
}

export function StateMark({ state, here = false }: { state: string; here?: boolean }) {
  if (here)
    return (
      <svg width="18" height="18" viewBox="0 0 18 18" className="shrink-0 text-signal" aria-hidden="true">
        <circle cx="9" cy="9" r="5.5" fill="none" stroke="currentColor" strokeWidth="5" />
      </svg>
    )
  if (state === 'done') return <FindingMark finding="keep" size={18} />
  if (state === 'attention') return <FindingMark finding="watch" size={18} />
  return (
    <svg width="18" height="18" viewBox="0 0 18 18" className="shrink-0 text-alu-deep" aria-hidden="true">
      <circle cx="9" cy="9" r="7" fill="none" stroke="currentColor" strokeWidth="2" />
    </svg>
  )
}

export const STATE_WORDS: Record<string, string> = { done: 'done', attention: 'wants attention', 'to do': 'to do' }
