// Files as a program that knows nothing of this one wrote them, and what is saved of them.
import type { Page } from '@playwright/test'
import type { Saved } from '../core/contract'
import { expect, type Office } from './office'

/** A file of Ida's, as a program that knows nothing of this one wrote it. */
export async function brought(page: Page, office: Office, name: string, bytes: Buffer): Promise<Saved> {
  const [{ id }] = (await office.query("select id from share where name = 'Office'")) as unknown as [{ id: string }]
  const answer = await page.request.post(
    `${office.url}/api/files?shareId=${id}&name=${encodeURIComponent(name)}&key=${crypto.randomUUID()}`,
    { headers: { 'content-type': 'application/octet-stream', origin: office.url }, data: bytes },
  )
  expect(answer.ok()).toBe(true)
  return (await answer.json()) as Saved
}

/** The bytes of a file's newest version. */
export const newest = async (page: Page, office: Office, { file }: Saved) => {
  const facts = await (await page.request.get(`${office.url}/api/files/${file.id}`)).json()
  return Buffer.from(await (await page.request.get(`${office.url}/api/versions/${facts.file.head.id}/bytes`)).body())
}
