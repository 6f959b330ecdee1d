import type { CopyPlan, CopySite } from '../../core/contract'
import { usualPlan } from '../../core/contract'
import { t } from '../words/all'

/** Whose plan at a place is looked at: that of every share, of one, or of a folder in one. */
export interface Planning {
  site: CopySite
  share: { id: string; name: string } | null
  /** One of its folders; one that is still to be chosen. */
  folder?: { id: string; path: readonly string[] } | 'to be chosen'
}

/** The plan that there is, and the one that a new one begins as. */
export function plansOf({ site, share, folder }: Planning): { present: CopyPlan | null; beginning: CopyPlan } {
  const standing = share && site.shares.find(({ shareId }) => shareId === share.id)
  const beginning = site.plan ?? usualPlan
  if (!share) return { present: site.plan, beginning }
  if (!folder) return { present: standing?.own ? standing.plan : null, beginning }
  const own = folder === 'to be chosen' ? null : standing?.folders.find(({ folderId }) => folderId === folder.id)
  // How it is read again, and how fast it may go, is its share's.
  return { present: own?.plan ?? null, beginning: { ...(standing?.plan ?? beginning), extent: 'all' } }
}

/** A folder's plan in a sentence. */
export const sayFolderPlan = ({ extent, hours, backDays }: CopyPlan): string =>
  extent === 'nothing'
    ? t('sites.folder-plan-nothing')
    : t('sites.folder-plan', { what: extent, hours, days: hours % 24 === 0 ? hours / 24 : 0, backDays: backDays ?? 0 })
