// Places of a merged document where somebody has to choose: they move with the text until they are settled.
import { Fragment, Node } from 'prosemirror-model'
import { Plugin, PluginKey, TextSelection } from 'prosemirror-state'
import { Decoration, DecorationSet, type EditorView } from 'prosemirror-view'
import { uuidv7 } from 'uuidv7'
import { transformTo } from '../../../core/compare/replacements'
import { unitsOf } from '../../../core/compare/text-blocks'
import { documentFromJSON, documentSchema } from '../../../core/content/document'
import type { DocumentConflict } from '../../../core/merge/document'
import { t, told } from '../../words/all'
import type { Apply, Choice, TakenIn, TakenPart, Work } from '../../work/content'
import { compareWork } from '../../workers/compare'

interface Open extends DocumentConflict {
  id: string
}
type Act = { add: Open[] } | { settle: string }
const key = new PluginKey<Open[]>('choices')

/** Keeps open choices at their places and shows them. */
export const choicesPlugin = (): Plugin =>
  new Plugin<Open[]>({
    key,
    state: {
      init: () => [],
      apply(transaction, open) {
        const act = transaction.getMeta(key) as Act | undefined
        const kept = open
          .filter(({ id }) => !(act && 'settle' in act && act.settle === id))
          .map((one) => ({
            ...one,
            from: transaction.mapping.map(one.from, -1),
            to: transaction.mapping.map(one.to, 1),
          }))
        return act && 'add' in act ? [...kept, ...act.add] : kept
      },
    },
    props: {
      decorations(state) {
        const open = key.getState(state) ?? []
        return DecorationSet.create(
          state.doc,
          open.flatMap(({ from, to, inline }) => {
            if (inline) return [Decoration.inline(from, to, { class: 'choice' })]
            const blocks: Decoration[] = []
            state.doc.nodesBetween(from, to, (node, pos) => {
              if (pos >= from && pos + node.nodeSize <= to && node.isBlock) {
                blocks.push(Decoration.node(pos, pos + node.nodeSize, { class: 'choice' }))
                return false
              }
              return true
            })
            return blocks
          }),
        )
      },
    },
  })

const textOf = (nodes: readonly unknown[], inline: boolean) =>
  nodes
    .map((json) => Node.fromJSON(documentSchema, json).textContent)
    .join(inline ? '' : ' ')
    .trim()

type Merging = [
  view: EditorView,
  base: Work | null,
  theirs: Work,
  part: TakenPart | null,
  adopted: boolean,
  type: string,
]
export async function takeInDocument(...merging: Merging): Promise<Exclude<TakenIn, { left: true }>>
export async function takeInDocument(...merging: [...Merging, apply?: Apply]): Promise<TakenIn>
/** Merges another version into the document; what is typed meanwhile is merged, too. @param apply carries it out, or leaves it */
export async function takeInDocument(
  view: EditorView,
  base: Work | null,
  theirs: Work,
  part: TakenPart | null,
  adopted: boolean,
  type: string,
  apply?: Apply,
): Promise<TakenIn> {
  for (;;) {
    const before = view.state.doc
    const merged = await compareWork().mergeDocument(
      base,
      before.toJSON(),
      theirs,
      part?.stretches ?? null,
      adopted,
      type,
    )
    if ('refused' in merged) return merged
    // Somebody went on typing while it was merged: merge what is there now.
    if (view.state.doc !== before) continue
    const open = merged.conflicts.map((one): Open => ({ ...one, id: uuidv7() }))
    const change = () => {
      const transaction = view.state.tr
      for (const step of transformTo(before, documentFromJSON(merged.json)).steps) transaction.step(step)
      // Undo goes on undoing what was done here, not what somebody else did.
      view.dispatch(transaction.setMeta('addToHistory', false).setMeta(key, { add: open } satisfies Act))
    }
    if (!apply) change()
    else if (!apply({ choices: open.length, moves: false }, change)) return { left: true }
    return { summary: merged.summary, choices: open.map((one) => choiceOf(view, one)) }
  }
}

/** What the first of some blocks is, in words: "heading 2, centred". */
function styleOf(blocks: readonly unknown[]): string {
  const [first] = unitsOf(
    documentSchema.node(
      'doc',
      null,
      blocks.map((json) => Node.fromJSON(documentSchema, json)),
    ),
  )
  return first?.kind === 'text' ? told(first.look) : t('document.table')
}

function choiceOf(view: EditorView, { id, mine, theirs, inline, from }: Open): Choice {
  const alike = !inline && mine.length === theirs.length && textOf(mine, false) === textOf(theirs, false)
  const find = () => key.getState(view.state)?.find((one) => one.id === id)
  const block = view.state.doc.resolve(Math.min(from, view.state.doc.content.size))
  return {
    id,
    where: inline ? t('document.in', { textContent: block.parent.textContent.slice(0, 40) }) : '',
    // Where both say the same, they differ in what the paragraph is.
    mine: alike ? `${styleOf(mine)}: ${textOf(mine, inline)}` : textOf(mine, inline),
    theirs: alike ? `${styleOf(theirs)}: ${textOf(theirs, inline)}` : textOf(theirs, inline),
    mayKeepBoth: !alike,
    show() {
      const open = find()
      if (!open) return
      view.dispatch(view.state.tr.setSelection(TextSelection.near(view.state.doc.resolve(open.from))).scrollIntoView())
    },
    choose(which) {
      const open = find()
      if (!open) return
      const transaction = view.state.tr.setMeta(key, { settle: id } satisfies Act)
      if (which !== 'both') {
        const nodes = (which === 'mine' ? mine : theirs).map((json) => Node.fromJSON(documentSchema, json))
        const parent = view.state.doc.resolve(open.from).node()
        // A place that cannot be without blocks keeps an empty one.
        if (!nodes.length && !inline && open.to - open.from === parent.content.size)
          nodes.push(documentSchema.nodes.paragraph.create())
        transaction.replaceWith(open.from, open.to, Fragment.fromArray(nodes))
      }
      view.dispatch(transaction)
    },
  }
}
