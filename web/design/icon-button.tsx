import clsx from 'clsx'
import { Toolbar, Tooltip } from 'radix-ui'
import { type ButtonHTMLAttributes, type Ref, useContext } from 'react'
import { InToolRow } from './tool-row'

/** A button that shows only an icon; its words are its label and its tip. */
export function IconButton({
  label,
  keys,
  pressed,
  side = 'bottom',
  className,
  children,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & {
  label: string
  keys?: string
  pressed?: boolean
  side?: 'top' | 'right' | 'bottom' | 'left'
  ref?: Ref<HTMLButtonElement>
}) {
  const inToolRow = useContext(InToolRow)
  const button = (
    <button
      type="button"
      aria-label={label}
      {...(pressed !== undefined && { 'aria-pressed': pressed })}
      className={clsx(
        'grid size-8 shrink-0 place-items-center rounded-md hover:bg-wash disabled:opacity-40 aria-pressed:bg-wash aria-pressed:text-accent [&_svg]:size-[18px]',
        className,
      )}
      {...rest}
    >
      {children}
    </button>
  )
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>
        {inToolRow ? <Toolbar.Button asChild>{button}</Toolbar.Button> : button}
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content side={side} sideOffset={6} className="z-50 rounded bg-ink px-2 py-1 text-[13px] text-paper">
          {label}
          {keys && <kbd className="ml-2 font-mono text-[12px] opacity-75">{keys}</kbd>}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  )
}
