import type { EditorView } from 'prosemirror-view'
import { useEffect } from 'react'
import { insertSign } from '../../views/document/insert-sign'
import { keepSelection } from '../../views/document/text-look'
import { SignsBeside } from '../../views/signs-beside'

/** Signs beside a text: what is selected of it stays in sight, and gives way to the sign. */
export function SignsInText({ view, onClose }: { view: EditorView; onClose: () => void }) {
  useEffect(() => {
    keepSelection(view, true)
    return () => keepSelection(view, false)
  }, [view])
  return (
    <SignsBeside
      onInsert={(sign) => insertSign(sign)(view.state, view.dispatch)}
      onClose={() => {
        onClose()
        view.focus()
      }}
    />
  )
}
