import type { EditorView } from 'prosemirror-view'
import { documentSchema } from '../../../core/content/document'
import { t } from '../../words/all'

/** Widest an image comes in: the text width of an A4 page, in pixels. */
const widest = 600
const largest = 15_000_000

/** Reads an image file and puts it at the cursor. @returns a sentence when it cannot be taken */
export async function insertImage(view: EditorView, file: File): Promise<string | null> {
  if (!/^image\/(png|jpeg|gif)$/.test(file.type))
    return t('document.is-not-a-png-jpeg-or-gif', { it: file.name || t('document.this-image') })
  if (file.size > largest) return t('document.is-larger-than-mb', { fileName: file.name, it: largest / 1e6 })
  const src = await new Promise<string>((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(String(reader.result))
    reader.onerror = () => reject(reader.error)
    reader.readAsDataURL(file)
  })
  const image = new Image()
  image.src = src
  try {
    await image.decode()
  } catch {
    return t('document.image-damaged', { name: file.name })
  }
  const scale = Math.min(1, widest / image.naturalWidth)
  const node = documentSchema.nodes.image.create({
    src,
    alt: file.name.replace(/\.[^.]*$/, ''),
    width: Math.max(1, Math.round(image.naturalWidth * scale)),
    height: Math.max(1, Math.round(image.naturalHeight * scale)),
  })
  view.dispatch(view.state.tr.replaceSelectionWith(node, false).scrollIntoView())
  return null
}
