import type { EditorView } from 'prosemirror-view'
import { documentSchema } from '../../../core/content/document'

/** Widest an image comes in: the text width of an A4 page, in pixels. */
const widest = 600
const largest = 15_000_000

/** Reads an image file and puts it at the cursor. @returns a sentence when it cannot be taken */
export async function insertImage(view: EditorView, file: File): Promise<string | null> {
  if (!/^image\/(png|jpeg|gif)$/.test(file.type)) return `${file.name || 'This image'} is not a PNG, JPEG or GIF.`
  if (file.size > largest) return `${file.name} is larger than ${largest / 1e6} MB.`
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
    return `${file.name} is damaged: it cannot be shown.`
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
