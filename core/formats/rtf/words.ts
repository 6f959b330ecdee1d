// Letters of groups that are no text themselves: addresses, descriptions, codes ("Special Characters").
import { letterOf } from '../flat/letters'
import type { Token } from './tokens'

/** Letters that words stand for. */
export const letterWords: Readonly<Record<string, string>> = {
  tab: '\t',
  emdash: '—',
  endash: '–',
  lquote: '‘',
  rquote: '’',
  ldblquote: '“',
  rdblquote: '”',
  bullet: '•',
  emspace: '\u2003',
  enspace: '\u2002',
  qmspace: '\u2005',
  zwj: '\u200d',
  zwnj: '\u200c',
  ltrmark: '\u200e',
  rtlmark: '\u200f',
  '~': '\u00a0',
  '-': '\u00ad',
  _: '\u2011',
  '\\': '\\',
  '{': '{',
  '}': '}',
}

export class Words {
  text = ''
  private skip = 0
  /** @param page the code page of the document */
  constructor(
    private readonly bytes: Uint8Array,
    private readonly page: number,
  ) {}

  take(token: Token): void {
    if (token.is === 'open' || token.is === 'close' || token.is === 'end') this.skip = 0
    else if (token.is === 'text') {
      const from = Math.min(token.to, token.from + this.skip)
      this.skip = 0
      for (const byte of this.bytes.subarray(from, token.to)) this.text += letterOf(this.page, byte)
    } else if (this.skip > 0) this.skip = 0
    else if (token.is === 'byte') this.text += letterOf(this.page, token.byte)
    else if (token.is === 'word' && token.name === 'u' && token.value !== null) {
      this.text += String.fromCharCode((token.value + 65_536) % 65_536)
      // One sign follows for programs that do not know that.
      this.skip = 1
    } else if (token.is === 'word') this.text += letterWords[token.name] ?? ''
  }
}
