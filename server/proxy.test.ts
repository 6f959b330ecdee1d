// Jaula behind a TLS proxy, as docs/security.md says to run it.
import { request } from 'node:http'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openTestOffice, password, type TestOffice } from './testing'

let office: TestOffice
beforeAll(async () => {
  office = await openTestOffice({ proxies: 1, hosts: ['files.example'], firstCode: 'code' })
})
afterAll(() => office.close())

interface Answer {
  status: number
  headers: Record<string, string | string[] | undefined>
  body: string
}
/** As a proxy asks: with the name that the browser asked for, and with whence and how it came. */
const ask = (path: string, headers: Record<string, string>, body?: object): Promise<Answer> =>
  new Promise((done, failed) => {
    const sent = request(
      office.url + path,
      { method: body ? 'POST' : 'GET', headers: { ...(body && { 'content-type': 'application/json' }), ...headers } },
      (answer) => {
        let text = ''
        answer.on('data', (piece) => {
          text += piece
        })
        answer.on('end', () => done({ status: answer.statusCode!, headers: answer.headers, body: text }))
      },
    )
    sent.on('error', failed)
    sent.end(body && JSON.stringify(body))
  })
const proxied = (address: string) => ({
  host: 'files.example',
  'x-forwarded-proto': 'https',
  'x-forwarded-for': address,
})
const signIn = (address: string, secret = password) =>
  ask('/api/session', { ...proxied(address), origin: 'https://files.example' }, { handle: 'ida', password: secret })

test('cookies are kept to secure connections and this host, and the browser is told to come by TLS only', async () => {
  const answer = await signIn('198.51.100.7')
  expect(answer.status).toBe(200)
  const cookies = answer.headers['set-cookie'] as string[]
  for (const cookie of cookies)
    expect(cookie).toMatch(/^__Host-jaula_(session|browser)=.*; Path=\/; HttpOnly; Secure; SameSite=Lax/)
  expect(answer.headers['strict-transport-security']).toContain('max-age')
  const cookie = cookies.map((one) => one.split(';')[0]).join('; ')
  expect((await ask('/api/shares', { ...proxied('198.51.100.7'), cookie })).status).toBe(200)
  // Over plain http nobody is known by it.
  expect((await ask('/api/shares', { host: 'files.example', cookie })).status).toBe(401)
})

test('another name is not answered to, and a page of plain http is another site', async () => {
  expect((await ask('/api/session', { host: 'elsewhere.example' })).status).toBe(400)
  const { status } = await ask(
    '/api/session',
    { ...proxied('198.51.100.7'), origin: 'http://files.example' },
    { handle: 'ida', password },
  )
  expect(status).toBe(403)
})

test('guesses are counted by who asked the proxy, so that one of an office does not lock out the others', async () => {
  const wrong = await Promise.all(Array.from({ length: 12 }, () => signIn('203.0.113.1', 'wrong')))
  expect(wrong.filter(({ status }) => status === 429).length).toBeGreaterThanOrEqual(7)
  expect((await signIn('203.0.113.1')).status).toBe(429)
  expect((await signIn('203.0.113.2')).status).toBe(200)
})
