// npm run copy -- FOLDER: brings copies of all shares in a folder to what the shares are, as ordinary files with their
// checksums. With --check every copy there is read again, and repaired from the store where it is wrong.
import 'reflect-metadata'
import { z } from 'zod'
import { inEnglish } from '../core/words/in-english'
import { SaidError, saidBy } from '../core/words/said'
import { checkCopy } from './copies/check'
import { copiesIn, copyShare } from './copies/copy'
import type { CopyFolder } from './copies/folder'
import { openPlace } from './copies/place'
import { noteChecked, noteCopied } from './copies/record'
import { closeRemote } from './copies/remote'
import { siteAt } from './copies/sites'
import { openDatabase } from './database'
import { select } from './sql/rows'
import { openContents } from './storage/content'

const [folder, ...options] = process.argv.slice(2)
const say = (text: string) => process.stdout.write(`${text}\n`)
const many = (count: number, one: string, more = `${one}s`) =>
  `${count.toLocaleString('en')} ${count === 1 ? one : more}`
let faults = 0

async function copyAll(folder: CopyFolder): Promise<void> {
  const database = await openDatabase(process.env.DATABASE_URL!, process.env.JAULA_OWNER_DATABASE_URL)
  try {
    const contents = openContents()
    const { id: siteId } = await siteAt(database, folder)
    const shares = await select(database, z.object({ id: z.string() }), 'select id from share order by name_key')
    for (const { id } of shares) {
      const copied = await copyShare({ database, contents }, folder, id)
      if (!copied) continue
      await noteCopied(database, siteId, copied)
      const { share, files, versions, written, moved, removed, renamed, unread, strays } = copied
      say(
        `${share}: ${many(files, 'file')}, ${many(versions, 'version')} in ${copied.folder}; ` +
          `${written} written, ${moved} moved, ${removed} removed`,
      )
      for (const [path, name] of renamed) say(`  ${path}: called so there, and ${name} in Jaula`)
      for (const { path } of unread) say(`  ${path}: the store could not give it`)
      for (const path of strays) say(`  ${path}: not of Jaula, and left as it is`)
      faults += unread.length
    }
  } finally {
    await database.destroy()
  }
}

async function checkAll(site: CopyFolder): Promise<void> {
  const url = process.env.DATABASE_URL
  const database = url ? await openDatabase(url, process.env.JAULA_OWNER_DATABASE_URL) : null
  try {
    const contents = openContents()
    const known = database && (await siteAt(database, site))
    const source = database && ((sha256: string) => contents.sound(database.manager, Buffer.from(sha256, 'hex')))
    for (const [shareId, name] of [...(await copiesIn(site))].sort(([, a], [, b]) => (a < b ? -1 : 1))) {
      const at = new Date()
      const checked = await checkCopy(await site.within(name), source)
      if (database && known) await noteChecked(database, { shareId, siteId: known.id, at }, checked)
      const { files, bytes, findings, tags } = checked
      const wrong = findings.filter(({ is }) => is !== 'not listed')
      say(`${name}: ${many(files, 'file')} read, ${many(bytes, 'byte')}; ${many(wrong.length, 'fault')}`)
      for (const { path, is, repaired } of findings) say(`  ${path}: ${is}${repaired ? ', repaired' : ''}`)
      for (const path of tags) say(`  ${path}: does not say what is so`)
      faults += wrong.filter(({ repaired }) => !repaired).length + tags.length
    }
  } finally {
    await database?.destroy()
  }
}

try {
  if (!folder || options.some((option) => option !== '--check'))
    throw new Error('Say which folder: npm run copy -- FOLDER, or npm run copy -- FOLDER --check.')
  const site = await openPlace(folder)
  await (options.length ? checkAll(site) : copyAll(site))
  process.exitCode = faults ? 1 : 0
} catch (error) {
  process.stderr.write(`${error instanceof SaidError ? inEnglish(saidBy(error)) : (error as Error).message}\n`)
  process.exitCode = 2
} finally {
  await closeRemote()
}
