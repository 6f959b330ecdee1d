// Letters as Rich Text Format 1.9.1 writes them ("Special Characters", "Unicode RTF"): what is not of ASCII by its number,
// followed by a sign for programs that do not know that.

import { encoded } from '../text/encoding'

const named: Readonly<Record<string, string>> = {
  '\\': '\\\\',
  '{': '\\{',
  '}': '\\}',
  '\t': '\\tab ',
  '\u00a0': '\\~',
  '\u00ad': '\\-',
  '\u2011': '\\_',
}
/** Letters where one sign follows a number (\uc1). */
export function plainWords(text: string): string {
  let out = ''
  for (let at = 0; at < text.length; at++) {
    const letter = text[at]!
    const code = text.charCodeAt(at)
    const own = named[letter]
    if (own !== undefined) out += own
    else if (code >= 0x20 && code < 0x7f) out += letter
    else {
      // The sign is the letter itself where the usual code page has it.
      const byte = encoded(letter, 'windows-1252')?.[0]
      const sign = byte === undefined ? ' ?' : `\\'${byte.toString(16).padStart(2, '0')}`
      out += `\\u${code > 0x7fff ? code - 0x10000 : code}${sign}`
    }
  }
  return out
}
/** Letters anywhere, whatever follows numbers there. */
export const lettersAnywhere = (text: string): string =>
  text.replace(/[^\u0020-\u007e\t]+|[\\{}\t]/g, (some) =>
    named[some] !== undefined ? named[some] : `{\\uc1${plainWords(some)}}`,
  )
