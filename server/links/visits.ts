// Whoever comes with a link: it is opened with its secret, and from then on the browser is known by a cookie of the link's,
// so that what is asked for has no secret in its address.
import { randomBytes } from 'node:crypto'
import { verify } from '@node-rs/argon2'
import type { DataSource, EntityManager } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { LinkedEntry, LinkedFolder, LinkUse, OpenedLink } from '../../core/contract'
import { type Sentence, say } from '../../core/words/said'
import type { CountGuess } from '../accounts/limits'
import { digestOf } from '../accounts/sessions'
import { placeContents } from '../files/places'
import { absent, Refusal } from '../refusal'
import { requireRoleAt } from '../rights/service'
import { select } from '../sql/rows'
import { inTransaction } from '../sql/transaction'
import { type PlacedVersion, versionById } from '../versions/read'
import { LinkUseRow, LinkVisitRow } from './entity'

/** So long a browser has a link open; hours. */
export const visitHours = 12

/** Where somebody came from. */
export interface Came {
  address: string
  browser: string
}

const FoundLink = z.object({
  id: z.string(),
  personId: z.string(),
  entryId: z.string(),
  shareId: z.string(),
  role: z.enum(['view', 'edit']),
  until: z.date().nullable(),
  passwordHash: z.string().nullable(),
  uses: z.number().nullable(),
  versionId: z.string().nullable(),
  download: z.boolean(),
  ended: z.boolean(),
  by: z.string(),
  madeBy: z.string(),
  name: z.string(),
  opened: z.number(),
})
export type FoundLink = z.output<typeof FoundLink>
const find = (manager: EntityManager, where: string, values: unknown[]) =>
  select(
    manager,
    FoundLink,
    `select l.id, l.person_id as "personId", l.entry_id as "entryId", e.share_id as "shareId", l.role, l.until, l.password_hash as "passwordHash",
       l.uses, l.version_id as "versionId", l.download, l.ended_at is not null as ended, b.name as by, l.made_by as "madeBy", l.name,
       (select count(*)::int from link_visit t where t.link_id = l.id) as opened
     from link l join entry e on e.id = l.entry_id join person b on b.id = l.made_by where ${where}`,
    values,
  )

const over = (why: Sentence) => new Refusal('link-over', why)
/** @throws Refusal link-over, which says whom to ask */
function refuseOver({ ended, until, by }: FoundLink): void {
  if (ended) throw over(say('links.ended', { by }))
  if (until && until <= new Date()) throw over(say('links.day-over', { day: until.getTime(), by }))
}

/** What was done with a link. */
export async function noteUse(
  manager: EntityManager,
  linkId: string,
  what: LinkUse['what'],
  { address, browser }: Came,
  more: Pick<Partial<LinkUseRow>, 'guestId' | 'fileId' | 'versionId'> = {},
): Promise<void> {
  await manager.insert(LinkUseRow, {
    id: uuidv7(),
    linkId,
    what,
    address: address.slice(0, 60),
    browser: browser.slice(0, 100),
    ...more,
  })
}

interface Opening extends Came {
  token: string
  password?: string | undefined
  /** The browser's cookie of a link. */
  cookieOf(linkId: string): string | undefined
}

/**
 * Opens a link. Each opening is one of its uses, until the browser has had it open for half a day.
 * @returns the visit's secret, for a new one
 * @throws Refusal not-found, wrong-password (also where none came and one is asked for), link-over, too-many-attempts
 */
export async function openLink(
  database: DataSource,
  count: CountGuess,
  { token, password, cookieOf, ...came }: Opening,
): Promise<{ link: FoundLink; visit: string | null }> {
  const guess = (handle: string) => count({ handle, address: came.address, known: null })
  const [link] = await find(database.manager, 'l.token_hash = $1', [digestOf(token)])
  if (!link) {
    // No secret is guessed; who tries is stopped all the same.
    await (await guess(`link ${digestOf(token).toString('hex')}`)).wrong()
    throw new Refusal('not-found', say('links.not-known'))
  }
  refuseOver(link)
  const here = await visitIn(database.manager, link.id, cookieOf(link.id))
  if (!here && link.passwordHash !== null) {
    if (!password) throw new Refusal('wrong-password', say('links.has-a-password'))
    const counted = await guess(`link ${link.id}`)
    if (!(await verify(link.passwordHash, password))) {
      await counted.wrong()
      await noteUse(database.manager, link.id, 'refused', came)
      throw new Refusal('wrong-password', say('links.not-its-password'), {
        fields: { password: say('links.not-its-password') },
      })
    }
    await counted.right()
  }
  if (here) return { link, visit: null }
  const secret = randomBytes(32).toString('base64url')
  await inTransaction(database, async (manager) => {
    // Two that come at once come one after the other: the last use is one of them's.
    await select(manager, z.object({ id: z.string() }), 'select id from link where id = $1 for update', [link.id])
    const [now] = await find(manager, 'l.id = $1', [link.id])
    if (!now) throw absent()
    refuseOver(now)
    if (now.uses !== null && now.opened >= now.uses) throw over(say('links.used-up', { uses: now.uses, by: link.by }))
    const half = Date.now() + visitHours * 3_600_000
    await manager.insert(LinkVisitRow, {
      id: uuidv7(),
      tokenHash: digestOf(secret),
      linkId: link.id,
      until: new Date(Math.min(half, link.until?.getTime() ?? half)),
    })
    await noteUse(manager, link.id, 'opened', came)
  })
  return { link, visit: secret }
}

const Visit = z.object({ id: z.string(), guestId: z.string().nullable() })
async function visitIn(manager: EntityManager, linkId: string, cookie: string | undefined) {
  if (!cookie) return null
  const [row] = await select(
    manager,
    Visit,
    'select id, guest_id as "guestId" from link_visit where link_id = $1 and token_hash = $2 and until > now()',
    [linkId, digestOf(cookie)],
  )
  return row ?? null
}

/** A link that is open in this browser. @throws Refusal not-found for whoever did not open it, link-over */
export async function openedLink(
  manager: EntityManager,
  linkId: string,
  cookie: string | undefined,
): Promise<{ link: FoundLink; visit: z.output<typeof Visit> }> {
  const [link] = cookie ? await find(manager, 'l.id = $1', [linkId]) : []
  const visit = link && (await visitIn(manager, linkId, cookie))
  if (visit) refuseOver(link)
  else if (link?.ended && cookie) {
    // Who had it open when it was ended is told so.
    const [was] = await select(
      manager,
      z.object({ id: z.string() }),
      'select id from link_visit where link_id = $1 and token_hash = $2',
      [linkId, digestOf(cookie)],
    )
    if (was) refuseOver(link)
  }
  if (!link || !visit) throw absent()
  return { link, visit }
}

/** The version of a file that a link shows. @throws Refusal not-found, link-over where it shows one that is not kept any more */
export async function versionByLink(manager: EntityManager, link: FoundLink, fileId: string): Promise<PlacedVersion> {
  if (link.versionId !== null && fileId !== link.entryId) throw absent()
  await requireRoleAt(manager, link.personId, fileId, 'view')
  const [head] = await select(
    manager,
    z.object({ id: z.string().nullable() }),
    `select coalesce($2::uuid, head_version_id) as id from entry where id = $1 and kind = 'file'`,
    [fileId, link.versionId],
  )
  if (!head?.id) throw absent()
  try {
    return await versionById(manager, head.id)
  } catch (error) {
    if (link.versionId !== null && error instanceof Refusal) throw over(say('links.version-gone', { by: link.by }))
    throw error
  }
}

const shownFile = (version: PlacedVersion): LinkedEntry => ({
  id: version.fileId,
  kind: 'file',
  name: version.fileName,
  type: version.type,
  size: version.size,
  savedAt: version.at,
  number: version.number,
})

/** What a link shows first. @throws Refusal link-over where what it leads to was removed */
export async function shownByLink(
  manager: EntityManager,
  link: FoundLink,
  signedInAs: string | null,
): Promise<OpenedLink> {
  const [entry] = await select(
    manager,
    z.object({ kind: z.enum(['folder', 'file']), name: z.string() }),
    'select kind, name from entry where id = $1 and removed_at is null',
    [link.entryId],
  )
  const role = entry && (await requireRoleAt(manager, link.personId, link.entryId, 'view').catch(() => null))
  // Who keeps the share may have taken away what was granted to the link.
  if (!entry || !role) throw over(say('links.leads-nowhere', { by: link.by }))
  return {
    id: link.id,
    entry:
      entry.kind === 'file'
        ? shownFile(await versionByLink(manager, link, link.entryId))
        : { id: link.entryId, ...entry, type: null, size: null, savedAt: null, number: null },
    // Of an archived share it may be less than what the link says.
    role: role === 'view' ? 'view' : link.role,
    download: link.download,
    until: link.until?.toISOString() ?? null,
    by: link.by,
    signedInAs,
  }
}

/** What lies in a folder, as far as the link shows it. @throws Refusal not-found */
export async function folderByLink(manager: EntityManager, link: FoundLink, folderId: string): Promise<LinkedFolder> {
  const { trail, entries, total } = await placeContents(manager, link.personId, link.shareId, folderId, { limit: 500 })
  const from = trail.findIndex(({ id }) => id === link.entryId)
  // The share itself, and what lies above, are nobody's who came by a link.
  if (from < 0) throw absent()
  return {
    trail: trail.slice(from).map(({ id, name }) => ({ id, name })),
    entries: entries.map(({ id, kind, name, type, head }) => ({
      id,
      kind,
      name,
      type,
      size: head?.size ?? null,
      savedAt: head?.at ?? null,
      number: head?.number ?? null,
    })),
    total,
  }
}
