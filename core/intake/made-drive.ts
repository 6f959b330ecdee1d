// Drives as people leave them, made from a seed, with what is a version of what: for tests and for measuring.
import type { Found, Series } from './series'
import { piecesOfText, sketchOf } from './sketch'

export interface MadeFile extends Found {
  text: string
}
export interface MadeDrive {
  files: MadeFile[]
  /** Which of them are versions of one file, oldest first; each file is in one of these. */
  truth: number[][]
}

/** Numbers from 0 to 1 from a seed (mulberry32). */
export function numbersFrom(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let mixed = Math.imul(state ^ (state >>> 15), state | 1)
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32
  }
}

const words =
  'lock gate paddle water level bank tow path bridge boat toll tender letter minute notice stoppage repair budget sluice pound weir culvert mooring wharf summit drain clay puddle oak beam collar anchor heel post mitre sill wall coping stone brick mortar grout season summer winter flood drought leak seepage survey diver crane barge dredge silt reed bank hedge fence stile sign board meeting trust member chair clerk treasurer account grant lottery bid quote price order delivery invoice payment'.split(
    ' ',
  )
const subjects = [
  'Gate paddles',
  'Tender letter',
  'Minutes',
  'Stoppage notice',
  'Water levels',
  'Lockage ledger',
  'Maintenance budget',
  'Towpath survey',
  'Mooring rules',
  'Bridge report',
]

type Style = 'numbered' | 'words' | 'copies' | 'dated' | 'counted' | 'aside' | 'drafts'
export const styles: readonly Style[] = ['numbered', 'words', 'copies', 'dated', 'counted', 'aside', 'drafts']

/** What the n-th of a series is called, in the way of somebody who keeps versions by hand. */
const calledIn: Record<Style, (base: string, n: number, of: number, day: string) => { folder: string; stem: string }> =
  {
    numbered: (base, n) => ({ folder: '', stem: `${base} v${n + 1}` }),
    words: (base, n, of) => ({
      folder: '',
      stem: n === of - 1 ? `${base} final` : n === 0 ? base : n === 1 ? `${base}_new` : `${base} corrected ${'v'}${n}`,
    }),
    copies: (base, n) => ({ folder: '', stem: n === 0 ? base : n === 1 ? `Copy of ${base}` : `${base} (${n})` }),
    dated: (base, _n, _of, day) => ({ folder: '', stem: `${base} ${day}` }),
    counted: (base, n) => ({ folder: '', stem: n === 0 ? base : `${base} ${n + 1}` }),
    aside: (base, n, of) => ({
      folder: n === of - 1 ? '' : n % 2 ? 'old/' : 'Archive/old/',
      stem: n < 2 ? base : `${base} v${n}`,
    }),
    drafts: (base, n, of) => ({
      folder: '',
      stem: n === of - 1 ? base : `${base} draft ${n === 0 ? '' : `v${n + 1}`}`.trim(),
    }),
  }

/** @param series how many files there are in truth that have several versions; as many again stand alone, or look alike */
export function makeDrive(seed: number, series: number): MadeDrive {
  const random = numbersFrom(seed)
  const upTo = (n: number) => Math.floor(random() * n)
  const pick = <T>(of: readonly T[]): T => of[upTo(of.length)]!
  const sentence = () => Array.from({ length: 6 + upTo(12) }, () => pick(words)).join(' ')
  const written = (sentences: number) => Array.from({ length: sentences }, sentence)
  const files: MadeFile[] = []
  const truth: number[][] = []
  const add = (path: string, type: string, text: string, at: Date) => {
    const no = files.length
    const sketch = sketchOf(piecesOfText(text))
    files.push({
      no,
      path: `${path}.${type}`,
      size: text.length,
      at: at.toISOString(),
      sha256: `${type} ${text}`,
      type,
      sketch,
      text,
    })
    return no
  }
  const folders = ['', 'Office/', 'Office/Letters/', 'Locks/', 'Locks/2024/', 'Trustees/', 'Works/Contracts/']
  /** Somebody goes on with a text: writes more, changes some, takes out a little. */
  const goneOnWith = (text: readonly string[]) => {
    const next = text.map((one) => (random() < 0.12 ? sentence() : one)).filter(() => random() > 0.03)
    return [...next, ...written(upTo(4))]
  }
  for (let n = 0; n < series; n++) {
    const style = pick(styles)
    const type = pick(['docx', 'docx', 'xlsx', 'txt'])
    const folder = pick(folders)
    const base = `${pick(subjects)} ${['LK', 'BR'][n % 2]}${String(n).padStart(3, '0')}`
    const of = 2 + upTo(6)
    let text = written(12 + upTo(30))
    const day = new Date(Date.UTC(2019 + upTo(6), upTo(12), 1 + upTo(28), 9))
    const those: number[] = []
    for (let version = 0; version < of; version++) {
      const { folder: inside, stem } = calledIn[style](base, version, of, day.toISOString().slice(0, 10))
      those.push(add(folder + inside + stem, type, text.join('. '), day))
      text = goneOnWith(text)
      day.setUTCDate(day.getUTCDate() + 1 + upTo(9))
    }
    truth.push(those)
    // What looks as if it belonged to it and does not.
    const other = upTo(5)
    const fresh = () => written(12 + upTo(20)).join('. ')
    // Another paper of that name in another place.
    if (other === 0) truth.push([add(`Elsewhere ${n}/${base}`, type, fresh(), day)])
    // The records of a form: other days, the same headings, other words.
    else if (other === 1) {
      const form = written(12)
      for (let record = 0; record < 4; record++)
        truth.push([
          add(`${folder}Form ${base} 2024-0${record + 1}-15`, type, [...form, ...written(12)].join('. '), day),
        ])
    }
    // The same in another type, and a neighbour whose code is one more.
    else if (other === 2) truth.push([add(`${folder}${base}`, 'pdf', '', day)])
    else if (other === 3) truth.push([add(`${folder}${base.slice(0, -1)}x`, type, fresh(), day)])
    else truth.push([add(`${folder}Single ${n} final`, type, fresh(), day)])
  }
  return { files, truth }
}

/** The share of the series that were found as they were made: whole, in their order and with nothing else in them. */
export function seriesRight(truth: readonly number[][], found: readonly Pick<Series, 'files' | 'doubles'>[]): number {
  const made = truth.filter(({ length }) => length > 1)
  const as = new Map(
    found.map(({ files, doubles }) => [
      [...files, ...doubles.map(({ no }) => no)].sort((a, b) => a - b).join(' '),
      files,
    ]),
  )
  const right = made.filter((those) => {
    const files = as.get([...those].sort((a, b) => a - b).join(' '))
    const kept = new Set(files)
    return files && those.filter((no) => kept.has(no)).join(' ') === files.join(' ')
  })
  return right.length / made.length
}
