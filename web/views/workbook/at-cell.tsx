// What opens at a cell of the grid, and gives the keyboard back to it.
import { Popover } from 'radix-ui'
import type { ReactNode } from 'react'

/** Where a cell is on screen; pixels. */
export type CellSpot = { x: number; y: number; width: number; height: number }

/** @param className how wide and high it may be */
export function AtCell({
  label,
  at,
  className,
  onClose,
  children,
}: {
  label: string
  at: CellSpot
  className: string
  onClose: () => void
  children: ReactNode
}) {
  return (
    <Popover.Root open onOpenChange={(open) => !open && onClose()}>
      <Popover.Anchor asChild>
        <span
          className="pointer-events-none fixed"
          style={{ left: at.x, top: at.y, width: at.width, height: at.height }}
        />
      </Popover.Anchor>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          aria-label={label}
          className={`z-50 flex flex-col rounded-lg border bg-paper shadow-slip ${className}`}
          onCloseAutoFocus={(event) => event.preventDefault()}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
