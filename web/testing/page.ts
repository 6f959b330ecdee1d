// A real page of the editor for a test, which goes with it.
import { EditorView } from 'prosemirror-view'
import { afterEach } from 'vitest'

const views: EditorView[] = []
afterEach(() => {
  for (const view of views.splice(0)) {
    view.dom.parentElement?.remove()
    view.destroy()
  }
})

/** @param props what the editor is given @param className of the place that it stands in */
export function editorPage(props: ConstructorParameters<typeof EditorView>[1], className = ''): EditorView {
  const place = document.body.appendChild(document.createElement('div'))
  place.className = className
  const view = new EditorView(place, props)
  views.push(view)
  return view
}
