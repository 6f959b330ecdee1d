// A stand-in for another computer that keeps files by SFTP (draft-ietf-secsh-filexfer-02).
import { spawn } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import type { FileHandle } from 'node:fs/promises'
import { createServer } from 'node:net'
import ssh2, { type Connection, type SFTPWrapper } from 'ssh2'
import { listening, type StandIn } from './listen'
import { type Known, type Storage, Vanished } from './storage'

const { Server, utils } = ssh2
const { STATUS_CODE, OPEN_MODE } = utils.sftp

const isKey = (text: string) => !(utils.parseKey(text) instanceof Error)
/** A new key pair. The library writes about one in two hundred and fifty so that it cannot read it itself. */
export function newKeyPair(): { public: string; private: string } {
  for (;;) {
    const pair = utils.generateKeyPairSync('ed25519')
    if (isKey(pair.private) && isKey(pair.public)) return pair
  }
}

/** Its own key, which stays the same from one start to the next; one that is none is made anew. */
function ownKey(file: string): string {
  const known = existsSync(file) ? readFileSync(file, 'utf8') : ''
  if (isKey(known)) return known
  const { private: key } = newKeyPair()
  writeFileSync(file, key, { mode: 0o600 })
  return key
}

const attributes = ({ is, size, changed }: Known) => ({
  mode: (is === 'folder' ? 0o040_000 : is === 'file' ? 0o100_000 : 0o120_000) | 0o600,
  uid: 0,
  gid: 0,
  size,
  atime: changed,
  mtime: changed,
})

/** Answers what is asked of a storage. */
function answer(sftp: SFTPWrapper, storage: Storage, client: Connection, vanish: () => void): void {
  const open = new Map<number, { path: string; file?: FileHandle; listed?: boolean }>()
  let next = 1
  let ended = false
  const handleOf = (at: number) => {
    const handle = Buffer.alloc(4)
    handle.writeUInt32BE(at)
    return handle
  }
  const opened = (handle: Buffer) => {
    const found = open.get(handle.readUInt32BE(0))
    if (!found) throw Object.assign(new Error('no such handle'), { code: 'EBADF' })
    return found
  }
  const said = (id: number, doing: () => Promise<void>) => {
    doing().catch((error: NodeJS.ErrnoException) => {
      if (error instanceof Vanished) return vanish()
      if (error.code === 'ENOENT') return sftp.status(id, STATUS_CODE.NO_SUCH_FILE)
      if (error.code === 'EACCES') return sftp.status(id, STATUS_CODE.PERMISSION_DENIED)
      sftp.status(id, STATUS_CODE.FAILURE, error.message)
    })
  }
  const done = (id: number) => sftp.status(id, STATUS_CODE.OK)
  sftp.on('REALPATH', (id, path) =>
    sftp.name(id, [{ filename: path === '.' ? '/' : path, longname: '', attrs: {} as never }]),
  )
  const look = (id: number, path: string) => said(id, async () => sftp.attrs(id, attributes(await storage.look(path))))
  sftp.on('LSTAT', look)
  sftp.on('STAT', look)
  sftp.on('FSTAT', (id, handle) =>
    said(id, async () => sftp.attrs(id, attributes(await storage.look(opened(handle).path)))),
  )
  sftp.on('OPEN', (id, path, flags) =>
    said(id, async () => {
      const how = flags & OPEN_MODE.WRITE ? (flags & OPEN_MODE.EXCL ? 'wx' : 'w') : 'r'
      const file = await storage.open(path, how)
      if (ended) return file.close()
      open.set(next, { path, file })
      sftp.handle(id, handleOf(next++))
    }),
  )
  sftp.on('READ', (id, handle, at, length) =>
    said(id, async () => {
      const { path, file } = opened(handle)
      const bytes = await storage.read(path, file!, at, Math.min(length, 1 << 18))
      if (bytes.length) sftp.data(id, bytes)
      else sftp.status(id, STATUS_CODE.EOF)
    }),
  )
  sftp.on('WRITE', (id, handle, at, bytes) =>
    said(id, async () => {
      await storage.write(opened(handle).file!, bytes, at)
      done(id)
    }),
  )
  sftp.on('OPENDIR', (id, path) =>
    said(id, async () => {
      if ((await storage.look(path)).is !== 'folder') throw Object.assign(new Error(path), { code: 'ENOENT' })
      open.set(next, { path })
      sftp.handle(id, handleOf(next++))
    }),
  )
  sftp.on('READDIR', (id, handle) =>
    said(id, async () => {
      const folder = opened(handle)
      if (folder.listed) return sftp.status(id, STATUS_CODE.EOF)
      folder.listed = true
      const found = await storage.list(folder.path)
      if (!found.length) return sftp.status(id, STATUS_CODE.EOF)
      sftp.name(
        id,
        found.map(({ name, ...known }) => ({ filename: name, longname: name, attrs: attributes(known) as never })),
      )
    }),
  )
  sftp.on('CLOSE', (id, handle) =>
    said(id, async () => {
      await opened(handle).file?.close()
      open.delete(handle.readUInt32BE(0))
      done(id)
    }),
  )
  const change = (id: number, doing: Promise<void>) => said(id, () => doing.then(() => done(id)))
  sftp.on('REMOVE', (id, path) => change(id, storage.unlink(path)))
  sftp.on('MKDIR', (id, path) => change(id, storage.mkdir(path)))
  sftp.on('RMDIR', (id, path) => change(id, storage.rmdir(path)))
  sftp.on('RENAME', (id, from, to) =>
    change(
      id,
      // As most servers do it: no name that is taken is given.
      storage.look(to).then(
        () => Promise.reject(Object.assign(new Error('it is there'), { code: 'EEXIST' })),
        (error: NodeJS.ErrnoException) =>
          error.code === 'ENOENT' ? storage.rename(from, to) : Promise.reject(error as Error),
      ),
    ),
  )
  sftp.on('SETSTAT', (id) => done(id))
  sftp.on('FSETSTAT', (id) => done(id))
  client.on('close', () => {
    ended = true
    for (const { file } of open.values()) void file?.close()
    open.clear()
  })
}

/**
 * @param storage what it keeps files on, or the program that speaks for it (OpenSSH's `sftp-server`)
 * @param port 0 for any that is free
 */
export async function startSftp({
  storage,
  keyFile,
  account,
  password,
  publicKey,
  port = 0,
}: {
  storage: Storage | { program: string; folder: string }
  keyFile: string
  account: string
  password: string
  /** Of whoever may sign in by key. */
  publicKey?: string
  port?: number
}): Promise<StandIn> {
  let vanish = () => {}
  const allowed = publicKey === undefined ? null : utils.parseKey(publicKey)
  const serve = (client: Connection) => {
    client.on('error', () => {})
    client.on('authentication', (asked) => {
      if (asked.username !== account) return asked.reject(['password'])
      if (asked.method === 'password' && asked.password === password) return asked.accept()
      if (asked.method === 'publickey' && allowed && !(allowed instanceof Error)) {
        const same = asked.key.data.equals(allowed.getPublicSSH())
        if (same && (!asked.signature || allowed.verify(asked.blob!, asked.signature, asked.hashAlgo) === true))
          return asked.accept()
      }
      asked.reject(allowed ? ['password', 'publickey'] : ['password'])
    })
    client.on('ready', () => {
      client.on('session', (accept) => {
        const session = accept()
        if (!('program' in storage)) {
          session.on('sftp', (take) => answer(take(), storage, client, () => vanish()))
          return
        }
        session.on('subsystem', (take, refuse, { name }) => {
          if (name !== 'sftp') return refuse()
          const channel = take()
          const child = spawn(storage.program, [], { cwd: storage.folder, stdio: ['pipe', 'pipe', 'ignore'] })
          channel.pipe(child.stdin)
          child.stdout.pipe(channel)
          channel.on('close', () => child.kill())
        })
      })
    })
  }
  const ssh = new Server({ hostKeys: [ownKey(keyFile)] }, serve)
  const server = createServer({ noDelay: true }, (socket) => {
    socket.on('error', () => {})
    ssh.injectSocket(socket)
  })
  const standIn = await listening(server, port)
  vanish = standIn.vanish
  return standIn
}
