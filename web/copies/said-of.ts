import type { CopySite } from '../../core/contract'
import { t, told } from '../words/all'
import { moment } from '../words/formats'

/** How the last trial of bringing everything back went. */
export function saidOf(drill: NonNullable<CopySite['drill']>): string {
  const at = moment(drill.at)
  if (drill.failure !== null) return t('sites.drill-failed', { at, why: told(drill.failure) })
  return t('sites.drill', { at, versions: drill.versions, differ: drill.differ })
}
