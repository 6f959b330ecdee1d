import { Toolbar } from 'radix-ui'
import { createContext, type ReactNode } from 'react'

/** Whether a button stands in a row of tools, which is one stop of the Tab key and gone through by arrows. */
export const InToolRow = createContext(false)

/** A row of tools: the Tab key comes to it once, arrows go through it. */
export function ToolRow({
  label,
  upright = false,
  className,
  children,
}: {
  label: string
  upright?: boolean
  className?: string
  children: ReactNode
}) {
  return (
    <Toolbar.Root aria-label={label} orientation={upright ? 'vertical' : 'horizontal'} className={className}>
      <InToolRow.Provider value>{children}</InToolRow.Provider>
    </Toolbar.Root>
  )
}
