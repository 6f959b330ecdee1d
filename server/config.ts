// What the server is told by its environment, checked before anything begins: a wrong setting is said, not guessed at.
import { isAbsolute, resolve } from 'node:path'
import { z } from 'zod'
import { hostsIn, type NamedHosts } from './copies/grounds/hosts'
import { type MailWay, readMailHost } from './mail/way'

const loopback = new Set(['127.0.0.1', '::1', 'localhost'])
const number = (least: number, most: number) =>
  z.coerce
    .number(`Use a number from ${least} to ${most}.`)
    .int(`Use a whole number from ${least} to ${most}.`)
    .min(least, `Use a number from ${least} to ${most}.`)
    .max(most, `Use a number from ${least} to ${most}.`)

const Environment = z.object({
  DATABASE_URL: z.string('Set it to a PostgreSQL address; npm start does.').min(1, 'Set it to a PostgreSQL address.'),
  JAULA_OWNER_DATABASE_URL: z.string().optional(),
  JAULA_PORT: number(1, 65_535).default(4170),
  JAULA_HOST: z.string().min(1).default('127.0.0.1'),
  JAULA_DEMO: z.enum(['0', '1'], 'Use 1 or 0.').optional(),
  JAULA_DATA: z.string().min(1).optional(),
  JAULA_LARGEST_FILE: number(1_000_000, 2_000_000_000).default(100_000_000),
  JAULA_SHARE_QUOTA_MB: number(1, 1_000_000_000).optional(),
  JAULA_PERSON_QUOTA_MB: number(1, 1_000_000_000).optional(),
  JAULA_COPY_FOLDERS: z.string().optional(),
  JAULA_COPY_DRIVES: z.string().optional(),
  JAULA_COPY_HOSTS: z.string().optional(),
  JAULA_TAKE_OVER_FOLDERS: z.string().optional(),
  JAULA_KEY_FILE: z.string().optional(),
  JAULA_STAND_INS: z.string().optional(),
  JAULA_DEMO_DRIVE: z.string().optional(),
  JAULA_TRIAL_DATABASE_URL: z.string().optional(),
  JAULA_TRIAL_OWNER_DATABASE_URL: z.string().optional(),
  JAULA_TRIAL_DAYS: number(1, 3650).default(30),
  JAULA_COPY_HOURS: number(0, 8760).default(24),
  JAULA_CHECK_DAYS: number(1, 3650).default(7),
  JAULA_MAIL: z.string().optional(),
  JAULA_MAIL_PASSWORD: z.string().optional(),
  JAULA_MAIL_FROM: z.string().optional(),
  JAULA_MAIL_RETURNS: z.string().optional(),
  JAULA_MAIL_RETURNS_PASSWORD: z.string().optional(),
  JAULA_MAIL_LARGEST: number(100_000, 1_000_000_000).default(20_000_000),
  JAULA_ADDRESS: z
    .url({
      protocol: /^https?$/,
      error: 'Use the address that people open Jaula with, like https://jaula.office.example.',
    })
    .optional(),
  JAULA_HOSTS: z.string().optional(),
  JAULA_PROXIES: number(0, 10).default(0),
  JAULA_FIRST_CODE: z.string().min(6).optional(),
  JAULA_LOG: z.enum(['fatal', 'error', 'warn', 'info', 'debug', 'trace', 'silent']).default('warn'),
  JAULA_PAGES: z.string().optional(),
})

export interface Config {
  databaseUrl: string
  /** Who owns the database and migrates it; the same role where there is none. */
  ownerDatabaseUrl: string | undefined
  port: number
  host: string
  /** The demo's data and accounts, whose passwords everybody knows. */
  demo: boolean
  data: string | undefined
  largestFile: number
  /** What the versions of a share, and of a person, may take in all; bytes, null for no bound. */
  quotas: { share: number | null; person: number | null }
  /**
   * Folders that copies go to, and those in which drives appear that may be used; how old copies may get at first, and
   * after how many days they are read again. Other computers that copies may go to.
   */
  copies: { folders: string[]; drives: string[]; hosts: NamedHosts; hours: number; days: number }
  /** Folders of the server that may be taken over into a share. */
  intakeFolders: string[]
  /** Where the demo makes an old drive to be taken over. */
  demoDrive: string | null
  /** Where the key is that passwords of other computers are locked with; without one there are none. */
  keyFile: string | null
  /** A database beside ours in which bringing copies back is tried; null for no trials. After so many days they are made again. */
  trials: { url: string; ownerUrl: string; days: number } | null
  /** A folder of stand-ins for other computers, which are started with the demo. */
  standIns: string | null
  /** The way out for mail, without which none is sent. */
  mail: MailWay | null
  /** What people open Jaula with; null: whatever they do. */
  address: string | null
  /** Names that a request may be sent to; any where there are none. */
  hosts: string[]
  proxies: number
  firstCode: string | undefined
  log: z.output<typeof Environment>['JAULA_LOG']
  pages: string | undefined
  /** What whoever started the server should know. */
  warnings: string[]
}

/** Whole paths with commas between them. @throws Error for one that is none */
function foldersIn(setting: string, text = ''): string[] {
  const folders = text
    .split(',')
    .map((folder) => folder.trim())
    .filter(Boolean)
  for (const folder of folders)
    if (!isAbsolute(folder)) throw new Error(`${setting}: ${folder} is no whole path. Begin it with /.`)
  return folders.map((folder) => resolve(folder))
}

/** A name and an address, or an address alone, as mail has them (RFC 5322, section 3.4). */
function senderIn(setting: string, text: string): MailWay['from'] {
  const [, name, address] = /^(?:"?([^"<>]*?)"?\s*<)?([^<>\s]+@[^<>\s]+?)>?$/.exec(text.trim()) ?? []
  if (!address || !z.regexes.email.test(address))
    throw new Error(`${setting}: write it as Jaula <jaula@office.example>.`)
  return { name: name?.trim() || 'Jaula', address }
}

/** @throws Error for a setting that is wrong or missing */
function mailIn(env: z.output<typeof Environment>): MailWay | null {
  if (!env.JAULA_MAIL) return null
  if (!env.JAULA_MAIL_FROM)
    throw new Error('JAULA_MAIL_FROM: say what messages come from: Jaula <jaula@office.example>.')
  return {
    out: readMailHost(
      'JAULA_MAIL',
      env.JAULA_MAIL,
      { plain: ['smtp', 587], secure: ['smtps', 465] },
      env.JAULA_MAIL_PASSWORD,
    ),
    from: senderIn('JAULA_MAIL_FROM', env.JAULA_MAIL_FROM),
    returns: env.JAULA_MAIL_RETURNS
      ? readMailHost(
          'JAULA_MAIL_RETURNS',
          env.JAULA_MAIL_RETURNS,
          { plain: ['pop3', 110], secure: ['pop3s', 995] },
          env.JAULA_MAIL_RETURNS_PASSWORD,
        )
      : null,
    largest: env.JAULA_MAIL_LARGEST,
  }
}

/** @throws Error that names each setting that is wrong */
export function readConfig(environment: Record<string, string | undefined>): Config {
  // An empty variable is one that is not set.
  const set = Object.fromEntries(Object.entries(environment).filter(([, value]) => value !== ''))
  const read = Environment.safeParse(set)
  if (!read.success)
    throw new Error(read.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join(' '))
  const env = read.data
  const here = loopback.has(env.JAULA_HOST)
  const demo = env.JAULA_DEMO ? env.JAULA_DEMO === '1' : here
  const named = (env.JAULA_HOSTS ?? '')
    .split(',')
    .map((name) => name.trim().toLowerCase())
    .filter(Boolean)
  const folders = foldersIn('JAULA_COPY_FOLDERS', env.JAULA_COPY_FOLDERS)
  const drives = foldersIn('JAULA_COPY_DRIVES', env.JAULA_COPY_DRIVES)
  const warnings: string[] = []
  if (demo && !here)
    warnings.push(
      'The demo is open to other computers: its accounts and passwords are shown to everybody. Set JAULA_DEMO=0 for work of your own.',
    )
  if (!here && !named.length)
    warnings.push('Set JAULA_HOSTS to the names that people reach Jaula by, so that it answers to no other.')
  if (!here && env.JAULA_PROXIES === 0)
    warnings.push(
      'Passwords and work go over the network unprotected. Put a TLS proxy before Jaula and set JAULA_PROXIES.',
    )
  if (env.JAULA_MAIL && !env.JAULA_KEY_FILE && !env.JAULA_DATA)
    warnings.push('No mail goes out: what waits is locked with a key. Name its file in JAULA_KEY_FILE.')
  return {
    databaseUrl: env.DATABASE_URL,
    ownerDatabaseUrl: env.JAULA_OWNER_DATABASE_URL,
    port: env.JAULA_PORT,
    host: env.JAULA_HOST,
    demo,
    data: env.JAULA_DATA,
    largestFile: env.JAULA_LARGEST_FILE,
    quotas: {
      share: env.JAULA_SHARE_QUOTA_MB ? env.JAULA_SHARE_QUOTA_MB * 1e6 : null,
      person: env.JAULA_PERSON_QUOTA_MB ? env.JAULA_PERSON_QUOTA_MB * 1e6 : null,
    },
    copies: {
      folders,
      drives,
      hosts: hostsIn('JAULA_COPY_HOSTS', env.JAULA_COPY_HOSTS),
      hours: env.JAULA_COPY_HOURS,
      days: env.JAULA_CHECK_DAYS,
    },
    intakeFolders: [
      ...foldersIn('JAULA_TAKE_OVER_FOLDERS', env.JAULA_TAKE_OVER_FOLDERS),
      ...(demo ? foldersIn('JAULA_DEMO_DRIVE', env.JAULA_DEMO_DRIVE) : []),
    ],
    demoDrive: demo ? (env.JAULA_DEMO_DRIVE ?? null) : null,
    trials:
      env.JAULA_TRIAL_DATABASE_URL && env.JAULA_TRIAL_OWNER_DATABASE_URL
        ? {
            url: env.JAULA_TRIAL_DATABASE_URL,
            ownerUrl: env.JAULA_TRIAL_OWNER_DATABASE_URL,
            days: env.JAULA_TRIAL_DAYS,
          }
        : null,
    standIns: demo ? (env.JAULA_STAND_INS ?? null) : null,
    keyFile: env.JAULA_KEY_FILE ?? (env.JAULA_DATA ? resolve(env.JAULA_DATA, 'sealing-key') : null),
    mail: mailIn(env),
    address: env.JAULA_ADDRESS?.replace(/\/+$/, '') ?? null,
    // On this computer alone only its own names are asked for; another one would be a foreign page's trick. They are
    // always answered to: whoever starts and watches Jaula asks by them.
    hosts: named.length || (here && env.JAULA_PROXIES === 0) ? [...named, '127.0.0.1', 'localhost', '[::1]'] : [],
    proxies: env.JAULA_PROXIES,
    firstCode: env.JAULA_FIRST_CODE,
    log: env.JAULA_LOG,
    pages: env.JAULA_PAGES,
    warnings,
  }
}
