// Formulas of the binary format ([MS-XLS] §2.2.2, §2.5.198): tokens in reverse Polish notation, read as text.
import { columnName } from '../../content/workbook'
import { functionNumbered, nameInModel } from './functions'
import { errorOf } from './values'

/** What tokens name by number. */
export interface Links {
  /** What stands before a reference, with its mark; null for sheets that are gone. */
  sheets(number: number): string | null
  name(number: number): string
  nameElsewhere(sheets: number, number: number): string
}

/** A formula that cannot be read; its result stays. */
export class NotRead extends Error {}

const binary = ['+', '-', '*', '/', '^', '&', '<', '<=', '=', '>=', '>', '<>', ' ', ',', ':']
/** How tight operators bind, by their tokens; those of one sign bind tightest but for references. */
const strength = [4, 4, 5, 5, 6, 3, 2, 2, 2, 2, 2, 2, 10, 9, 11]
const signs = 8
const percent = 7
const whole = 20

interface Piece {
  text: string
  binds: number
}

/**
 * @param tokens the formula's tokens
 * @param more what stands behind them: elements of arrays
 * @param at the cell that it is in, where its references are counted from there; null where they are not
 * @throws NotRead
 */
export function formulaText(
  tokens: Uint8Array,
  more: Uint8Array,
  links: Links,
  at: { row: number; column: number } | null,
): string {
  const view = new DataView(tokens.buffer, tokens.byteOffset, tokens.byteLength)
  const stack: Piece[] = []
  let place = 0
  let arrays = 0
  /** Spaces and lines before what comes next: before it, before an opening and before a closing bracket. */
  let before = ''
  let opening = ''
  let closing = ''
  const byte = () => view.getUint8(place++)
  const short = () => {
    place += 2
    return view.getUint16(place - 2, true)
  }
  const push = (text: string, binds = whole) => {
    stack.push({ text: before + text, binds })
    before = ''
  }
  const pop = (): Piece => {
    const piece = stack.pop()
    if (!piece) throw new NotRead('an operand is missing')
    return piece
  }
  const atLeast = ({ text, binds }: Piece, least: number) => (binds < least ? `(${text})` : text)
  function cell(row: number, flags: number, counted: boolean): string {
    let line = row
    let column = flags & 0xff
    const [byRow, byColumn] = [flags & 0x8000, flags & 0x4000]
    if (counted && at) {
      if (byRow) line = (at.row + (row > 32767 ? row - 65536 : row) + 65536) % 65536
      if (byColumn) column = (at.column + column + 256) % 256
    }
    return `${byColumn ? '' : '$'}${columnName(column)}${byRow ? '' : '$'}${line + 1}`
  }
  function area(counted: boolean): string {
    const [top, bottom, left, right] = [short(), short(), short(), short()]
    // All rows or all columns are written without the others.
    if (!counted && top === 0 && bottom === 65535)
      return `${left & 0x4000 ? '' : '$'}${columnName(left & 0xff)}:${right & 0x4000 ? '' : '$'}${columnName(right & 0xff)}`
    if (!counted && (left & 0xff) === 0 && (right & 0xff) === 255)
      return `${left & 0x8000 ? '' : '$'}${top + 1}:${right & 0x8000 ? '' : '$'}${bottom + 1}`
    return `${cell(top, left, counted)}:${cell(bottom, right, counted)}`
  }
  function elements(): string {
    const from = new DataView(more.buffer, more.byteOffset, more.byteLength)
    const columns = from.getUint8(arrays) + 1
    const rows = from.getUint16(arrays + 1, true) + 1
    arrays += 3
    const lines: string[] = []
    for (let row = 0; row < rows; row++) {
      const line: string[] = []
      for (let column = 0; column < columns; column++) {
        const kind = from.getUint8(arrays++)
        if (kind === 1) {
          line.push(numberText(from.getFloat64(arrays, true)))
          arrays += 8
        } else if (kind === 2) {
          const count = from.getUint16(arrays, true)
          const wide = from.getUint8(arrays + 2) & 1
          line.push(quoted(letters(more, arrays + 3, count, wide)))
          arrays += 3 + count * (wide ? 2 : 1)
        } else {
          line.push(kind === 4 ? truth(from.getUint8(arrays)) : kind === 16 ? errorOf(from.getUint8(arrays)) : '')
          arrays += 8
        }
      }
      lines.push(line.join(','))
    }
    return `{${lines.join(';')}}`
  }
  function call(name: string, count: number): void {
    const args: string[] = []
    for (let index = 0; index < count; index++) {
      const piece = pop()
      // What puts areas together stands in brackets of its own here.
      args.unshift(piece.binds === strength[13] ? `(${piece.text})` : piece.text)
    }
    push(`${name}${opening}(${args.join(',')}${closing})`)
    opening = ''
    closing = ''
  }
  const qualified = (sheets: number, text: string) => {
    const prefix = links.sheets(sheets)
    return prefix === null ? '#REF!' : `${prefix}${text}`
  }

  try {
    while (place < tokens.length) {
      const token = byte()
      const kind = token >= 0x60 ? token - 0x40 : token >= 0x40 ? token - 0x20 : token
      if (kind >= 0x03 && kind <= 0x11) {
        const binds = strength[kind - 3]!
        const gap = before
        before = ''
        const right = atLeast(pop(), binds + 1)
        push(`${atLeast(pop(), binds)}${gap}${binary[kind - 3]}${right}`, binds)
        continue
      }
      switch (kind) {
        case 0x12:
        case 0x13: {
          const gap = before
          before = ''
          push(`${gap}${kind === 0x12 ? '+' : '-'}${atLeast(pop(), signs)}`, signs)
          break
        }
        case 0x14: {
          const gap = before
          before = ''
          push(`${atLeast(pop(), percent)}${gap}%`, percent)
          break
        }
        case 0x15: {
          const inner = pop().text
          stack.push({ text: `${opening}(${inner}${closing})`, binds: whole })
          opening = ''
          closing = ''
          break
        }
        case 0x16:
          push('')
          break
        case 0x17: {
          const count = byte()
          const wide = byte() & 1
          push(quoted(letters(tokens, place, count, wide)))
          place += count * (wide ? 2 : 1)
          break
        }
        case 0x19: {
          const flags = byte()
          if (flags & 0x04) {
            const count = short()
            place += (count + 1) * 2
          } else if (flags & 0x40) {
            const which = byte()
            const count = byte()
            const gap = (which % 2 ? '\n' : ' ').repeat(count)
            if (which < 2 || which === 6) before += gap
            else if (which < 4) opening += gap
            else closing += gap
          } else {
            short()
            if (flags & 0x10) call('SUM', 1)
          }
          break
        }
        case 0x1c:
          push(errorOf(byte()))
          break
        case 0x1d:
          push(truth(byte()))
          break
        case 0x1e:
          push(String(short()))
          break
        case 0x1f:
          push(numberText(view.getFloat64(place, true)))
          place += 8
          break
        case 0x20:
          place += 7
          push(elements())
          break
        case 0x21: {
          const known = functionNumbered(short())
          if (!known) throw new NotRead('a function that is not known')
          call(known.name, known.least)
          break
        }
        case 0x22: {
          const count = byte() & 0x7f
          const id = short() & 0x7fff
          if (id === 255) {
            // A function that is not numbered: its name comes first.
            const at = stack.length - count
            const named = stack[at]
            if (!named) throw new NotRead('a function without a name')
            stack.splice(at, 1)
            call(nameInModel(named.text), count - 1)
          } else {
            const known = functionNumbered(id)
            if (!known) throw new NotRead('a function that is not known')
            call(known.name, count)
          }
          break
        }
        case 0x23: {
          const number = short()
          short()
          push(links.name(number))
          break
        }
        case 0x24:
        case 0x2c: {
          const row = short()
          push(cell(row, short(), kind === 0x2c))
          break
        }
        case 0x25:
        case 0x2d:
          push(area(kind === 0x2d))
          break
        case 0x26:
        case 0x27:
        case 0x28:
          // What was found of a reference: the reference itself comes next.
          place += 6
          break
        case 0x29:
          place += 2
          break
        case 0x2a:
          place += 4
          push('#REF!')
          break
        case 0x2b:
          place += 8
          push('#REF!')
          break
        case 0x39: {
          const sheets = short()
          const number = short()
          short()
          push(links.nameElsewhere(sheets, number))
          break
        }
        case 0x3a: {
          const sheets = short()
          const row = short()
          push(qualified(sheets, cell(row, short(), false)))
          break
        }
        case 0x3b: {
          const sheets = short()
          push(qualified(sheets, area(false)))
          break
        }
        case 0x3c:
        case 0x3d: {
          const sheets = short()
          place += kind === 0x3c ? 4 : 8
          push(qualified(sheets, '#REF!'))
          break
        }
        default:
          throw new NotRead(`token ${token}`)
      }
    }
  } catch (error) {
    // Behind the end of its bytes.
    if (error instanceof RangeError) throw new NotRead('it ends too soon')
    throw error
  }
  if (stack.length !== 1) throw new NotRead('operands are left')
  return stack[0]!.text
}

const truth = (value: number) => (value ? 'TRUE' : 'FALSE')
const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`
const numberText = (value: number) => String(value).replace('e', 'E')
function letters(bytes: Uint8Array, from: number, count: number, wide: number): string {
  if (from + count * (wide ? 2 : 1) > bytes.length) throw new NotRead('it ends too soon')
  let text = ''
  for (let index = 0; index < count; index++)
    text += String.fromCharCode(
      wide ? bytes[from + index * 2]! | (bytes[from + index * 2 + 1]! << 8) : bytes[from + index]!,
    )
  return text
}
