import clsx from 'clsx'
import type { ButtonHTMLAttributes, InputHTMLAttributes, ReactNode, Ref } from 'react'
import { useId } from 'react'

type ButtonLook = 'main' | 'plain' | 'quiet' | 'warning'
const looks: Record<ButtonLook, string> = {
  main: 'bg-accent text-on-accent hover:brightness-110 border border-transparent',
  plain: 'bg-paper border border-rule-strong hover:bg-wash',
  quiet: 'border border-transparent hover:bg-wash',
  warning: 'bg-paper border border-rust text-rust hover:bg-rust-wash',
}

export function Button({
  look = 'plain',
  className,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: ButtonLook; ref?: Ref<HTMLButtonElement> }) {
  return (
    <button
      type="button"
      className={clsx(
        'inline-flex h-8 shrink-0 items-center justify-center gap-2 whitespace-nowrap rounded-md px-3 font-medium disabled:opacity-50',
        looks[look],
        className,
      )}
      {...rest}
    />
  )
}

export function Field({
  label,
  fault,
  hint,
  className,
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & {
  label: string
  fault?: ReactNode
  hint?: ReactNode
  ref?: Ref<HTMLInputElement>
}) {
  const id = useId()
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-[13px] text-soft">
        {label}
      </label>
      <input
        id={id}
        aria-invalid={fault ? true : undefined}
        aria-describedby={fault || hint ? `${id}-more` : undefined}
        className={clsx('h-9 w-full rounded-md border bg-sheet px-2.5', fault ? 'border-rust' : 'border-rule-strong')}
        {...rest}
      />
      {(fault || hint) && (
        <div
          id={`${id}-more`}
          className={clsx('mt-1 text-[13px] leading-[18px]', fault ? 'text-rust' : 'text-soft')}
          role={fault ? 'alert' : undefined}
        >
          {fault || hint}
        </div>
      )}
    </div>
  )
}

/**
 * What a view shows when it has nothing, waits or failed: what it means and what to do.
 * @param screen it stands in the place of the whole screen
 */
export function Blank({
  title,
  children,
  waiting,
  screen,
}: {
  title: string
  children?: ReactNode
  waiting?: boolean
  screen?: boolean
}) {
  const Title = screen ? 'h1' : 'p'
  const blank = (
    <div className="grid place-items-center px-8 py-14 text-center" role={waiting ? 'status' : undefined}>
      <div className="bars mb-4 h-7 w-[57px] opacity-90" aria-hidden />
      <Title className="text-[17px] font-medium">{title}</Title>
      {children && <div className="mt-2 max-w-md text-soft">{children}</div>}
    </div>
  )
  return screen ? <main className="min-h-0 min-w-0 flex-1">{blank}</main> : blank
}

export function Notice({
  tone = 'calm',
  children,
  actions,
}: {
  tone?: 'calm' | 'alarm'
  children: ReactNode
  actions?: ReactNode
}) {
  return (
    <div
      className={clsx(
        'flex flex-wrap items-center gap-x-4 gap-y-2 border-b px-4 py-2',
        tone === 'alarm' ? 'bg-rust-wash text-rust' : 'bg-wash',
      )}
      role={tone === 'alarm' ? 'alert' : 'status'}
    >
      <div className="min-w-0 flex-1 basis-64">{children}</div>
      {actions && <div className="flex flex-wrap gap-2 text-ink">{actions}</div>}
    </div>
  )
}
