// What is sent by mail, through a mail server that stands in for the office's: what arrives there byte for byte, what is
// known of it afterwards, and what becomes of it while that server refuses, is slow, is away, or sends it back.
import { randomBytes, randomUUID } from 'node:crypto'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { type ParsedMail, simpleParser } from 'mailparser'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type {
  Account,
  AsType,
  GivenCode,
  Link,
  MailNow,
  Problem,
  Saved,
  Sent,
  Session,
  Undelivered,
} from '../../core/contract'
import { readDocument } from '../../core/formats/documents'
import { writeDocx } from '../../core/formats/docx/write'
import { writeXlsx } from '../../core/formats/xlsx/write'
import { saidBy } from '../../core/words/said'
import { type StandIns, startStandIns } from '../../standins/start'
import { addPerson } from '../accounts/service'
import { doc, p } from '../demo/papers'
import { convertHere } from '../mail/convert'
import { deliverBy } from '../mail/way'
import { thinVersions } from '../retention/thin'
import { Seal } from '../seal'
import { type Ask, done, openTestOffice, password, send, signInAs, type TestOffice, withCookies } from '../testing'

let office: TestOffice
let standIns: StandIns
let folder: string
let [priya, ida, tomas, ben, admin]: Ask[] = [] as unknown as [Ask, Ask, Ask, Ask, Ask]
const fault = (faults: object) => writeFileSync(join(folder, 'mail/faults.json'), JSON.stringify(faults))
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaula-mail-'))
  standIns = await startStandIns(folder)
  office = await openTestOffice({ mail: { way: standIns.mail, seal: new Seal(randomBytes(32)), address: null } })
  await addPerson(office.database.manager, { handle: 'admin', name: 'Ada', password, administrator: true })
  ;[priya, ida, tomas, ben, admin] = await Promise.all(
    (['priya', 'ida', 'tomas', 'ben', 'admin'] as const).map(async (handle) => (await signInAs(office, handle)).ask),
  )
  await done(send(ida!, '/api/me', 'PUT', { name: 'Ida Brandt', mail: 'ida@merrowdale.example' }))
  await done(send(tomas!, '/api/me', 'PUT', { name: 'Tomas', mail: 'tomas@merrowdale.example' }))
})
afterAll(async () => {
  await office.close()
  await standIns.close()
  rmSync(folder, { recursive: true, force: true })
})

const save = (name: string, content: Uint8Array | string) =>
  done<Saved>(
    ida!(`/api/files?shareId=${office.share}&name=${encodeURIComponent(name)}&key=${randomUUID()}`, {
      method: 'POST',
      body: content as BodyInit,
    }),
  )
const next = ({ file, version }: Saved, content: Uint8Array | string, reason = 'saved') =>
  done<Saved>(
    ida!(
      `/api/files/${file.id}/versions?baseId=${version.id}&reason=${encodeURIComponent(reason)}&key=${randomUUID()}`,
      {
        method: 'POST',
        body: content as BodyInit,
      },
    ),
  )
const paper = writeDocx(doc(p('The weir at LK07 stands 1.4 m above the sill.')))
/** Nobody else gets mail there. */
const somebody = () => `${randomUUID().slice(0, 8)}@assessors.example`
const body = (saved: Saved, to: string, more: object = {}) => ({
  key: randomUUID(),
  to: [{ address: to }],
  words: '',
  versionIds: [saved.version.id],
  type: null,
  ...more,
})
const sendIt = (saved: Saved, to: string, more: object = {}, who = ida!) =>
  send(who, `/api/files/${saved.file.id}/sent`, 'POST', body(saved, to, more))
const sentOf = (id: string, who = ida!) => done<Sent[]>(who(`/api/entries/${id}/sent`))
const stateOf = async (id: string, to: string) =>
  (await sentOf(id)).flatMap(({ mails }) => mails).find(({ address }) => address === to)?.state
/** Whole messages that somebody has got. */
async function messagesTo(to: string): Promise<{ mail: ParsedMail; text: string }[]> {
  const found = []
  for (const name of readdirSync(join(folder, 'mail/messages')).sort()) {
    if (!name.endsWith('.eml')) continue
    const text = readFileSync(join(folder, 'mail/messages', name), 'utf8')
    if (text.includes(to)) found.push({ mail: await simpleParser(text), text })
  }
  return found
}
async function arrived(to: string): Promise<{ mail: ParsedMail; text: string }> {
  await expect.poll(async () => (await messagesTo(to)).length).toBeGreaterThan(0)
  return (await messagesTo(to))[0]!
}
const refusal = async (answer: Promise<Response>) => {
  const response = await answer
  expect(response.ok).toBe(false)
  return (await response.json()) as Problem
}

describe('a file', () => {
  test('arrives as it is, from the mail server’s address, with answers to whoever sent it', async () => {
    const saved = await save('2026-11-12_LK07_Inspection_Weir.docx', paper)
    const to = somebody()
    const sent = await done<Sent>(sendIt(saved, to, { words: 'Please look at page 1.\nIda' }))
    expect(sent).toMatchObject({ own: true, as: 'file', type: null, losses: [], by: 'Ida Brandt' })
    expect(sent.versions).toEqual([
      { id: saved.version.id, number: 1, name: saved.file.name, size: paper.length, there: true },
    ])
    const { mail } = await arrived(to)
    expect(mail.from?.value[0]).toEqual({ name: 'Ida Brandt (Jaula)', address: standIns.mail.from.address })
    expect(mail.replyTo?.value[0]?.address).toBe('ida@merrowdale.example')
    expect(mail.subject).toBe('Ida Brandt sends you 2026-11-12_LK07_Inspection_Weir.docx')
    expect(mail.text).toMatch(
      /^Please look at page 1\.\nIda\n\nWith this message:\n2026-11-12_LK07_Inspection_Weir\.docx: version 1 of /,
    )
    expect(mail.text).toContain('Answers to this message go to Ida Brandt.')
    expect(mail.attachments.map(({ filename }) => filename)).toEqual([saved.file.name])
    expect(mail.attachments[0]!.content.equals(Buffer.from(paper))).toBe(true)
    await expect.poll(() => stateOf(saved.file.id, to)).toBe('sent')
    // What it said is nowhere any more.
    const [row] = await office.owner.query('select body, tries from mail where address = $1', [to])
    expect(row).toEqual({ body: null, tries: 1 })
  })

  test('is told of to whoever may see it, its words to their author only, and to nobody else', async () => {
    const saved = await save(`${randomUUID()}.txt`, 'Level 1.4 m')
    const to = somebody()
    await done(sendIt(saved, to, { words: 'Between us' }))
    expect((await sentOf(saved.file.id))[0]!.words).toBe('Between us')
    expect((await sentOf(saved.file.id, tomas))[0]).toMatchObject({ words: null, own: false, by: 'Ida Brandt' })
    expect((await ben!(`/api/entries/${saved.file.id}/sent`)).status).toBe(404)
    expect((await sendIt(saved, somebody(), {}, ben)).status).toBe(404)
    // Whoever may look may send, as they may take it along.
    expect((await sendIt(saved, somebody(), {}, tomas)).status).toBe(200)
  })

  test('goes in another type, and what that does not hold is told before, and kept', async () => {
    const saved = await save(
      `${randomUUID()}.xlsx`,
      writeXlsx({
        sheets: [
          { name: 'Levels', rows: [[{ value: 'LK07' }, { value: 1.5 }, { formula: 'B1*2' }]], widths: {} },
          { name: 'Notes', rows: [[{ value: 'kept' }]], widths: {} },
        ],
      }),
    )
    const as = await done<AsType>(ida!(`/api/versions/${saved.version.id}/as?type=csv`))
    expect(as.name).toBe(saved.file.name.replace('.xlsx', '.csv'))
    expect(as.losses.map(({ feature }) => feature)).toContain('other sheets')
    const to = somebody()
    const sent = await done<Sent>(sendIt(saved, to, { type: 'csv' }))
    expect(sent.type).toBe('csv')
    expect(sent.losses).toEqual(as.losses)
    const { mail } = await arrived(to)
    const [part] = mail.attachments
    expect([part!.filename, part!.content.toString('utf8').trim()]).toEqual([as.name, 'LK07,1.5,3'])
    expect(part!.content.length).toBe(as.size)
    expect(sent.versions[0]!.size).toBe(as.size)
  })

  test('several versions go under names that tell them apart, each once, the earlier first', async () => {
    const first = await save('Levels.txt', 'one')
    const second = await next(first, 'two')
    const to = somebody()
    const versionIds = [second.version.id, first.version.id, second.version.id]
    const sent = await done<Sent>(sendIt(second, to, { versionIds }))
    expect(sent.versions.map(({ name }) => name)).toEqual(['Levels (1).txt', 'Levels (2).txt'])
    const { mail } = await arrived(to)
    expect(mail.attachments.map(({ filename, content }) => [filename, content.toString()])).toEqual([
      ['Levels (1).txt', 'one'],
      ['Levels (2).txt', 'two'],
    ])
  })

  test('is sent once, however often the same request comes, and at once', async () => {
    const saved = await save(`${randomUUID()}.txt`, 'Once')
    const to = somebody()
    const asked = body(saved, to)
    const path = `/api/files/${saved.file.id}/sent`
    const sent = await Promise.all([1, 2, 3].map(() => done<Sent>(send(ida!, path, 'POST', asked))))
    expect(new Set(sent.flatMap(({ mails }) => mails.map(({ id }) => id))).size).toBe(1)
    await expect.poll(() => stateOf(saved.file.id, to)).toBe('sent')
    expect(await messagesTo(to)).toHaveLength(1)
    const other = await save(`${randomUUID()}.txt`, 'Another')
    expect(
      (
        await refusal(
          send(ida!, `/api/files/${other.file.id}/sent`, 'POST', { ...asked, versionIds: [other.version.id] }),
        )
      ).type,
    ).toBe('invalid')
  })

  test('what is wrong with what was asked is said, and nothing of it is sent', async () => {
    const saved = await save(`${randomUUID()}.docx`, paper)
    const other = await save(`${randomUUID()}.txt`, 'Another file')
    const to = somebody()
    for (const [more, type] of [
      [{ to: [] }, 'invalid'],
      [{ to: [{ address: 'nell at assessors' }] }, 'invalid'],
      [{ to: [{ address: 'a@b.example\r\nBcc: c@d.example' }] }, 'invalid'],
      [{ to: [{ personId: office.people.ben }] }, 'invalid'],
      [{ to: [{ personId: randomUUID() }] }, 'not-found'],
      [{ versionIds: [] }, 'invalid'],
      [{ versionIds: [other.version.id] }, 'not-found'],
      [{ type: 'png' }, 'invalid'],
      [{ type: 'csv' }, 'invalid'],
    ] as const)
      expect([more, (await refusal(sendIt(saved, to, more))).type]).toEqual([more, type])
    expect(await sentOf(saved.file.id)).toEqual([])
    const damaged = await save(`${randomUUID()}.docx`, 'no document at all')
    expect((await refusal(sendIt(damaged, to, { type: 'txt' }))).says?.say).toBe('problem.cannot-be-converted')
    // As it is it goes all the same.
    expect((await sendIt(damaged, to)).status).toBe(200)
    const large = await save(`${randomUUID()}.bin`, randomBytes(19_000_000))
    const twice = await next(large, randomBytes(2_000_000))
    const refused = await refusal(sendIt(twice, to, { versionIds: [large.version.id, twice.version.id] }))
    expect([refused.type, refused.says?.say]).toEqual(['too-large', 'problem.too-large-for-mail'])
  })

  test('to somebody inside it goes to their address, once, also where that was entered as well', async () => {
    const saved = await save(`${randomUUID()}.txt`, 'For Tomas')
    const sent = await done<Sent>(
      sendIt(saved, '', { to: [{ address: 'Tomas@merrowdale.example' }, { personId: office.people.tomas }] }),
    )
    expect(sent.mails.map(({ name, address }) => [name, address])).toEqual([['Tomas', 'tomas@merrowdale.example']])
  })

  test('words and names of any kind arrive as they were written, and begin no other header', async () => {
    const saved = await save('Grüße – Wehr „LK07“ 水位.txt', 'Level')
    await fc.assert(
      fc.asyncProperty(fc.string({ unit: 'grapheme', maxLength: 200 }), async (typed) => {
        const words = typed.replaceAll('\0', '').trim()
        const to = somebody()
        const answer = await sendIt(saved, to, { words })
        if (!answer.ok) return expect(answer.status).toBe(400)
        const { mail, text } = await arrived(to)
        const plain = (one: string) => one.replace(/\r\n|[\r\u2028\u2029\u0085]/g, '\n').replace(/[^\S\n]+$/gm, '')
        expect(plain(mail.text ?? '')).toContain(plain(words))
        expect(mail.attachments[0]!.filename).toBe(saved.file.name)
        const [head] = text.split('\r\n\r\n')
        expect(head!.match(/^[A-Z][\w-]*(?=:)/gim)!.sort()).toEqual(
          ['Content-Type', 'Date', 'From', 'MIME-Version', 'Message-ID', 'Reply-To', 'Subject', 'To'].sort(),
        )
      }),
      { numRuns: 25 },
    )
  })

  test('a version that was sent, or that a link shows, stays when others are thinned out', async () => {
    const saved = await save(`${randomUUID()}.txt`, '0')
    let last = saved
    const made = [saved]
    for (let n = 1; n <= 6; n++) {
      last = await next(last, String(n), 'by itself')
      made.push(last)
    }
    await done(sendIt(made[2]!, somebody()))
    await done<Sent>(
      send(priya!, `/api/access/${saved.file.id}/links/sent`, 'POST', {
        key: randomUUID(),
        to: [{ address: somebody() }],
        words: '',
        link: { role: 'view', until: null, password: null, uses: null, versionId: made[4]!.version.id, download: true },
      }),
    )
    await thinVersions(office.database, new Date(Date.now() + 400 * 86_400_000))
    const left = await office.owner.query('select number from version where file_id = $1 order by number', [
      saved.file.id,
    ])
    expect(left.map(({ number }: { number: number }) => number)).toEqual([1, 3, 5, 7])
  })
})

describe('a link', () => {
  const link = { role: 'view', until: null, password: null, uses: 2, versionId: null, download: false } as const
  test('goes to each by itself, opens what it says, and its secret is nowhere but in the message', async () => {
    const saved = await save(`${randomUUID()}.txt`, 'The weir')
    const [one, two] = [somebody(), somebody()]
    const sent = await done<Sent>(
      send(priya!, `/api/access/${saved.file.id}/links/sent`, 'POST', {
        key: randomUUID(),
        to: [{ address: one }, { address: two }],
        words: 'Look at this.',
        link: { ...link, password: 'another long one' },
      }),
    )
    expect(sent.mails.map(({ address }) => address)).toEqual([one, two])
    const { mail } = await arrived(one)
    const address = /http:\/\/\S+\/link#(\S+)/.exec(mail.text ?? '')
    expect(address![0].startsWith(`${office.url}/link#`)).toBe(true)
    expect(mail.text).not.toContain('another long one')
    expect(mail.text).toContain('The link asks for a password.')
    const guest = withCookies(office.url)
    const opened = await done<{ entry: { name: string }; role: string }>(
      send(guest, '/api/linked', 'POST', { token: address![1], password: 'another long one' }),
    )
    expect(opened).toMatchObject({ entry: { name: saved.file.name }, role: 'view' })
    const links = await done<Link[]>(priya!(`/api/access/${saved.file.id}/links`))
    expect(links.map(({ name, opened: times }) => [name, times]).sort()).toEqual(
      [
        [one, 1],
        [two, 0],
      ].sort(),
    )
    await expect.poll(() => stateOf(saved.file.id, one)).toBe('sent')
    const tables = await office.owner.query(
      `select string_agg(t::text, '') as all from (select m::text from mail m union all select l::text from link l union all select g::text from sending g) t`,
    )
    expect(tables[0].all).not.toContain(address![1])
  })

  test('is for those who manage, and to no whole share', async () => {
    const saved = await save(`${randomUUID()}.txt`, 'The weir')
    const asked = { key: randomUUID(), to: [{ address: somebody() }], words: '', link }
    expect((await send(ida!, `/api/access/${saved.file.id}/links/sent`, 'POST', asked)).status).toBe(403)
    expect((await send(priya!, `/api/access/${office.share}/links/sent`, 'POST', asked)).status).toBe(400)
  })

  test('a message that waits is withdrawn, and the link that nobody got ends with it', async () => {
    fault({ refuses: 451 })
    const saved = await save(`${randomUUID()}.txt`, 'The weir')
    const to = somebody()
    const sent = await done<Sent>(
      send(priya!, `/api/access/${saved.file.id}/links/sent`, 'POST', {
        key: randomUUID(),
        to: [{ address: to }],
        words: '',
        link,
      }),
    )
    await expect.poll(async () => (await sentOf(saved.file.id))[0]!.mails[0]!.said).not.toBe(null)
    const { id } = sent.mails[0]!
    expect((await send(ida!, `/api/mail/${id}`, 'DELETE')).status).toBe(404)
    expect((await send(priya!, `/api/mail/${id}`, 'DELETE')).status).toBe(204)
    fault({})
    expect(await stateOf(saved.file.id, to)).toBe('withdrawn')
    expect((await done<Link[]>(priya!(`/api/access/${saved.file.id}/links`)))[0]!.over).toBe('ended')
    expect((await send(priya!, `/api/mail/${id}/again`, 'POST')).status).toBe(400)
    expect(await messagesTo(to)).toEqual([])
  })
})

describe('the mail server', () => {
  const undelivered = () => done<Undelivered[]>(ida!('/api/undelivered'))
  test('that refuses for now gets it again; one that refuses for good is told of, in its words', async () => {
    fault({ refuses: 451 })
    const saved = await save(`${randomUUID()}.txt`, 'Later')
    const to = somebody()
    await done(sendIt(saved, to))
    await expect
      .poll(async () => (await sentOf(saved.file.id))[0]!.mails[0]!.said)
      .toEqual({
        say: 'problem.mail-server-said',
        facts: { said: 'Come again later' },
      })
    const [waiting] = (await sentOf(saved.file.id))[0]!.mails
    expect([waiting!.state, Date.parse(waiting!.nextAt!) > Date.now() + 30_000]).toEqual(['waiting', true])
    fault({})
    await done(send(ida!, `/api/mail/${waiting!.id}/again`, 'POST'))
    await expect.poll(() => stateOf(saved.file.id, to)).toBe('sent')
    expect(await messagesTo(to)).toHaveLength(1)

    fault({ refuses: 550 })
    const other = somebody()
    await done(sendIt(saved, other))
    await expect.poll(() => stateOf(saved.file.id, other)).toBe('refused')
    fault({})
    const news = (await undelivered()).find(({ mail }) => mail.address === other)!
    expect(news).toMatchObject({ kind: 'file', of: { id: saved.file.id, kind: 'file' } })
    expect(news.mail.said).toEqual({ say: 'problem.mail-server-said', facts: { said: 'This address takes no mail' } })
    expect((await send(tomas!, `/api/mail/${news.mail.id}/seen`, 'POST')).status).toBe(404)
    await done(send(ida!, `/api/mail/${news.mail.id}/seen`, 'POST'))
    expect((await undelivered()).map(({ mail }) => mail.address)).not.toContain(other)
  })

  test('that sends a message back has it known where it was sent from; what is late stays sent, with why', async () => {
    fault({ bounces: 'gone.', delays: 'late.' })
    const saved = await save(`${randomUUID()}.txt`, 'Back')
    const [gone, late] = [`gone.${somebody()}`, `late.${somebody()}`]
    await done(sendIt(saved, '', { to: [{ address: gone }, { address: late }] }))
    for (const to of [gone, late]) await expect.poll(() => stateOf(saved.file.id, to)).toBe('sent')
    writeFileSync(
      join(folder, 'mail/returned/2020 a letter.eml'),
      'From: nell@assessors.example\r\nSubject: Thanks\r\n\r\n.\r\nNell\r\n',
    )
    office.soon('returned-mail')
    await expect.poll(() => stateOf(saved.file.id, gone)).toBe('came back')
    const mailsNow = async () => (await sentOf(saved.file.id))[0]!.mails
    await expect.poll(async () => (await mailsNow())[1]!.said).not.toBe(null)
    const mails = await mailsNow()
    expect(mails.map(({ state, said }) => [state, said && (said as { facts: object }).facts])).toEqual([
      ['came back', { said: 'Nobody here has this address' }],
      ['sent', { said: 'No answer from the host' }],
    ])
    // What was read of ours is taken away; what others wrote lies there.
    await expect.poll(() => readdirSync(join(folder, 'mail/returned'))).toEqual(['2020 a letter.eml'])
    expect((await undelivered()).some(({ mail }) => mail.address === gone)).toBe(true)
    fault({})
  })

  test('that is away keeps messages waiting, and says so to administrators; then they go, each once', async () => {
    await standIns.close()
    const saved = await save(`${randomUUID()}.txt`, 'Away')
    const [one, two] = [somebody(), somebody()]
    await done(sendIt(saved, '', { to: [{ address: one }, { address: two }] }))
    await expect
      .poll(async () => (await done<MailNow>(admin!('/api/mail'))).said)
      .toMatchObject({
        say: 'problem.mail-server-away',
      })
    const now = await done<MailNow>(admin!('/api/mail'))
    expect(now).toMatchObject({ from: standIns.mail.from.address, host: '127.0.0.1', returns: true })
    expect(now.waiting).toBeGreaterThanOrEqual(2)
    standIns = await startStandIns(folder)
    for (const { id, state } of (await sentOf(saved.file.id))[0]!.mails)
      if (state === 'waiting') await done(send(ida!, `/api/mail/${id}/again`, 'POST'))
    for (const to of [one, two]) {
      await expect.poll(() => stateOf(saved.file.id, to)).toBe('sent')
      expect(await messagesTo(to)).toHaveLength(1)
    }
  })

  test('a message whose process was killed on the way is taken there again, as the same one', async () => {
    const saved = await save(`${randomUUID()}.txt`, 'Killed')
    const to = somebody()
    await done(sendIt(saved, to))
    await expect.poll(() => stateOf(saved.file.id, to)).toBe('sent')
    // As it stands when the mail server had it and nobody wrote that down.
    const [first] = await messagesTo(to)
    const seal = new Seal(Buffer.alloc(32, 7))
    await office.owner.query(
      `update mail set state = 'waiting', body = $2, next_at = now() - interval '1 second' where address = $1`,
      [to, seal.lock('Killed', 'another')],
    )
    office.soon('mail')
    // Locked with a key that is not there any more it goes nowhere, and that is said.
    await expect.poll(() => stateOf(saved.file.id, to)).toBe('given up')
    expect((await sentOf(saved.file.id))[0]!.mails[0]!.said).toEqual({ say: 'problem.mail-other-key' })
    const deliver = deliverBy(standIns.mail)
    const message = {
      messageId: first!.mail.messageId!,
      by: 'Ida Brandt',
      replyTo: null,
      to: { name: null, address: to },
      subject: 'Again',
      text: 'Killed',
      attachments: [],
      automatic: false,
    }
    expect(await deliver(message)).toEqual({ is: 'sent' })
    expect((await messagesTo(to)).map(({ mail }) => mail.messageId)).toEqual([message.messageId, message.messageId])
  })

  test('a message whose version is gone goes nowhere, and not without it', async () => {
    fault({ refuses: 451 })
    const saved = await save(`${randomUUID()}.txt`, 'Gone')
    const to = somebody()
    await done(sendIt(saved, to))
    await expect.poll(async () => (await sentOf(saved.file.id))[0]!.mails[0]!.said).not.toBe(null)
    // By the hand of whoever owns the database; nothing of Jaula's does it.
    await office.owner.query('update sent_version set version_id = gen_random_uuid() where version_id = $1', [
      saved.version.id,
    ])
    fault({})
    const [waiting] = (await sentOf(saved.file.id))[0]!.mails
    await done(send(ida!, `/api/mail/${waiting!.id}/again`, 'POST'))
    await expect.poll(() => stateOf(saved.file.id, to)).toBe('given up')
    expect(await messagesTo(to)).toEqual([])
  })

  test('nobody sends more than so many in an hour', async () => {
    const saved = await save(`${randomUUID()}.txt`, 'Many')
    await office.owner.query(
      `insert into mail (id, message_id, kind, person_id, address, subject, state)
       select gen_random_uuid(), '<' || n || '@many.example>', 'file', $1, 'x@many.example', '', 'sent' from generate_series(1, 300) n`,
      [office.people.tomas],
    )
    expect((await refusal(sendIt(saved, somebody(), {}, tomas))).type).toBe('too-many-attempts')
    expect(await sentOf(saved.file.id)).toEqual([])
  })
})

describe('people', () => {
  test('get their codes by mail, which work once; a code that came back is seen where it was given', async () => {
    fault({ bounces: 'gone.' })
    const [there, gone] = [somebody(), `gone.${somebody()}`]
    const given = await done<GivenCode[]>(
      send(admin!, '/api/people', 'POST', {
        byMail: true,
        people: [
          { handle: 'marta', name: 'Marta', mail: there },
          { handle: 'oskar', name: 'Oskar', mail: gone },
          { handle: 'nobody', name: 'Nobody' },
        ],
      }),
    )
    expect(given.map(({ sentTo }) => sentTo)).toEqual([there, gone, null])
    const { mail } = await arrived(there)
    expect(mail.text).toContain(`Sign in with: marta`)
    const code = /Code: (\S+)/.exec(mail.text ?? '')![1]
    expect(code).toBe(given[0]!.code)
    const session = await done<Session>(
      send(withCookies(office.url), '/api/code', 'POST', { handle: 'marta', code, password: 'windlass and sluice' }),
    )
    expect(session.person).toMatchObject({ handle: 'marta', mail: there })
    const stateNow = async () => {
      office.soon('returned-mail')
      const accounts = await done<Account[]>(admin!('/api/people'))
      return accounts.find(({ handle }) => handle === 'oskar')!.codeMail?.state
    }
    await expect.poll(stateNow).toBe('came back')
    fault({})
    const again = await done<GivenCode>(send(admin!, `/api/people/${given[1]!.id}/code`, 'POST', { byMail: false }))
    expect(again.sentTo).toBe(null)
    const oskar = (await done<Account[]>(admin!('/api/people'))).find(({ handle }) => handle === 'oskar')!
    expect([oskar.mail, oskar.codeMail]).toEqual([gone, null])
    expect(
      (await refusal(send(admin!, '/api/people', 'POST', { people: [{ handle: 'x.y', name: 'X', mail: 'x@' }] }))).type,
    ).toBe('invalid')
  })

  test('are told by mail of what they were given, where that is wished', async () => {
    const to = somebody()
    await done(send(ben!, '/api/me', 'PUT', { name: 'Ben', mail: to }))
    const saved = await save(`${randomUUID()}.txt`, 'For Ben')
    const give = (byMail: boolean) =>
      done(
        send(priya!, `/api/access/${saved.file.id}/grants`, 'POST', {
          subject: { personId: office.people.ben },
          role: 'edit',
          until: null,
          words: 'Can you fill in the levels?',
          byMail,
        }),
      )
    await give(false)
    await give(true)
    const { mail } = await arrived(to)
    expect(mail.subject).toBe(`priya shares ${saved.file.name} with you`)
    expect(mail.text).toContain(`Can you fill in the levels?\n\nYou may look at “${saved.file.name}” and edit it.`)
    expect(mail.text).toContain(`${office.url}/open/${saved.file.id}`)
    expect(mail.headers.get('auto-submitted')).toBe('auto-generated')
    expect(await messagesTo(to)).toHaveLength(1)
    // Nothing of mail is kept of somebody who takes their address away.
    await done(send(ben!, '/api/me', 'PUT', { name: 'Ben', mail: null }))
    expect((await done<Session>(ben!('/api/session'))).person!.mail).toBe(null)
  })
})

test('without mail nothing is sent, and that is said', async () => {
  const other = await openTestOffice()
  try {
    const { ask } = await signInAs(other, 'ida')
    expect((await done<Session>(ask('/api/session'))).mail).toBe(null)
    const saved = await done<Saved>(
      ask(`/api/files?shareId=${other.share}&name=a.txt&key=${randomUUID()}`, { method: 'POST', body: 'a' }),
    )
    const refused = await refusal(send(ask, `/api/files/${saved.file.id}/sent`, 'POST', body(saved, somebody())))
    expect(refused.says?.say).toBe('problem.no-mail-is-set-up')
  } finally {
    await other.close()
  }
})

test('a file as another type is what its editor would have saved, whatever the type', async () => {
  const of = { name: 'Levels.docx', number: 1, savedAt: new Date(), language: 'en' } as const
  const { bytes, lost } = await convertHere({ bytes: paper, from: 'docx', to: 'odt', of })
  expect(lost).toEqual([])
  expect(readDocument(bytes, 'odt').doc.textContent).toBe(readDocument(paper, 'docx').doc.textContent)
  await expect(
    convertHere({ bytes: Buffer.from('no document'), from: 'docx', to: 'odt', of }).catch((error) =>
      Promise.reject(new Error(JSON.stringify(saidBy(error)))),
    ),
  ).rejects.toThrow(/formats\./)
})
