// Separated values: how a file is written is recognised, and whatever is in it is written again as it was.
import { execFileSync } from 'node:child_process'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Workbook } from '../../content/workbook'
import { applyOps } from '../../content/workbook-ops'
import { decoded, encoded, encodingOf, encodings, oneByte, textOf } from '../text/encoding'
import { type CsvDialect, lookAt, usualDialect } from './dialect'
import { previewCsv } from './preview'
import { readCsv } from './read'
import { recordsOf, written } from './records'
import { dialectAsText, isReadOtherwise, SaidOfList, saidAsText, saidIn, sayableEncodings, typeReadAs } from './said'
import { cellOfField, cellReader } from './values'
import { writeCsv } from './write'

const bytesOf = (text: string) => new TextEncoder().encode(text)
const none = () => undefined
const again = (bytes: Uint8Array, type = 'csv') => {
  const from = readCsv(bytes, type)
  return writeCsv({ workbook: from.workbook, resultOf: none, from })
}
const shown = ({ sheets: [sheet] }: Workbook) => sheet!.rows.map((row) => row?.map((cell) => cell?.value))

describe('text', () => {
  test('is the same letters again, in whatever encoding it came', () => {
    const western = fc.string({ unit: fc.constantFrom('a', 'ß', '€', 'é', '“', ';', '\n', '\u0081') })
    fc.assert(
      fc.property(fc.constantFrom(...encodings), western, fc.string({ unit: 'grapheme' }), (encoding, some, any) => {
        const isOneByte = (oneByte as readonly string[]).includes(encoding)
        const text = encoding === 'windows-1252' ? some : isOneByte ? some.replace(/[^\n-z]/g, '') : some + any
        const bytes = encoded(text, encoding)!
        expect(decoded(bytes, encoding)).toBe(text)
        if (encoding !== 'utf-8' && !isOneByte) expect(encodingOf(bytes)).toBe(encoding)
      }),
    )
    // Wherever a beginning is cut through a letter.
    const long = bytesOf('閘門水位'.repeat(20))
    for (let most = 30; most < 60; most++) expect(textOf(long, most)).toMatch(/^(?:閘|門|水|位)+\ufffd?$/)
    expect(encoded('Łódź', 'windows-1252')).toBe(null)
    // Every byte that is a letter is that letter again, in those in which a letter is one byte.
    for (const encoding of oneByte)
      for (let byte = 0; byte < 256; byte++) {
        const letter = decoded(Uint8Array.of(byte), encoding)
        if (letter !== '\ufffd') expect([encoding, byte, ...encoded(letter, encoding)!]).toEqual([encoding, byte, byte])
      }
    for (const [encoding, text] of [
      ['windows-1250', 'Łódź'],
      ['windows-1251', 'шлюз'],
      ['windows-1253', 'πύλη'],
      ['windows-1257', 'slūžas'],
      ['macintosh', 'Größe'],
      ['ibm866', 'шлюз'],
    ] as const) {
      const reader = 'import sys; sys.stdout.buffer.write(sys.stdin.buffer.read().decode(sys.argv[1]).encode())'
      const name = encoding === 'macintosh' ? 'mac_roman' : encoding.replace('windows-', 'cp').replace('ibm', 'cp')
      const read = execFileSync('/usr/bin/python3', ['-c', reader, name], { input: encoded(text, encoding)! })
      expect(read.toString()).toBe(text)
    }
    expect(encodingOf(Uint8Array.of(0x47, 0xe9))).toBe('windows-1252')
    expect(encodingOf(bytesOf('Größe'))).toBe('utf-8')
  })
})

describe('records', () => {
  test('hold whatever was written into their fields', () => {
    const field = fc.string({ unit: fc.constantFrom('a', '"', ',', ';', '\n', '\r', ' ', 'ä') })
    fc.assert(
      fc.property(
        fc.array(fc.array(field, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 5 }),
        fc.constantFrom(',', ';', '\t', '|'),
        fc.boolean(),
        (rows, separator, always) => {
          const text = rows.map((row) => row.map((one) => written(one, separator, always)).join(separator)).join('\r\n')
          expect(recordsOf(text, separator).map(({ fields }) => fields.map((one) => one.text))).toEqual(rows)
        },
      ),
    )
  })
  test('what the standard leaves open is read as it was meant, and nothing of it goes', () => {
    const read = (text: string) => recordsOf(text, ',').map(({ fields }) => fields.map((one) => one.text))
    expect(read('a,"b"c,d\n"open, and\nnever closed')).toEqual([['a', 'bc', 'd'], ['open, and\nnever closed']])
    expect(read('a "quoted" word,b\n\n,\n')).toEqual([['a "quoted" word', 'b'], [''], ['', '']])
    expect(read('')).toEqual([])
  })
})

describe('how a file is written', () => {
  const levels = (dialect: Partial<CsvDialect>) => {
    const { separator, end, decimal, quotes, dates } = { ...usualDialect, ...dialect }
    const number = (value: string) =>
      quotes === 'all' ? `"${value.replace('.', decimal)}"` : value.replace('.', decimal)
    const text = (value: string) => written(value, separator, quotes !== 'needed')
    const day = (d: number) => text(dates === 'day' ? `${d}/11/2026` : `11/${d}/2026`)
    const rows = [['Lock', 'Level', 'Read on', 'Remark'].map(text)]
    for (let n = 1; n < 20; n++)
      rows.push([text(`LK${n}`), number(`${n}.25`), day(n + 5), text(n % 3 ? 'so' : `a${separator}b\nc`)])
    return rows.map((row) => row.join(separator)).join(end) + end
  }
  test('is recognised: separator, ends, decimal sign, quotes, order of dates, encoding', () => {
    fc.assert(
      fc.property(
        fc.record({
          encoding: fc.constantFrom(...encodings.filter((one) => !(oneByte as readonly string[]).includes(one))),
          separator: fc.constantFrom(',' as const, ';' as const, '\t' as const, '|' as const),
          end: fc.constantFrom('\r\n' as const, '\n' as const, '\r' as const),
          decimal: fc.constantFrom('.' as const, ',' as const),
          quotes: fc.constantFrom('texts' as const, 'all' as const),
          dates: fc.constantFrom('day' as const, 'month' as const),
        }),
        (dialect) => {
          // A comma between fields is none in a number that stands without quotes.
          fc.pre(dialect.separator !== dialect.decimal || dialect.quotes === 'all')
          const bytes = encoded(levels(dialect), dialect.encoding)!
          expect(lookAt(bytes, 'csv').dialect).toEqual({ ...dialect, ended: true })
        },
      ),
    )
  })
  test('where the text does not say it, its ending does', () => {
    expect(lookAt(bytesOf('one'), 'tsv').dialect.separator).toBe('\t')
    expect(lookAt(bytesOf('one'), 'csv').dialect.separator).toBe(',')
    expect(lookAt(bytesOf(''), 'csv').dialect).toEqual({ ...usualDialect, end: '\r\n' })
    expect(lookAt(bytesOf('Größe;1'), 'csv').dialect).toMatchObject({ separator: ';', ended: false })
    expect(lookAt(Uint8Array.of(0x47, 0x72, 0xf6, 0xdf, 0x65, 0x3b, 0x31), 'csv').dialect.encoding).toBe('windows-1252')
  })
  test('a comma in sentences separates nothing where a semicolon does', () => {
    const text = 'Lock;Remark\nLK07;worn, leaks, loud\nLK08;well, mostly\nLK09;new\n'
    expect(lookAt(bytesOf(text), 'csv').dialect.separator).toBe(';')
  })
})

describe('what somebody says of it', () => {
  const saying: fc.Arbitrary<SaidOfList> = fc.record(
    {
      separator: fc.constantFrom(',' as const, ';' as const, '\t' as const, '|' as const),
      decimal: fc.constantFrom('.' as const, ',' as const),
      dates: fc.constantFrom('day' as const, 'month' as const),
      encoding: fc.constantFrom(...sayableEncodings),
      guarded: fc.constant(true as const),
    },
    { requiredKeys: [] },
  )
  test('goes with the type, and holds: nothing that was said is recognised otherwise, and what is written is so again', () => {
    fc.assert(
      fc.property(
        saying,
        fc.string({ unit: fc.constantFrom('a', ';', ',', '|', '\t', '1', '/', '\n', '"') }),
        (said, text) => {
          const type = typeReadAs('csv', saidAsText(SaidOfList.parse(said)))
          expect(saidIn(type)).toEqual(said)
          const bytes = bytesOf(text)
          const { dialect, doubts } = readCsv(bytes, type)
          expect(dialect).toMatchObject(said)
          for (const known of Object.keys(said)) expect(doubts).not.toHaveProperty(known)
          // A list that is to be guarded is another one, and then the same again.
          const written = said.guarded ? again(bytes, type).bytes : bytes
          expect(again(written, type).bytes).toEqual(written)
          expect(previewCsv(bytes, 'csv', said)!.dialect).toEqual(dialect)
        },
      ),
    )
    expect(saidIn('csv?separator=nothing&encoding=utf-9&dates')).toEqual({})
    expect(typeReadAs('tsv?dates=day', null)).toBe('tsv')
  })
  test('said whole of a list, it reads it the same way; what is said otherwise of it is told', () => {
    fc.assert(
      fc.property(
        saying,
        saying,
        fc.string({ unit: fc.constantFrom('a', ';', ',', '|', '\t', '1', '/', '\n', '"') }),
        (said, other, text) => {
          const bytes = bytesOf(text)
          const { dialect } = readCsv(bytes, typeReadAs('csv', saidAsText(SaidOfList.parse(said))))
          const whole = dialectAsText(dialect)
          expect(readCsv(bytes, typeReadAs('csv', whole)).dialect).toEqual(dialect)
          expect(isReadOtherwise(saidAsText(SaidOfList.parse(said)), whole)).toBe(false)
          const { dialect: otherwise } = readCsv(
            bytes,
            typeReadAs('csv', saidAsText({ ...saidIn(`csv?${whole}`), ...other })),
          )
          // What guards a list is there or not; all else that is not said stays what it is.
          const told = isReadOtherwise(saidAsText(SaidOfList.parse(other)), whole)
          expect(told).toBe(!!dialect.guarded !== !!other.guarded || dialectAsText(otherwise) !== whole)
        },
      ),
    )
    // An encoding that its bytes say themselves is not said of it, and nothing that is said changes it.
    const marked = readCsv(encoded('Łódź;1', 'utf-16le')!, 'csv')
    expect(dialectAsText(marked.dialect)).toBe('separator=semicolon&decimal=point&dates=day')
    expect(isReadOtherwise('encoding=windows-1252', dialectAsText(marked.dialect))).toBe(false)
  })
  test('is no more than can be: a mark says more, and text that is none in an encoding is read as it is recognised', () => {
    const marked = encoded('Größe;1', 'utf-16le')!
    expect(readCsv(marked, 'csv?encoding=windows-1250').dialect.encoding).toBe('utf-16le')
    const western = Uint8Array.of(0x47, 0x72, 0xf6, 0xdf, 0x65, 0x3b, 0x31)
    expect(readCsv(western, 'csv?encoding=utf-8&separator=semicolon').dialect).toMatchObject({
      encoding: 'windows-1252',
      separator: ';',
    })
    expect(previewCsv(western, 'csv', { encoding: 'utf-8' })).toBe(null)
    expect(shown(readCsv(encoded('Łódź;1', 'windows-1250')!, 'csv?encoding=windows-1250').workbook)).toEqual([
      ['Łódź', 1],
    ])
  })
  test('guards texts that a program could take for formulas, and gives them back as they were', () => {
    const guarded = (rows: string[][]) => {
      const workbook = { sheets: [{ name: 'A', rows: rows.map((row) => row.map((value) => ({ value }))), widths: {} }] }
      return writeCsv({ workbook, resultOf: none, from: null, dialect: { ...usualDialect, guarded: true } })
    }
    const dangerous = /^[=+\-@\t\r]/
    const text = fc.string({ unit: fc.constantFrom("'", '=', '-', '+', '@', '\t', '\r', 'a', '1', ',', '"') })
    fc.assert(
      fc.property(fc.array(fc.array(text, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 5 }), (rows) => {
        const { bytes } = guarded(rows)
        const plain = readCsv(bytes, 'csv?separator=comma')
        for (const row of shown(plain.workbook))
          for (const value of row ?? []) if (typeof value === 'string') expect(value).not.toMatch(dangerous)
        const back = shown(readCsv(bytes, 'csv?separator=comma&guarded=yes').workbook)
        for (const [at, row] of rows.entries())
          for (const [column, value] of row.entries()) if (dangerous.test(value)) expect(back[at]?.[column]).toBe(value)
      }),
    )
    // Numbers below nought are no formulas, and stay numbers.
    const number = { sheets: [{ name: 'A', rows: [[{ value: -5 }, { value: '-5' }]], widths: {} }] }
    const { bytes, lost } = writeCsv({
      workbook: number,
      resultOf: none,
      from: null,
      dialect: { ...usualDialect, guarded: true },
    })
    expect([textOf(bytes), lost]).toEqual(["-5,'-5\r\n", []])
  })
  test('a new list is read as it was written, whatever stands in it', () => {
    const text = fc.string({ unit: fc.constantFrom('a', ',', ';', '\t', '|', '"', ' ', '1') })
    const value = fc.oneof(
      text.filter((one) => cellOfField(one, usualDialect)?.value === one),
      fc.double({ min: -9, max: 9, noNaN: true }).filter((one) => !Object.is(one, -0)),
    )
    fc.assert(
      fc.property(fc.array(fc.array(value, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 6 }), (rows) => {
        const workbook = {
          sheets: [{ name: 'A', rows: rows.map((row) => row.map((value) => ({ value }))), widths: {} }],
        }
        const { bytes } = writeCsv({ workbook, resultOf: none, from: null })
        expect(lookAt(bytes, 'csv').dialect.separator).toBe(',')
      }),
    )
  })
  test('a list that is to be guarded is with the next save, and its other rows stay letter by letter', () => {
    const from = readCsv(bytesOf('a, 1.50\n=1+1,x\n"b" ,2\n'), 'csv?separator=comma&guarded=yes')
    expect(textOf(writeCsv({ workbook: from.workbook, resultOf: none, from }).bytes)).toBe(
      'a, 1.50\n\'=1+1,x\n"b" ,2\n',
    )
  })
  test('is asked where letters of two encodings are in it, and its bytes stay as they are', () => {
    const mixed = new Uint8Array([...bytesOf('Schleuse Größe,閘\n'), ...encoded('Größe,Tür\n', 'windows-1252')!])
    const { dialect, doubts } = readCsv(mixed)
    expect([dialect.encoding, doubts.mixed]).toEqual(['windows-1252', 3])
    expect(again(mixed).bytes).toEqual(mixed)
    expect(readCsv(mixed, 'csv?encoding=windows-1252').doubts).toEqual({})
    // Text of one encoding, whichever, is no doubt.
    for (const text of ['Größe,Tür\n', 'naïve café,œuvre\n', 'plain,text\n']) {
      expect(readCsv(encoded(text, 'windows-1252')!).doubts).toEqual({})
      expect(readCsv(bytesOf(text)).doubts).toEqual({})
    }
  })
  test('is asked where nothing in it decides: dates, thousands, separators; and not where something does', () => {
    const doubts = (text: string) => lookAt(bytesOf(text), 'csv').doubts
    expect(doubts('Read on;Level\n03/04/2026;2\n')).toEqual({ dates: '03/04/2026' })
    expect(doubts('Read on;Level\n03/04/2026;2\n13/04/2026;3\n')).toEqual({})
    expect(doubts('Read on;Level\n2026-04-03;1,5\n')).toEqual({})
    expect(doubts('Lock;Bill\nLK07;1.250\nLK08;2.100\n')).toEqual({ decimal: '1.250' })
    expect(doubts('Lock;Bill\nLK07;1.250\nLK08;2.10\n')).toEqual({})
    expect(doubts('a;1,5\nb;2,5\nc;3,5\n').separator).toBe(';')
    expect(doubts('Lock;Remark\nLK07;worn, leaks, loud\nLK08;well\n')).toEqual({})
  })
  test('is shown on the first rows as it would be read', () => {
    const bytes = bytesOf('Lock|Level|Read on\nLK07|1,50|03/04/2026\n'.repeat(30))
    const values = (said: SaidOfList) =>
      previewCsv(bytes, 'csv', said, 2)!.rows.map((row) => row.map(({ cell }) => cell?.value))
    expect(values({ decimal: ',', dates: 'month' })[1]).toEqual(['LK07', 1.5, 46_085])
    expect(values({ decimal: '.', dates: 'day' })[1]).toEqual(['LK07', '1,50', 46_115])
    expect(previewCsv(bytes, 'csv', { separator: ';' }, 2)!.columns).toBe(1)
  })
})

test('many fields are read as each of them is', () => {
  const digits = fc.string({ unit: fc.constantFrom('0', '1', '9', '-', '.', ',', '/', ' ', ':', 'e'), maxLength: 18 })
  const field = fc.oneof(
    digits,
    fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
    fc.double({ min: -1, max: 1, noNaN: true }).map(String),
    fc.constantFrom(
      'TRUE',
      'FALSE',
      'True',
      '#N/A',
      '#NAME?',
      '-0',
      '-0.00',
      '0.50',
      '00',
      '01/02/2026 10:30',
      '2026-11-28',
    ),
    fc.string({ unit: 'grapheme', maxLength: 6 }),
  )
  const signs = fc.record({
    decimal: fc.constantFrom('.' as const, ',' as const),
    dates: fc.constantFrom('day' as const, 'month' as const),
  })
  fc.assert(
    fc.property(fc.array(field, { minLength: 1, maxLength: 30 }), signs, (fields, signs) => {
      const read = cellReader(signs)
      for (const text of [...fields, ...fields])
        if (text) expect([text, read(text)]).toEqual([text, cellOfField(text, signs)])
    }),
    { numRuns: 3000 },
  )
})

test('whatever a file holds: read and written it is the same bytes', () => {
  const field = fc.oneof(
    fc.constantFrom('', '007', '1.50', '-0', '0', '12', '1e5', '+3', 'TRUE', 'true', '=A1', '25.11.2026', '2026-11-25'),
    fc.constantFrom(
      '1,5',
      '1.234,50',
      '31.02.2026',
      '5/6/2026',
      '05/06/2026 08:30',
      '2026-11-25 08:30:15',
      ' x ',
      '#N/A',
    ),
    fc.integer().map(String),
    fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
    fc.double({ min: -1, max: 1, noNaN: true }).map(String),
    fc.string({ unit: 'grapheme', maxLength: 6 }).filter((text) => !/["\r\n,;|\t\0]/.test(text)),
    fc.constantFrom('"a ""b"""', '"two\nlines"', '"x"', '"1"'),
  )
  fc.assert(
    fc.property(
      fc.array(fc.array(field, { minLength: 1, maxLength: 4 }), { maxLength: 8 }),
      fc.constantFrom(',', ';', '\t', '|'),
      fc.constantFrom('\r\n', '\n'),
      fc.boolean(),
      (rows, separator, end, ended) => {
        const text = rows.map((row) => row.join(separator)).join(end) + (ended && rows.length ? end : '')
        const bytes = bytesOf(text)
        const { bytes: same, lost } = again(bytes)
        expect(new TextDecoder().decode(same)).toBe(text)
        expect(lost).toEqual([])
      },
    ),
    { numRuns: 1000 },
  )
})

test('one cell that is changed is all that is changed; rows come and go as they are', () => {
  const text = '"Lock";Level;"Read on"\r\nLK07;1,50;25.11.2026\r\n\r\n"LK08";007;1.1.2026\r\nLK09;;\r\n'
  const from = readCsv(bytesOf(text))
  expect(from.dialect).toMatchObject({ separator: ';', decimal: ',', end: '\r\n' })
  expect(shown(from.workbook)).toEqual([
    ['Lock', 'Level', 'Read on'],
    ['LK07', 1.5, 46351],
    undefined,
    ['LK08', '007', 46023],
    ['LK09'],
  ])
  const write = (workbook: Workbook) =>
    new TextDecoder().decode(writeCsv({ workbook, resultOf: (_, row) => row * 1.25, from }).bytes)
  const cells = applyOps(from.workbook, [
    {
      op: 'cells',
      sheet: 0,
      cells: [{ row: 1, column: 1, cell: { ...from.workbook.sheets[0]!.rows[1]![1], value: 2.25 } }],
    },
  ])
  expect(write(cells)).toBe(text.replace('1,50', '2,25'))
  const gone = applyOps(cells, [{ op: 'remove', sheet: 0, axis: 'rows', at: 1, count: 2 }])
  expect(write(gone)).toBe('"Lock";Level;"Read on"\r\n"LK08";007;1.1.2026\r\nLK09;;\r\n')
  const sum = applyOps(from.workbook, [
    { op: 'cells', sheet: 0, cells: [{ row: 4, column: 1, cell: { formula: 'SUM(B2:B4)' } }] },
  ])
  const { bytes, lost } = writeCsv({ workbook: sum, resultOf: (_, row) => row * 1.25, from })
  expect(new TextDecoder().decode(bytes)).toBe(text.replace('LK09;;', 'LK09;5;'))
  expect(lost).toEqual([{ feature: 'formulas (their results stay)', count: 1, where: ['Sheet 1'], at: [0, 4, 1] }])
  const unknown = writeCsv({ workbook: sum, resultOf: none, from })
  expect(unknown.lost).toMatchObject([{ feature: 'formulas without a result (nothing of them stays)' }])
  const errors = readCsv(bytesOf('a,#N/A\n'))
  expect(errors.workbook.sheets[0]!.rows[0]![1]).toEqual({ value: { error: '#N/A' } })
})

test('another reader finds in what is written what was meant', () => {
  const texts = fc.sample(fc.string({ unit: fc.constantFrom('a', '"', ',', ';', '\n', ' ', 'ä', '\t') }), {
    numRuns: 300,
    seed: 5,
  })
  const rows = Array.from({ length: 60 }, (_, row) =>
    Array.from({ length: 5 }, (_, column) => ({ value: `${row} ${texts[row * 5 + column]}` })),
  )
  for (const separator of [',', ';', '\t', '|'] as const) {
    const dialect = { ...usualDialect, separator, quotes: separator === ';' ? ('all' as const) : ('needed' as const) }
    const workbook = { sheets: [{ name: 'Sheet 1', widths: {}, rows }] }
    const { bytes } = writeCsv({ workbook, resultOf: none, from: null, dialect })
    const read = execFileSync(
      '/usr/bin/python3',
      [
        '-c',
        'import csv, io, json, sys; text = sys.stdin.buffer.read().decode(); print(json.dumps(list(csv.reader(io.StringIO(text, newline=""), delimiter=sys.argv[1]))))',
        separator,
      ],
      { input: bytes, encoding: 'utf8' },
    )
    expect(JSON.parse(read)).toEqual(rows.map((row) => row.map(({ value }) => value)))
    expect(shown(readCsv(bytes).workbook)).toEqual(rows.map((row) => row.map(({ value }) => value)))
  }
})

test('what has a zero byte is no text, and more rows than a sheet has are told', () => {
  expect(() => readCsv(Uint8Array.of(0x61, 0, 0x62, 0))).toThrow()
  expect(() => readCsv(bytesOf('a\n'.repeat(1_048_577)))).toThrow()
  // A mark that promises UTF-8, and a letter of another encoding: it could not be written as it was.
  expect(() => readCsv(Uint8Array.of(0xef, 0xbb, 0xbf, 0x47, 0xe9, 0x2c, 0x31))).toThrow()
})
