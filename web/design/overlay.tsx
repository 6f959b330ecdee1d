import { Dialog, DropdownMenu } from 'radix-ui'
import { type ReactNode, useState } from 'react'
import { t } from '../words'
import { giveBack } from './focus'

/** A question in the middle of the window; Escape is its `onClose`. */
export function Question({
  title,
  children,
  answers,
  onClose,
  open = true,
  wide = false,
}: {
  title: string
  children?: ReactNode
  answers: ReactNode
  onClose: () => void
  open?: boolean
  wide?: boolean
}) {
  const [opener] = useState(() => document.activeElement)
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          className={`fixed left-1/2 z-50 -translate-x-1/2 max-h-[calc(100dvh-24px)] overflow-auto rounded-lg border bg-paper p-6 shadow-slip ${wide ? 'top-[min(8vh,24px)] w-[min(880px,calc(100vw-32px))]' : 'top-[min(14vh,12px+6vh)] w-[min(480px,calc(100vw-32px))]'}`}
          {...(!children && { 'aria-describedby': undefined })}
          onCloseAutoFocus={(event) => {
            event.preventDefault()
            giveBack(opener)
          }}
        >
          <Dialog.Title className="text-[18px] font-semibold leading-6">{title}</Dialog.Title>
          {children && (
            <Dialog.Description asChild>
              <div className="mt-2 text-soft">{children}</div>
            </Dialog.Description>
          )}
          <div className="mt-5 flex flex-wrap gap-2">{answers}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

/** `returnTo` takes the focus when the menu closes, in place of what opened it: the work, for tools. */
export function Menu({
  trigger,
  children,
  align = 'end',
  returnTo,
  open,
  onOpenChange,
}: {
  trigger: ReactNode
  /** Where something else than its trigger opens it, too. */
  open?: boolean
  onOpenChange?: (open: boolean) => void
  children: ReactNode
  align?: 'start' | 'end'
  returnTo?: () => void
}) {
  return (
    <DropdownMenu.Root modal={false} {...(open !== undefined && { open })} {...(onOpenChange && { onOpenChange })}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        {/* What is open above the page is a part of it that can be gone to. */}
        <section aria-label={t('common.menu')}>
          <DropdownMenu.Content
            align={align}
            sideOffset={4}
            onCloseAutoFocus={(event) => {
              // What an item opened wants the focus; while the menu was open it could not have it.
              const first = document.querySelector<HTMLInputElement | HTMLTextAreaElement>('[data-focus-first]')
              if (first) {
                event.preventDefault()
                first.select()
                return
              }
              if (!returnTo) return
              event.preventDefault()
              returnTo()
            }}
            className="z-50 max-h-[var(--radix-dropdown-menu-content-available-height)] min-w-52 overflow-y-auto rounded-md border bg-paper p-1 shadow-slip"
          >
            {children}
          </DropdownMenu.Content>
        </section>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
export function MenuItem({
  children,
  onSelect,
  keys,
  disabled,
  checked,
}: {
  children: ReactNode
  onSelect: () => void
  keys?: string
  disabled?: boolean
  /** For one of several that may be on or off; the menu stays. */
  checked?: boolean
}) {
  const Item = checked === undefined ? DropdownMenu.Item : DropdownMenu.CheckboxItem
  return (
    <Item
      disabled={disabled}
      {...(checked !== undefined && { checked })}
      onSelect={(event) => {
        if (checked !== undefined) event.preventDefault()
        onSelect()
      }}
      className="flex cursor-pointer items-center gap-3 rounded px-2.5 py-1.5 outline-none data-[disabled]:opacity-50 data-[highlighted]:bg-wash [&_svg]:size-4"
    >
      {children}
      {keys && <kbd className="ml-auto pl-4 font-mono text-[12px] text-soft">{keys}</kbd>}
    </Item>
  )
}
export const MenuRule = () => <DropdownMenu.Separator className="my-1 border-t" />
