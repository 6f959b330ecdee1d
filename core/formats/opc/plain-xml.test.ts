import fc from 'fast-check'
import { SaxesParser } from 'saxes'
import { describe, expect, test } from 'vitest'
import { readPlainXml } from './plain-xml'

type Event = ['open', string, Record<string, string>] | ['text', string] | ['close', string]
/** Neighbouring texts count as one. */
function joined(events: Event[]): Event[] {
  const all: Event[] = []
  for (const event of events) {
    const last = all.at(-1)
    if (event[0] === 'text' && last?.[0] === 'text') last[1] += event[1]
    else if (event[0] !== 'text' || event[1]) all.push([...event] as Event)
  }
  return all
}
function plain(xml: string): Event[] | null {
  const events: Event[] = []
  const whole = readPlainXml(xml, 0, xml.length, {
    open: (name, attributes) => events.push(['open', name, { ...attributes }]),
    text: (text) => events.push(['text', text]),
    close: (name) => events.push(['close', name]),
  })
  return whole ? joined(events) : null
}
/** What the full parser says of the same content inside an element; null when it refuses it. */
function full(xml: string): Event[] | null {
  const events: Event[] = []
  const parser = new SaxesParser({ position: false })
  let refused = false
  parser.on('error', () => {
    refused = true
  })
  parser.on('opentag', (tag) => void events.push(['open', tag.name, { ...(tag.attributes as Record<string, string>) }]))
  parser.on('text', (text) => void events.push(['text', text]))
  parser.on('closetag', (tag) => void events.push(['close', tag.name]))
  parser.write(`<z>${xml}</z>`).close()
  return refused ? null : joined(events.slice(1, -1))
}

const token = fc.constantFrom(
  '<c r="A1" t="s">',
  '<c>',
  '</c>',
  '<v>',
  '</v>',
  '<row r="1"/>',
  '<f t=\'shared\' si="0">',
  '</f>',
  '12',
  ' a ',
  '&lt;',
  '&#65;',
  '&#x1F6F6;',
  '&bad;',
  '&',
  '<',
  '>',
  '"',
  '\r\n',
  '\t',
  '\u0001',
  ']]>',
  '<!-- x -->',
  '<![CDATA[y]]>',
  '<c a="1"b="2">',
  '<c a="1" a="2">',
  '<c a=1>',
  '<c a="<">',
  '< c>',
  '</ c>',
  '<c\n>',
  '</c >',
)
const balanced = fc.letrec<{ node: string }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4 },
    fc.constantFrom('12', '', 'a &amp; b', ' '),
    fc
      .tuple(
        fc.constantFrom('c', 'v', 'row'),
        fc.constantFrom('', ' r="A1"', ' r="A&quot;" s="2" '),
        fc.array(tie('node'), { maxLength: 3 }),
      )
      .map(([name, attributes, inner]) => `<${name}${attributes}>${inner.join('')}</${name}>`),
  ),
})).node

describe('plain XML', () => {
  test('is read as the full parser reads it', () => {
    fc.assert(
      fc.property(
        fc.array(balanced, { maxLength: 4 }),
        (parts) => void expect(plain(parts.join(''))).toEqual(full(parts.join(''))),
      ),
      { numRuns: 1000 },
    )
  })
  test('whatever is put together, it is never read otherwise than the full parser reads it', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(token, balanced), { maxLength: 7 }), (parts) => {
        const read = plain(parts.join(''))
        if (read !== null) expect(read).toEqual(full(parts.join('')))
      }),
      { numRuns: 5000 },
    )
  })
})
