// Links, as those who manage a place make and end them. Whoever has a link's address is somebody to whom something is
// granted like to others, so that the one rule of rights says what they may see.
import { randomBytes } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import { IsNull } from 'typeorm'
import { uuidv7 } from 'uuidv7'
import { z } from 'zod'
import type { Link, LinkUse, MadeLink, NewLink } from '../../core/contract'
import { say } from '../../core/words/said'
import { PersonRow } from '../accounts/entity'
import { hashPassword } from '../accounts/service'
import { digestOf } from '../accounts/sessions'
import { auditing } from '../audit/log'
import { absent, Refusal } from '../refusal'
import { thingFor } from '../rights/access'
import { endRight, grantRight, ownRealm } from '../rights/service'
import { execute, select } from '../sql/rows'
import { LinkRow, LinkVisitRow } from './entity'

const columns = `l.id, l.entry_id as "entryId", l.name, l.role, l.until, l.password_hash is not null as password, l.uses,
  l.download, l.made_at as at, l.ended_at as "endedAt", b.name as by, v.number as version,
  coalesce(u.opened, 0)::int as opened, u.last as "lastOpened",
  (l.version_id is not null and v.id is null) or not exists (select from access_grant a
    where a.person_id = l.person_id and a.realm_id = l.entry_id) as gone`
const joins = `link l join person b on b.id = l.made_by left join version v on v.id = l.version_id
  left join lateral (select count(*) as opened, max(began_at) as last from link_visit t where t.link_id = l.id) u on true`
const LinkColumns = z.object({
  id: z.string(),
  entryId: z.string(),
  name: z.string(),
  role: z.enum(['view', 'edit']),
  until: z.date().nullable(),
  password: z.boolean(),
  uses: z.number().nullable(),
  download: z.boolean(),
  at: z.date(),
  endedAt: z.date().nullable(),
  by: z.string(),
  version: z.number().nullable(),
  opened: z.number(),
  lastOpened: z.date().nullable(),
  gone: z.boolean(),
})

function shown({ until, at, endedAt, lastOpened, gone, ...link }: z.output<typeof LinkColumns>): Link {
  return {
    ...link,
    until: until?.toISOString() ?? null,
    at: at.toISOString(),
    lastOpened: lastOpened?.toISOString() ?? null,
    over: endedAt
      ? 'ended'
      : until && until <= new Date()
        ? 'day'
        : link.uses !== null && link.opened >= link.uses
          ? 'uses'
          : gone
            ? 'gone'
            : null,
  }
}

/** The links that lead to a folder or file, or to what it lies in. @throws Refusal not-found, not-allowed */
export async function linksTo(manager: EntityManager, personId: string, id: string): Promise<Link[]> {
  await thingFor(manager, personId, id, 'manage')
  const rows = await select(
    manager,
    LinkColumns,
    `with recursive up(id, folder_id) as (
       select id, folder_id from entry where id = $1
       union all select e.id, e.folder_id from up join entry e on e.id = up.folder_id)
     select ${columns} from ${joins} where l.entry_id in (select id from up) order by l.made_at desc, l.id`,
    [id],
  )
  return rows.map(shown)
}

/**
 * Makes a link to a folder or file.
 * @returns it, with its secret, of which only the digest is kept
 * @throws Refusal not-found, not-allowed, invalid for a share, a day that is over, or a version of something else
 */
export async function makeLink(
  manager: EntityManager,
  by: string,
  entryId: string,
  wanted: z.output<typeof NewLink>,
): Promise<MadeLink> {
  const { thing } = await thingFor(manager, by, entryId, 'manage')
  if (thing.kind === 'share') throw new Refusal('invalid', say('problem.a-link-leads-to-a-folder-or-file'))
  const until = wanted.until === null ? null : new Date(wanted.until)
  if (until && until <= new Date())
    throw new Refusal('invalid', say('problem.this-day-is-over'), {
      fields: { until: say('problem.this-day-is-over') },
    })
  if (wanted.versionId !== null) {
    // What is written by a link is a next version; of an earlier one there is none.
    if (wanted.role === 'edit') throw new Refusal('invalid', say('problem.an-earlier-version-is-only-looked-at'))
    const [version] = await select(
      manager,
      z.object({ id: z.string() }),
      'select id from version where id = $1 and file_id = $2',
      [wanted.versionId, entryId],
    )
    if (!version) throw absent()
  }
  const id = uuidv7()
  const personId = uuidv7()
  const name = wanted.name.normalize('NFC')
  // No name that anybody signs in with has a colon.
  await manager.insert(PersonRow, {
    id: personId,
    handle: `link:${id}`,
    name,
    administrator: false,
    passwordHash: null,
    createdAt: new Date(),
    guestOf: id,
  })
  await ownRealm(manager, thing.id, by)
  await grantRight(manager, { realmId: thing.id, subject: { personId }, role: wanted.role, until, givenBy: by })
  const token = randomBytes(32).toString('base64url')
  await manager.insert(LinkRow, {
    id,
    entryId,
    personId,
    tokenHash: digestOf(token),
    name,
    role: wanted.role,
    until,
    passwordHash: wanted.password === null ? null : await hashPassword(wanted.password),
    uses: wanted.uses,
    versionId: wanted.versionId,
    download: wanted.download,
    madeBy: by,
  })
  const { password, ...facts } = wanted
  await auditing(manager, {
    personId: by,
    shareId: thing.shareId,
    what: 'link made',
    facts: { linkId: id, entryId, ...facts, password: password !== null },
  })
  const [link] = await select(manager, LinkColumns, `select ${columns} from ${joins} where l.id = $1`, [id])
  return { link: shown(link!), token }
}

/** The folder or file of a link, for those who manage it. @throws Refusal not-found, not-allowed */
export async function linkFor(manager: EntityManager, personId: string, linkId: string): Promise<LinkRow> {
  const link = await manager.findOneBy(LinkRow, { id: linkId })
  if (!link) throw absent()
  await thingFor(manager, personId, link.entryId, 'manage')
  return link
}

/** Ends a link: whoever came by it can do nothing more, at once. @throws Refusal not-found, not-allowed */
export async function endLink(manager: EntityManager, by: string, linkId: string): Promise<void> {
  const link = await linkFor(manager, by, linkId)
  if (link.endedAt) return
  const now = new Date()
  await manager.update(LinkRow, { id: linkId, endedAt: IsNull() }, { endedAt: now, endedBy: by })
  const guests = await manager.findBy(PersonRow, { guestOf: linkId })
  for (const { id } of guests) await endRight(manager, { realmId: link.entryId, subject: { personId: id }, by })
  // Who is writing keeps the page with what they wrote; it opens and saves nothing more.
  await manager.update(PersonRow, { id: link.personId }, { closedAt: now })
  // How often it was opened is still known.
  await manager.update(LinkVisitRow, { linkId }, { until: now })
  const [place] = await select(
    manager,
    z.object({ share_id: z.string() }),
    'select share_id from entry where id = $1',
    [link.entryId],
  )
  await auditing(manager, { personId: by, shareId: place!.share_id, what: 'link ended', facts: { linkId } })
  await execute(manager, `select pg_notify('jaula_rights', 'people')`)
}

/** What was done with a link, the latest first. @throws Refusal not-found, not-allowed */
export async function usesOf(manager: EntityManager, personId: string, linkId: string): Promise<LinkUse[]> {
  await linkFor(manager, personId, linkId)
  const rows = await select(
    manager,
    z.object({
      at: z.date(),
      what: z.custom<LinkUse['what']>(),
      address: z.string(),
      browser: z.string(),
      guest: z.string().nullable(),
      file: z.string().nullable(),
      version: z.number().nullable(),
    }),
    `select u.at, u.what, u.address, u.browser, g.name as guest, e.name as file, v.number as version from (
       select at, what, address, browser, guest_id, file_id, version_id, id from link_use where link_id = $1
       union all
       -- What a guest saved is theirs as everybody's versions are; they came from where they came to write.
       select v.at, 'saved', coalesce(c.address, ''), coalesce(c.browser, ''), v.author_id, v.file_id, v.id, v.id
         from person p join version v on v.author_id = p.id left join lateral (select u.address, u.browser from link_use u
           where u.guest_id = p.id and u.at <= v.at order by u.at desc limit 1) c on true where p.guest_of = $1) u
     left join person g on g.id = u.guest_id left join entry e on e.id = u.file_id left join version v on v.id = u.version_id
     order by u.at desc, u.id desc limit 500`,
    [linkId],
  )
  return rows.map(({ at, ...use }) => ({ ...use, at: at.toISOString() }))
}
