// Who can reach a share, a folder or a file, and why: what was given, and everybody whom it reaches.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import type { Access, OwnRights } from '../../core/contract'
import { listOfAccess } from '../../core/people/lists'
import { call, isAway } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { Blank, Button } from '../design/controls'
import { Question } from '../design/overlay'
import { useStillHere } from '../design/still-here'
import { LostMail } from '../send/lost-mail'
import { t } from '../words/all'
import { moment } from '../words/formats'
import { AskForMore } from './ask-for-more'
import { Give } from './give'
import { Given } from './given'
import { Links } from './links'
import { inside, roleWords } from './said'
import { saveList } from './save-list'
import { ShareFacts } from './share-facts'
import { useTried } from './use-tried'
import { WatchThis } from './watch-this'

export function AccessView() {
  const { id = '' } = useParams()
  const access = useQuery({
    queryKey: keys.access(id),
    queryFn: () => call('access', { params: { id } }),
    retry: false,
  })
  if (access.isError)
    return (
      <Blank
        screen
        title={
          isAway(access.error)
            ? t('common.the-server-does-not-answer-right-now')
            : t('people.this-is-not-here-or-not-for-you')
        }
      >
        <Button look="main" onClick={() => access.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (!access.data) return <Blank screen title={t('common.one-moment')} waiting />
  return <Shown key={id} access={access.data} />
}

function Shown({ access }: { access: Access }) {
  const navigate = useNavigate()
  const here = useStillHere()
  const { person } = useSession()
  const shares = useQuery(queries.shares)
  const [leaving, setLeaving] = useState(false)
  const [ending, setEnding] = useState(false)
  /** What was chosen, until the server has it. */
  const [wanted, setWanted] = useState<OwnRights['from'] | null>(null)
  const { of, realms, grants, people } = access
  const share = shares.data?.find(({ id }) => id === of.shareId)
  const mayManage = access.role === 'manage'
  const own = realms.at(-1)!.id === of.id
  const from: OwnRights['from'] = !own ? 'above' : realms.at(-1)!.closed ? 'here' : 'above and here'
  const params = { id: of.id }
  const tried = useTried()
  const mine = grants.find((one) => one.realmId === of.id && one.subject.id === person.id)
  const back =
    of.kind === 'share' ? `/files/${of.id}` : of.kind === 'folder' ? `/files/${of.shareId}/${of.id}` : `/open/${of.id}`
  const above = realms[own ? realms.length - 2 : realms.length - 1]
  const rights: [OwnRights['from'], string][] = [
    ['above', t('people.as-above', { above: above?.name ?? '' })],
    ['above and here', t('people.more-than-above', { above: above?.name ?? '' })],
    ['here', t('people.only-here')],
  ]
  return (
    <main className="relative h-full overflow-auto">
      <LostMail of={of.id} />
      <div className="mx-auto max-w-[960px] px-4 py-6 md:px-8">
        <p className="text-[14px] text-soft">
          <Link to={back} className="underline decoration-rule-strong underline-offset-2 hover:text-ink">
            {t('people.back-to', { name: of.name })}
          </Link>
        </p>
        <h1 className="mt-1 text-[26px] font-semibold leading-8">{t('people.who-can-reach', { name: of.name })}</h1>
        <WatchThis id={of.id} name={of.name} tried={tried} />
        {access.archived && <p className="mt-2">{t('people.archived-share')}</p>}
        {of.kind === 'share' && share && (
          <ShareFacts key={share.id} share={share} mayManage={mayManage} tried={tried} />
        )}

        {of.kind !== 'share' && mayManage && (
          <fieldset className="mt-6 border-t pt-5">
            <legend className="float-left mb-2 w-full font-semibold">
              {t('people.rights-here', { kind: of.kind })}
            </legend>
            <div className="clear-both flex flex-col gap-2">
              {rights.map(([value, words]) => (
                <label key={value} className="flex items-center gap-2.5">
                  <input
                    type="radio"
                    name="rights"
                    className="accent-accent"
                    checked={(wanted ?? from) === value}
                    onChange={async () => {
                      // What was given here would end with it, without a way back.
                      if (value === 'above' && grants.some(({ realmId }) => realmId === of.id)) return setEnding(true)
                      setWanted(value)
                      await tried(() => call('setOwnRights', { params, body: { from: value } }))
                      setWanted(null)
                    }}
                  />
                  {words}
                </label>
              ))}
            </div>
          </fieldset>
        )}

        <section className="mt-6 border-t pt-5" aria-labelledby="given">
          <h2 id="given" className="font-semibold">
            {t('people.what-was-given')}
          </h2>
          {mayManage && <Give onGive={(body) => tried(() => call('grant', { params, body }))} />}
          {realms.map((realm, at) => (
            <Given
              key={realm.id}
              realm={realm}
              here={realm.id === of.id}
              cut={realms.slice(at + 1).some(({ closed }) => closed)}
              grants={grants.filter(({ realmId, byLink }) => realmId === realm.id && !byLink)}
              mayManage={mayManage && realm.id === of.id}
              onGive={(body) => tried(() => call('grant', { params, body }))}
              onEnd={(grantId) => tried(() => call('endGrant', { params: { ...params, grantId } }))}
            />
          ))}
          {access.role !== 'manage' && <AskForMore access={access} tried={tried} />}
          {mine && (
            <Button className="-ml-3 mt-3" look="quiet" onClick={() => setLeaving(true)}>
              {t('people.give-up-mine')}
            </Button>
          )}
        </section>

        {mayManage && of.kind !== 'share' && <Links of={of} tried={tried} />}

        <section className="mt-6 border-t pt-5" aria-labelledby="everybody">
          <div className="flex items-center gap-3">
            <h2 id="everybody" className="flex-1 font-semibold">
              {t('people.everybody-who-can', { people: people.filter(({ byLink }) => !byLink).length })}
            </h2>
            <Button
              look="quiet"
              onClick={() =>
                saveList(
                  `${t('people.who-can-reach', { name: of.name }).replace(/[?/\\:*"<>|]/g, '')}.csv`,
                  listOfAccess(access, {
                    head: [
                      t('people.name'),
                      t('people.signs-in-with'),
                      t('people.role-head'),
                      t('people.given-at'),
                      t('people.by-group'),
                      t('people.until'),
                    ],
                    role: { view: roleWords('view'), edit: roleWords('edit'), manage: roleWords('manage') },
                    inside,
                  }),
                )
              }
            >
              {t('people.save-as-a-list')}
            </Button>
          </div>
          <Everybody access={access} />
        </section>
      </div>
      {ending && (
        <Question
          title={t('people.end-what-was-given', { name: of.name })}
          onClose={() => setEnding(false)}
          answers={
            <>
              <Button
                look="warning"
                onClick={() => {
                  setEnding(false)
                  void tried(() => call('setOwnRights', { params, body: { from: 'above' } }))
                }}
              >
                {t('people.as-above', { above: above?.name ?? '' })}
              </Button>
              <Button onClick={() => setEnding(false)}>{t('people.keep-it')}</Button>
            </>
          }
        >
          {t('people.who-had-it-here-only-loses-it', {
            grants: grants.filter(({ realmId }) => realmId === of.id).length,
          })}
        </Question>
      )}
      {leaving && mine && (
        <Question
          title={t('people.give-up-yours', { name: of.name })}
          onClose={() => setLeaving(false)}
          answers={
            <>
              <Button
                look="warning"
                onClick={async () => {
                  setLeaving(false)
                  if ((await tried(() => call('leave', { params }))) && here()) void navigate('/files')
                }}
              >
                {t('people.give-it-up')}
              </Button>
              <Button onClick={() => setLeaving(false)}>{t('people.keep-it')}</Button>
            </>
          }
        >
          {t('people.somebody-who-manages-can-give-it-back')}
        </Question>
      )}
    </main>
  )
}

/** So many are shown; the list that is saved has all. */
const mostShown = 300

function Everybody({ access: { people, grants, realms, of } }: { access: Access }) {
  const grantOf = new Map(grants.map((grant) => [grant.id, grant]))
  const nameOf = new Map(realms.map((realm) => [realm.id, realm.name]))
  return (
    <>
      <table className="mt-2 w-full text-left">
        <thead className="sr-only">
          <tr>
            <th>{t('people.name')}</th>
            <th>{t('people.role-head')}</th>
            <th>{t('people.why')}</th>
          </tr>
        </thead>
        <tbody>
          {people.slice(0, mostShown).map(({ person, byLink, role, because }) => (
            <tr key={person.id} className="border-b align-top last:border-b-0">
              <td className="w-[34%] py-2 pr-4">
                {person.name}
                {byLink && <span className="block text-[14px] text-soft">{t('people.has-a-link')}</span>}
              </td>
              <td className="w-[18%] py-2 pr-4">{roleWords(role)}</td>
              <td className="py-2 text-[14px] text-soft">
                {because.map(({ grantId, through }) => {
                  const { realmId, until } = grantOf.get(grantId)!
                  return (
                    <span key={grantId} className="block">
                      {t(byLink ? 'people.because-of-the-link' : 'people.because', {
                        direct: Boolean(through.length === 0),
                        groups: through.join(inside),
                        same: Boolean(realmId === of.id),
                        at: nameOf.get(realmId)!,
                        ends: Boolean(until !== null),
                        until: until ? moment(until) : '',
                      })}
                    </span>
                  )
                })}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {people.length > mostShown && (
        <p className="py-3 text-[14px] text-soft">{t('people.and-more', { more: people.length - mostShown })}</p>
      )}
    </>
  )
}
