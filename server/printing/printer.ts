// A printer, as it is spoken to (RFC 8010 over HTTP, RFC 8011): what it can do and how it is, jobs given to it, what becomes
// of them.
import { request as overHttp } from 'node:http'
import { request as overTls } from 'node:https'
import { mediaNames, type SizeName } from '../../core/content/paper-sizes'
import type { Printer, Turn } from '../../core/contract'
import { type Sentence, say } from '../../core/words/said'
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
  isTrueIn,
  keyword,
  mime,
  NoMessage,
  name,
  numberIn,
  speaking,
  uri,
  wordsIn,
} from './ipp'

/** What is asked of a printer (RFC 8011, section 5.4.15). */
export const operations = {
  print: 0x0002,
  validate: 0x0004,
  cancel: 0x0008,
  job: 0x0009,
  jobs: 0x000a,
  printer: 0x000b,
} as const
/** How it went (RFC 8011, appendix B). */
export const outcomes = {
  ok: 0x0000,
  badRequest: 0x0400,
  notPossible: 0x0404,
  notFound: 0x0406,
  formatNotSupported: 0x040a,
  unsupportedOperation: 0x0501,
  notAccepting: 0x0506,
  busy: 0x0507,
} as const

/** It was not reached, or what came was no answer. */
export class PrinterAway extends Error {
  constructor(readonly said: Sentence) {
    super('the printer does not answer')
  }
}
/** It refused. */
export class PrinterRefuses extends Error {
  constructor(
    readonly said: Sentence,
    readonly code: number,
  ) {
    super(`the printer refuses: ${code}`)
  }
}

/** An answer is at most so large; bytes. */
const largestAnswer = 2_000_000
const turns: Record<Turn, string> = { one: 'one-sided', long: 'two-sided-long-edge', short: 'two-sided-short-edge' }
const sizeNames = new Map(Object.entries(mediaNames).map(([size, media]) => [media, size as SizeName]))

/** Whether it is an address that a printer can have: `ipp:` or `ipps:`. */
export function printerAddress(typed: string): URL | null {
  if (!/^ipps?:\/\//i.test(typed)) return null
  try {
    const url = new URL(typed.replace(/^ipp/i, 'http'))
    return url.hostname && !url.username && !url.password ? url : null
  } catch {
    return null
  }
}
const urlOf = (address: string): URL => {
  const url = printerAddress(address)!
  // The port of both (RFC 8010, section 4; RFC 7472): what is written without one is there.
  if (!/^ipps?:\/\/[^/]*:\d+(?:\/|$)/i.test(address)) url.port = '631'
  return url
}

let requests = 0
async function ask(
  address: string,
  operation: number,
  own: readonly [string, IppValue[]][],
  {
    job = [],
    data = new Uint8Array(),
    patience = 5000,
  }: { job?: readonly [string, IppValue[]][]; data?: Uint8Array; patience?: number } = {},
): Promise<IppMessage> {
  const url = urlOf(address)
  const id = (requests = (requests % 1_000_000) + 1)
  const body = encodeIpp({
    version: [1, 1],
    code: operation,
    id,
    groups: [
      {
        group: groups.operation,
        attributes: new Map([...speaking(), ['printer-uri', [uri(address)]], ...own]),
      },
      ...(job.length ? [{ group: groups.job, attributes: new Map(job) }] : []),
    ],
    data,
  })
  const answer = await new Promise<Buffer>((done, failed) => {
    const away = () => failed(new PrinterAway(say('problem.printer-does-not-answer')))
    const sending = (url.protocol === 'https:' ? overTls : overHttp)(url, {
      method: 'POST',
      headers: { 'content-type': 'application/ipp', 'content-length': body.length },
      // Printers have certificates that they made themselves; what is printed is no secret from who stands at it.
      rejectUnauthorized: false,
      signal: AbortSignal.timeout(patience),
    })
    sending.on('error', away)
    sending.on('response', (response) => {
      const parts: Buffer[] = []
      let size = 0
      response.on('data', (part: Buffer) => {
        size += part.length
        if (size > largestAnswer) response.destroy(new Error('too large'))
        else parts.push(part)
      })
      response.on('error', away)
      response.on('close', () => {
        if (!response.complete) away()
      })
      response.on('end', () => {
        if (response.statusCode === 200) done(Buffer.concat(parts))
        else failed(new PrinterAway(say('problem.no-printer-there', { status: response.statusCode ?? 0 })))
      })
    })
    sending.end(body)
  })
  try {
    const message = decodeIpp(answer)
    if (message.code >= 0x0400) throw refusalOf(message)
    return message
  } catch (error) {
    if (error instanceof NoMessage) throw new PrinterAway(say('problem.no-printer-there', { status: 200 }))
    throw error
  }
}
function refusalOf(message: IppMessage): PrinterRefuses {
  const [said = ''] = wordsIn(attributesIn(message, groups.operation), 'status-message')
  const { code } = message
  const sentence =
    code === outcomes.notAccepting
      ? say('problem.printer-takes-nothing')
      : code === outcomes.formatNotSupported
        ? say('problem.printer-reads-no-pdf')
        : say('problem.printer-refuses', { said: said.slice(0, 300), quoted: said !== '' })
  return new PrinterRefuses(sentence, code)
}

const printerStates = { 3: 'idle', 4: 'busy', 5: 'stopped' } as const
const wanted = [
  'printer-make-and-model',
  'printer-state',
  'printer-state-reasons',
  'printer-is-accepting-jobs',
  'queued-job-count',
  'sides-supported',
  'media-supported',
  'media-ready',
  'color-supported',
  'print-color-mode-supported',
  'copies-supported',
  'document-format-supported',
  'marker-names',
  'marker-levels',
]

/** What a printer says of itself. @throws PrinterAway, PrinterRefuses */
export async function askPrinter(address: string): Promise<NonNullable<Printer['now']> & { readsPdf: boolean }> {
  const answer = await ask(address, operations.printer, [['requested-attributes', wanted.map(keyword)]], {
    patience: 4000,
  })
  const said = attributesIn(answer, groups.printer)
  const sides = wordsIn(said, 'sides-supported')
  const ready = wordsIn(said, 'media-ready')
  const media = ready.length ? ready : wordsIn(said, 'media-supported')
  const copies = said.get('copies-supported')?.[0]
  const levels = (said.get('marker-levels') ?? []).map(({ value }) => (typeof value === 'number' ? value : -1))
  return {
    model: wordsIn(said, 'printer-make-and-model')[0]?.slice(0, 200) ?? '',
    state: printerStates[(numberIn(said, 'printer-state') ?? 3) as 3] ?? 'idle',
    refuses: isTrueIn(said, 'printer-is-accepting-jobs') === false,
    reasons: reasonsIn(said, 'printer-state-reasons'),
    waiting: Math.max(0, numberIn(said, 'queued-job-count') ?? 0),
    sides: (['one', 'long', 'short'] as const).filter((turn) => turn === 'one' || sides.includes(turns[turn])),
    sizes: [...new Set(media.flatMap((one) => sizeNames.get(one) ?? []))],
    colour:
      isTrueIn(said, 'color-supported') ?? wordsIn(said, 'print-color-mode-supported').some((mode) => mode === 'color'),
    mostCopies: copies?.kind === 'range' ? Math.max(1, copies.value[1]) : 1,
    supplies: wordsIn(said, 'marker-names').map((supply, at) => {
      const level = levels[at] ?? -1
      return { name: supply.slice(0, 100), level: level >= 0 && level <= 100 ? level : null }
    }),
    readsPdf: wordsIn(said, 'document-format-supported').some((type) => type === 'application/pdf'),
  }
}
/** What is wrong, without how bad it is; nothing for `none`. */
function reasonsIn(said: Attributes, label: string): string[] {
  const plain = wordsIn(said, label).map((reason) => reason.replace(/-(?:error|warning|report)$/, ''))
  return [...new Set(plain)].filter((reason) => reason !== 'none' && reason !== '').slice(0, 20)
}

export interface ToPrint {
  by: string
  /** Told apart by it from all others. */
  title: string
  pdf: Uint8Array
  copies: number
  collate: boolean
  turn: Turn
  size: string | null
  landscape: boolean
  colour: boolean
}

/** Gives it a job. @returns its number there @throws PrinterAway, PrinterRefuses */
export async function giveJob(address: string, job: ToPrint): Promise<number> {
  const media = job.size !== null ? mediaNames[job.size as SizeName] : undefined
  const answer = await ask(
    address,
    operations.print,
    [
      ['requesting-user-name', [name(job.by)]],
      ['job-name', [name(job.title)]],
      ['document-format', [mime('application/pdf')]],
      ['ipp-attribute-fidelity', [boolean(false)]],
    ],
    {
      job: [
        ['copies', [integer(job.copies)]],
        ...(job.copies > 1
          ? ([
              ['multiple-document-handling', [keyword(`separate-documents-${job.collate ? '' : 'un'}collated-copies`)]],
            ] as [string, IppValue[]][])
          : []),
        ['sides', [keyword(turns[job.turn])]],
        ...(media ? ([['media', [keyword(media)]]] as [string, IppValue[]][]) : []),
        ['orientation-requested', [enumerated(job.landscape ? 4 : 3)]],
        ['print-color-mode', [keyword(job.colour ? 'auto' : 'monochrome')]],
        // The pages are as large as the paper already.
        ['print-scaling', [keyword('none')]],
      ],
      data: job.pdf,
      patience: 120_000,
    },
  )
  const id = numberIn(attributesIn(answer, groups.job), 'job-id')
  if (id === null) throw new PrinterAway(say('problem.no-printer-there', { status: 200 }))
  return id
}

export interface JobNow {
  state: 'waiting' | 'printing' | 'stopped' | 'done' | 'cancelled' | 'failed'
  reasons: string[]
  /** Faces that are printed, where it says so. */
  done: number | null
}
const jobStates = {
  3: 'waiting',
  4: 'stopped',
  5: 'printing',
  6: 'stopped',
  7: 'cancelled',
  8: 'failed',
  9: 'done',
} as const

/** How a job is; null where the printer does not know it any more. @throws PrinterAway, PrinterRefuses */
export async function askJob(address: string, id: number): Promise<JobNow | null> {
  try {
    const answer = await ask(address, operations.job, [
      ['job-id', [integer(id)]],
      [
        'requested-attributes',
        ['job-state', 'job-state-reasons', 'job-impressions-completed', 'job-media-sheets-completed'].map(keyword),
      ],
    ])
    const said = attributesIn(answer, groups.job)
    return {
      state: jobStates[(numberIn(said, 'job-state') ?? 3) as 3] ?? 'waiting',
      reasons: reasonsIn(said, 'job-state-reasons'),
      done: numberIn(said, 'job-impressions-completed'),
    }
  } catch (error) {
    if (error instanceof PrinterRefuses && error.code === outcomes.notFound) return null
    throw error
  }
}

/** The number of a job that was given to it under a title already; null where there is none. @throws PrinterAway, PrinterRefuses */
export async function findJob(address: string, title: string): Promise<number | null> {
  const wantedTitle = name(title).value
  for (const which of ['not-completed', 'completed']) {
    const answer = await ask(address, operations.jobs, [
      ['which-jobs', [keyword(which)]],
      ['requested-attributes', [keyword('job-id'), keyword('job-name')]],
    ])
    for (const { group, attributes } of answer.groups)
      if (group === groups.job && wordsIn(attributes, 'job-name')[0] === wantedTitle)
        return numberIn(attributes, 'job-id')
  }
  return null
}

/** @throws PrinterAway, PrinterRefuses */
export async function cancelJob(address: string, by: string, id: number): Promise<void> {
  await ask(address, operations.cancel, [
    ['job-id', [integer(id)]],
    ['requesting-user-name', [name(by)]],
  ])
}
