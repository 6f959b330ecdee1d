// The pages as they come to paper: those that are chosen, laid onto sides.
import { useEffect, useState } from 'react'
import type { PaperLikes, Printer } from '../../core/contract'
import { type Arranged, isPlain } from '../../core/paper/arranged'
import { pagesIn, type Section } from '../../core/paper/ranges'
import { t, told } from '../words/all'
import { arranging } from '../workers/arrange'
import type { Pages } from './ask'
import { arrangementFor, sizeInPoints } from './likes'
import { openPdf } from './open-pdf'

/** The headings of a PDF, and where they are. */
async function sectionsOf(pdf: Uint8Array): Promise<Section[]> {
  const loading = openPdf(pdf)
  try {
    const document = await loading.promise
    const sections: Section[] = []
    type Outline = Awaited<ReturnType<typeof document.getOutline>>
    const walk = async (items: Outline, level: number): Promise<void> => {
      for (const { title, dest, items: inner } of items ?? []) {
        const to = typeof dest === 'string' ? await document.getDestination(dest) : dest
        if (to?.[0]) sections.push({ title, level, page: (await document.getPageIndex(to[0])) + 1 })
        await walk(inner, level + 1)
      }
    }
    await walk(await document.getOutline(), 1)
    return sections
  } finally {
    void loading.destroy()
  }
}

export interface ArrangedPages {
  /** What is seen, saved and printed; null until it is there. */
  shown: { pdf: Uint8Array; backs: Uint8Array | null } | null
  /** Sides that are printed, of one copy, and leaves. */
  faces: number
  leaves: number
  landscape: boolean
  /** Pages of the work that are on it. */
  chosen: number
  /** Each page is on a side of its own, as it was set. */
  plain: boolean
  fault: string
  sections: readonly Section[]
  /** They are of these pages, and as is wished for now: nothing older is saved or printed as if it were. */
  isNow: boolean
}
const nothing: ArrangedPages = {
  shown: null,
  faces: 0,
  leaves: 0,
  landscape: false,
  chosen: 0,
  plain: true,
  fault: '',
  sections: [],
  isNow: false,
}

export function useArranged(pages: Pages | null, likes: PaperLikes, printer: Printer | undefined): ArrangedPages {
  const [state, setState] = useState<ArrangedPages>(nothing)
  const [sections, setSections] = useState<{ of: Pages; all: readonly Section[] } | null>(null)
  // Copies that the printer makes are not laid out.
  const own = arrangementFor(likes, printer)
  const byPrinter = own.sides !== 'hand' && likes.copies <= (printer?.now?.mostCopies ?? 1)
  const how = JSON.stringify({ ...own, copies: byPrinter ? 1 : own.copies })
  const wantsSections = likes.range.trim() !== ''
  useEffect(() => {
    if (!pages || !wantsSections || sections?.of === pages) return
    let gone = false
    sectionsOf(pages.pdf).then(
      (all) => gone || setSections({ of: pages, all }),
      () => gone || setSections({ of: pages, all: [] }),
    )
    return () => {
      gone = true
    }
  }, [pages, wantsSections, sections])
  const all = sections?.of === pages ? sections?.all : undefined
  useEffect(() => {
    setState((before) => (before.isNow ? { ...before, isNow: false } : before))
    if (!pages || (wantsSections && !all)) return
    let gone = false
    const chosen = pagesIn(likes.range, pages.facts.pages, all)
    if ('say' in chosen) {
      setState((before) => ({ ...before, fault: told(chosen), sections: all ?? [] }))
      return
    }
    const arrangement = JSON.parse(how) as ReturnType<typeof arrangementFor>
    if (isPlain(chosen, pages.facts.pages, arrangement)) {
      const { pages: faces } = pages.facts
      const leaves = arrangement.sides === 'one' ? faces : Math.ceil(faces / 2)
      const shown = { pdf: pages.pdf, backs: null }
      const { landscape } = pages
      setState({
        shown,
        faces,
        leaves,
        landscape,
        chosen: faces,
        plain: true,
        fault: '',
        sections: all ?? [],
        isNow: true,
      })
      return
    }
    const onTo = arrangement.fold || arrangement.perSide > 1 ? sizeInPoints(likes.paper.size) : null
    arranging()
      .arrange(pages.pdf, chosen, arrangement, onTo)
      .then(
        ({ pdf, backs, faces, leaves, landscape }: Arranged) => {
          if (gone) return
          const fault = faces ? '' : t('paper.no-pages-left')
          const kept = chosen.filter(
            (page) => arrangement.which === 'all' || page % 2 === (arrangement.which === 'odd' ? 1 : 0),
          ).length
          setState({
            shown: faces ? { pdf, backs } : null,
            faces,
            leaves,
            landscape,
            chosen: kept,
            plain: false,
            fault,
            sections: all ?? [],
            isNow: true,
          })
        },
        () => gone || setState((before) => ({ ...before, fault: t('common.this-did-not-work-try-again') })),
      )
    return () => {
      gone = true
    }
  }, [pages, likes.range, likes.paper.size, how, all, wantsSections])
  return state
}
