// Who can reach a file, beside the work in it: everybody and why, a right given, a link made or sent.
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import type { Access } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { Beside } from '../views/beside'
import { t } from '../words/all'
import { AskForMore } from './ask-for-more'
import { Give } from './give'
import { Links } from './links'
import { inside, roleWords, sentence } from './said'
import { useTried } from './use-tried'

/** So many are shown here; the whole list is a screen of its own. */
const mostShown = 60

export function AccessBeside({ id, onClose }: { id: string; onClose: () => void }) {
  const access = useQuery({
    queryKey: keys.access(id),
    queryFn: () => call('access', { params: { id } }),
    retry: false,
  })
  const tried = useTried()
  return (
    <Beside title={t('people.who-can-reach-it')} escapeFromFields={false} onClose={onClose}>
      {access.isError && <p className="py-2 text-rust">{sentence(access.error)}</p>}
      {access.isPending && <p role="status">{t('common.one-moment')}</p>}
      {access.data && (
        <>
          <Everybody access={access.data} />
          {access.data.role === 'manage' ? (
            <Give onGive={(body) => tried(() => call('grant', { params: { id }, body }))} />
          ) : (
            <AskForMore access={access.data} tried={tried} />
          )}
          {access.data.role === 'manage' && <Links of={access.data.of} tried={tried} />}
          <p className="mt-5 border-t pt-3">
            <Link to={`/access/${id}`} className="underline decoration-rule-strong underline-offset-2 hover:text-ink">
              {t('people.all-of-it')}
            </Link>
          </p>
        </>
      )}
    </Beside>
  )
}

function Everybody({ access: { people, grants, realms, of } }: { access: Access }) {
  const grantOf = new Map(grants.map((grant) => [grant.id, grant]))
  const nameOf = new Map(realms.map((realm) => [realm.id, realm.name]))
  return (
    <>
      <ul aria-label={t('people.who-can-reach-it')}>
        {people.slice(0, mostShown).map(({ person, byLink, role, because }) => (
          <li key={person.id} className="border-b py-1.5 last:border-b-0">
            <span className="flex gap-3">
              <span className="min-w-0 flex-1 truncate font-medium">{person.name}</span>
              <span className="text-[14px]">{roleWords(role)}</span>
            </span>
            <span className="block text-[13px] leading-[18px] text-soft">
              {byLink && `${t('people.has-a-link')} · `}
              {[
                ...new Set(
                  because.map(({ grantId, through }) => {
                    const { realmId } = grantOf.get(grantId)!
                    const at = realmId === of.id ? t('people.in-this-file') : nameOf.get(realmId)!
                    return through.length ? `${at} (${through.join(inside)})` : at
                  }),
                ),
              ].join(', ')}
            </span>
          </li>
        ))}
      </ul>
      {people.length > mostShown && (
        <p className="py-2 text-[14px] text-soft">{t('people.and-more', { more: people.length - mostShown })}</p>
      )}
    </>
  )
}
