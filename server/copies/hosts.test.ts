// Places for copies on other computers, as the server keeps them: real SFTP and WebDAV to stand-ins, with their faults.
import { randomUUID } from 'node:crypto'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import ssh2 from 'ssh2'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import type { Saved } from '../../core/contract'
import { type Faults, none } from '../../standins/faults'
import type { StandIn } from '../../standins/listen'
import { newKeyPair, startSftp } from '../../standins/sftp'
import { Storage } from '../../standins/storage'
import { startWebDav } from '../../standins/webdav'
import { openSeal, type Seal } from '../seal'
import { openContents } from '../storage/content'
import { openTestOffice, signInAs, type TestOffice } from '../testing'
import { keepCopies } from './by-itself'
import { checkCopy } from './check'
import { copiesIn } from './copy'
import { CopyFindingRow, CopySiteRow, ShareCopyRow } from './entity'
import { CopyFolder } from './folder'
import { hostsIn } from './grounds/hosts'
import { openPlace } from './place'
import { closeRemote } from './remote'
import { addHost, forgetSite, lookAtHost, type Reachable, signInAt } from './sites'

let office: TestOffice
let priya: Awaited<ReturnType<typeof signInAs>>
let personId: string
let scratch: string
let seal: Seal
let folder: string
let faults: Faults
let standIn: StandIn
const account = 'copies'
const password = 'an open secret'
beforeAll(async () => {
  office = await openTestOffice()
  priya = await signInAs(office, 'priya')
  const [row] = await office.owner.query("select id from person where handle = 'priya'")
  personId = row.id
  scratch = mkdtempSync(join(tmpdir(), 'jaula-hosts-'))
  seal = openSeal(join(scratch, 'key'))
})
afterAll(async () => {
  await office.close()
  rmSync(scratch, { recursive: true, force: true })
})
beforeEach(() => {
  folder = mkdtempSync(join(scratch, 'other-'))
  mkdirSync(join(folder, 'copies'))
  faults = none
})
afterEach(async () => {
  await closeRemote()
  await standIn.close()
  await office.owner.query('delete from copy_site')
})

const reachable = (): Reachable => ({ folders: [], drives: [], hosts: hostsIn('', '127.0.0.1'), seal })
const save = async (name: string, body: string) => {
  const answer = await priya.ask(
    `/api/files?shareId=${office.share}&name=${encodeURIComponent(name)}&key=${randomUUID()}`,
    { method: 'POST', body },
  )
  expect(answer.status).toBe(200)
  return (await answer.json()) as Saved
}
let told: unknown[] = []
const keep = (now = new Date(), where = reachable()) => {
  told = []
  return keepCopies({ database: office.database, contents: openContents() }, where, {
    now,
    onFault: (error) => told.push(error),
  })
}
const copyAt = (siteId: string) =>
  office.database.manager.findOneByOrFail(ShareCopyRow, { siteId, shareId: office.share })
const why = async (siteId: string) => {
  const { failure } = await copyAt(siteId)
  return failure && (JSON.parse(failure) as { say: string }).say
}
/** What is on the other computer's disk is a whole copy of ours. */
async function whole(): Promise<void> {
  const site = await CopyFolder.open(join(folder, 'copies'))
  const name = (await copiesIn(site)).get(office.share)!
  const { findings, tags, files } = await checkCopy(await site.within(name))
  const { n } = (
    await office.owner.query(
      'select count(*)::int as n from version v join entry e on e.id = v.file_id where e.share_id = $1 and e.removed_at is null',
      [office.share],
    )
  )[0]
  expect({ findings, tags, files }).toEqual({ findings: [], tags: [], files: n })
}
const later = (hours: number) => new Date(Date.now() + hours * 3_600_000)

const sftp = (keyName = 'host-key', port = 0) =>
  startSftp({
    storage: new Storage(folder, () => faults),
    keyFile: join(scratch, keyName),
    account,
    password,
    port,
  })
const kinds = [
  { is: 'SFTP', start: () => sftp(), address: (port: number) => `sftp://127.0.0.1:${port}/copies` },
  {
    is: 'WebDAV',
    start: () => startWebDav({ storage: new Storage(folder, () => faults), account, password }),
    address: (port: number) => `http://127.0.0.1:${port}/copies`,
  },
]
async function add(address: string): Promise<string> {
  const { key } = await lookAtHost(address, reachable())
  return addHost(office.database, personId, { address, account, secret: password, key }, reachable())
}

describe.each(kinds)('$is', ({ start, address }) => {
  test('what is saved is copied there whole; a bit that changes is found and repaired; it is cut off, full or read-only, and goes on', async () => {
    standIn = await start()
    await save(`Über den Wehren #1 ${randomUUID()}.txt`, 'at the weir')
    const siteId = await add(address(standIn.port))
    expect(await keep()).toBe(1)
    expect(told).toEqual([])
    await whole()
    // A bit changes there.
    const [bag] = readdirSync(join(folder, 'copies')).filter((name) => !name.endsWith('.json'))
    const [file] = readdirSync(join(folder, 'copies', bag!, 'data'), { withFileTypes: true, recursive: true }).filter(
      (entry) => entry.isFile(),
    )
    const bytes = readFileSync(join(file!.parentPath, file!.name))
    bytes[bytes.length >> 1]! ^= 1
    writeFileSync(join(file!.parentPath, file!.name), bytes)
    await keep(later(24 * 8))
    await whole()
    expect(await office.database.manager.findBy(CopyFindingRow, {})).toEqual([
      expect.objectContaining({ is: 'wrong', repaired: true }),
    ])
    await office.owner.query('delete from copy_finding')
    // It goes away in the middle, again and again a little later; each time the next one goes on.
    for (let n = 0; n < 4; n++) await save(`More ${n} ${randomUUID()}.txt`, 'more '.repeat(20_000 * n))
    let went = 0
    for (let after = 3; after < 400; after = Math.ceil(after * 1.7)) {
      faults = { ...none, vanishes: after }
      await keep(later(24 * 9 + after))
      if ((await copyAt(siteId)).failure !== null) went++
      await closeRemote()
    }
    expect(went).toBeGreaterThan(3)
    faults = none
    await keep(later(24 * 40))
    expect((await copyAt(siteId)).failure).toBeNull()
    await whole()
    await save(`Large ${randomUUID()}.txt`, 'large '.repeat(50_000))
    faults = { ...none, room: 100_000 }
    await keep(later(24 * 60))
    expect(await why(siteId)).toBe('copies.full')
    faults = { ...none, readOnly: true }
    await keep(later(24 * 61))
    expect(await why(siteId)).toBe('copies.read-only')
    faults = none
    await keep(later(24 * 62))
    await whole()
  })

  test('whoever has the database has no password; without the key, or with another one, nothing is reached', async () => {
    standIn = await start()
    const siteId = await add(address(standIn.port))
    const [row] = await office.owner.query('select row_to_json(s)::text as row, sealed from copy_site s')
    expect(row.row).not.toContain(password)
    expect(Buffer.from(row.sealed).toString('latin1')).not.toContain(password)
    await keep(new Date(), { ...reachable(), seal: null })
    expect(await why(siteId)).toBe('copies.no-key-file')
    await keep(new Date(), { ...reachable(), seal: openSeal(join(scratch, 'another key')) })
    expect(await why(siteId)).toBe('copies.other-seal')
    await keep(new Date(), { ...reachable(), hosts: hostsIn('', 'store.tallwater.example') })
    expect(await why(siteId)).toBe('copies.host-not-named')
    // The same lock at another address, as somebody who may write to the database would move it.
    await office.owner.query("update copy_site set folder = replace(folder, '/copies', '/other')")
    await keep()
    expect(await why(siteId)).toBe('copies.other-seal')
  })

  test('a place that is used already, does not let us in, or is no folder is not added, and nothing is kept of it', async () => {
    standIn = await start()
    const at = address(standIn.port)
    const key = (await lookAtHost(at, reachable())).key
    const attempt = (given: { address?: string; secret?: string; where?: Reachable }) =>
      addHost(
        office.database,
        personId,
        { address: given.address ?? at, account, secret: given.secret ?? password, key },
        given.where ?? reachable(),
      )
    await expect(attempt({ secret: 'wrong' })).rejects.toThrow('copies.not-let-in')
    await expect(attempt({ address: at.replace('copies', 'nothing') })).rejects.toThrow('copies.no-folder-there')
    await expect(attempt({ where: { ...reachable(), seal: null } })).rejects.toThrow('copies.no-key-file')
    faults = { ...none, readOnly: true }
    await expect(attempt({})).rejects.toMatchObject({ code: 'EACCES' })
    faults = none
    expect(await office.database.manager.count(CopySiteRow)).toBe(0)
    const siteId = await attempt({})
    await expect(attempt({})).rejects.toThrow('copies.a-site-already')
    // The same folder by another way in.
    await expect(attempt({ address: `${at}/../copies/`.replace('copies/..', 'copies/./..') })).rejects.toThrow()
    await forgetSite(office.database.manager, siteId)
    expect(await office.database.manager.count(CopySiteRow)).toBe(0)
    // It was a place of ours: it is the same one when it comes back.
    expect(await attempt({})).toBe(siteId)
  })
})

test('a computer that shows another key is sent nothing, until somebody agrees to it', async () => {
  standIn = await sftp()
  const { port } = standIn
  const address = `sftp://127.0.0.1:${port}/copies`
  await save(`Kept ${randomUUID()}.txt`, 'kept')
  const siteId = await add(address)
  await keep()
  await standIn.close()
  await closeRemote()
  standIn = await sftp('another-host-key', port)
  await save(`Secret ${randomUUID()}.txt`, 'secret')
  const before = readdirSync(folder, { recursive: true }).length
  await keep(later(25))
  expect(await why(siteId)).toBe('copies.other-key')
  expect(readdirSync(folder, { recursive: true })).toHaveLength(before)
  const { key } = await lookAtHost(address, reachable())
  await signInAt(office.database, siteId, { account, secret: password, key }, reachable())
  await keep(later(26))
  expect((await copyAt(siteId)).failure).toBeNull()
  await whole()
})

test('a stand-in makes keys that can be read, keeps its own, and makes a new one for one that is torn', async () => {
  for (let n = 0; n < 1500; n++) expect(ssh2.utils.parseKey(newKeyPair().private)).not.toBeInstanceOf(Error)
  writeFileSync(join(scratch, 'torn-key'), 'torn')
  standIn = await sftp('torn-key')
  const shown = async () => (await lookAtHost(`sftp://127.0.0.1:${standIn.port}/copies`, reachable())).key
  const key = await shown()
  await standIn.close()
  await closeRemote()
  standIn = await sftp('torn-key')
  expect(await shown()).toBe(key)
})

test('on the command line the key is told before it is agreed to, and who signs in is asked for', async () => {
  standIn = await sftp()
  const address = `sftp://127.0.0.1:${standIn.port}/copies`
  const { key } = await lookAtHost(address, reachable())
  await expect(openPlace(address, {})).rejects.toThrow(key!)
  await expect(openPlace(address, { JAULA_PLACE_KEY: key! })).rejects.toThrow('copies.say-who-signs-in')
  const place = await openPlace(address, {
    JAULA_PLACE_KEY: key!,
    JAULA_PLACE_ACCOUNT: account,
    JAULA_PLACE_SECRET: password,
  })
  await place.writeText('note.txt', 'written there')
  expect(readFileSync(join(folder, 'copies/note.txt'), 'utf8')).toBe('written there')
})
