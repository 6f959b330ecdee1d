// The link by which somebody came to write, remembered by this tab alone.
const mark = 'jaula-link'

export function rememberLink(address: string): void {
  try {
    sessionStorage.setItem(mark, address)
  } catch {
    // A browser that keeps nothing has the link where it was given.
  }
}
/** @returns its address on this server; null where the tab does not know it */
export function linkThatBrought(): string | null {
  try {
    const address = sessionStorage.getItem(mark)
    return address && /^\/link#[\w-]+$/.test(address) ? address : null
  } catch {
    return null
  }
}
