// Spans against the full parser: what is found where, over XML that is put together at random.
import fc from 'fast-check'
import { SaxesParser } from 'saxes'
import { expect, test } from 'vitest'
import {
  attributeOf,
  attributesIn,
  childrenIn,
  decoded,
  type elementOf,
  nextTag,
  rootOf,
  Splices,
  type Tag,
  textIn,
  textOfPart,
} from './spans'

const name = fc.constantFrom('w:p', 'w:r', 'c', 'row', 'x14:f', 'Überschrift')
const value = fc.constantFrom('', 'a', '>', '/>', "it's", '&lt;c&gt;', '&#x41;', 'a&#10;b', '1 2', 'a=b')
const attribute = fc
  .tuple(
    fc.constantFrom('r', 's', 'w:val', 'xml:space'),
    value,
    fc.constantFrom('"', "'"),
    fc.constantFrom(' ', '\n ', '\t'),
  )
  .map(([key, text, quote, gap]) => [key, quote === "'" ? text.replaceAll("'", '') : text, quote, gap] as const)
const attributes = fc
  .uniqueArray(attribute, { maxLength: 3, selector: ([key]) => key })
  .map((all) =>
    all.map(([key, text, quote, gap]) => `${gap}${key}${quote === "'" ? ' = ' : '='}${quote}${text}${quote}`).join(''),
  )
const text = fc.constantFrom(
  '',
  'words',
  'a &amp; b',
  ' ',
  '\n',
  '<!-- <c/> -->',
  '<![CDATA[ <row> ]]>',
  '<?a <c> ?>',
  ']] >',
)
const { element } = fc.letrec<{ element: string; inner: string }>((tie) => ({
  element: fc.oneof(
    { maxDepth: 4 },
    fc.tuple(name, attributes, fc.constantFrom('', ' ')).map(([tag, more, gap]) => `<${tag}${more}${gap}/>`),
    fc
      .tuple(name, attributes, tie('inner'), fc.constantFrom('', ' '))
      .map(([tag, more, inner, gap]) => `<${tag}${more}>${inner}</${tag}${gap}>`),
  ),
  inner: fc.array(fc.oneof(tie('element'), text), { maxLength: 4 }).map((all) => all.join('')),
}))
const head = fc.constantFrom('', '<?xml version="1.0" encoding="UTF-8"?>\n', '<!-- <not/> -->')
const whole = fc.tuple(head, element, fc.constantFrom('', '\n')).map((all) => all.join(''))

interface Told {
  name: string
  kind: 'open' | 'close'
  end: number
  attributes?: Record<string, string>
}
function byParser(xml: string): { told: Told[]; text: string } {
  const told: Told[] = []
  let read = ''
  let depth = 0
  const parser = new SaxesParser({ position: true, xmlns: false })
  parser.on('opentag', (tag) => {
    depth++
    told.push({
      name: tag.name,
      kind: 'open',
      end: parser.position,
      attributes: { ...tag.attributes } as Record<string, string>,
    })
  })
  parser.on('closetag', (tag) => {
    depth--
    told.push({ name: tag.name, kind: 'close', end: parser.position })
  })
  const add = (chunk: string) => {
    if (depth) read += chunk
  }
  parser.on('text', add)
  parser.on('cdata', add)
  parser.write(xml).close()
  return { told, text: read }
}

test('tags are found where the parser finds them, with their attributes', () => {
  fc.assert(
    fc.property(whole, (xml) => {
      const { told } = byParser(xml)
      const found: Told[] = []
      for (let tag = nextTag(xml, 0); tag; tag = nextTag(xml, tag.end)) {
        expect(xml[tag.start]).toBe('<')
        expect(xml[tag.end - 1]).toBe('>')
        if (tag.kind === 'close') found.push({ name: tag.name, kind: 'close', end: tag.end })
        else {
          const own = Object.fromEntries(
            [...attributesIn(xml, tag)].map(({ key }) => [key, attributeOf(xml, tag!, key)!]),
          )
          found.push({ name: tag.name, kind: 'open', end: tag.end, attributes: own })
          if (tag.kind === 'empty') found.push({ name: tag.name, kind: 'close', end: tag.end })
        }
      }
      // White space in an attribute is normalised by the parser (XML 1.0 §3.3.3); none is made here.
      expect(found).toEqual(told)
    }),
    { numRuns: 500 },
  )
})

test('an element ends where it is closed, and its children fill it', () => {
  fc.assert(
    fc.property(whole, (xml) => {
      const root = rootOf(xml)
      expect(textIn(xml, root.inner)).toBe(byParser(xml).text)
      const check = (element: ReturnType<typeof elementOf>) => {
        const inside = [...childrenIn(xml, element.inner)]
        const direct: Tag[] = []
        let depth = 0
        for (
          let tag = nextTag(xml, element.inner[0]);
          tag && tag.start < element.inner[1];
          tag = nextTag(xml, tag.end)
        ) {
          if (tag.kind !== 'close' && depth === 0) direct.push(tag)
          if (tag.kind === 'open') depth++
          if (tag.kind === 'close') depth--
        }
        expect(inside.map(({ start }) => start)).toEqual(direct.map(({ start }) => start))
        for (const one of inside) {
          expect(byParser(xml.slice(one.start, one.end)).told.length).toBeGreaterThan(1)
          check(one)
        }
      }
      check(root)
    }),
    { numRuns: 200 },
  )
})

test('what is not closed is refused, and nothing runs on for ever', () => {
  fc.assert(
    fc.property(whole, fc.nat(), fc.string({ maxLength: 6 }), (xml, at, junk) => {
      const cut = xml.slice(0, at % (xml.length + 1)) + junk
      try {
        for (const one of childrenIn(cut, rootOf(cut).inner)) expect(one.end).toBeLessThanOrEqual(cut.length)
      } catch (error) {
        expect(error).toMatchObject({ name: 'DamagedFile' })
      }
    }),
    { numRuns: 500 },
  )
})

test('splices change their spans and nothing else, in any order they are told in', () => {
  fc.assert(
    fc.property(fc.string({ minLength: 1 }), fc.array(fc.tuple(fc.nat(), fc.nat(4), fc.string())), (source, wanted) => {
      const made = new Splices()
      let end = 0
      const kept: [number, number, string][] = []
      for (const [gap, length, more] of wanted) {
        const from = Math.min(source.length, end + (gap % 5) + 1)
        const to = Math.min(source.length, from + length)
        if (from <= end) continue
        kept.push([from, to, more])
        end = to
      }
      for (const [from, to, more] of kept.toReversed()) made.replace(from, to, more)
      let expected = source
      for (const [from, to, more] of kept.toReversed()) expected = expected.slice(0, from) + more + expected.slice(to)
      expect(made.apply(source)).toBe(expected)
    }),
  )
  const over = new Splices()
  over.replace(0, 3, '')
  over.replace(2, 4, '')
  expect(() => over.apply('abcdef')).toThrow(RangeError)
})

test('a part is encoded back to the bytes it was', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), fc.boolean(), (text, mark) => {
      const bytes = new TextEncoder().encode((mark ? '\uFEFF' : '') + text)
      const part = textOfPart(bytes)!
      expect(part.encode(part.xml)).toEqual(bytes)
    }),
  )
  expect(textOfPart(new Uint8Array([0xff, 0xfe, 60, 0]))).toBeNull()
  expect(textOfPart(new TextEncoder().encode('<?xml version="1.0" encoding="ISO-8859-1"?><a/>'))).toBeNull()
})

test.each([
  ['&lt;&amp;&#65;&#x42;', '<&AB'],
  ['&nothing;', '&nothing;'],
  ['plain', 'plain'],
])('%s is read as %s', (written, read) => expect(decoded(written)).toBe(read))
