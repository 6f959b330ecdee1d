// The language of a document, as its file says it: against counting letters by hand, and in what other programs write.
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { fileOf, w } from './docx/testing'
import { languageOf } from './language'
import { odtOf } from './odt/testing'

const lang = (tag: string | null) => (tag ? `<w:lang w:val="${tag}" w:eastAsia="ja-JP"/>` : '')
const styles = (usual: string | null, ofPlain: string | null) =>
  `<w:styles xmlns:w="${w}"><w:docDefaults><w:rPrDefault><w:rPr>${lang(usual)}</w:rPr></w:rPrDefault></w:docDefaults><w:style w:type="paragraph" w:default="1" w:styleId="P"><w:rPr>${lang(ofPlain)}</w:rPr></w:style><w:style w:type="paragraph" w:styleId="Q"><w:basedOn w:val="P"/></w:style><w:style w:type="character" w:styleId="F"><w:rPr>${lang('fr-FR')}</w:rPr></w:style></w:styles>`
const tag = fc.constantFrom('en-GB', 'de-DE', 'es-ES')

test('is the one that most letters of a document have: by their run, its style, its paragraph’s style, or the file', () => {
  fc.assert(
    fc.property(
      fc.option(tag),
      fc.option(tag),
      fc.array(
        fc.record({
          style: fc.constantFrom(null, 'P', 'Q'),
          runs: fc.array(
            fc.record({ own: fc.option(tag), french: fc.boolean(), letters: fc.integer({ min: 0, max: 30 }) }),
            { maxLength: 4 },
          ),
        }),
        { maxLength: 5 },
      ),
      (usual, ofPlain, paragraphs) => {
        const counts = new Map<string, number>()
        let body = ''
        for (const { style, runs } of paragraphs) {
          body += `<w:p>${style ? `<w:pPr><w:pStyle w:val="${style}"/></w:pPr>` : ''}`
          for (const { own, french, letters } of runs) {
            body += `<w:r><w:rPr>${french ? '<w:rStyle w:val="F"/>' : ''}${lang(own)}</w:rPr><w:t>${'x'.repeat(letters)}</w:t></w:r>`
            const its = own ?? (french ? 'fr-FR' : (ofPlain ?? usual))
            if (its && letters) counts.set(its, (counts.get(its) ?? 0) + letters)
          }
          body += '</w:p>'
        }
        const found = languageOf(fileOf(body, { styles: styles(usual, ofPlain) }), 'docx')
        if (!counts.size) expect(found).toBe(usual)
        else expect(counts.get(found!)).toBe(Math.max(...counts.values()))
      },
    ),
    { numRuns: 150 },
  )
})

test.each([
  ['odt', 'de', 'AT', 'de-AT'],
  ['odt', 'en', 'none', 'en'],
  ['odt', 'zxx', 'none', null],
])('in %s %s and %s is %s', (type, language, country, expected) => {
  const style = `<style:default-style style:family="paragraph"><style:text-properties fo:language="${language}" fo:country="${country}"/></style:default-style>`
  expect(languageOf(odtOf('<text:p>Wehr</text:p>', { styles: style }), type)).toBe(expected)
})

test('a page says it at its root; what says nothing, or is damaged, has none', () => {
  const bytes = (text: string) => new TextEncoder().encode(text)
  expect(languageOf(bytes('<!doctype html><html class="a" lang="es-MX"><p>La esclusa'), 'html')).toBe('es-MX')
  expect(languageOf(bytes('<html><p lang="de">Wehr'), 'html')).toBeNull()
  expect(languageOf(bytes('Wehr'), 'txt')).toBeNull()
  expect(languageOf(bytes('not a package'), 'docx')).toBeNull()
  expect(
    languageOf(fileOf('<w:p/>', { styles: styles('"><script', null).replace('"><script', '&quot;&gt;') }), 'docx'),
  ).toBeNull()
})
