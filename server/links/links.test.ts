// Links for people without an account: opened by a secret that nobody can read anywhere, for as long and as often as was
// said, and what they show is what the rule of rights says of them.
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type {
  Access,
  Directory,
  Entry,
  FileFacts,
  Link,
  LinkedFolder,
  LinkUse,
  MadeLink,
  OpenedLink,
  Problem,
  Saved,
  Session,
} from '../../core/contract'
import { type Ask, done, openTestOffice, password, send, signInAs, type TestOffice, withCookies } from '../testing'

let office: TestOffice
let [priya, ida, tomas, ben]: Ask[] = [] as unknown as [Ask, Ask, Ask, Ask]
beforeAll(async () => {
  office = await openTestOffice()
  ;[priya, ida, tomas, ben] = await Promise.all(
    (['priya', 'ida', 'tomas', 'ben'] as const).map(async (handle) => (await signInAs(office, handle)).ask),
  )
})
afterAll(() => office.close())

const aFile = (content = 'The weir at LK07', folderId?: string, type = 'txt') =>
  done<Saved>(
    ida!(
      `/api/files?shareId=${office.share}${folderId ? `&folderId=${folderId}` : ''}&name=${randomUUID()}.${type}&key=${randomUUID()}`,
      { method: 'POST', body: content },
    ),
  )
const next = ({ file, version }: Saved, content: string) =>
  done<Saved>(
    ida!(`/api/files/${file.id}/versions?baseId=${version.id}&key=${randomUUID()}`, { method: 'POST', body: content }),
  )
const aFolder = (folderId: string | null = null) =>
  done<Entry>(send(priya!, '/api/folders', 'POST', { shareId: office.share, folderId, name: randomUUID() }))
const usual = {
  name: 'Merrow Bank',
  role: 'view',
  until: null,
  password: null,
  uses: null,
  versionId: null,
  download: true,
}
const ask = (id: string, more: object = {}, who = priya!) =>
  send(who, `/api/access/${id}/links`, 'POST', { ...usual, ...more })
const linkTo = (id: string, more: object = {}) => done<MadeLink>(ask(id, more))
const guest = () => withCookies(office.url)
const open = (who: Ask, token: string, password?: string) => send(who, '/api/linked', 'POST', { token, password })
const opened = (who: Ask, token: string, password?: string) => done<OpenedLink>(open(who, token, password))
const refusal = async (answer: Promise<Response>) => {
  const response = await answer
  const { type, title } = (await response.json()) as Problem
  return [response.status, type, title]
}
const pageOf = (who: Ask, linkId: string, fileId: string) => who(`/api/linked/${linkId}/files/${fileId}/page`)
const bytesOf = (who: Ask, linkId: string, fileId: string) => who(`/api/linked/${linkId}/files/${fileId}/bytes`)

describe('a link to a file', () => {
  test('is opened by its secret, shows the latest version, and hands it out', async () => {
    const saved = await aFile()
    const { token, link } = await linkTo(saved.file.id)
    expect(Buffer.from(token, 'base64url')).toHaveLength(32)
    const who = guest()
    const shown = await opened(who, token)
    expect(shown).toMatchObject({ role: 'view', download: true, by: 'priya', signedInAs: null, until: null })
    expect(shown.entry).toMatchObject({
      id: saved.file.id,
      kind: 'file',
      type: 'txt',
      number: 1,
      name: saved.file.name,
    })
    const page = await pageOf(who, link.id, saved.file.id)
    expect(await page.text()).toContain('The weir at LK07')
    expect(page.headers.get('content-security-policy')).toMatch(/default-src 'none'.*sandbox/)
    expect(page.headers.get('x-robots-tag')).toContain('noindex')
    expect(page.headers.get('cache-control')).toBe('no-store')
    expect(page.headers.get('referrer-policy')).toBe('no-referrer')
    await next(saved, 'The weir at LK08')
    expect(await (await pageOf(who, link.id, saved.file.id)).text()).toContain('LK08')
    expect(await (await bytesOf(who, link.id, saved.file.id)).text()).toBe('The weir at LK08')
    expect((await opened(who, token)).entry.number).toBe(2)
  })
  test('shows nothing without it: to another browser, by its number, or with a cookie of another link', async () => {
    const { file } = await aFile()
    const { link } = await linkTo(file.id)
    const other = await linkTo((await aFile()).file.id)
    const who = guest()
    await opened(who, other.token)
    for (const one of [guest(), who, ben!, tomas!]) {
      expect((await pageOf(one, link.id, file.id)).status).toBe(404)
      expect((await bytesOf(one, link.id, file.id)).status).toBe(404)
    }
    expect((await pageOf(who, other.link.id, file.id)).status).toBe(404)
    expect(await refusal(open(guest(), 'A'.repeat(43)))).toEqual([
      404,
      'not-found',
      'This link is not known here. Perhaps a part of its address is missing.',
    ])
    const kept: unknown[] = await office.owner.query(
      `select l::text, t::text from link l join link_visit t on t.link_id = l.id`,
    )
    expect(JSON.stringify(kept)).not.toContain(other.token)
  })
  test('may be of one version, whatever is saved later, and says when that is gone', async () => {
    const first = await aFile('first')
    const second = await next(first, 'second')
    const { token, link } = await linkTo(first.file.id, { versionId: first.version.id })
    expect(link.version).toBe(1)
    const who = guest()
    expect((await opened(who, token)).entry.number).toBe(1)
    expect(await (await bytesOf(who, link.id, first.file.id)).text()).toBe('first')
    await office.owner.query('update link set version_id = $1 where id = $2', [randomUUID(), link.id])
    // Nobody is told that it shows the latest.
    expect((await done<Link[]>(priya!(`/api/access/${first.file.id}/links`)))[0]).toMatchObject({ over: 'gone' })
    expect((await refusal(open(guest(), token)))[1]).toBe('link-over')
    expect((await refusal(bytesOf(who, link.id, first.file.id)))[2]).toMatch(/not kept any more\. Ask priya/)
    expect((await ask(first.file.id, { versionId: second.version.id, role: 'edit' })).status).toBe(400)
    expect((await ask((await aFile()).file.id, { versionId: second.version.id })).status).toBe(404)
  })
  test('for looking only hands nothing out', async () => {
    const { file } = await aFile()
    const { token, link } = await linkTo(file.id, { download: false })
    const who = guest()
    await opened(who, token)
    expect((await pageOf(who, link.id, file.id)).status).toBe(200)
    expect(await refusal(bytesOf(who, link.id, file.id))).toEqual([
      403,
      'not-allowed',
      'This link is for looking only.',
    ])
  })
  test('of a type that is not shown has no page; a picture is its own', async () => {
    const pdf = (await aFile('%PDF-1.7', undefined, 'pdf')).file
    const png = (await aFile('no real picture', undefined, 'png')).file
    const who = guest()
    for (const [file, status, type] of [
      [pdf, 204, null],
      [png, 200, 'image/png'],
    ] as const) {
      const { token, link } = await linkTo(file.id)
      await opened(who, token)
      const page = await pageOf(who, link.id, file.id)
      expect([page.status, page.headers.get('content-type')]).toEqual([status, type])
    }
  })
})

describe('a link is over', () => {
  test('when it was ended: at once, also for whoever has it open', async () => {
    const { file } = await aFile()
    const { token, link } = await linkTo(file.id)
    const who = guest()
    await opened(who, token)
    expect((await send(ida!, `/api/links/${link.id}`, 'DELETE')).status).toBe(403)
    expect((await send(ben!, `/api/links/${link.id}`, 'DELETE')).status).toBe(404)
    expect((await pageOf(who, link.id, file.id)).status).toBe(200)
    await done(send(priya!, `/api/links/${link.id}`, 'DELETE'))
    for (const answer of [open(guest(), token), open(who, token), pageOf(who, link.id, file.id)])
      expect(await refusal(answer)).toEqual([410, 'link-over', 'This link was ended. Ask priya for another.'])
    // To whoever never had it, it was never there.
    expect((await pageOf(guest(), link.id, file.id)).status).toBe(404)
    await done(send(priya!, `/api/links/${link.id}`, 'DELETE'))
    const [kept] = await done<Link[]>(priya!(`/api/access/${file.id}/links`))
    expect(kept).toMatchObject({ id: link.id, over: 'ended', opened: 1 })
    const access = await done<Access>(priya!(`/api/access/${file.id}`))
    expect(access.people.some(({ byLink }) => byLink)).toBe(false)
  })
  test('when its day is over', async () => {
    const { file } = await aFile()
    expect((await ask(file.id, { until: '2020-01-01T00:00:00.000Z' })).status).toBe(400)
    const { token, link } = await linkTo(file.id, { until: new Date(Date.now() + 3_600_000).toISOString() })
    const who = guest()
    expect((await opened(who, token)).until).toBe(link.until)
    await office.owner.query(`update link set until = '2026-03-01T11:00:00Z' where id = $1`, [link.id])
    for (const answer of [open(guest(), token), pageOf(who, link.id, file.id)])
      expect((await refusal(answer)).slice(1)).toEqual([
        'link-over',
        'This link ended on 1 March 2026. Ask priya for another.',
      ])
  })
  test('when it was opened as often as was said, however many come at once; who has it open stays', async () => {
    const { file } = await aFile()
    const { token, link } = await linkTo(file.id, { uses: 3 })
    const many = Array.from({ length: 9 }, guest)
    const answers = await Promise.all(many.map((who) => open(who, token)))
    expect(answers.map(({ status }) => status).toSorted()).toEqual([200, 200, 200, ...Array(6).fill(410)])
    const inside = many[answers.findIndex(({ status }) => status === 200)]!
    expect((await pageOf(inside, link.id, file.id)).status).toBe(200)
    expect((await open(inside, token)).status).toBe(200)
    expect((await refusal(open(guest(), token)))[2]).toBe(
      'This link could be opened 3 times, and was. Ask priya for another.',
    )
    expect((await done<Link[]>(priya!(`/api/access/${file.id}/links`)))[0]).toMatchObject({ opened: 3, over: 'uses' })
  })
  test('when what was granted to it went with the rights of its place, and says so to who manages it', async () => {
    const { file } = await aFile()
    const { token } = await linkTo(file.id)
    await done(send(priya!, `/api/access/${file.id}/rights`, 'PUT', { from: 'above' }))
    expect((await refusal(open(guest(), token)))[1]).toBe('link-over')
    expect((await done<Link[]>(priya!(`/api/access/${file.id}/links`)))[0]).toMatchObject({ over: 'gone' })
  })
  test('when what it leads to was removed', async () => {
    const { file } = await aFile()
    const { token } = await linkTo(file.id)
    await done(send(ida!, '/api/acts', 'POST', { id: randomUUID(), what: 'remove', changes: [{ id: file.id }] }))
    expect(await refusal(open(guest(), token))).toEqual([
      410,
      'link-over',
      'What this link leads to is not there any more. Ask priya where it is.',
    ])
  })
})

describe('a password', () => {
  test('is asked for before anything is shown, and guessed at a few times only', async () => {
    const { file } = await aFile()
    expect((await ask(file.id, { password: 'short' })).status).toBe(400)
    const { token, link } = await linkTo(file.id, { password: 'sluice and gate' })
    const who = guest()
    expect(await refusal(open(who, token))).toEqual([403, 'wrong-password', 'This link has a password.'])
    for (let guesses = 0; guesses < 5; guesses++)
      expect((await refusal(open(who, token, `guess ${guesses}`)))[1]).toBe('wrong-password')
    expect((await refusal(open(who, token, 'sluice and gate')))[1]).toBe('too-many-attempts')
    expect((await pageOf(who, link.id, file.id)).status).toBe(404)
    await office.owner.query('delete from guess_limit')
    await opened(who, token, 'sluice and gate')
    expect((await pageOf(who, link.id, file.id)).status).toBe(200)
    // Known in this browser, it is not asked for again.
    expect((await open(who, token)).status).toBe(200)
    const uses = await done<LinkUse[]>(priya!(`/api/links/${link.id}/uses`))
    expect(uses.map(({ what }) => what)).toEqual(['looked', 'opened', ...Array(5).fill('refused')])
    const kept: unknown[] = await office.owner.query('select password_hash from link where id = $1', [link.id])
    expect(JSON.stringify(kept)).toMatch(/argon2id/)
  })
})

describe('a link to a folder', () => {
  test('shows what lies in it, and neither what lies above nor what is closed to others', async () => {
    const [outer, folder] = [await aFolder(), await aFolder()]
    const [below, closed] = [await aFolder(folder.id), await aFolder(folder.id)]
    const [file, deep, secret, beside] = [
      await aFile('a', folder.id),
      await aFile('b', below.id),
      await aFile('c', closed.id),
      await aFile('d', outer.id),
    ]
    await done(send(priya!, `/api/access/${closed.id}/rights`, 'PUT', { from: 'here' }))
    const { token, link } = await linkTo(folder.id)
    const who = guest()
    expect((await opened(who, token)).entry).toMatchObject({ id: folder.id, kind: 'folder' })
    const list = (id: string) => who(`/api/linked/${link.id}/folders/${id}`)
    const shown = await done<LinkedFolder>(list(folder.id))
    expect(shown.trail).toEqual([{ id: folder.id, name: folder.name }])
    expect(shown.entries.map(({ id }) => id)).toEqual([below.id, file.file.id])
    expect((await done<LinkedFolder>(list(below.id))).trail.map(({ id }) => id)).toEqual([folder.id, below.id])
    for (const id of [closed.id, outer.id, office.share, randomUUID()]) expect((await list(id)).status).toBe(404)
    for (const [one, status] of [
      [file, 200],
      [deep, 200],
      [secret, 404],
      [beside, 404],
    ] as const)
      expect((await bytesOf(who, link.id, one.file.id)).status).toBe(status)
    // What is taken out of it is not shown any more.
    const changes = [{ id: deep.file.id, shareId: office.share, folderId: outer.id }]
    await done(send(priya!, '/api/acts', 'POST', { id: randomUUID(), what: 'move', changes }))
    expect((await bytesOf(who, link.id, deep.file.id)).status).toBe(404)
  })
})

describe('whoever has a link', () => {
  test('is nobody that anything else is given to, and nobody who signs in', async () => {
    const { file } = await aFile()
    const { link } = await linkTo(file.id, { role: 'edit' })
    const [{ person_id: id, handle }] = await office.owner.query(
      'select l.person_id, p.handle from link l join person p on p.id = l.person_id where l.id = $1',
      [link.id],
    )
    const directory = await done<Directory>(priya!('/api/directory'))
    expect(JSON.stringify(directory)).not.toContain('Merrow Bank')
    expect(
      (
        await send(priya!, `/api/access/${file.id}/grants`, 'POST', {
          subject: { personId: id },
          role: 'manage',
          until: null,
        })
      ).status,
    ).toBe(404)
    expect((await send(guest(), '/api/session', 'POST', { handle, password: 'anything at all' })).status).toBe(403)
    const access = await done<Access>(ida!(`/api/access/${file.id}`))
    expect(access.people.filter(({ byLink }) => byLink)).toMatchObject([
      { person: { id, name: 'Merrow Bank', handle: '' }, role: 'edit' },
    ])
    expect(access.grants.filter(({ byLink }) => byLink)).toHaveLength(1)
  })
})

describe('a guest who comes to write', () => {
  const come = (who: Ask, linkId: string, name = 'Nell Harker') =>
    send(who, `/api/linked/${linkId}/guest`, 'POST', { name })
  const save = (who: Ask, fileId: string, baseId: string, content: string) =>
    who(`/api/files/${fileId}/versions?baseId=${baseId}&key=${randomUUID()}`, { method: 'POST', body: content })

  test('saves versions under the name that they gave, and may ask for nothing else', async () => {
    const folder = await aFolder()
    const { file, version } = await aFile('The weir', folder.id)
    const other = await aFile()
    const { token, link } = await linkTo(file.id, { role: 'edit' })
    const who = guest()
    await opened(who, token)
    expect((await who(`/api/files/${file.id}`)).status).toBe(401)
    const { person } = await done<Session>(come(who, link.id))
    expect(person).toMatchObject({ name: 'Nell Harker (Link: Merrow Bank)', administrator: false, guestOf: link.id })
    const saved = await done<Saved>(save(who, file.id, version.id, 'The weir is sound.'))
    expect(saved.version).toMatchObject({ number: 2, author: { id: person!.id, name: person!.name } })
    // Where it lies, and what else there is, is not a guest's to know.
    const facts = await done<FileFacts>(who(`/api/files/${file.id}`))
    expect(facts).toMatchObject({ trail: [], share: { name: '', role: 'edit' }, formerNames: [] })
    expect(JSON.stringify(facts)).not.toContain(folder.name)
    expect((await who(`/api/files/${other.file.id}`)).status).toBe(404)
    for (const path of ['/api/shares', '/api/directory', '/api/search?q=weir', '/api/recent', '/api/people'])
      expect(await refusal(who(path))).toEqual([403, 'not-allowed', 'This is for people with an account.'])
    const place = `shareId=${office.share}&name=x.txt&key=${randomUUID()}`
    expect((await who(`/api/files?${place}`, { method: 'POST', body: 'x' })).status).toBe(403)
    expect((await send(who, '/api/folders', 'POST', { shareId: office.share, folderId: null, name: 'x' })).status).toBe(
      403,
    )
    // They are the same when they come again in this browser, and somebody else in another.
    expect((await done<Session>(come(who, link.id, 'Nell H.'))).person).toMatchObject({
      id: person!.id,
      name: 'Nell H. (Link: Merrow Bank)',
    })
    const another = guest()
    await opened(another, token)
    expect((await done<Session>(come(another, link.id))).person!.id).not.toBe(person!.id)
    const uses = await done<LinkUse[]>(priya!(`/api/links/${link.id}/uses`))
    expect(uses.find(({ what }) => what === 'saved')).toMatchObject({
      guest: 'Nell H. (Link: Merrow Bank)',
      file: file.name,
      version: 2,
      address: expect.stringMatching(/127\.0\.0\.1/),
    })
    expect(uses.filter(({ what }) => what === 'came to write')).toHaveLength(3)
    const access = await done<Access>(ida!(`/api/access/${file.id}`))
    expect(access.people.filter(({ byLink }) => byLink)).toHaveLength(3)
    expect(JSON.stringify(await done<Directory>(priya!('/api/directory')))).not.toContain('Nell')
  })
  test('saves nothing more when the link is ended, and what was saved stays', async () => {
    const { file, version } = await aFile('The sluice')
    const { token, link } = await linkTo(file.id, { role: 'edit' })
    const who = guest()
    await opened(who, token)
    await done(come(who, link.id))
    const saved = await done<Saved>(save(who, file.id, version.id, 'The sluice is shut.'))
    await done(send(priya!, `/api/links/${link.id}`, 'DELETE'))
    expect((await save(who, file.id, saved.version.id, 'The sluice is open.')).status).toBe(404)
    expect((await who(`/api/files/${file.id}`)).status).toBe(404)
    expect(await refusal(come(who, link.id))).toEqual([410, 'link-over', 'This link was ended. Ask priya for another.'])
    const { versions } = await done<FileFacts>(ida!(`/api/files/${file.id}`))
    expect(versions.map(({ author }) => author.name)).toEqual(['Nell Harker (Link: Merrow Bank)', 'ida'])
  })
  test('comes by a link that is for editing, into a share that is changed, and not with an account', async () => {
    const { file } = await aFile()
    const [looking, editing] = [await linkTo(file.id), await linkTo(file.id, { role: 'edit' })]
    const who = guest()
    for (const { token } of [looking, editing]) await opened(who, token)
    expect(await refusal(come(who, looking.link.id))).toEqual([403, 'not-allowed', 'This link is for looking only.'])
    expect((await come(guest(), editing.link.id)).status).toBe(404)
    expect((await come(who, editing.link.id, ' ')).status).toBe(400)
    await done(send(priya!, `/api/shares/${office.share}/archived`, 'PUT', { archived: true }))
    expect((await opened(who, editing.token)).role).toBe('view')
    expect((await come(who, editing.link.id)).status).toBe(403)
    await done(send(priya!, `/api/shares/${office.share}/archived`, 'PUT', { archived: false }))
    const account = withCookies(office.url)
    await send(account, '/api/session', 'POST', { handle: 'tomas', password })
    expect((await opened(account, editing.token)).signedInAs).toBe('tomas')
    expect((await refusal(come(account, editing.link.id)))[2]).toMatch(/^You are signed in here as tomas\./)
    expect((await done<Session>(account('/api/session'))).person!.name).toBe('tomas')
  })
})

test('who manages a place makes links to it, not others, and a share has none', async () => {
  const { file } = await aFile()
  expect((await ask(file.id, {}, ida)).status).toBe(403)
  expect((await ask(file.id, {}, ben)).status).toBe(404)
  expect((await ask(office.share)).status).toBe(400)
  await linkTo(file.id)
  const folder = await aFolder()
  await linkTo(folder.id)
  const inside = await aFile('x', folder.id)
  // What leads to a file is what leads to what it lies in, too.
  expect(await done<Link[]>(priya!(`/api/access/${inside.file.id}/links`))).toMatchObject([{ entryId: folder.id }])
  expect((await ida!(`/api/access/${file.id}/links`)).status).toBe(403)
})

test('what was done with a link is written down, and nobody changes it', async () => {
  const { file, version } = await aFile()
  const { token, link } = await linkTo(file.id)
  const who = guest()
  await opened(who, token)
  await pageOf(who, link.id, file.id)
  await bytesOf(who, link.id, file.id)
  const uses = await done<LinkUse[]>(priya!(`/api/links/${link.id}/uses`))
  expect(uses).toMatchObject([
    { what: 'took', file: file.name, version: version.number, address: expect.stringMatching(/127\.0\.0\.1/) },
    { what: 'looked', file: file.name, guest: null },
    { what: 'opened', file: null, version: null },
  ])
  await expect(office.database.query('delete from link_use')).rejects.toThrow(/permission denied/)
  expect((await tomas!(`/api/links/${link.id}/uses`)).status).toBe(403)
})
