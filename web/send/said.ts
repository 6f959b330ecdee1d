// What became of a message, in words.
import type { SentMail } from '../../core/contract'
import { t, told } from '../words/all'
import { moment } from '../words/formats'

/** Did not reach anybody. */
export const isLost = ({ state }: SentMail): boolean =>
  state === 'came back' || state === 'refused' || state === 'given up'

export const calledOf = ({ name, address }: SentMail): string => (name === null ? address : `${name} <${address}>`)

export function stateInWords({ state, since, said, nextAt }: SentMail): string {
  const at = moment(since)
  const why = said === null ? '' : told(said)
  if (state === 'waiting')
    return nextAt && said !== null
      ? t('sending.waiting-again', { at: moment(nextAt), said: why })
      : t('sending.waiting')
  if (state === 'sent') return said === null ? t('sending.sent', { at }) : t('sending.sent-late', { at, said: why })
  if (state === 'came back') return t('sending.came-back', { at, said: why })
  if (state === 'refused') return t('sending.refused', { at, said: why })
  if (state === 'given up') return t('sending.given-up', { at, said: why })
  return t('sending.withdrawn', { at })
}
