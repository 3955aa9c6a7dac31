import type { ComponentProps } from 'react'

type Kind = 'primary' | 'plain' | 'quiet' | 'danger'

const LOOK: Record<Kind, string> = {
  primary: 'bg-saddle text-on-saddle border-saddle hover:brightness-110',
  plain: 'bg-raised text-ink border-line hover:border-saddle',
  quiet: 'bg-transparent text-ink border-transparent hover:bg-raised',
  danger: 'bg-raised text-madder border-line hover:border-madder',
}

export function buttonLook(kind: Kind = 'plain'): string {
  return `inline-flex items-center justify-center gap-2 whitespace-nowrap rounded-4 border px-3 py-1.5 text-15 font-medium transition-colors duration-100 disabled:opacity-50 ${LOOK[kind]}`
}

export function Button({
  kind = 'plain',
  className = '',
  type = 'button',
  ...rest
}: ComponentProps<'button'> & { kind?: Kind }) {
  return <button type={type} className={`${buttonLook(kind)} ${className}`} {...rest} />
}
