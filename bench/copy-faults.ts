// A place for copies that fails in every way that places do, again and again: what the database says is copied is there.
import { execFileSync, spawn } from 'node:child_process'
import { createHash, randomBytes, randomInt, randomUUID } from 'node:crypto'
import {
  existsSync,
  lstatSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  symlinkSync,
  truncateSync,
  unlinkSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import { setTimeout as later } from 'node:timers/promises'
import type { DataSource } from 'typeorm'
import { performAct } from '../server/acts/acts'
import { checkCopy } from '../server/copies/check'
import { copyShare } from '../server/copies/copy'
import { CopyFolder } from '../server/copies/folder'
import { noteCopied } from '../server/copies/record'
import { siteAt } from '../server/copies/sites'
import { unbounded } from '../server/counts/quotas'
import { keepVersion } from '../server/saving/keep'
import { openContents } from '../server/storage/content'

const kinds = ['killed', 'full', 'read-only', 'vanishes', 'flips', 'loses', 'cuts', 'strays', 'links', 'clock'] as const
type Kind = (typeof kinds)[number]

/** @returns how many versions that were said to be copied were missing after a fault, and how many faults there were */
export async function campaign(
  { database, url, share, person }: { database: DataSource; url: string; share: string; person: string },
  mount: string,
  faults: number,
): Promise<{ lost: number; faults: Record<Kind, number>; copies: number }> {
  const contents = openContents()
  const root = join(mount, 'site')
  mkdirSync(root)
  const { id: siteId } = await siteAt(database, await CopyFolder.open(root))
  const done = Object.fromEntries(kinds.map((kind) => [kind, 0])) as Record<Kind, number>
  let lost = 0
  let copies = 0

  const files: { id: string; head: string }[] = []
  const change = async () => {
    for (let n = randomInt(1, 6); n > 0; n--) {
      const file = files.length > 10 ? files[randomInt(files.length)]! : null
      const kind = file ? randomInt(6) : 0
      if (!file || kind === 0) {
        const saved = await keepVersion(database, unbounded, {
          personId: person,
          bytes: randomBytes(randomInt(1, 40_000)),
          reason: 'saved',
          key: randomUUID(),
          target: {
            place: { shareId: share, folderId: null, path: [`F${randomInt(5)}`], name: `${randomUUID()}.bin` },
          },
        })
        files.push({ id: saved.file.id, head: saved.version.id })
      } else if (kind === 1) {
        const changes = [{ id: file.id, name: `${randomUUID()}.bin` }]
        await performAct(database, person, { id: randomUUID(), what: 'rename', changes })
      } else {
        const saved = await keepVersion(database, unbounded, {
          personId: person,
          bytes: randomBytes(randomInt(1, 40_000)),
          reason: 'saved',
          key: randomUUID(),
          target: { fileId: file.id, baseId: file.head },
        })
        file.head = saved.version.id
      }
    }
  }
  const copy = async (now = new Date()) => {
    const copied = await copyShare({ database, contents }, await CopyFolder.open(root), share, { now })
    if (!copied?.whole) return
    await noteCopied(database, siteId, copied)
    copies++
  }
  const bag = () => join(root, readdirSync(root).find((name) => existsSync(join(root, name, 'bagit.txt')))!)
  const payload = (): string[] => {
    const data = join(bag(), 'data')
    return readdirSync(data, { recursive: true, encoding: 'utf8' })
      .map((name) => join(data, name))
      .filter((path) => lstatSync(path).isFile())
  }
  const any = () => {
    const all = payload()
    return all[randomInt(all.length)]!
  }
  /** Versions that the database says are in the copy, and that no file there holds. */
  const missing = async (): Promise<number> => {
    const there = new Set(payload().map((path) => createHash('sha256').update(readFileSync(path)).digest('hex')))
    const said: { sha: string }[] = await database.query(
      `select encode(v.sha256, 'hex') as sha from share_copy c join copied_file f on f.copy_id = c.id
       join version v on v.file_id = f.file_id and v.number <= f.number where c.site_id = $1`,
      [siteId],
    )
    return said.filter(({ sha }) => !there.has(sha)).length
  }
  const failing = (doing: Promise<unknown>) => doing.catch(() => {})
  const inChild = async (meanwhile: (kill: () => void) => Promise<void>) => {
    const child = spawn(process.execPath, [join(process.cwd(), 'dist/server/copy.js'), root], {
      env: { ...process.env, DATABASE_URL: url },
      stdio: 'ignore',
    })
    const ended = new Promise((exit) => child.once('exit', exit))
    await meanwhile(() => child.kill('SIGKILL'))
    await ended
  }
  const rot = async (spoil: () => void) => {
    for (let n = randomInt(1, 4); n > 0; n--) spoil()
    const source = (sha256: string) => contents.read(database.manager, Buffer.from(sha256, 'hex'))
    await checkCopy(await (await CopyFolder.open(root)).within(bag().slice(root.length + 1)), source)
  }
  const strike: Record<Kind, () => Promise<unknown>> = {
    killed: () =>
      inChild(async (kill) => {
        await later(randomInt(250, 900))
        kill()
      }),
    async full() {
      const filler = join(mount, 'filler')
      const room = Number(execFileSync('df', ['--output=avail', '-B1', mount], { encoding: 'utf8' }).split('\n')[1])
      // Not a byte is left, or so few that it is full in the middle.
      writeFileSync(filler, Buffer.alloc(Math.max(0, room - randomInt(60_000))))
      await failing(copy())
      unlinkSync(filler)
    },
    async 'read-only'() {
      execFileSync('mount', ['-o', 'remount,ro', mount])
      await failing(copy())
      execFileSync('mount', ['-o', 'remount,rw', mount])
    },
    async vanishes() {
      const copying = failing(copy())
      await later(randomInt(30))
      renameSync(root, `${root} away`)
      await copying
      rmSync(root, { recursive: true, force: true })
      renameSync(`${root} away`, root)
    },
    flips: () =>
      rot(() => {
        const path = any()
        const bytes = readFileSync(path)
        bytes[randomInt(bytes.length)]! ^= 1 << randomInt(8)
        writeFileSync(path, bytes)
      }),
    loses: () => rot(() => unlinkSync(any())),
    cuts: () => rot(() => truncateSync(any(), 0)),
    async strays() {
      writeFileSync(`${any()} (copy)`, 'not of Jaula')
      await failing(copy())
    },
    async links() {
      const path = any()
      const kept = readFileSync(path)
      unlinkSync(path)
      symlinkSync('/etc/hostname', path)
      await failing(copy())
      unlinkSync(path)
      writeFileSync(path, kept)
    },
    clock: () => failing(copy(new Date(Date.now() + randomInt(-400, 400) * 86_400_000))),
  }
  await change()
  await copy()
  for (let n = 0; n < faults; n++) {
    await change()
    const kind = kinds[randomInt(kinds.length)]!
    await strike[kind]()
    done[kind]++
    lost += await missing()
    // It goes on by itself at times, and at others only after some more faults.
    if (randomInt(2)) await failing(copy())
  }
  await copy()
  lost += await missing()
  return { lost, faults: done, copies }
}
