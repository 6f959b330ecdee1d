import type { EditorState } from 'prosemirror-state'

/** The heading that the cursor is under, or in; nothing where there is none above it. */
export function headingAbove({ doc, selection }: EditorState): string {
  for (let index = doc.resolve(selection.head).index(0); index >= 0; index--) {
    const block = doc.maybeChild(index)
    const text = block?.type.name === 'heading' ? block.textContent.trim() : ''
    if (text) return text
  }
  return ''
}
