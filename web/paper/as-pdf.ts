// Work as a PDF that is a file: its pages as somebody chose them last, all of them.
import type { NewSidePdf, PaperLikes } from '../../core/contract'
import { allOf, type Written } from '../../core/formats/refusals'
import { nameAs } from '../../core/formats/types'
import { freeName, nameKey } from '../../core/naming/check'
import { call } from '../api/call'
import { language } from '../words/language'
import type { DraftSession } from '../work/session'
import { askForPages } from './ask'
import { lastLikes } from './likes'

/** @throws Refused */
const lastWay = async (): Promise<PaperLikes> => lastLikes(await call('paperLikes', {}))

/** @returns the PDF, with what of the work is not in it @throws Refused */
export async function asPdf(session: DraftSession, name: string): Promise<Written> {
  const { head } = session.state
  const put = await session.onPaper(false)
  if (!put) throw new Error('Nothing is open.')
  const way = await lastWay()
  const [pages, missing] = await Promise.all([
    askForPages(put, head?.id ?? null, name, session.unsaved ? null : (head?.number ?? null), way),
    session.notOnPaper(way.paper.remarks !== 'none'),
  ])
  const { undrawn } = pages.facts
  return {
    bytes: pages.pdf,
    lost: allOf(missing, undrawn ? [{ feature: 'images', count: undrawn, where: [] }] : []),
  }
}

/**
 * Puts a PDF of its newest version beside a file, under a name that is free there.
 * @param way how it is made; as somebody chose it last where that is not said @throws Refused
 */
export async function putPdfBeside(
  { id, shareId, folderId, name }: { id: string; shareId: string; folderId: string | null; name: string },
  inStep: boolean,
  way?: Pick<PaperLikes, 'paper' | 'standard'>,
) {
  const { paper: choices, standard } = way ?? (await lastWay())
  const { names } = await call('placeNames', { params: { shareId }, query: { ...(folderId && { folderId }) } })
  const body: NewSidePdf = {
    id: crypto.randomUUID(),
    name: freeName(nameAs(name, 'pdf'), new Set(names.map(nameKey))),
    inStep,
    standard,
    choices,
    language,
  }
  return call('newSidePdf', { params: { fileId: id }, body }, { timeout: 120_000 })
}
