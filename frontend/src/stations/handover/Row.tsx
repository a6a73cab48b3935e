// A line of the hand-over's page: what it is, and what was found or done.

export function Row({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="grid gap-x-4 sm:grid-cols-[8.5rem_1fr] print:grid-cols-[8.5rem_1fr] border-t border-line py-2.5 print:py-1.5">
      <dt className="text-quiet">{name}</dt>
      <dd className="min-w-0 wrap-anywhere whitespace-pre-line">{children}</dd>
    </div>
  )
}
