import { t } from '.'
import { timeOf } from './formats'

/**
 * What a file that has no name yet is called on screen.
 * @param opening its first words, by which two that were begun in one minute are told apart
 */
export function unnamed(kind: 'document' | 'spreadsheet', bornAt: Date, opening = ''): string {
  const words = opening.trim().split(/\s+/).filter(Boolean).slice(0, 5).join(' ')
  return t(kind === 'document' ? 'work.document-begun' : 'work.spreadsheet-begun', {
    time: timeOf(bornAt),
    words: words !== '',
    opening: words,
  })
}
