import type { Request } from 'express'

/** What a browser calls itself, as people know it. */
export function browserName(request: Request): string {
  const agent = request.headers['user-agent'] ?? ''
  const browser = /(Firefox|Edg|Chromium|Chrome|Safari)\//.exec(agent)?.[1] ?? 'A program'
  const system = /(Windows|Mac OS|Android|iPhone|iPad|Linux)/.exec(agent)?.[1]
  return system ? `${browser === 'Edg' ? 'Edge' : browser} on ${system}` : browser
}
