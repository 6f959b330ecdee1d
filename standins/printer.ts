// A stand-in for a printer (RFC 8010, RFC 8011): it takes PDF, "prints" it face by face, and lays what came out into a
// folder, as a PDF and, where the machine can draw it, as pictures.
import { execFile } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { createServer, type IncomingMessage } from 'node:http'
import { join } from 'node:path'
import { PDFDocument } from 'pdf-lib'
import {
  type Attributes,
  attributesIn,
  boolean,
  decodeIpp,
  encodeIpp,
  enumerated,
  groups,
  type IppMessage,
  type IppValue,
  integer,
  keyword,
  mime,
  name,
  numberIn,
  range,
  speaking,
  text,
  uri,
  wordsIn,
} from '../server/printing/ipp'
import { operations, outcomes } from '../server/printing/printer'
import type { PrinterFaults } from './faults'
import { listening, type StandIn } from './listen'

export const printedIn = (folder: string): string => join(folder, 'printed')

interface Job {
  id: number
  name: string
  by: string
  state: 3 | 5 | 6 | 7 | 8 | 9
  pdf: Buffer
  faces: number
  copies: number
  done: number
  sides: string
  media: string
  colour: boolean
}
/** One face takes so long where nothing else is said; milliseconds. */
const perFace = 120

/** @param faults what goes wrong now @param twoSided whether it turns leaves by itself */
export async function startPrinter({
  folder,
  faults,
  port = 0,
  twoSided = true,
  colour = true,
}: {
  folder: string
  faults: () => PrinterFaults
  port?: number
  twoSided?: boolean
  colour?: boolean
}): Promise<StandIn> {
  mkdirSync(printedIn(folder), { recursive: true })
  const jobs = new Map<number, Job>()
  let last = 0
  let here = ''
  let facesPrinted = 0
  const reasonsNow = (): string[] => {
    const { paper, jam, coverOpen, toner, refuses } = faults()
    return [
      ...(paper !== null && facesPrinted >= paper ? ['media-empty-error'] : []),
      ...(jam !== null && facesPrinted >= jam ? ['media-jam-error'] : []),
      ...(coverOpen ? ['cover-open-error'] : []),
      ...(toner !== null && toner <= 10 ? ['toner-low-warning'] : []),
      ...(refuses ? ['paused'] : []),
    ]
  }
  const stops = () => reasonsNow().some((reason) => reason.endsWith('-error') || reason === 'paused')
  /** It is not there any more, in the middle of what it does. */
  const gone = () => {
    const { vanishes } = faults()
    return vanishes !== null && facesPrinted >= vanishes
  }

  const comesOut = (job: Job) => {
    const stem = `${String(job.id).padStart(4, '0')} ${job.name.replace(/[^\p{L}\p{N} ._[\]-]/gu, '_')}`
    const file = join(printedIn(folder), `${stem}.pdf`)
    writeFileSync(file, job.pdf)
    writeFileSync(
      join(printedIn(folder), `${stem}.json`),
      JSON.stringify({ ...job, pdf: undefined, faces: job.faces }, null, 1),
    )
    // Pictures, where there is a program for it.
    execFile('pdftoppm', ['-r', '60', '-png', file, join(printedIn(folder), stem)], () => {})
  }
  let faceAt = 0
  const work = () => {
    if (gone()) return
    const job = [...jobs.values()].find(({ state }) => state === 3 || state === 5 || state === 6)
    if (!job) return
    if (stops()) {
      job.state = 6
      return
    }
    if (job.state !== 5) {
      // It begins, and the first face takes its time, too.
      job.state = 5
      faceAt = Date.now()
      return
    }
    if (Date.now() - faceAt < (faults().slow || perFace)) return
    faceAt = Date.now()
    job.done++
    facesPrinted++
    if (job.done >= job.faces * job.copies) {
      job.state = 9
      comesOut(job)
    }
  }

  const printerNow = (): [string, IppValue[]][] => {
    const reasons = reasonsNow()
    const busy = [...jobs.values()].some(({ state }) => state === 3 || state === 5 || state === 6)
    const { toner } = faults()
    return [
      ['printer-uri-supported', [uri(here)]],
      ['uri-authentication-supported', [keyword('none')]],
      ['uri-security-supported', [keyword('none')]],
      ['printer-name', [name('Stand-in')]],
      ['printer-make-and-model', [text('Merrowdale stand-in')]],
      ['printer-state', [enumerated(stops() ? 5 : busy ? 4 : 3)]],
      ['printer-state-reasons', (reasons.length ? reasons : ['none']).map(keyword)],
      ['printer-is-accepting-jobs', [boolean(!faults().refuses)]],
      ['queued-job-count', [integer([...jobs.values()].filter(({ state }) => state <= 6).length)]],
      ['ipp-versions-supported', [keyword('1.1'), keyword('2.0')]],
      ['operations-supported', Object.values(operations).map(enumerated)],
      ['charset-configured', [{ kind: 'charset', value: 'utf-8' }]],
      ['charset-supported', [{ kind: 'charset', value: 'utf-8' }]],
      ['natural-language-configured', [{ kind: 'language', value: 'en' }]],
      ['document-format-supported', [mime('application/pdf'), mime('application/octet-stream')]],
      ['document-format-default', [mime('application/pdf')]],
      [
        'sides-supported',
        ['one-sided', ...(twoSided ? ['two-sided-long-edge', 'two-sided-short-edge'] : [])].map(keyword),
      ],
      ['media-supported', ['iso_a4_210x297mm', 'iso_a3_297x420mm', 'iso_a5_148x210mm'].map(keyword)],
      ['media-ready', ['iso_a4_210x297mm', 'iso_a3_297x420mm'].map(keyword)],
      ['color-supported', [boolean(colour)]],
      ['print-color-mode-supported', ['auto', 'monochrome', ...(colour ? ['color'] : [])].map(keyword)],
      ['copies-supported', [range(1, 99)]],
      [
        'multiple-document-handling-supported',
        ['separate-documents-collated-copies', 'separate-documents-uncollated-copies'].map(keyword),
      ],
      ['marker-names', [name('Black')]],
      ['marker-types', [keyword('toner')]],
      ['marker-levels', [integer(toner ?? 72)]],
    ]
  }
  const jobNow = (job: Job): Attributes =>
    new Map([
      ['job-id', [integer(job.id)]],
      ['job-uri', [uri(`${here}/${job.id}`)]],
      ['job-name', [name(job.name)]],
      ['job-state', [enumerated(job.state)]],
      [
        'job-state-reasons',
        (job.state === 6
          ? ['printer-stopped', ...reasonsNow()]
          : job.state === 7
            ? ['job-canceled-by-user']
            : ['none']
        ).map(keyword),
      ],
      ['job-impressions-completed', [integer(job.done)]],
      ['job-media-sheets-completed', [integer(job.sides === 'one-sided' ? job.done : Math.ceil(job.done / 2))]],
    ])

  async function answerTo(message: IppMessage): Promise<Omit<IppMessage, 'version' | 'id' | 'data'>> {
    const asked = attributesIn(message, groups.operation)
    const wanted = attributesIn(message, groups.job)
    const job = jobs.get(numberIn(asked, 'job-id') ?? -1)
    const none = (code: number) => ({ code, groups: [] })
    const of = (group: number, ...all: Attributes[]) => ({
      code: outcomes.ok,
      groups: all.map((attributes) => ({ group, attributes })),
    })
    switch (message.code) {
      case operations.printer:
        return of(groups.printer, new Map(printerNow()))
      case operations.validate:
        return none(outcomes.ok)
      case operations.print: {
        if (faults().refuses) return none(outcomes.notAccepting)
        const pdf = Buffer.from(message.data)
        if (pdf.subarray(0, 5).toString('latin1') !== '%PDF-') return none(outcomes.formatNotSupported)
        const faces = (await PDFDocument.load(pdf, { updateMetadata: false })).getPageCount()
        const one: Job = {
          id: ++last,
          name: wordsIn(asked, 'job-name')[0] ?? 'job',
          by: wordsIn(asked, 'requesting-user-name')[0] ?? '',
          state: 3,
          pdf,
          faces,
          copies: numberIn(wanted, 'copies') ?? 1,
          done: 0,
          sides: wordsIn(wanted, 'sides')[0] ?? 'one-sided',
          media: wordsIn(wanted, 'media')[0] ?? '',
          colour: wordsIn(wanted, 'print-color-mode')[0] !== 'monochrome',
        }
        jobs.set(one.id, one)
        return of(groups.job, jobNow(one))
      }
      case operations.job:
        return job ? of(groups.job, jobNow(job)) : none(outcomes.notFound)
      case operations.jobs: {
        const over = wordsIn(asked, 'which-jobs')[0] === 'completed'
        return of(groups.job, ...[...jobs.values()].filter(({ state }) => state > 6 === over).map(jobNow))
      }
      case operations.cancel:
        if (!job) return none(outcomes.notFound)
        if (job.state > 6) return none(outcomes.notPossible)
        job.state = 7
        return none(outcomes.ok)
      default:
        return none(outcomes.unsupportedOperation)
    }
  }
  const bodyOf = async (request: IncomingMessage): Promise<Buffer> => {
    const parts: Buffer[] = []
    for await (const part of request) parts.push(part as Buffer)
    return Buffer.concat(parts)
  }
  const server = createServer((request, response) => {
    const answer = async () => {
      if (gone()) return void request.socket.destroy()
      if (request.method !== 'POST')
        return void response.writeHead(200, { 'content-type': 'text/plain' }).end('printer')
      const message = decodeIpp(await bodyOf(request))
      const own = await answerTo(message)
      response.writeHead(200, { 'content-type': 'application/ipp' })
      response.end(
        encodeIpp({
          version: message.version,
          code: own.code,
          id: message.id,
          groups: [{ group: groups.operation, attributes: new Map(speaking()) }, ...own.groups],
          data: new Uint8Array(),
        }),
      )
    }
    answer().catch(() => response.headersSent || response.writeHead(400).end())
  })
  const started = await listening(server, port)
  here = `ipp://127.0.0.1:${started.port}/ipp/print`
  const timer = setInterval(work, 20)
  return {
    port: started.port,
    close: async () => {
      clearInterval(timer)
      await started.close()
    },
  }
}
