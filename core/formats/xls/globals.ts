// The first part of a workbook's stream ([MS-XLS] §2.1.7.20.3): sheets, names, texts and looks that all sheets use.

import type { DefinedName } from '../../calc/source'
import { quotedSheet } from '../../content/formula'
import type { SheetPaper } from '../../content/sheet-paper'
import { say } from '../../words/said'
import { DamagedFile, type Limits } from '../refusals'
import { formulaText, type Links, NotRead } from './formula-text'
import { type BinaryFont, type BinaryFormat, colorsOf, readFont, readFormat } from './looks'
import { xlsPrintName } from './paper'
import { type BiffRecord, record, recordsOf, viewOf } from './records'
import { lettersOf, sharedTexts, textAt } from './strings'

export interface BoundSheet {
  name: string
  /** Where its part of the stream begins. */
  from: number
  /** Of cells; of another kind otherwise. */
  cells: boolean
  visible: boolean
  /** The record that says so. */
  record: BiffRecord
}
/** Sheets that references are to, by number. */
export interface SheetsNamed {
  book: number
  first: number
  last: number
}
export interface Globals {
  sheets: BoundSheet[]
  texts: string[]
  fonts: BinaryFont[]
  formats: BinaryFormat[]
  /** Colours by their numbers. */
  colors: string[]
  numberFormats: Map<number, string>
  date1904: boolean
  /** Whether the program that wrote it says by which rules it calculated. */
  calculated: boolean
  links: Links
  names: DefinedName[]
  /** What is printed of a sheet, and titles, by where it begins. */
  printNames: Map<number, SheetPaper>
  /** Names by their numbers, with the sheet that each holds on, counted among all of them from 1; 0 for all. */
  namesNumbered: { name: string; sheet: number }[]
  /** Which other books references are to: this one, an add-in's functions, a file. */
  books: { is: 'own' | 'add-in' | 'file'; names: string[] }[]
  sheetsNamed: SheetsNamed[]
  /** Its records, to the one that ends it. */
  records: BiffRecord[]
  end: number
}

/** @throws DamagedFile */
export function readGlobals(stream: Uint8Array, limits: Limits): Globals {
  const records: BiffRecord[] = []
  const sheets: BoundSheet[] = []
  const fonts: BinaryFont[] = []
  const looks: Uint8Array[] = []
  const numberFormats = new Map<number, string>()
  const books: (Globals['books'][number] & { sheets: string[]; number: number })[] = []
  const sheetsNamed: SheetsNamed[] = []
  const namesNumbered: Globals['namesNumbered'] = []
  const printed: { number: number; sheet: number; tokens: Uint8Array; more: Uint8Array }[] = []
  const named: { name: string; sheet: number; tokens: Uint8Array; more: Uint8Array }[] = []
  let palette: Uint8Array | undefined
  let texts: Uint8Array[] = []
  let date1904 = false
  let last = 0
  let end = 0
  let files = 0
  const noWorkbook = () => new DamagedFile(say('formats.this-file-is-damaged-it-has-no-2'))
  const [first] = recordsOf(stream)
  if (first?.type !== record.begin || first.data.length < 4) throw noWorkbook()
  if (viewOf(first.data).getUint16(0, true) !== 0x600) throw new DamagedFile(say('formats.older-than-can-be-read'))
  for (const one of recordsOf(stream)) {
    records.push(one)
    const { type, data } = one
    const view = viewOf(data)
    if (type === record.goesOn) {
      if (last === record.strings) texts.push(data)
      continue
    }
    last = type
    if (type === record.endOfPart) {
      end = one.to
      break
    }
    switch (type) {
      case record.filePass:
        throw new DamagedFile(say('formats.this-file-is-protected-by-a-password-2'))
      case record.date1904:
        date1904 = data.length >= 2 && view.getUint16(0, true) === 1
        break
      case record.font:
        fonts.push(readFont(data))
        break
      case record.numberFormat:
        numberFormats.set(view.getUint16(0, true), textAt(data, 2, 2).text)
        break
      case record.format:
        if (data.length < 20) throw noWorkbook()
        looks.push(data)
        break
      case record.palette:
        palette = data
        break
      case record.strings:
        texts = [data]
        break
      case record.bound:
        sheets.push({
          name: textAt(data, 6, 1).text,
          from: view.getUint32(0, true),
          cells: view.getUint8(5) === 0,
          visible: (view.getUint8(4) & 3) === 0,
          record: one,
        })
        break
      case record.supBook:
        if (data.length === 4 && view.getUint16(2, true) === 0x0401)
          books.push({ is: 'own', names: [], sheets: [], number: 0 })
        else if (data.length === 4 && view.getUint16(2, true) === 0x3a01)
          books.push({ is: 'add-in', names: [], sheets: [], number: 0 })
        else {
          limits.add('links to other files', '')
          books.push({ is: 'file', names: [], sheets: namesOfSheets(data), number: ++files })
        }
        break
      case record.externName: {
        const book = books.at(-1)
        if (book && data.length > 8) book.names.push(textAt(data, 6, 1).text)
        break
      }
      case record.externSheet:
        for (let at = 2; at + 6 <= data.length; at += 6)
          sheetsNamed.push({
            book: view.getUint16(at, true),
            first: view.getInt16(at + 2, true),
            last: view.getInt16(at + 4, true),
          })
        break
      case record.name: {
        const flags = view.getUint16(0, true)
        const count = view.getUint8(3)
        const length = view.getUint16(4, true)
        const wide = !!(view.getUint8(14) & 1)
        const name = lettersOf(data, 15, count, wide)
        const from = 15 + count * (wide ? 2 : 1)
        const sheet = view.getUint16(8, true)
        // Of those that the format names itself, as what is printed, formulas use none.
        const ofFormat = !!(flags & 0x20)
        if (ofFormat && (name.charCodeAt(0) === 6 || name.charCodeAt(0) === 7))
          printed.push({
            number: name.charCodeAt(0),
            sheet,
            tokens: data.subarray(from, from + length),
            more: data.subarray(from + length),
          })
        namesNumbered.push({ name: ofFormat ? `_xlnm.${name.charCodeAt(0)}` : name, sheet })
        if (!ofFormat && !(flags & 2))
          named.push({ name, sheet, tokens: data.subarray(from, from + length), more: data.subarray(from + length) })
        break
      }
    }
  }
  if (!sheets.length) throw new DamagedFile(say('formats.this-file-is-damaged-it-has-no-3'))
  const colors = colorsOf(palette)
  const { texts: shared, rich } = texts.length ? sharedTexts(texts) : { texts: [], rich: 0 }
  if (rich) limits.add('formats inside a cell’s text', '', rich)

  const links: Links = {
    sheets(number) {
      const one = sheetsNamed[number]
      const book = one && books[one.book]
      if (!one || !book) return null
      if (book.is === 'file') {
        const name = book.sheets[one.first]
        return name === undefined ? null : quotedBook(book.number, name)
      }
      const from = sheets[one.first]?.name
      const to = sheets[one.last]?.name
      if (from === undefined || to === undefined) return null
      if (from === to) return `${quotedSheet(from)}!`
      const plain = quotedSheet(from) === from && quotedSheet(to) === to
      return plain ? `${from}:${to}!` : `'${`${from}:${to}`.replaceAll("'", "''")}'!`
    },
    name(number) {
      const found = namesNumbered[number - 1]
      if (!found) throw new NotRead('a name that is not there')
      return found.name
    },
    nameElsewhere(number, name) {
      const book = books[sheetsNamed[number]?.book ?? -1]
      if (!book) throw new NotRead('a name that is not there')
      if (book.is === 'own') {
        // One of a single sheet is called by it from the others.
        const home = sheets[(namesNumbered[name - 1]?.sheet ?? 0) - 1]
        return `${home ? `${quotedSheet(home.name)}!` : ''}${links.name(name)}`
      }
      const found = book.names[name - 1]
      if (found === undefined) throw new NotRead('a name that is not there')
      return book.is === 'add-in' ? found : `[${book.number}]!${found}`
    },
  }
  const cellSheets = sheets.filter(({ cells }) => cells)
  const names: DefinedName[] = named.flatMap(({ name, sheet, tokens, more }) => {
    const on = sheet === 0 ? null : cellSheets.indexOf(sheets[sheet - 1] as BoundSheet)
    if (on === -1) return []
    try {
      return [{ name, sheet: on, formula: formulaText(tokens, more, links, { row: 0, column: 0 }) }]
    } catch (error) {
      if (error instanceof NotRead) return []
      throw error
    }
  })
  const printNames: Globals['printNames'] = new Map()
  for (const { number, sheet, tokens, more } of printed)
    try {
      const said = xlsPrintName(number, formulaText(tokens, more, links, { row: 0, column: 0 }))
      const on = sheets[sheet - 1]
      if (on) printNames.set(on.from, { ...printNames.get(on.from), ...said })
    } catch (error) {
      if (!(error instanceof NotRead)) throw error
    }
  if (named.length)
    limits.add(
      'defined names',
      named
        .slice(0, 3)
        .map(({ name }) => name)
        .join(', '),
      named.length,
    )
  return {
    sheets,
    texts: shared,
    fonts,
    formats: looks.map((data) => readFormat(data, fonts, numberFormats, colors)),
    colors,
    numberFormats,
    date1904,
    calculated: records.some(({ type }) => type === record.calculated),
    links,
    names,
    printNames,
    namesNumbered,
    books,
    sheetsNamed,
    records,
    end,
  }
}

const quotedBook = (number: number, sheet: string) =>
  quotedSheet(sheet) === sheet ? `[${number}]${sheet}!` : `'[${number}]${sheet.replaceAll("'", "''")}'!`

/** The sheets of another file, behind its address (§2.4.271). */
function namesOfSheets(data: Uint8Array): string[] {
  const count = viewOf(data).getUint16(0, true)
  const names: string[] = []
  let { end } = textAt(data, 2, 2)
  while (names.length < count && end + 3 <= data.length) {
    const one = textAt(data, end, 2)
    names.push(one.text)
    end = one.end
  }
  return names
}
