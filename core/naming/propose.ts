import { correctName, splitExtension } from './check'

/**
 * A name to start from on the filing slip: the day, then what the content calls itself.
 * Nothing to go by gives the day alone; a proposal is never a number and never a time of birth.
 * @param opening the first words of the content
 * @param day ISO 8601 date
 * @param current the name so far, for work that came from a file
 */
export function proposeName(opening: string, day: string, current?: string): string {
  if (current) return splitExtension(current)[0]
  const words = opening
    .replace(/[\p{P}\p{S}]+/gu, ' ')
    .trim()
    .split(/\s+/)
    .filter(Boolean)
    .slice(0, 6)
  const subject = correctName(words.join('-')) ?? ''
  return subject ? `${day}_${subject}` : day
}

/** What a file that has no name yet is called on screen. */
export function unnamed(kind: 'document' | 'spreadsheet', bornAt: Date): string {
  const time = `${String(bornAt.getHours()).padStart(2, '0')}:${String(bornAt.getMinutes()).padStart(2, '0')}`
  return `${kind === 'document' ? 'Document' : 'Spreadsheet'} begun at ${time}`
}
