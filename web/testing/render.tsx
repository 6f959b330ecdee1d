// A part of a page as the application shows it: with the server's data, a router, and its looks.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { Tooltip } from 'radix-ui'
import type { ReactNode } from 'react'
import { createMemoryRouter, RouterProvider, useLocation } from 'react-router'
import { render } from 'vitest-browser-react'
import '../design/theme.css'

/** @returns the screen, and the address that was gone to */
export async function show(part: ReactNode, at = '/') {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  let address = at
  function Address() {
    const { pathname, search } = useLocation()
    address = pathname + search
    return null
  }
  const element = (
    <>
      <Address />
      {part}
    </>
  )
  const router = createMemoryRouter([{ path: '*', element }], { initialEntries: [at] })
  const screen = await render(
    <QueryClientProvider client={client}>
      <Tooltip.Provider delayDuration={0}>
        <RouterProvider router={router} />
      </Tooltip.Provider>
    </QueryClientProvider>,
  )
  return { screen, client, address: () => address }
}

export const focused = (): string => {
  const element = document.activeElement
  return element?.getAttribute('aria-label') ?? element?.textContent ?? ''
}
