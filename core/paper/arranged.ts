// Pages of a PDF laid onto sides as they come to paper (imposition.ts), as a PDF of its own: what is seen before printing
// is what is printed.
import { degrees, PDFDocument, type PDFEmbeddedPage, rgb } from 'pdf-lib'
import { type Arrangement, impose, rectangleOf, type Side, sideLies } from './imposition'

export interface Arranged {
  pdf: Uint8Array
  /** Sides that are printed when the stack was put back. */
  backs: Uint8Array | null
  faces: number
  /** Of one copy. */
  leaves: number
  /** The sides lie. */
  landscape: boolean
}

/** Whether every page is on a side of its own, as it is, once. */
export const isPlain = (chosen: readonly number[], pages: number, how: Arrangement): boolean =>
  chosen.length === pages &&
  chosen.every((page, at) => page === at + 1) &&
  how.which === 'all' &&
  !how.reverse &&
  how.copies === 1 &&
  how.perSide === 1 &&
  !how.fold &&
  how.sides !== 'hand'

/**
 * @param chosen pages, from 1, in the order in which they are read
 * @param paper of the sides as it stands upright, in points; null: as large as the pages
 */
export async function arrangedPdf(
  pdf: Uint8Array,
  chosen: readonly number[],
  how: Arrangement,
  paper: { width: number; height: number } | null,
): Promise<Arranged> {
  const from = await PDFDocument.load(pdf, { updateMetadata: false })
  const first = from.getPage(Math.max(0, (chosen[0] ?? 1) - 1)).getSize()
  const landscape = first.width > first.height
  const imposed = impose(chosen, how, landscape)
  const alone = how.perSide === 1 && !how.fold
  const lies = sideLies(how, landscape)
  const [short, long] = paper
    ? [Math.min(paper.width, paper.height), Math.max(paper.width, paper.height)]
    : [Math.min(first.width, first.height), Math.max(first.width, first.height)]
  const side = lies ? { width: long, height: short } : { width: short, height: long }

  const made = async (sides: readonly Side[]): Promise<Uint8Array> => {
    const out = await PDFDocument.create()
    const [title, author, subject, keywords] = [
      from.getTitle(),
      from.getAuthor(),
      from.getSubject(),
      from.getKeywords(),
    ]
    if (title !== undefined) out.setTitle(title)
    if (author) out.setAuthor(author)
    if (subject) out.setSubject(subject)
    if (keywords) out.setKeywords([keywords])
    if (alone) {
      const numbers = sides.map(({ places }) => places[0]?.page ?? null)
      const copied = await out.copyPages(
        from,
        numbers.flatMap((page) => (page === null ? [] : [page - 1])),
      )
      let next = 0
      for (const page of numbers) {
        if (page === null) out.addPage([first.width, first.height])
        else out.addPage(copied[next++])
      }
      return out.save()
    }
    const wanted = [
      ...new Set(sides.flatMap(({ places }) => places.flatMap(({ page }) => (page === null ? [] : [page])))),
    ]
    const embedded = await out.embedPages(wanted.map((page) => from.getPage(page - 1)))
    const byPage = new Map<number, PDFEmbeddedPage>(wanted.map((page, at) => [page, embedded[at]!]))
    for (const one of sides) {
      const onto = out.addPage([side.width, side.height])
      for (const place of one.places) {
        const page = place.page === null ? undefined : byPage.get(place.page)
        if (!page) continue
        const { x, y, width, height } = rectangleOf(one, place, side, page, how)
        onto.drawPage(page, { x, y, width, height, rotate: degrees(0) })
        if (how.frames) onto.drawRectangle({ x, y, width, height, borderWidth: 0.5, borderColor: rgb(0.4, 0.4, 0.4) })
      }
    }
    return out.save()
  }
  return {
    pdf: await made(imposed.sides),
    backs: imposed.backs && (await made(imposed.backs)),
    faces: imposed.sides.length,
    leaves: imposed.leaves,
    landscape: alone ? landscape : lies,
  }
}
