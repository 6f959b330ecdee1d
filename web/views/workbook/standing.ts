// What is said of a result that is not just calculated.
import type { Mark } from '../../../core/calc/engine'
import { t } from '../../words/all'

/** The sentence about a cell's result; null where it is as anybody would expect. */
export function noteOf(mark: Mark | undefined): string | null {
  if (!mark) return null
  const named = mark.why && /^[A-Z][A-Z0-9._]*$/.test(mark.why) ? mark.why : null
  if (mark.standing === 'kept')
    return named ? t('sheet.kept-as-it-came-not-calculated', { name: named }) : t('sheet.kept-as-it-came')
  return named ? t('sheet.not-known-not-calculated', { name: named }) : t('sheet.not-known-any-more')
}
