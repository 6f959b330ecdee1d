import { useQuery } from '@tanstack/react-query'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { t, told } from '../words/all'
import { moment } from '../words/formats'

/** How mail goes out, and what is wrong with it: in one line while nothing is. */
export function MailNow() {
  const { data: now } = useQuery({ queryKey: keys.mail(), queryFn: () => call('mailNow', {}) })
  if (!now) return null
  if (now.from === null) return <p className="text-[13.5px] text-soft">{t('sending.mail-none')}</p>
  return (
    <p className="text-[13.5px] text-soft" role="status">
      {t('sending.mail-goes-out', { from: now.from, host: now.host ?? '' })}{' '}
      {now.lastSent && t('sending.mail-last', { at: moment(now.lastSent) })}{' '}
      {t(now.returns ? 'sending.mail-returns' : 'sending.mail-returns-not')}{' '}
      {now.waiting > 0 && (
        <strong className="font-medium text-rust">
          {t('sending.mail-waiting', { waiting: now.waiting })} {now.said !== null && told(now.said)}
        </strong>
      )}
    </p>
  )
}
