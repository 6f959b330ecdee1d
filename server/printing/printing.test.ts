// What is printed, on the stand-in for a printer and on one that is not ours.
import { type ChildProcess, spawn, spawnSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { type AddressInfo, createServer as createTcp } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PDFDocument } from 'pdf-lib'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import type { Printed, Printer, PrintJob, Problem, Saved } from '../../core/contract'
import { noChoices } from '../../core/contract'
import { writeDocument } from '../../core/formats/documents'
import { faultsIn, PrinterFaults } from '../../standins/faults'
import type { StandIn } from '../../standins/listen'
import { printedIn, startPrinter } from '../../standins/printer'
import { doc, p } from '../demo/papers'
import { type Ask, done, openTestOffice, send, signInAs, type TestOffice } from '../testing'
import { PrinterRow } from './entity'
import { askJob, askPrinter, findJob, giveJob } from './printer'

let office: TestOffice
let folder: string
let standIn: StandIn
let printerId: string
let [ida, ben]: Ask[] = [] as unknown as [Ask, Ask]
const addressOf = (port: number) => `ipp://127.0.0.1:${port}/ipp/print`
const goesWrong = (faults: Partial<PrinterFaults>) => {
  const file = join(folder, 'faults.json')
  writeFileSync(file, JSON.stringify(faults))
}
async function aPdf(faces: number): Promise<Buffer> {
  const pdf = await PDFDocument.create()
  for (let face = 0; face < faces; face++) pdf.addPage([595.28, 841.89]).drawText(`face ${face + 1}`)
  return Buffer.from(await pdf.save())
}
const ask = async (more: object = {}, faces = 2) => ({
  key: randomUUID(),
  printerId,
  fileId: null,
  versionId: null,
  unsaved: true,
  name: 'Levels',
  pdf: (await aPdf(faces)).toString('base64'),
  backs: null,
  pages: faces,
  faces,
  copies: 1,
  allCopies: 1,
  collate: true,
  turn: 'long',
  size: 'a4',
  landscape: false,
  colour: true,
  ...more,
})
const print = async (more: object = {}, faces = 2) =>
  done<PrintJob>(send(ida!, '/api/printing', 'POST', await ask(more, faces)))
const jobs = () => done<PrintJob[]>(ida!('/api/printing'))
const until = (id: string, state: PrintJob['state'], and: (job: PrintJob) => boolean = () => true) =>
  expect
    .poll(
      async () => {
        const job = (await jobs()).find((one) => one.id === id)!
        return [job.state, and(job)]
      },
      { timeout: 20_000 },
    )
    .toEqual([state, true])
const cameOut = () => readdirSync(printedIn(folder)).filter((one) => one.endsWith('.pdf'))
const aPrinterRow = async (address: string): Promise<string> => {
  const id = randomUUID()
  await office.database.manager.insert(PrinterRow, { id, name: id, address, addedBy: office.people.ida })
  return id
}

beforeAll(async () => {
  office = await openTestOffice()
  ;[ida, ben] = [(await signInAs(office, 'ida')).ask, (await signInAs(office, 'ben')).ask]
  folder = mkdtempSync(join(tmpdir(), 'jaula-printer-'))
  standIn = await startPrinter({ folder, faults: faultsIn(join(folder, 'faults.json'), PrinterFaults) })
  printerId = await aPrinterRow(addressOf(standIn.port))
})
afterAll(async () => {
  await office.close()
  await standIn.close()
  rmSync(folder, { recursive: true, force: true })
})

describe('a printer', () => {
  test('says what it can and how it is, and what it can is what is offered', async () => {
    const [printer] = await done<Printer[]>(ben!('/api/printers'))
    expect(printer).toMatchObject({
      address: null,
      fault: null,
      now: {
        state: 'idle',
        refuses: false,
        reasons: [],
        sides: ['one', 'long', 'short'],
        sizes: ['a4', 'a3'],
        colour: true,
        mostCopies: 99,
        supplies: [{ name: 'Black', level: 72 }],
      },
    })
    goesWrong({ toner: 4, coverOpen: true })
    await expect
      .poll(async () => (await done<Printer[]>(ben!('/api/printers')))[0]!.now)
      .toMatchObject({ state: 'stopped', reasons: ['cover-open', 'toner-low'], supplies: [{ level: 4 }] })
    goesWrong({})
  })

  test('is named by an administrator, and has to answer and to read PDF', async () => {
    const { manager } = office.database
    await manager.query('update person set administrator = true where id = $1', [office.people.priya])
    const priya = (await signInAs(office, 'priya')).ask
    const add = async (address: string, name: string = randomUUID()) => {
      const answer = await send(priya, '/api/printers', 'POST', { name, address })
      const said = (await answer.json()) as Printer & Problem
      return answer.ok ? said.now?.model : said.says?.say
    }
    const page = createServer((_, response) => response.end('a page'))
    await new Promise<void>((ready) => page.listen(0, '127.0.0.1', ready))
    expect(await add('http://127.0.0.1/')).toBe('problem.no-printer-address')
    expect(await add('ipp://anne@127.0.0.1/')).toBe('problem.no-printer-address')
    expect(await add('ipp://127.0.0.1:1/ipp')).toBe('problem.printer-does-not-answer')
    expect(await add(addressOf((page.address() as AddressInfo).port))).toBe('problem.no-printer-there')
    page.close()
    const name = 'Attic'
    expect(await add(addressOf(standIn.port), name)).toBe('Merrowdale stand-in')
    expect(await add(addressOf(standIn.port), 'attic')).toBe('problem.printer-name-taken')
    const all = await done<Printer[]>(priya('/api/printers'))
    const attic = all.find((one) => one.name === name)!
    expect(attic.address).toBe(addressOf(standIn.port))
    expect((await send(ida!, `/api/printers/${attic.id}`, 'DELETE')).status).toBe(403)
    await done(send(priya, `/api/printers/${attic.id}`, 'DELETE'))
    expect((await done<Printer[]>(priya('/api/printers'))).some((one) => one.name === name)).toBe(false)
    expect((await send(ida!, '/api/printing', 'POST', await ask({ printerId: attic.id }))).status).toBe(404)
  })

  test('that never answers holds up no other: the list comes without it, and says so when it is given up', async () => {
    const silent = createServer(() => {})
    await new Promise<void>((ready) => silent.listen(0, '127.0.0.1', ready))
    const id = randomUUID()
    const address = addressOf((silent.address() as AddressInfo).port)
    await office.database.manager.insert(PrinterRow, { id, name: 'Cellar', address, addedBy: office.people.priya })
    const said = async () =>
      (await done<Printer[]>(ben!('/api/printers'))).map(({ name, now, fault }) => [
        name,
        now !== null,
        fault && typeof fault === 'object' ? fault.say : null,
      ])
    expect(await said()).toEqual(
      expect.arrayContaining([
        ['Cellar', false, 'problem.printer-asked'],
        [expect.not.stringMatching('Cellar'), true, null],
      ]),
    )
    await expect.poll(said, { timeout: 20_000 }).toContainEqual(['Cellar', false, 'problem.printer-does-not-answer'])
    silent.closeAllConnections()
    silent.close()
    await office.database.manager.update(PrinterRow, { id }, { removedAt: new Date() })
  })

  test('that is no printer answers whatever it likes, and nothing comes of it', async () => {
    const answers = [
      Buffer.alloc(0),
      Buffer.from([1, 1, 0, 0, 0, 0, 0, 1]),
      Buffer.alloc(3_000_000, 1),
      Buffer.from([1, 1, 0, 0, 0, 0, 0, 1, 3]),
    ]
    let next = 0
    const server = createServer((_, response) => {
      response.writeHead(200, { 'content-type': 'application/ipp' })
      response.end(answers[next])
    })
    await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready))
    const address = addressOf((server.address() as AddressInfo).port)
    for (next = 0; next < 3; next++)
      await expect(askPrinter(address)).rejects.toMatchObject({ said: { say: expect.stringMatching(/^problem\./) } })
    // One that says nothing of itself.
    expect(await askPrinter(address)).toMatchObject({ sides: ['one'], sizes: [], mostCopies: 1, readsPdf: false })
    await expect(
      giveJob(address, {
        by: 'Ida',
        title: 'x',
        pdf: new Uint8Array(),
        copies: 1,
        collate: true,
        turn: 'one',
        size: null,
        landscape: false,
        colour: true,
      }),
    ).rejects.toThrow()
    server.close()
  })
})

describe('what is printed', () => {
  test('comes out as it was sent, with what was chosen, and stands with its file', async () => {
    const bytes = writeDocument(doc(p('Levels')), null, 'docx').bytes
    const saved = await done<Saved>(
      ida!(`/api/files?shareId=${office.share}&name=${randomUUID()}.docx&key=${randomUUID()}`, {
        method: 'POST',
        body: bytes as BodyInit,
      }),
    )
    const pdf = (await aPdf(3)).toString('base64')
    const job = await print(
      {
        fileId: saved.file.id,
        versionId: saved.version.id,
        unsaved: false,
        copies: 2,
        allCopies: 2,
        pdf,
        name: 'Gate/1',
      },
      3,
    )
    expect(job).toMatchObject({ state: 'waiting', faces: 6, done: 0 })
    await until(job.id, 'done', (one) => one.done === 6)
    const out = cameOut().find((one) => one.includes(job.id.slice(-12)))!
    expect(readFileSync(join(printedIn(folder), out)).toString('base64')).toBe(pdf)
    expect(JSON.parse(readFileSync(join(printedIn(folder), out.replace('.pdf', '.json')), 'utf8'))).toMatchObject({
      by: 'ida',
      copies: 2,
      sides: 'two-sided-long-edge',
      media: 'iso_a4_210x297mm',
      colour: true,
    })
    expect(await done<Printed[]>(ida!(`/api/files/${saved.file.id}/printed`))).toMatchObject([
      { by: 'ida', number: 1, unsaved: false, pages: 3, copies: 2, state: 'done' },
    ])
    expect((await ben!(`/api/files/${saved.file.id}/printed`)).status).toBe(404)
    const refused = await send(
      ben!,
      '/api/printing',
      'POST',
      await ask({ fileId: saved.file.id, versionId: saved.version.id }),
    )
    expect(refused.status).toBe(404)
    // A version of another file.
    expect((await send(ida!, '/api/printing', 'POST', await ask({ versionId: saved.version.id }))).status).toBe(404)
  })

  test('under one key is printed once; what is no PDF is not', async () => {
    const before = cameOut().length
    const asked = await ask({}, 1)
    const [one, other] = await Promise.all([
      done<PrintJob>(send(ida!, '/api/printing', 'POST', asked)),
      send(ida!, '/api/printing', 'POST', asked),
    ])
    expect(other.status).toBe(200)
    await until(one.id, 'done')
    expect(cameOut().length).toBe(before + 1)
    const answer = await send(
      ida!,
      '/api/printing',
      'POST',
      await ask({ pdf: Buffer.from('<html>').toString('base64') }),
    )
    expect(((await answer.json()) as Problem).says?.say).toBe('problem.no-pdf')
  })

  test('waits at a jam, and goes on when it is cleared; it can be cancelled, and printed again', async () => {
    goesWrong({ jam: 0 })
    const job = await print({}, 2)
    await until(job.id, 'stopped', ({ reasons }) => reasons.includes('media-jam'))
    goesWrong({})
    await until(job.id, 'done')

    goesWrong({ slow: 60_000 })
    const long = await print({}, 9)
    await until(long.id, 'printing')
    await done(send(ida!, `/api/printing/${long.id}`, 'DELETE'))
    await until(long.id, 'cancelled')
    goesWrong({})
    expect((await send(ida!, `/api/printing/${long.id}`, 'DELETE')).status).toBe(400)
    const again = await done<PrintJob>(send(ida!, `/api/printing/${long.id}/again`, 'POST'))
    expect(again).toMatchObject({ faces: 9, state: 'waiting' })
    await until(again.id, 'done')
    expect((await send(ben!, `/api/printing/${long.id}/again`, 'POST')).status).toBe(404)
  }, 90_000)

  test('on both sides by hand: the backs are printed once, when the stack was put back', async () => {
    const backs = await aPdf(2)
    const job = await print({ turn: 'one', backs: backs.toString('base64') }, 2)
    await until(job.id, 'done', ({ hasBacks }) => hasBacks)
    const second = await done<PrintJob>(send(ida!, `/api/printing/${job.id}/backs`, 'POST'))
    await until(second.id, 'done', ({ hasBacks }) => !hasBacks)
    const out = cameOut().find((one) => one.includes(second.id.slice(-12)))!
    expect(readFileSync(join(printedIn(folder), out)).equals(backs)).toBe(true)
    expect((await send(ida!, `/api/printing/${job.id}/backs`, 'POST')).status).toBe(400)
  }, 60_000)

  test('waits for a printer that is away or takes nothing, and says since when it went away in the middle', async () => {
    goesWrong({ refuses: true })
    const refused = await print({}, 1)
    await until(refused.id, 'waiting', ({ said }) => JSON.stringify(said).includes('printer-takes-nothing'))
    goesWrong({})
    await office.database.query('update print_job set next_at = now() where id = $1', [refused.id])
    office.soon('print')
    await until(refused.id, 'done')

    const own = mkdtempSync(join(tmpdir(), 'jaula-printer-'))
    const file = join(own, 'faults.json')
    writeFileSync(file, JSON.stringify({ vanishes: 1, slow: 300 }))
    const other = await startPrinter({ folder: own, faults: faultsIn(file, PrinterFaults) })
    const elsewhere = await aPrinterRow(addressOf(other.port))
    const gone = await print({ printerId: elsewhere }, 3)
    const now = async () => (await jobs()).find(({ id }) => id === gone.id)!
    await expect
      .poll(async () => JSON.stringify((await now()).said), { timeout: 20_000 })
      .toContain('printer-does-not-answer')
    expect((await now()).done).toBeLessThan(3)
    // It never came back.
    await office.database.query(
      `update print_job set away_since = now() - interval '2 hours', next_at = now() where id = $1`,
      [gone.id],
    )
    office.soon('print')
    await until(gone.id, 'lost')
    await other.close()
    rmSync(own, { recursive: true, force: true })
  }, 90_000)

  test('that its printer forgot is lost, and one whose sender was killed is found there and not printed twice', async () => {
    goesWrong({ slow: 60_000 })
    const job = await print({}, 1)
    const remote = async () =>
      (await office.database.query('select remote_id from print_job where id = $1', [job.id]))[0].remote_id as
        | number
        | null
    await expect.poll(remote, { timeout: 20_000 }).not.toBe(null)
    const there = await remote()
    const title = `Levels [${job.id.slice(-12)}]`
    expect(await findJob(addressOf(standIn.port), title)).toBe(there)
    // As it is where it was killed before it wrote down that it had given it away.
    await office.database.query('update print_job set remote_id = null, tries = 1, next_at = now() where id = $1', [
      job.id,
    ])
    office.soon('print')
    await expect.poll(remote, { timeout: 20_000 }).toBe(there)
    await office.database.query('update print_job set remote_id = 9999, next_at = now() where id = $1', [job.id])
    office.soon('print')
    await until(job.id, 'lost')
    goesWrong({})
  }, 60_000)

  test('is kept for a day, to be printed again', async () => {
    const job = await print({}, 1)
    await until(job.id, 'done', ({ again }) => again)
    await office.database.query(`update print_job set since = now() - interval '25 hours' where id = $1`, [job.id])
    office.soon('print')
    await expect
      .poll(
        async () => (await office.database.query('select document from print_job where id = $1', [job.id]))[0].document,
      )
      .toBe(null)
    const answer = await send(ida!, `/api/printing/${job.id}/again`, 'POST')
    expect(((await answer.json()) as Problem).says?.say).toBe('problem.this-print-is-not-kept')
  })

  test('how somebody likes pages is theirs, and stays', async () => {
    const likes = {
      paper: { ...noChoices, landscape: true },
      standard: 'archive',
      range: '1-3',
      which: 'all',
      reverse: false,
      copies: 2,
      collate: true,
      fold: { leaves: 0, margin: 6 },
      perSide: 4,
      order: 'columns',
      frames: true,
      sides: 'hand',
      colour: false,
      printerId,
      allSheets: true,
    }
    const put = (about: string) => done(send(ida!, '/api/paper/likes', 'PUT', { about, likes }))
    await put('last')
    await put('named Handout')
    await put('last')
    expect(await done(ida!('/api/paper/likes'))).toEqual([
      { about: 'last', likes },
      { about: 'named Handout', likes },
    ])
    expect(await done(ben!('/api/paper/likes'))).toEqual([])
    await done(send(ida!, '/api/paper/likes?about=named%20Handout', 'DELETE'))
    expect(await done(ida!('/api/paper/likes'))).toEqual([{ about: 'last', likes }])
    expect((await send(ida!, '/api/paper/likes', 'PUT', { about: 'other', likes })).status).toBe(400)
  })
})

/** Debian's own printer, which shares nothing with ours. */
describe('a printer that is not ours', () => {
  let printer: ChildProcess
  let bus: ChildProcess
  let port: number
  const own = mkdtempSync(join(tmpdir(), 'jaula-ippeve-'))
  beforeAll(async () => {
    const free = createTcp()
    port = await new Promise((ready) =>
      free.listen(0, '127.0.0.1', () => {
        const { port } = free.address() as AddressInfo
        free.close(() => ready(port))
      }),
    )
    // It looks for a bus to make itself known on, and goes on without anybody there.
    const address = `unix:path=${join(own, 'bus')}`
    writeFileSync(
      join(own, 'bus.conf'),
      `<!DOCTYPE busconfig PUBLIC "-//freedesktop//DTD D-Bus Bus Configuration 1.0//EN" "http://www.freedesktop.org/standards/dbus/1.0/busconfig.dtd">
       <busconfig><type>system</type><listen>${address}</listen><auth>EXTERNAL</auth>
       <policy context="default"><allow send_destination="*"/><allow receive_sender="*"/><allow own="*"/><allow user="*"/></policy></busconfig>`,
    )
    bus = spawn('/usr/bin/dbus-daemon', [`--config-file=${join(own, 'bus.conf')}`, '--nofork'], { stdio: 'ignore' })
    await vi.waitFor(() => expect(existsSync(join(own, 'bus'))).toBe(true), { timeout: 10_000 })
    const program = ['/usr/sbin/ippeveprinter', '/usr/bin/ippeveprinter'].find((one) => existsSync(one))!
    printer = spawn(
      program,
      ['-r', 'off', '-n', 'localhost', '-p', String(port), '-d', own, '-k', '-2', '-f', 'application/pdf', 'Bindery'],
      { stdio: 'ignore', env: { ...process.env, DBUS_SYSTEM_BUS_ADDRESS: address } },
    )
    await vi.waitFor(async () => expect((await askPrinter(addressOf(port))).readsPdf).toBe(true), { timeout: 20_000 })
  })
  afterAll(() => {
    printer.kill()
    bus.kill()
    rmSync(own, { recursive: true, force: true })
  })
  test('tells what it can, takes a job with what was chosen, and has the very bytes', async () => {
    const now = await askPrinter(addressOf(port))
    expect(now).toMatchObject({ state: 'idle', refuses: false, readsPdf: true, sides: ['one', 'long', 'short'] })
    expect(now.sizes).toContain('letter')
    const pdf = await aPdf(3)
    const id = await giveJob(addressOf(port), {
      by: 'Ida',
      title: 'Gate [1]',
      pdf,
      copies: 2,
      collate: true,
      turn: 'short',
      size: 'letter',
      landscape: true,
      colour: true,
    })
    await expect.poll(() => askJob(addressOf(port), id).then((job) => job?.state), { timeout: 30_000 }).toBe('done')
    const kept = readdirSync(own, { recursive: true })
      .map(String)
      .find((one) => one.endsWith('.pdf'))!
    expect(readFileSync(join(own, kept)).equals(pdf)).toBe(true)
    const asks = join(own, 'ask.test')
    writeFileSync(
      asks,
      `{ OPERATION Get-Job-Attributes GROUP operation-attributes-tag ATTR charset attributes-charset utf-8
         ATTR naturalLanguage attributes-natural-language en ATTR uri printer-uri $uri ATTR integer job-id ${id} STATUS successful-ok }`,
    )
    const { stdout: said } = spawnSync('/usr/bin/ipptool', ['-tv', addressOf(port), asks], { encoding: 'utf8' })
    expect(said).toMatch(/job-name \(nameWithoutLanguage\) = Gate [^\n]*1/)
    expect(said).toMatch(/sides \(keyword\) = two-sided-short-edge/)
    expect(said).toMatch(/copies \(integer\) = 2/)
    expect(await askJob(addressOf(port), id + 50)).toBe(null)
    expect(await findJob(addressOf(port), 'Gate [1]')).toBe(id)
  }, 60_000)
})
