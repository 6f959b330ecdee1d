// Documents, edited at one place each and judged by their raw XML.
import { readFileSync } from 'node:fs'
import { Fragment, type Node } from 'prosemirror-model'
import { Transform } from 'prosemirror-transform'
import { documentSchema } from '../core/content/document'
import { patchDocx } from '../core/formats/docx/patch'
import { readDocx } from '../core/formats/docx/read'
import { writeWholeDocx } from '../core/formats/docx/whole'
import { DamagedFile, NotPatched } from '../core/formats/refusals'
import { every, flat, kids, local, losses, partsOf as partsNow, type Raw, tree } from './judge'

/** The text of a paragraph, without what floats beside it. */
function textOf(element: Raw): string {
  let text = ''
  for (const child of element.children) {
    if (typeof child === 'string') continue
    const name = local(child.name)
    if (name === 't') text += child.children.filter((one) => typeof one === 'string').join('')
    else if (name === 'tab' && local(element.name) === 'r') text += '\t'
    else if (!['pPr', 'rPr', 'txbxContent', 'Choice', 'del', 'drawing', 'pict', 'instrText'].includes(name))
      text += textOf(child)
  }
  return text
}
/** Takes paragraphs out that have one of some texts. @returns them in order */
function takeOut(root: Raw, texts: readonly string[]): Raw[] {
  const left = [...texts]
  const out: Raw[] = []
  const visit = (element: Raw) => {
    element.children = element.children.filter((child) => {
      if (typeof child === 'string') return true
      const at = local(child.name) === 'p' ? left.indexOf(textOf(child)) : -1
      if (at < 0) {
        visit(child)
        return true
      }
      left.splice(at, 1)
      out.push(child)
      return false
    })
  }
  visit(root)
  return out
}
/** Everything in a paragraph that is neither a run nor its text. */
function rest(paragraphs: readonly Raw[], but: readonly string[]): Map<string, number> {
  const found = new Map<string, number>()
  const visit = (element: Raw) => {
    for (const child of kids(element)) {
      const name = local(child.name)
      if (['t', 'lastRenderedPageBreak', ...but].includes(name)) continue
      if (['r', 'hyperlink', 'ins', 'sdt', 'sdtContent', 'smartTag', 'fldSimple'].includes(name)) visit(child)
      else found.set(flat(child), (found.get(flat(child)) ?? 0) + 1)
    }
  }
  for (const paragraph of paragraphs) visit(paragraph)
  return found
}
interface Expectation {
  /** Texts of the paragraphs that the edit changes, before and after it. */
  before: string[]
  after: string[]
  /** What may be missing of them afterwards. */
  mayGo?: string[]
  /** Nothing of them is held to stay. */
  gone?: boolean
  /** Everything but the letters stays in its order. */
  exact?: boolean
}
function rule({ before, after, mayGo = [], gone, exact }: Expectation) {
  return (old: Raw, now: Raw): string[] => {
    const [was, is] = [takeOut(old, before), takeOut(now, after)]
    if (was.length !== before.length || is.length !== after.length)
      return [`${was.length} of ${before.length} and ${is.length} of ${after.length} paragraphs found`]
    const lost: string[] = []
    // Of what went the halves of ranges stay, whose other halves stand elsewhere.
    if (gone && before.length) {
      const ofField = (one: Raw) =>
        local(one.name) === 'r' && kids(one).some(({ name }) => /^(fldChar|instrText)$/.test(local(name)))
      const halves = new Set(
        was.flatMap((one) =>
          [...every(one)].filter((inside) => /(Start|End)$/.test(inside.name) || ofField(inside)).map(flat),
        ),
      )
      const strip = (element: Raw) => {
        element.children = element.children.filter((child) => typeof child === 'string' || !halves.has(flat(child)))
        for (const child of kids(element)) strip(child)
      }
      strip(old)
      strip(now)
    }
    if (flat(old) !== flat(now)) {
      let at = 0
      const [a, b] = [flat(old), flat(now)]
      while (a[at] === b[at]) at++
      lost.push(`elsewhere: ${a.slice(at, at + 80)} became ${b.slice(at, at + 80)}`)
    }
    if (exact) {
      const bare = (element: Raw): string =>
        flat(element)
          .replace(/(<w:t) (?:xml:space="preserve")?>[^<]*/g, '$1>')
          .replace(/<w:t [^>]*>[^<]*/g, '<w:t>')
      if (was.map(bare).join() !== is.map(bare).join()) {
        const [a, b] = [was.map(bare).join(), is.map(bare).join()]
        let at = 0
        while (a[at] === b[at]) at++
        lost.push(`beside the word: ${a.slice(at - 40, at + 80)} became ${b.slice(at - 40, at + 80)}`)
      }
    }
    if (gone) return lost
    const stays = rest(is, mayGo)
    for (const [one, times] of rest(was, mayGo))
      if ((stays.get(one) ?? 0) < times) lost.push(`of the paragraph: ${one.slice(0, 120)}`)
    return lost
  }
}

export interface Judged {
  opened: boolean
  unclear: unknown
  unchanged: boolean
  /** `told`: it was written whole, or says what it loses. */
  kinds: [kind: string, lost: string[], told: boolean][]
}

export function judgeDocx(path: string, random: () => number, tell: (text: string) => void): Judged {
  const bytes = new Uint8Array(readFileSync(path))
  const judged: Judged = { opened: false, unclear: null, unchanged: false, kinds: [] }
  let doc: Node
  try {
    doc = readDocx(bytes).doc
  } catch (error) {
    if (!(error instanceof DamagedFile)) judged.unclear = error
    return judged
  }
  judged.opened = true
  let told = false
  const write = (target: Node): Uint8Array => {
    told = false
    try {
      const written = patchDocx(bytes, target)
      told = written.lost.length > 0
      return written.bytes
    } catch (error) {
      if (!(error instanceof NotPatched)) throw error
      tell(`not patched: ${error.message}`)
      told = true
      return writeWholeDocx(target).bytes
    }
  }
  judged.unchanged = Buffer.compare(write(doc), bytes) === 0

  // Paragraphs that can be told by their text, in the model and in the raw XML.
  const texts = new Map<string, number>()
  const blocks: { node: Node; at: number; top: boolean }[] = []
  doc.descendants((node, at, parent) => {
    if (!node.isTextblock) return true
    texts.set(node.textContent, (texts.get(node.textContent) ?? 0) + 1)
    blocks.push({ node, at, top: parent === doc })
    return false
  })
  const partName = mainPart(bytes)
  const raw = new Map<string, number>()
  const inRuns = new Map<string, string[]>()
  const count = (element: Raw) => {
    for (const child of kids(element)) {
      if (local(child.name) === 'p') {
        raw.set(textOf(child), (raw.get(textOf(child)) ?? 0) + 1)
        inRuns.set(
          textOf(child),
          [...every(child)].filter((one) => local(one.name) === 't').map(({ children }) => children.join('')),
        )
      }
      count(child)
    }
  }
  count(tree(partName.bytes))
  const usable = blocks.filter(({ node }) => {
    const text = node.textContent
    return text.trim().length > 3 && texts.get(text) === 1 && raw.get(text) === 1
  })
  const pick = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)]
  const edit = (kind: string, change: Transform, expected: Expectation) => {
    const after = write(change.doc)
    judged.kinds.push([kind, losses(bytes, after, { parts: { [partName.name]: rule(expected) } }), told])
  }
  const wordIn = (node: Node): { from: number; to: number; text: string } | undefined => {
    const words: { from: number; to: number; text: string }[] = []
    node.forEach((child, offset) => {
      if (child.isText)
        // What several runs hold loses runs with its letters: of a word in one, all the rest is known.
        for (const { 0: text, index } of child.text!.matchAll(/[\p{L}\p{N}]{2,}/gu))
          if (inRuns.get(node.textContent)?.some((run) => run.includes(text)))
            words.push({ from: offset + index, to: offset + index + text.length, text })
    })
    return pick(words)
  }
  const some = pick(usable.filter(({ node }) => wordIn(node)))
  if (some) {
    const { node, at } = some
    const word = wordIn(node)!
    const [from, to] = [at + 1 + word.from, at + 1 + word.to]
    const marks = doc.resolve(from + 1).marks()
    const replaced = new Transform(doc).replaceWith(from, to, documentSchema.text('Schleuse', marks))
    const now = replaced.doc.nodeAt(at)!.textContent
    edit('word', replaced, { before: [node.textContent], after: [now], exact: true })
    edit('format', new Transform(doc).addMark(from, to, documentSchema.marks.underline.create()), {
      before: [node.textContent],
      after: [node.textContent],
      mayGo: ['rPr'],
    })
  }
  const flow = usable.filter(({ node, top }) => top && node.childCount > 0)
  const chosen = pick(
    flow.filter(({ node }) => node.textContent.length > 5 && node.textContent.length === node.content.size),
  )
  if (chosen && doc.childCount > 2) {
    const { node, at } = chosen
    const text = node.textContent
    const middle = Math.floor(text.length / 2)
    edit('split', new Transform(doc).split(at + 1 + middle), {
      before: [text],
      after: [text.slice(0, middle), text.slice(middle)],
      mayGo: ['pPr'],
    })
    const fresh = documentSchema.nodes.paragraph.create(null, documentSchema.text('A paragraph that is new here.'))
    edit('insert', new Transform(doc).insert(at + node.nodeSize, fresh), {
      before: [],
      after: ['A paragraph that is new here.'],
      gone: true,
    })
    edit('delete', without(doc, at), { before: [text], after: [], gone: true })
    const other = pick(flow.filter((one) => one.at !== at))
    if (other) {
      const change = without(doc, at)
      change.insert(change.mapping.map(other.at), node)
      edit('move', change, { before: [text], after: [text] })
    }
  }
  const joinable = pick(
    flow.filter(({ node, at }) => {
      const after = doc.nodeAt(at + node.nodeSize)
      return !!after && after.type === node.type && flow.some((one) => one.node === after)
    }),
  )
  if (joinable) {
    const { node, at } = joinable
    const after = doc.nodeAt(at + node.nodeSize)!
    edit('join', new Transform(doc).join(at + node.nodeSize), {
      before: [node.textContent, after.textContent],
      after: [node.textContent + after.textContent],
      mayGo: ['pPr'],
    })
  }
  const rows: { at: number; row: Node }[] = []
  doc.descendants((node, at, parent) => {
    if (node.type.name === 'table_row' && parent!.childCount > 1 && !spans(parent!)) rows.push({ at, row: node })
    return node.type.name !== 'table_row'
  })
  const rowTexts = (row: Node): string[] => {
    const all: string[] = []
    row.descendants((node) => {
      if (node.isTextblock) all.push(node.textContent)
      return !node.isTextblock
    })
    return all
  }
  const row = pick(rows.filter(({ row: one }) => rowTexts(one).every((text) => raw.get(text) === 1)))
  if (row) {
    const cells: Node[] = []
    row.row.forEach((cell) => void cells.push(cell.copy(Fragment.from(documentSchema.nodes.paragraph.create()))))
    const change = new Transform(doc).delete(row.at, row.at + row.row.nodeSize)
    const after = write(change.doc)
    judged.kinds.push([
      'row',
      losses(bytes, after, {
        parts: {
          [partName.name]: (old, now) => {
            const drop = (root: Raw): boolean => {
              for (const child of kids(root)) {
                const own = local(child.name) === 'tr' ? takeOutTexts(child) : null
                if (own && JSON.stringify(own) === JSON.stringify(rowTexts(row.row))) {
                  root.children = root.children.filter((one) => one !== child)
                  return true
                }
                if (drop(child)) return true
              }
              return false
            }
            if (!drop(old)) return ['the row was not found']
            return flat(old) === flat(now) ? [] : ['something beside the row']
          },
        },
      }),
      told,
    ])
  }
  // Something kept in a line goes to the end of another paragraph: what it is stands there as it was.
  const things: { node: Node; at: number; in: Node }[] = []
  doc.descendants((node, at, parent) => {
    if (node.type.name === 'kept') things.push({ node, at, in: parent! })
  })
  const thing = pick(things.filter((one) => usable.some(({ node }) => node === one.in)))
  const goal = thing && pick(usable.filter(({ node, top }) => top && node !== thing.in))
  if (thing && goal) {
    const change = new Transform(doc).insert(goal.at + 1 + goal.node.content.size, thing.node)
    change.delete(change.mapping.map(thing.at), change.mapping.map(thing.at) + 1)
    const both = [thing.in.textContent, goal.node.textContent]
    edit('kept-moved', change, { before: both, after: both, mayGo: ['rPr'] })
  }
  // All of it, as far as a clipboard has it, into a file of another.
  if (before) {
    const target = new Transform(before.doc).insert(before.doc.content.size, doc.content).doc
    let written: Uint8Array | null = null
    try {
      written = patchDocx(before.bytes, target).bytes
    } catch (error) {
      if (!(error instanceof NotPatched)) throw error
      tell(`pasted: ${error.message}`)
    }
    const lost = written
      ? Object.keys(partsNow(before.bytes)).filter((name) => !(name in partsNow(written)))
      : ['not written into the file']
    judged.kinds.push(['pasted', lost, true])
  }
  before = { bytes, doc }
  return judged
}
/** The file judged last. */
let before: { bytes: Uint8Array; doc: Node } | null = null
/** A row of cells that go over several cannot simply be cut out of the model. */
const spans = (table: Node): boolean => {
  let found = false
  table.descendants(({ attrs }) => {
    if ((attrs.rowspan ?? 1) > 1) found = true
    return !found
  })
  return found
}
const takeOutTexts = (row: Raw): string[] => {
  const all: string[] = []
  const visit = (element: Raw) => {
    for (const child of kids(element)) local(child.name) === 'p' ? all.push(textOf(child)) : visit(child)
  }
  visit(row)
  return all
}
function mainPart(bytes: Uint8Array): { name: string; bytes: Uint8Array } {
  const parts = partsNow(bytes)
  const relations = tree(parts['_rels/.rels']!)
  const target = kids(relations).find((one) => /\/officeDocument$/.test(one.attributes.Type ?? ''))!.attributes.Target!
  const name = target.replace(/^\//, '')
  return { name, bytes: parts[name]! }
}

/** Without a block, as the keys that take it out leave the document: lists of one kind that come together are one. */
function without(doc: Node, at: number): Transform {
  const change = new Transform(doc).delete(at, at + doc.nodeAt(at)!.nodeSize)
  const { nodeBefore, nodeAfter } = change.doc.resolve(at)
  const lists = /^(?:bullet|ordered)_list$/.test(nodeBefore?.type.name ?? '') && nodeBefore!.type === nodeAfter?.type
  return lists ? change.join(at) : change
}
