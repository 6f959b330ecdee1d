// A place for copies on another computer: the way there, who signs in, and connections that stay open for a while.
import { say } from '../../core/words/said'
import { OtherSeal, type Seal } from '../seal'
import { CopyFault } from './fault'
import { CopyFolder } from './folder'
import { type Address, type NamedHosts, readAddress, wayTo } from './grounds/hosts'
import { connect, NotLetIn, OtherKey, type Reached, Sftp, type SignIn } from './grounds/sftp'
import { WebDav } from './grounds/webdav'

/** A connection that nobody used for so long is closed; milliseconds. */
const idle = 90_000

interface Open {
  /** What it was opened with: another password is another connection. */
  with: string
  reached: Reached
  usedAt: number
}
const open = new Map<string, Open>()
const opening = new Map<string, Promise<Reached>>()
let tidying: NodeJS.Timeout | null = null

function tidy(): void {
  for (const [key, { reached, usedAt }] of open)
    if (reached.closed() || (!reached.waiting.size && Date.now() - Math.max(usedAt, reached.usedAt()) > idle)) {
      open.delete(key)
      void reached.close()
    }
  if (open.size || !tidying) return
  clearInterval(tidying)
  tidying = null
}

/** Closes what is open, for whoever ends. */
export async function closeRemote(): Promise<void> {
  const all = [...open.values()]
  open.clear()
  if (tidying) clearInterval(tidying)
  tidying = null
  for (const { reached } of all) await reached.close()
}

async function connected(address: Address, signIn: SignIn, hostKey: string, hosts: NamedHosts): Promise<Reached> {
  // Whether it may be reached is looked at each time, also where a connection is open.
  const way = await wayTo(address, hosts)
  const key = address.text
  const using = JSON.stringify([signIn, hostKey])
  const there = open.get(key)
  if (there && there.with === using && !there.reached.closed()) {
    there.usedAt = Date.now()
    return there.reached
  }
  const same = `${key}\n${using}`
  let soon = opening.get(same)
  if (!soon) {
    soon = connect(way, signIn, hostKey).finally(() => opening.delete(same))
    opening.set(same, soon)
  }
  const reached = await soon
  if (open.get(key)?.reached !== reached) {
    void open.get(key)?.reached.close()
    open.set(key, { with: using, reached, usedAt: Date.now() })
    tidying ??= setInterval(tidy, idle / 3).unref()
  }
  return reached
}

/**
 * @param hostKey the fingerprint that was agreed to, for SFTP
 * @throws CopyFault when it may not be reached, is another computer than was agreed to, does not let us in or has no such
 *   folder; otherwise what the network says
 */
export async function openRemote(
  address: Address,
  signIn: SignIn,
  hostKey: string | null,
  hosts: NamedHosts,
): Promise<CopyFolder> {
  const { host, kind, path, text } = address
  try {
    const ground =
      kind === 'sftp'
        ? new Sftp(await connected(address, signIn, hostKey ?? '', hosts), text, path || '/')
        : WebDav.at(address, await wayTo(address, hosts), signIn)
    const is = await ground.look('')
    if (is !== 'folder') throw new CopyFault(say('copies.no-folder-there', { folder: path || '/', host }))
    return new CopyFolder(ground)
  } catch (error) {
    if (error instanceof OtherKey) throw new CopyFault(say('copies.other-key', { host, shown: error.shown }))
    if (error instanceof NotLetIn || (error as NodeJS.ErrnoException).code === 'EAUTH')
      throw new CopyFault(say('copies.not-let-in', { host }))
    if (/^(?:EPROTO|EREDIRECT|HTTP \d+)$/.test((error as NodeJS.ErrnoException).code ?? ''))
      throw new CopyFault(say('copies.no-answer-of-that-kind', { host, code: (error as NodeJS.ErrnoException).code! }))
    throw error
  }
}

/** A sign-in as it is kept. */
export interface KeptSignIn {
  id: string
  folder: string
  account: string | null
  sealed: Buffer | null
  hostKey: string | null
}

/** What a locked sign-in is for: this place, at this address, and no other. */
export const purposeOf = ({ id, folder, account }: Pick<KeptSignIn, 'id' | 'folder' | 'account'>) =>
  JSON.stringify(['copy site', id, folder, account])

/** The place that is kept so. @throws as openRemote, and CopyFault when its sign-in cannot be opened */
export async function openKept(site: KeptSignIn, hosts: NamedHosts, seal: Seal | null): Promise<CopyFolder> {
  if (!seal) throw new CopyFault(say('copies.no-key-file'))
  let secret: string
  try {
    if (!site.sealed || site.account === null) throw new OtherSeal()
    secret = seal.open(site.sealed, purposeOf(site))
  } catch (error) {
    if (error instanceof OtherSeal) throw new CopyFault(say('copies.other-seal'))
    throw error
  }
  return openRemote(readAddress(site.folder), { account: site.account, secret }, site.hostKey, hosts)
}
