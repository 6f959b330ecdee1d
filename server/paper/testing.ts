// Pages as tests set them.
import { execFileSync } from 'node:child_process'
import { noChoices } from '../../core/contract'
import type { ToTypeset } from './typeset'

export const usualAsk: Omit<ToTypeset, 'what'> = {
  name: 'Levels',
  number: 3,
  day: '29 November 2026',
  time: '14:30',
  language: 'en',
  standard: 'plain',
  choices: noChoices,
  corner: '',
}
export const textOf = (file: string, ...how: string[]): string =>
  execFileSync('pdftotext', [...how, file, '-'], { encoding: 'utf8', maxBuffer: 1e9 })
export const infoOf = (file: string): string =>
  execFileSync('pdfinfo', [file], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] })
/** Letters alone, as readers of PDF agree on them. */
export const lettersOf = (text: string): string => text.normalize('NFKC').replace(/[\s\u00ad\u200b\f]+/g, '')
