// Which other computers the server may be sent to, and the way there. Only those that whoever runs it has named: a place
// that an administrator writes down is no way into the network that the server stands in.
import { lookup } from 'node:dns/promises'
import { BlockList, connect, isIP, type Socket } from 'node:net'
import { say } from '../../../core/words/said'
import { far } from '../../far-fault'
import { CopyFault } from '../fault'

/** Not to be reached unless they are named themselves (RFC 6890 and what came after it). */
const special = new BlockList()
for (const [network, prefix] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.0.2.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['198.51.100.0', 24],
  ['203.0.113.0', 24],
  ['224.0.0.0', 3],
] as const)
  special.addSubnet(network, prefix, 'ipv4')
for (const [network, prefix] of [
  ['::', 127],
  ['64:ff9b::', 96],
  ['64:ff9b:1::', 48],
  ['100::', 64],
  ['2001::', 23],
  ['2001:db8::', 32],
  ['2002::', 16],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  special.addSubnet(network, prefix, 'ipv6')

const family = (address: string) => (isIP(address) === 6 ? 'ipv6' : 'ipv4')

/** What may be reached: names with or without a port, addresses, and networks of addresses (`10.2.0.0/16`). */
export interface NamedHosts {
  /** As whoever runs the server wrote them. */
  readonly all: readonly string[]
  readonly names: ReadonlySet<string>
  readonly addresses: BlockList
}

/** @param text names with commas between them @throws Error for one that is none */
export function hostsIn(setting: string, text = ''): NamedHosts {
  const all = text
    .split(',')
    .map((one) => one.trim().toLowerCase())
    .filter(Boolean)
  const names = new Set<string>()
  const addresses = new BlockList()
  for (const one of all) {
    const [, network, prefix] = /^(.*)\/(\d{1,3})$/.exec(one) ?? []
    const bare = one.replace(/^\[(.*)\]$/, '$1')
    if (network && isIP(network) && Number(prefix) <= (isIP(network) === 6 ? 128 : 32))
      addresses.addSubnet(network, Number(prefix), family(network))
    else if (isIP(bare)) addresses.addAddress(bare, family(bare))
    else if (/^(?:[a-z0-9](?:[a-z0-9-]*[a-z0-9])?\.)*[a-z0-9](?:[a-z0-9-]*[a-z0-9])?(?::\d{1,5})?$/.test(one)) {
      const [host, port] = one.split(':') as [string, string?]
      if (isIP(host)) {
        // Of an address with a port the one is not to be reached without the other.
        names.add(one)
      } else names.add(port ? one : host)
    } else throw new Error(`${setting}: ${one} is no name of a computer, address or network of addresses.`)
  }
  return { all, names, addresses }
}

/** Where a place is, on another computer. */
export interface Address {
  kind: 'sftp' | 'webdav'
  host: string
  port: number
  /** The folder there, beginning with `/` and not ending with it. */
  path: string
  /** As it is kept and shown. */
  text: string
  secure: boolean
}

/** @throws CopyFault for what is no address of a folder */
export function readAddress(text: string): Address {
  const fault = () => new CopyFault(say('copies.no-address'))
  let url: URL
  try {
    url = new URL(text.trim())
  } catch {
    throw fault()
  }
  const kind = url.protocol === 'sftp:' ? 'sftp' : /^https?:$/.test(url.protocol) ? 'webdav' : null
  if (!kind || !url.hostname || url.search || url.hash) throw fault()
  // Who signs in is asked for by itself, and never part of what is shown.
  if (url.username || url.password) throw new CopyFault(say('copies.no-account-in-an-address'))
  let path: string
  try {
    path = decodeURIComponent(url.pathname).replace(/\/+$/, '')
  } catch {
    throw fault()
  }
  if (path.split('/').some((step) => step === '.' || step === '..') || path.includes('\0')) throw fault()
  const host = url.hostname.replace(/^\[(.*)\]$/, '$1').toLowerCase()
  const usual = { 'sftp:': 22, 'https:': 443, 'http:': 80 }[url.protocol as 'sftp:']
  const port = url.port ? Number(url.port) : usual
  const shown = isIP(host) === 6 ? `[${host}]` : host
  return {
    kind,
    host,
    port,
    path,
    text: `${url.protocol}//${shown}${port === usual ? '' : `:${port}`}${path}`,
    secure: url.protocol !== 'http:',
  }
}

const plainOf = (address: string) => address.replace(/^::ffff:(?=\d+\.)/i, '')

/** A way to another computer that was looked at: to one address, whatever its name means a moment later. */
export interface Way {
  host: string
  port: number
  address: string
  connect(): Promise<Socket>
}

/** @throws CopyFault when it is not to be reached, or has no address */
export async function wayTo({ host, port, secure }: Address, hosts: NamedHosts): Promise<Way> {
  const literal = isIP(host) !== 0
  const isNamed = (address: string) =>
    hosts.addresses.check(address, family(address)) || hosts.names.has(`${address}:${port}`)
  if (!(literal ? isNamed(plainOf(host)) : hosts.names.has(host) || hosts.names.has(`${host}:${port}`)))
    throw new CopyFault(say('copies.host-not-named', { host: literal ? host : `${host}${port ? `:${port}` : ''}` }))
  const found = literal
    ? [{ address: host }]
    : await lookup(host, { all: true }).catch((error: NodeJS.ErrnoException) => {
        throw new CopyFault(say('copies.no-such-host', { host, code: error.code ?? '' }))
      })
  const addresses = found.map(({ address }) => plainOf(address))
  const open = addresses.find((address) => isNamed(address) || !special.check(address, family(address)))
  if (open === undefined) throw new CopyFault(say('copies.inner-address', { host, address: addresses[0] ?? '' }))
  // What is signed in with would be read by whoever is on the way.
  if (!secure && !/^127\.|^::1$/.test(open)) throw new CopyFault(say('copies.not-protected', { host }))
  return {
    host,
    port,
    address: open,
    connect: () =>
      new Promise((connected, failed) => {
        const socket = connect({ host: open, port, noDelay: true, keepAlive: true })
        socket.setTimeout(20_000, () => socket.destroy(Object.assign(new Error(host), { code: 'ETIMEDOUT' })))
        const refused = (error: Error) => failed(far(error))
        socket.once('error', refused)
        socket.once('connect', () => {
          socket.setTimeout(0)
          socket.off('error', refused)
          // Whoever uses it hears of it; that nobody does is no reason to end the server.
          socket.on('error', () => {})
          connected(socket)
        })
      }),
  }
}
