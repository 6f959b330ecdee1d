// Remarks in a PDF that is set already: as notes that a reader of PDF opens (ISO 32000-1, §12.5.6.4), or from a column beside
// the pages, which are then made as small as leaves that column its room.
import {
  PDFArray,
  PDFDict,
  PDFDocument,
  PDFHexString,
  PDFName,
  PDFNumber,
  type PDFObject,
  type PDFPage,
  PDFRef,
  PDFString,
} from 'pdf-lib'

export interface NoteInPdf {
  /** From 1. */
  page: number
  /** From the top of the page, in points. */
  y: number
  who: string
  /** Null for none. */
  when: Date | null
  words: string
}

/** Of a note's sign, in points. */
const sign = 13

/** Its sign: a leaf with two lines on it. */
const drawing = `0.5 w 0.98 0.93 0.75 rg 0.35 0.3 0.15 RG
0.5 0.5 ${sign - 1} ${sign - 1} re B
3 8.5 m ${sign - 3} 8.5 l S 3 5 m ${sign - 4} 5 l S`

/** Puts notes beside the lines that they are about, and into the order of reading, where the PDF has one. */
export async function withNotes(pdf: Uint8Array, notes: readonly NoteInPdf[]): Promise<Uint8Array> {
  if (!notes.length) return pdf
  const document = await PDFDocument.load(pdf, { updateMetadata: false })
  const { context, catalog } = document
  const look = context.register(
    context.stream(drawing, { Type: 'XObject', Subtype: 'Form', BBox: [0, 0, sign, sign], Resources: {} }),
  )
  const tree = catalog.lookupMaybe(PDFName.of('StructTreeRoot'), PDFDict)
  const top = tree && topOf(tree)
  /** Signs beside lines that are near each other lie one below the other. */
  const lowest = new Map<number, number>()
  for (const note of notes.toSorted((a, b) => a.page - b.page || a.y - b.y)) {
    const page = document.getPage(note.page - 1)
    const { width, height } = page.getSize()
    const x = width - sign - 6
    const y = Math.max(2, Math.min(height - note.y - sign / 2, (lowest.get(note.page) ?? height) - sign - 1))
    lowest.set(note.page, y)
    const annotation = context.obj({
      Type: 'Annot',
      Subtype: 'Text',
      Rect: [x, y, x + sign, y + sign],
      // Printed, and neither turned nor made larger with the page (§12.5.3).
      F: 28,
      Name: 'Comment',
      C: [0.98, 0.93, 0.75],
      AP: { N: look },
      P: page.ref,
    })
    annotation.set(PDFName.of('Contents'), PDFHexString.fromText(note.words))
    if (note.who) annotation.set(PDFName.of('T'), PDFHexString.fromText(note.who))
    if (note.when) {
      annotation.set(PDFName.of('CreationDate'), PDFString.fromDate(note.when))
      annotation.set(PDFName.of('M'), PDFString.fromDate(note.when))
    }
    const ref = context.register(annotation)
    page.node.addAnnot(ref)
    if (top) intoTree(document, tree, top, page, ref, annotation)
  }
  return document.save()
}

/** The element that holds all that is read (ISO 32000-1, §14.7.2). */
function topOf(tree: PDFDict): { ref: PDFRef; element: PDFDict } | null {
  const kids = tree.get(PDFName.of('K'))
  const first = kids instanceof PDFArray ? kids.get(0) : kids
  if (!(first instanceof PDFRef)) {
    const inner = kids instanceof PDFRef ? tree.context.lookup(kids) : null
    const ref = inner instanceof PDFArray ? inner.get(0) : null
    return ref instanceof PDFRef ? { ref, element: tree.context.lookup(ref, PDFDict) } : null
  }
  const found = tree.context.lookup(first)
  if (found instanceof PDFDict) return { ref: first, element: found }
  const ref = found instanceof PDFArray ? found.get(0) : null
  return ref instanceof PDFRef ? { ref, element: tree.context.lookup(ref, PDFDict) } : null
}

/** An annotation is read where its element is (ISO 14289-1, §7.18.1; ISO 32000-1, §14.7.4.3 and §14.7.4.4). */
function intoTree(
  { context }: PDFDocument,
  tree: PDFDict,
  { ref: top, element }: { ref: PDFRef; element: PDFDict },
  page: PDFPage,
  annotation: PDFRef,
  itself: PDFDict,
): void {
  const own = context.register(
    context.obj({ Type: 'StructElem', S: 'Annot', P: top, K: { Type: 'OBJR', Obj: annotation, Pg: page.ref } }),
  )
  const kids = element.lookup(PDFName.of('K'))
  if (kids instanceof PDFArray) kids.push(own)
  else {
    const before = element.get(PDFName.of('K'))
    element.set(PDFName.of('K'), context.obj(before ? [before, own] : [own]))
  }
  const next = tree.lookupMaybe(PDFName.of('ParentTreeNextKey'), PDFNumber)?.asNumber() ?? 100_000
  const parents = tree.lookupMaybe(PDFName.of('ParentTree'), PDFDict)
  const numbers = parents && lastNumbers(parents)
  if (!numbers) return
  numbers.push(PDFNumber.of(next))
  numbers.push(own)
  tree.set(PDFName.of('ParentTreeNextKey'), PDFNumber.of(next + 1))
  itself.set(PDFName.of('StructParent'), PDFNumber.of(next))
  page.node.set(PDFName.of('Tabs'), PDFName.of('S'))
}
/** The leaf of a tree of numbers that holds the highest ones (§7.9.7). */
function lastNumbers(node: PDFDict): PDFArray | null {
  const numbers = node.lookupMaybe(PDFName.of('Nums'), PDFArray)
  if (numbers) {
    // What holds them says how far they go.
    node.delete(PDFName.of('Limits'))
    return numbers
  }
  const kids = node.lookupMaybe(PDFName.of('Kids'), PDFArray)
  const last = kids?.lookup(kids.size() - 1)
  if (!(last instanceof PDFDict)) return null
  const found = lastNumbers(last)
  const limits = last.lookupMaybe(PDFName.of('Limits'), PDFArray)
  limits?.set(1, PDFNumber.of(1_000_000))
  return found
}

/** Pages that were set with a column beside them, as large as they were without it. @param column its width, in points */
export async function withoutColumn(pdf: Uint8Array, column: number): Promise<Uint8Array> {
  const document = await PDFDocument.load(pdf, { updateMetadata: false })
  const scales = new Map<string, Scales>()
  for (const page of document.getPages()) {
    const { height, width } = page.getSize()
    const part = (width - column) / width
    // Where things are is told from the page's lower left; they go towards its upper left.
    const along = (x: number): number => x * part
    const up = (y: number): number => height - (height - y) * part
    scales.set(page.ref.toString(), { along, up })
    page.scaleContent(part, part)
    page.translateContent(0, height - height * part)
    page.setMediaBox(0, 0, width - column, height)
    for (const annotation of page.node.Annots()?.asArray() ?? [])
      scaleBox(document.context.lookup(annotation, PDFDict).lookupMaybe(PDFName.of('Rect'), PDFArray), along, up)
  }
  for (const [, one] of document.context.enumerateIndirectObjects()) scalePlaces(one, scales)
  return document.save()
}
type Scale = (length: number) => number
interface Scales {
  along: Scale
  up: Scale
}
function scaleBox(box: PDFArray | undefined, along: Scale, up: Scale): void {
  for (let at = 0; box && at < box.size(); at++)
    box.set(at, PDFNumber.of((at % 2 ? up : along)(box.lookup(at, PDFNumber).asNumber())))
}
/** Where links and bookmarks lead to (§12.3.2.2). */
function scalePlaces(object: PDFObject, scales: ReadonlyMap<string, Scales>): void {
  if (object instanceof PDFDict) for (const [, inner] of object.entries()) scalePlaces(inner, scales)
  if (!(object instanceof PDFArray)) return
  const [x, y] = [object.size() > 4 ? object.get(2) : undefined, object.size() > 4 ? object.get(3) : undefined]
  if (object.size() > 4 && object.get(1) === PDFName.of('XYZ')) {
    const scale = scales.get(String(object.get(0)))
    if (scale && x instanceof PDFNumber) object.set(2, PDFNumber.of(scale.along(x.asNumber())))
    if (scale && y instanceof PDFNumber) object.set(3, PDFNumber.of(scale.up(y.asNumber())))
  } else for (const inner of object.asArray()) scalePlaces(inner, scales)
}
