// A picture on its page: as large as it is said to be, and with a corner that it is drawn larger or smaller by.
import type { Node } from 'prosemirror-model'
import { NodeSelection } from 'prosemirror-state'
import type { NodeViewConstructor } from 'prosemirror-view'

/** Smallest side by hand; pixels. */
const least = 12

/** @param editable it may be made larger and smaller */
export const imageView =
  (editable: boolean): NodeViewConstructor =>
  (first, view, getPos) => {
    let node: Node = first
    const dom = document.createElement('span')
    dom.className = 'picture'
    const img = document.createElement('img')
    dom.append(img)
    const draw = (width: number, height: number) => {
      img.width = width
      img.height = height
      img.style.aspectRatio = `${width} / ${height}`
    }
    const show = () => {
      if (img.getAttribute('src') !== node.attrs.src) img.src = node.attrs.src
      img.alt = node.attrs.alt
      draw(node.attrs.width, node.attrs.height)
    }
    show()
    const corner = document.createElement('span')
    corner.className = 'picture-corner'
    corner.ariaHidden = 'true'
    if (editable) dom.append(corner)
    corner.addEventListener('pointerdown', (begun) => {
      begun.preventDefault()
      const { width, height } = node.attrs as { width: number; height: number }
      // The page may be shown smaller than it is.
      const scale = width / Math.max(1, img.getBoundingClientRect().width)
      let now = width
      const move = (event: PointerEvent) => {
        now = Math.max(least, Math.round(width + (event.clientX - begun.clientX) * scale))
        draw(now, Math.max(1, Math.round((height * now) / width)))
      }
      const end = (event: PointerEvent) => {
        corner.removeEventListener('pointermove', move)
        corner.removeEventListener('pointerup', end)
        corner.removeEventListener('pointercancel', end)
        const pos = getPos()
        if (event.type !== 'pointerup' || pos === undefined || now === width) return show()
        const resized = { ...node.attrs, width: now, height: Math.max(1, Math.round((height * now) / width)) }
        const tr = view.state.tr.setNodeMarkup(pos, null, resized)
        view.dispatch(tr.setSelection(NodeSelection.create(tr.doc, pos)))
        view.focus()
      }
      corner.setPointerCapture(begun.pointerId)
      corner.addEventListener('pointermove', move)
      corner.addEventListener('pointerup', end)
      corner.addEventListener('pointercancel', end)
    })
    return {
      dom,
      update(next) {
        if (next.type !== node.type) return false
        node = next
        show()
        return true
      },
      selectNode: () => dom.classList.add('ProseMirror-selectednode'),
      deselectNode: () => dom.classList.remove('ProseMirror-selectednode'),
      stopEvent: (event) => event.target === corner,
      ignoreMutation: () => true,
    }
  }
