// Files as a program that knows nothing of this one wrote them, and what is saved of them.
import { execFileSync } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { extname, join } from 'node:path'
import type { Page, TestInfo } from '@playwright/test'
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

/**
 * What a program that knows nothing of this one reads in the newest version of a file.
 * @param reader a Python program that prints JSON of the file that it is given
 */
export async function readBy(reader: string, page: Page, office: Office, info: TestInfo, name: string) {
  const [row] = await office.query('select id from entry where removed_at is null and name = $1', [name])
  mkdirSync(info.outputDir, { recursive: true })
  const at = join(info.outputDir, `read${extname(name)}`)
  writeFileSync(at, await newest(page, office, { file: { id: row!.id } } as unknown as Saved))
  return JSON.parse(execFileSync('/usr/bin/python3', ['-c', reader, at], { encoding: 'utf8' }))
}

/** A cell of the grid; columns from 1, rows from 0. */
export const cell = (page: Page, column: number, row: number) => page.getByTestId(`glide-cell-${column}-${row}`)

/** The words of the newest version of a file by its name, or the beginning of it; none where there is none. */
export async function contentOf(page: Page, office: Office, name: string): Promise<string> {
  const rows = await office.query(
    'select head_version_id as id from entry where removed_at is null and (name = $1 or starts_with(name, $2))',
    [name, `${name}.`],
  )
  if (!rows.length) return ''
  expect(rows).toHaveLength(1)
  return (await page.request.get(`${office.url}/api/versions/${rows[0]!.id}/bytes`)).text()
}
