import { closeHistory } from 'prosemirror-history'
import { type Command, Selection, TextSelection } from 'prosemirror-state'

/** Puts a sign in where the caret is, in place of what is selected of the text. A picture, or cells, are not written over by it. */
export const insertSign =
  (sign: string): Command =>
  ({ tr, selection }, dispatch) => {
    if (!(selection instanceof TextSelection)) tr.setSelection(Selection.near(selection.$to, -1))
    // One step of undo, however soon after what was typed before.
    dispatch?.(closeHistory(tr).insertText(sign).scrollIntoView())
    return true
  }
