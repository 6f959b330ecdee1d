import { useQuery, useQueryClient } from '@tanstack/react-query'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Button, Notice } from '../design/controls'
import { t, told } from '../words/all'

/** Messages of one's own about a place that did not reach somebody, told where they were sent from. */
export function LostMail({ of, onLook }: { of: string; onLook?: () => void }) {
  const client = useQueryClient()
  const { data = [] } = useQuery(queries.undelivered)
  const see = async (mailId: string) => {
    await call('seeUndelivered', { params: { mailId } }).catch(() => {})
    await client.invalidateQueries({ queryKey: keys.undelivered() })
  }
  return data
    .filter((one) => one.of?.id === of)
    .map(({ mail }) => (
      <Notice
        key={mail.id}
        tone="alarm"
        actions={
          <>
            {onLook && <Button onClick={onLook}>{t('sending.look')}</Button>}
            <Button onClick={() => void see(mail.id)}>{t('common.ok')}</Button>
          </>
        }
      >
        {t('sending.did-not-reach', {
          name: mail.name ?? mail.address,
          said: mail.said === null ? '' : told(mail.said),
        })}
      </Notice>
    ))
}
