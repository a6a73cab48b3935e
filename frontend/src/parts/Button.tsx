// A button for gloved fingers, and why what was asked for was not done.
import type { Action } from '../api/outbox/action'

const LOOKS = {
  main: 'bg-ink text-paper',
  sign: 'bg-[#c8410b] text-on-bar',
  plain: 'border-2 border-ink hover:bg-card',
  done: 'border-2 border-keep text-keep',
} as const

export type Look = keyof typeof LOOKS

export function buttonLook(look: Look): string {
  return `inline-flex min-h-12 items-center justify-center gap-2 rounded-md px-5 font-bold ${LOOKS[look]}`
}

interface ButtonProps extends Omit<React.ComponentProps<'button'>, 'type' | 'className'> {
  look?: Look
  wide?: boolean
  /** What it does, once at a time. */
  action?: Action
  /** Whether it submits its form, whose submission is the action. */
  submits?: boolean
}

export function Button({ look = 'main', wide, action, submits, disabled, ...rest }: ButtonProps) {
  const faded = disabled && look !== 'done' ? 'opacity-60' : ''
  return (
    <button
      type={submits ? 'submit' : 'button'}
      onClick={submits ? undefined : action?.run}
      disabled={disabled}
      // Busy, it keeps the focus: a second press does nothing, and a refusal finds the hand where it was.
      aria-busy={action?.busy || undefined}
      className={`${buttonLook(look)} ${wide ? 'w-full' : ''} ${faded}`}
      {...rest}
    />
  )
}

export function Refused({ children, className = '' }: { children: string; className?: string }) {
  if (!children) return null
  return (
    <p role="alert" className={`text-replace ${className}`}>
      {children}
    </p>
  )
}

/** What became of an act: refused in words, or waiting for a server that is away. */
export function Done({ action, className = '' }: { action: Action; className?: string }) {
  if (action.waits)
    return (
      <p role="alert" className={`text-sm text-watch ${className}`}>
        Kept here; done as soon as the server is back.
      </p>
    )
  return <Refused className={className}>{action.refused}</Refused>
}
