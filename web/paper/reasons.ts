// What printers say is wrong (RFC 8011, sections 5.4.12 and 5.3.8), in words.
import { t } from '../words/all'

const words: Readonly<Record<string, () => string>> = {
  'media-empty': () => t('paper.no-paper'),
  'media-needed': () => t('paper.no-paper'),
  'media-low': () => t('paper.paper-low'),
  'media-jam': () => t('paper.jammed'),
  'cover-open': () => t('paper.cover-open'),
  'door-open': () => t('paper.cover-open'),
  'interlock-open': () => t('paper.cover-open'),
  'toner-low': () => t('paper.toner-low'),
  'marker-supply-low': () => t('paper.toner-low'),
  'toner-empty': () => t('paper.toner-empty'),
  'marker-supply-empty': () => t('paper.toner-empty'),
  'output-area-full': () => t('paper.output-full'),
  'output-area-almost-full': () => t('paper.output-full'),
  paused: () => t('paper.paused'),
  'moving-to-paused': () => t('paper.paused'),
  shutdown: () => t('paper.paused'),
}
/** Said of a job or a printer that needs nobody. */
const quiet =
  /^(?:printer-stopped|job-printing|job-incoming|job-completed-successfully|job-queued|none|connecting-to-device)$/

/** Each once; what we have no words for, as the printer has it. */
export const reasonWords = (reasons: readonly string[]): string[] => [
  ...new Set(
    reasons.filter((reason) => !quiet.test(reason)).map((reason) => words[reason]?.() ?? reason.replaceAll('-', ' ')),
  ),
]
