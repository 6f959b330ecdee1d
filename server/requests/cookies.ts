import { parseCookie, stringifySetCookie } from 'cookie'
import type { Request, Response } from 'express'

// With TLS a cookie's name keeps it to this host and to secure connections (RFC 6265bis, 4.1.3.2).
const cookieName = (request: Request, name: string) => `${request.secure ? '__Host-' : ''}jaula_${name}`
export const cookieOf = (request: Request, name: string): string | undefined =>
  parseCookie(request.headers.cookie ?? '')[cookieName(request, name)]
export const setCookie = (request: Request, response: Response, name: string, value: string, days: number) =>
  response.append(
    'set-cookie',
    stringifySetCookie({
      name: cookieName(request, name),
      value,
      httpOnly: true,
      sameSite: 'lax',
      path: '/',
      maxAge: days * 86_400,
      secure: request.secure,
    }),
  )
