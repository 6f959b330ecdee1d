// A place for copies that somebody names on the command line: a folder, or the address of one on another computer. Whoever
// can type there decides where the server is sent; they sign in by what the environment says.
import { say } from '../../core/words/said'
import { CopyFault } from './fault'
import { CopyFolder } from './folder'
import { hostsIn, readAddress, wayTo } from './grounds/hosts'
import { keyShown } from './grounds/sftp'
import { openRemote } from './remote'

export const isAddress = (text: string) => /^[a-z]+:\/\//i.test(text)

/**
 * @param environment JAULA_PLACE_ACCOUNT, JAULA_PLACE_SECRET (a password or a private key) and, for SFTP, JAULA_PLACE_KEY
 * @throws CopyFault, also with the key that is shown where none was agreed to
 */
export async function openPlace(
  text: string,
  environment: Record<string, string | undefined> = process.env,
): Promise<CopyFolder> {
  if (!isAddress(text)) return CopyFolder.open(text)
  const address = readAddress(text)
  const { host, port, kind } = address
  const hosts = hostsIn('', `${/^[\d.]+$|:/.test(host) ? host : `${host}:${port}`}, 0.0.0.0/0, ::/0`)
  const { JAULA_PLACE_ACCOUNT: account, JAULA_PLACE_SECRET: secret, JAULA_PLACE_KEY: key } = environment
  if (kind === 'sftp' && !key)
    throw new CopyFault(say('copies.say-the-key', { host, shown: await keyShown(await wayTo(address, hosts)) }))
  if (!account || !secret) throw new CopyFault(say('copies.say-who-signs-in', { host }))
  return openRemote(address, { account, secret }, key ?? null, hosts)
}
