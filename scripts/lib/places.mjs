import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, statfsSync } from 'node:fs'
import { createServer } from 'node:net'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { CannotGoOn } from './say.mjs'

/** The folder of the clone. */
export const root = dirname(dirname(dirname(fileURLToPath(import.meta.url))))

/** A place for copies as somebody named it: the address of another computer, or a folder from where they stand. */
export const placeNamed = (text) => (/^[a-z]+:\/\//i.test(text) ? text : resolve(process.env.INIT_CWD ?? '.', text))

/** The account PostgreSQL runs under: it refuses root's, so root lends it Debian's. */
export function databaseAccount() {
  if (process.getuid() !== 0) return undefined
  const number = (flag) => Number(spawnSync('id', [flag, 'postgres'], { encoding: 'utf8' }).stdout.trim() || Number.NaN)
  const account = { uid: number('-u'), gid: number('-g') }
  if (Number.isNaN(account.uid))
    throw new CannotGoOn('PostgreSQL will not run as root, and this machine has no account named postgres for it.')
  return account
}

/** Whether an account can go into a folder. */
function canReach(folder, account) {
  return spawnSync('/bin/sh', ['-c', 'cd "$0"', folder], { cwd: '/', ...account }).status === 0
}

/**
 * The data folder, made where the database's account can reach it.
 * @param wanted a folder, absolute or from the clone
 */
export function dataFolder(wanted, account) {
  const chosen = resolve(root, wanted)
  makeFolder(chosen)
  if (!account || canReach(chosen, account)) return chosen
  const other = join('/var/lib/jaula', createHash('sha256').update(chosen).digest('hex').slice(0, 12))
  makeFolder(other)
  if (!canReach(other, account))
    throw new CannotGoOn(
      `The account postgres can reach neither ${chosen} nor ${other}. Set JAULA_DATA to a folder it can reach.`,
    )
  console.log(`The database's account cannot reach ${chosen}, so the data is kept in ${other}.`)
  return other
}

function makeFolder(folder) {
  try {
    mkdirSync(folder, { recursive: true, mode: 0o755 })
  } catch (error) {
    throw new CannotGoOn(
      `Cannot make the data folder ${folder}: ${error.code === 'ENOSPC' ? 'the disk is full' : error.code === 'EACCES' ? 'there is no right to' : error.message}.`,
    )
  }
}

/** @throws when fewer than `megabytes` are free for a folder */
export function requireSpace(folder, megabytes) {
  let at = folder
  while (!existsSync(at)) at = dirname(at)
  const { bavail, bsize } = statfsSync(at)
  const free = Math.floor((bavail * bsize) / 1e6)
  if (free < megabytes)
    throw new CannotGoOn(`The disk of ${folder} is full: ${free} MB are free and Jaula needs ${megabytes} MB.`)
}

/** Whether nobody listens on a port of this host. */
export function portIsFree(port, host = '127.0.0.1') {
  return new Promise((done) => {
    const server = createServer()
    server.once('error', () => done(false))
    server.listen(port, host, () => server.close(() => done(true)))
  })
}

/** Any free port on loopback. */
export function freePort() {
  return new Promise((done, failed) => {
    const server = createServer()
    server.once('error', failed)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => done(port))
    })
  })
}
