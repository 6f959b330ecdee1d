// What every feature of a document is asked: it is in the file, read by another program, opened again, undone, told in
// words, and merged with what somebody else wrote meanwhile.
import type { Node } from 'prosemirror-model'
import { EditorState, TextSelection } from 'prosemirror-state'
import { Transform } from 'prosemirror-transform'
import { compareDocuments } from '../../../core/compare/document'
import { sayDocumentChanges } from '../../../core/compare/words'
import { withoutRanges } from '../../../core/content/comment-ranges'
import { documentSchema } from '../../../core/content/document'
import { readDocument, writeDocument } from '../../../core/formats/documents'
import { mergeDocuments } from '../../../core/merge/document'
import { english } from '../../../core/words/testing'
import { type DocumentFeature, line, text } from './documents'
import { type Held, heldIn } from './held'

export const preludes = {
  docx: `
import docx
from docx.oxml.ns import qn
from lxml import etree
d = docx.Document(path)
def notes(kind):
    for relation in d.part.rels.values():
        if relation.reltype.endswith('/' + kind + 's'):
            all = [one for one in etree.fromstring(relation.target_part.blob) if one.get(qn('w:type')) is None]
            return [' '.join(''.join(t.text or '' for t in p.iter(qn('w:t'))) for p in one.iter(qn('w:p'))).strip() for one in all]
    return []
def about():
    said, within = [], 0
    for one in d.element.body.iter():
        within += {qn('w:commentRangeStart'): 1, qn('w:commentRangeEnd'): -1}.get(one.tag, 0)
        if within and one.tag == qn('w:t'): said.append(one.text)
    return said
def numbers(words):
    p = next(p for p in d.paragraphs if words in p.text)
    if p._p.pPr is None or p._p.pPr.numPr is None or p._p.pPr.numPr.numId is None or p._p.pPr.numPr.numId.val == 0: return None
    numbering = d.part.numbering_part.element
    num = next(n for n in numbering.iter(qn('w:num')) if n.get(qn('w:numId')) == str(p._p.pPr.numPr.numId.val))
    abstract = num.find(qn('w:abstractNumId')).get(qn('w:val'))
    level = p._p.pPr.numPr.ilvl.val if p._p.pPr.numPr.ilvl is not None else 0
    kind = next(l for a in numbering.iter(qn('w:abstractNum')) if a.get(qn('w:abstractNumId')) == abstract for l in a.iter(qn('w:lvl')) if l.get(qn('w:ilvl')) == str(level))
    return [kind.find(qn('w:numFmt')).get(qn('w:val')), level]
`,
  odt: `
from odf import dc, draw, office, style, svg, table, text, teletype
from odf.opendocument import load
d = load(path)
own = {s.getAttribute('name'): s for s in d.automaticstyles.getElementsByType(style.Style)}
styles = {**{s.getAttribute('name'): s for s in d.styles.getElementsByType(style.Style)}, **own}
def traits(of, kind):
    s = styles.get(of)
    return {key[1].replace('-', ''): value for p in (s.getElementsByType(kind) if s else []) for key, value in p.attributes.items()}
def look(words):
    for one in d.getElementsByType(text.Span):
        if words in str(one): return traits(one.getAttribute('stylename'), style.TextProperties)
    return {}
def line(words):
    return next(p for p in list(d.getElementsByType(text.P)) + list(d.getElementsByType(text.H)) if words in str(p))
def place(words): return traits(line(words).getAttribute('stylename'), style.ParagraphProperties)
def named(p):
    name = p.getAttribute('stylename')
    return own[name].getAttribute('parentstylename') if name in own else name
def notes(kind): return [teletype.extractText(n.getElementsByType(text.NoteBody)[0]).strip() for n in d.getElementsByType(text.Note) if n.getAttribute('noteclass') == kind]
def comments(): return [' '.join(str(p) for p in one.getElementsByType(text.P)) for one in d.getElementsByType(office.Annotation)]
def pages():
    p = d.automaticstyles.getElementsByType(style.PageLayoutProperties)[0]
    millimetres = lambda v: str(round(float(v[:-2]) * {'mm': 1, 'cm': 10, 'pt': 25.4 / 72, 'in': 25.4}[v[-2:]]))
    return [millimetres(p.getAttribute('pagewidth')), millimetres(p.getAttribute('pageheight'))]
`,
}

/** What somebody else changes meanwhile. */
export const elsewhereSheet = { name: 'Elsewhere', widths: {}, rows: [[{ value: 'dry' }]] }
const elsewhere = 'Elsewhere it is dry.'
function placeOf(doc: Node, words: string): number {
  let found = -1
  doc.descendants((node, at) => {
    if (found < 0 && node.isText && node.text!.includes(words)) found = at + node.text!.indexOf(words)
    return found < 0
  })
  return found
}
/** In one sentence, and of another look what it is. */
export function sentence(was: Node, is: Node): string {
  const changes = compareDocuments(was, is)
  const looks = changes.places.flatMap(({ kind, now }) => (kind === 'look' ? [english(now)] : []))
  return [english(sayDocumentChanges(changes)), ...looks].join(' ')
}

/** A feature in a file of a type, but for what another program has of it. */
function held(feature: DocumentFeature, type: string): { held: Held; bytes: Uint8Array } {
  const faults: Held['faults'] = {}
  const content = [...(feature.content ?? [line('The lower gate leaks.')]), line(elsewhere)]
  const base = writeDocument(documentSchema.nodes.doc.create(null, content), null, type).bytes
  const was = readDocument(base, type).doc
  const words = feature.on ?? 'lower gate'
  const at = placeOf(was, words)
  const selection = TextSelection.create(was, at, feature.caret ? at : at + words.length)
  const tr = new Transform(was)
  const change = (type === 'odt' && feature.inOdt) || feature.change
  change(EditorState.create({ doc: was, selection }), (made) => {
    for (const step of made.steps) tr.step(step)
  })
  const is = tr.doc
  const { bytes, lost } = writeDocument(is, base, type)
  if (lost.length || is.eq(was)) faults.saved = lost
  const again = readDocument(bytes, type).doc
  if (!again.eq(withoutRanges(is))) faults['opened again'] = again.toString()
  const back = new Transform(is)
  for (let step = tr.steps.length - 1; step >= 0; step--) back.step(tr.steps[step]!.invert(tr.docs[step]!))
  const undone = writeDocument(back.doc, bytes, type)
  if (!back.doc.eq(was) || undone.lost.length || !readDocument(undone.bytes, type).doc.eq(was))
    faults.undone = undone.lost
  const said = sentence(was, is)
  if (said !== feature.said) faults.told = said
  const theirs = new Transform(was).insert(placeOf(was, elsewhere), text('Ben: ')).doc
  const head = writeDocument(theirs, base, type).bytes
  const { doc: merged, conflicts } = mergeDocuments(was, is, readDocument(head, type).doc)
  const kept = writeDocument(merged, head, type)
  const whole = readDocument(kept.bytes, type).doc
  const mine = sentence(theirs, whole)
  if (conflicts.length || kept.lost.length || !whole.textContent.includes(`Ben: ${elsewhere}`) || mine !== said)
    faults.merged = conflicts.length ? conflicts : mine
  return { held: { name: feature.name, type, faults }, bytes }
}

export const heldDocuments = (features: readonly DocumentFeature[], type: 'docx' | 'odt'): Held[] =>
  heldIn(features, type, preludes, held)
