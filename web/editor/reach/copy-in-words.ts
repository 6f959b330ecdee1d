import type { FileCopy } from '../../../core/contract'
import { t, told } from '../../words/all'
import { clock } from '../../words/formats'

const at = (moment: string) => clock(Date.parse(moment))
/** What a copy on other storage has of a file, and when it was made and read again. */
export function copyInWords({ place, number, copiedAt, checkedAt, faults, failed }: FileCopy): string {
  const said: string[] = []
  if (copiedAt !== null) {
    const where = { place, copied: at(copiedAt) }
    said.push(number === null ? t('reach.not-in-a-copy', where) : t('reach.in-a-copy', { ...where, number }))
  }
  if (checkedAt !== null) said.push(t('reach.copy-checked', { at: at(checkedAt), faults }))
  if (failed) said.push(t('reach.copy-failed', { place, since: at(failed.since), why: told(failed.why) }))
  return said.join(' ')
}
