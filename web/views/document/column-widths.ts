// A table's columns are dragged as far as the pointer goes, also where the page is shown larger or smaller than it is: the
// plugin that draws them (prosemirror-tables) takes pixels of the window for pixels of the page.
import { Plugin } from 'prosemirror-state'
import { columnResizingPluginKey } from 'prosemirror-tables'

export const columnsAsLarge = new Plugin({
  props: {
    handleDOMEvents: {
      mousedown(view, begun) {
        const scale = view.dom.getBoundingClientRect().width / Math.max(1, view.dom.offsetWidth)
        if (Math.abs(scale - 1) < 0.01) return false
        const window = view.dom.ownerDocument.defaultView!
        // Before the plugin hears of the same movement: the drag began where it would have, had the page been as large.
        const move = (event: MouseEvent) => {
          const dragging = view.isDestroyed ? false : columnResizingPluginKey.getState(view.state)?.dragging
          if (!dragging) return
          const startX = event.clientX - (event.clientX - begun.clientX) / scale
          view.dispatch(view.state.tr.setMeta(columnResizingPluginKey, { setDragging: { ...dragging, startX } }))
        }
        const end = (event: MouseEvent) => {
          move(event)
          window.removeEventListener('mousemove', move, true)
          window.removeEventListener('mouseup', end, true)
        }
        window.addEventListener('mousemove', move, true)
        window.addEventListener('mouseup', end, true)
        return false
      },
    },
  },
})
