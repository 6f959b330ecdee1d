import fc from 'fast-check'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import type { Node } from 'prosemirror-model'
import { Step, Transform } from 'prosemirror-transform'
import { expect, test } from 'vitest'
import { compareDocuments } from '../../compare/document'
import { transformTo } from '../../compare/replacements'
import { blankDocument, documentSchema } from '../../content/document'
import { anyEdges, documentWithEdges } from '../../content/document.arbitrary'
import { EdgeStep } from '../../content/edge-step'
import {
  blankStory,
  edgeOf,
  edgesOf,
  inOrder,
  type PageEdge,
  storyJSON,
  storyOf,
  withEdges,
  wordsAtEdge,
} from '../../content/edges'
import { mergeDocuments } from '../../merge/document'
import { NotPatched } from '../refusals'
import { withoutLooksBesideRuns } from './kept'
import { patchDocx } from './patch'
import { readDocx } from './read'
import { writeWholeDocx } from './whole'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const field = (code: string, result: string) =>
  `<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText> ${code} </w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>${result && `<w:r><w:t>${result}</w:t></w:r>`}<w:r><w:fldChar w:fldCharType="end"/></w:r>`
const run = (text: string) => `<w:r><w:t xml:space="preserve">${text}</w:t></w:r>`

function fileOf(title: boolean, stories: Record<string, string>): Uint8Array {
  const names = Object.keys(stories)
  const references = names
    .map((name, index) => {
      const [kind, on] = name.split(' ')
      return `<w:${kind}Reference w:type="${on}" r:id="rId${index + 1}"/>`
    })
    .join('')
  const parts: Record<string, string> = {
    '[Content_Types].xml':
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>',
    '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="word/document.xml"/></Relationships>`,
    'word/document.xml': `<w:document xmlns:w="${w}" xmlns:r="${office}"><w:body><w:p>${run('Text')}</w:p><w:sectPr>${references}${title ? '<w:titlePg/>' : ''}</w:sectPr></w:body></w:document>`,
    'word/_rels/document.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${names.map((name, index) => `<Relationship Id="rId${index + 1}" Type="${office}/${name.split(' ')[0]}" Target="story${index}.xml"/>`).join('')}</Relationships>`,
  }
  for (const [index, name] of names.entries())
    parts[`word/story${index}.xml`] = `<w:hdr xmlns:w="${w}"><w:p>${stories[name]}</w:p></w:hdr>`
  return zipSync(Object.fromEntries(Object.entries(parts).map(([name, xml]) => [name, strToU8(xml)])))
}
const edges = (bytes: Uint8Array) => edgesOf(readDocx(bytes).doc)
const told = (bytes: Uint8Array) => edges(bytes).map((one) => [one.edge, one.on, wordsAtEdge(storyOf(one))])
const partsOf = (bytes: Uint8Array) =>
  Object.fromEntries(Object.entries(unzipSync(bytes)).map(([name, part]) => [name, strFromU8(part)]))
const written = (base: Uint8Array, doc: Node, now: readonly PageEdge[]) => patchDocx(base, withEdges(doc, now)).bytes
const storyWith = (text: string): unknown =>
  storyJSON(documentSchema.node('doc', null, [documentSchema.node('paragraph', null, [documentSchema.text(text)])]))

test('headers and footers are read with their fields as things of the line, whether they have a result or none', () => {
  const bytes = fileOf(false, {
    'header default': run('Merrowdale Canal Trust'),
    'footer default': run('Page ') + field('PAGE', '') + run(' of ') + field('STYLEREF "heading 1"', 'Locks'),
    'footer even': run('Page ') + field('PAGE', '2'),
    'header first': run('Only on a title page'),
  })
  expect(told(bytes)).toEqual([
    ['head', 'all', 'Merrowdale Canal Trust'],
    ['foot', 'all', 'Page # of Locks'],
    ['foot', 'even', 'Page #'],
  ])
  // Their words are a page's own, and no edge of this reader's first forms.
  expect(edgesOf(readDocx(bytes, 2).doc)).toEqual([])
})
test('a first page of its own has both edges, one with nothing in it is blank, and one that is damaged is not there', () => {
  const stories = { 'header first': run('Title'), 'footer default': '', 'header default': '<w:r>' }
  expect(told(fileOf(true, stories))).toEqual([
    ['head', 'first', 'Title'],
    ['foot', 'all', ''],
    ['foot', 'first', ''],
  ])
})
test('a word of a footer changes nothing else of the file, and taken back it is the file', () => {
  const bookmark = '<w:bookmarkStart w:id="4" w:name="here"/><w:bookmarkEnd w:id="4"/>'
  const bytes = fileOf(false, {
    'header default': run('Merrowdale'),
    'footer default': `<w:pPr><w:jc w:val="center"/></w:pPr>${run('Page ')}${bookmark}${field('PAGE \\* MERGEFORMAT', '7')}${run(' of ')}<w:fldSimple w:instr="NUMPAGES"><w:r><w:rPr><w:b/></w:rPr><w:t>9</w:t></w:r></w:fldSimple>`,
  })
  const { doc } = readDocx(bytes)
  const foot = edgeOf(edgesOf(doc), { edge: 'foot', on: 'all' })!
  const changed = new Transform(storyOf(foot)).insert(5, documentSchema.text('number'))
  const after = written(
    bytes,
    doc,
    edgesOf(doc).map((one) => (one === foot ? { ...one, json: storyJSON(changed.doc) } : one)),
  )
  const [before, now] = [partsOf(bytes), partsOf(after)]
  const differ = Object.keys(now).filter((name) => now[name] !== before[name])
  expect(differ).toEqual(['word/story1.xml'])
  expect(now['word/story1.xml']!.replace('number', '')).toBe(before['word/story1.xml'])
  expect(partsOf(written(after, readDocx(after).doc, edgesOf(doc)))).toEqual(before)
})
test('a part that two kinds of pages share is two when one of them is changed', () => {
  const bytes = fileOf(true, { 'header default': run('Both'), 'header first': run('Both') })
  const both = zipSync(
    Object.fromEntries(
      Object.entries(unzipSync(bytes)).map(([name, part]) => [
        name,
        name.endsWith('document.xml.rels') ? strToU8(strFromU8(part).replace('story1', 'story0')) : part,
      ]),
    ),
  )
  const { doc } = readDocx(both)
  const after = written(
    both,
    doc,
    edgesOf(doc).map((one) => (one.edge === 'head' && one.on === 'first' ? { ...one, json: storyWith('First') } : one)),
  )
  expect(told(after).filter(([edge]) => edge === 'head')).toEqual([
    ['head', 'all', 'Both'],
    ['head', 'first', 'First'],
  ])
})
test('edges come into a file that has none, and go from it with their parts', () => {
  const bytes = fileOf(false, {})
  const { doc } = readDocx(bytes)
  const wanted: PageEdge[] = [
    { edge: 'head', on: 'all', json: storyWith('All') },
    { edge: 'head', on: 'first', json: storyWith('First') },
    { edge: 'foot', on: 'first', json: blankStory() },
  ]
  const after = written(bytes, doc, wanted)
  expect(edges(after)).toEqual(inOrder(wanted))
  const again = partsOf(written(after, readDocx(after).doc, []))
  expect(edges(written(after, readDocx(after).doc, []))).toEqual([])
  expect(Object.keys(again).filter((name) => /header|footer/.test(name))).toEqual([])
  expect(again['[Content_Types].xml']).not.toMatch(/header|footer/)
  expect(again['word/document.xml']).toBe(partsOf(bytes)['word/document.xml'])
})
test('whatever edges a document has, and others afterwards, its file has them, and nothing else becomes another', () => {
  const refused: string[] = []
  fc.assert(
    fc.property(documentWithEdges, anyEdges, (doc, others) => {
      const first = writeWholeDocx(doc)
      expect(first.lost).toEqual([])
      expect(readDocx(first.bytes).doc.eq(withoutLooksBesideRuns(doc))).toBe(true)
      const target = withEdges(doc, others)
      let second: Uint8Array
      try {
        second = patchDocx(first.bytes, target).bytes
      } catch (error) {
        if (!(error instanceof NotPatched)) throw error
        refused.push(error.message)
        return
      }
      expect(readDocx(second).doc.eq(target)).toBe(true)
      const [before, now] = [partsOf(first.bytes), partsOf(second)]
      const body = (xml: string | undefined) => xml?.replace(/<w:sectPr[\s\S]*$/, '')
      expect(body(now['word/document.xml'])).toBe(body(before['word/document.xml']))
    }),
    { numRuns: 20, endOnFailure: true },
  )
  // Two quotes beside each other, say, are only written whole.
  expect(refused.length).toBeLessThan(10)
})
test('a journal’s step at an edge is undone by its inverse, whatever was written there', () => {
  fc.assert(
    fc.property(documentWithEdges, anyEdges, fc.nat(), (doc, others, pick) => {
      const own = edgesOf(doc)
      fc.pre(own.length > 0)
      const edge = own[pick % own.length]!
      const like = others[0] ?? edge
      let now = doc
      const back: Step[] = []
      for (const inner of transformTo(storyOf(edge), storyOf(like)).steps) {
        const step = new EdgeStep(edge, inner)
        const replayed = Step.fromJSON(documentSchema, JSON.parse(JSON.stringify(step.toJSON())))
        back.push(step.invert(now))
        now = replayed.apply(now).doc!
      }
      expect(storyOf(edgeOf(edgesOf(now), edge)!).eq(storyOf(like))).toBe(true)
      for (const step of back.toReversed()) now = step.apply(now).doc!
      expect(now.eq(doc)).toBe(true)
      // Where there is no such edge it fails, and nothing is changed.
      for (const step of back) expect(step.apply(withEdges(doc, [])).doc).toBeNull()
    }),
    { numRuns: 60, endOnFailure: true },
  )
})
test('two who wrote at the edges of one document: each change is there, and where both wrote in one line both stand', () => {
  const base = withEdges(blankDocument(), [
    { edge: 'head', on: 'all', json: storyWith('Lock inspections') },
    { edge: 'foot', on: 'all', json: storyWith('Page') },
  ])
  const say = (head: string, foot: string) =>
    withEdges(base, [
      { edge: 'head', on: 'all', json: storyWith(head) },
      { edge: 'foot', on: 'all', json: storyWith(foot) },
    ])
  const merged = (mine: Node, theirs: Node) =>
    edgesOf(mergeDocuments(base, mine, theirs).doc).map((one) => wordsAtEdge(storyOf(one)))
  expect(merged(say('Lock inspections 2026', 'Page'), say('Lock inspections', 'Sheet'))).toEqual([
    'Lock inspections 2026',
    'Sheet',
  ])
  expect(merged(say('Weir inspections', 'Page'), say('Gate inspections', 'Page'))).toEqual([
    'Weir inspections Gate inspections',
    'Page',
  ])
  expect(merged(withEdges(base, []), say('Lock inspections', 'Sheet'))).toEqual(['Sheet'])
  const changes = compareDocuments(base, say('Weir inspections', 'Page'))
  expect(changes.places).toMatchObject([{ kind: 'head', before: 'Lock inspections', now: 'Weir inspections' }])
})
