import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { X } from 'lucide-react'
import { useState } from 'react'
import { toast } from 'sonner'
import { type Account, ChangedAccount, type GivenCode } from '../../core/contract'
import { listOfReach } from '../../core/people/lists'
import { sentenceOf } from '../../core/words/said'
import { call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Choice } from '../design/choice'
import { Button, Field } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { Question } from '../design/overlay'
import { isLost, stateInWords } from '../send/said'
import { t, told } from '../words/all'
import { moment } from '../words/formats'
import { inside, roleWords, sentence } from './said'
import { saveList } from './save-list'

/** One account: its facts, where it is signed in, what it can reach, and its end. */
export function AccountEditor({
  account,
  others,
  onCode,
  onClose,
}: {
  account: Account
  /** Who what it has can be handed to. */
  others: readonly Account[]
  onCode: (code: GivenCode) => void
  onClose: () => void
}) {
  const client = useQueryClient()
  const { person, session } = useSession()
  const [byMail, setByMail] = useState(true)
  const [facts, setFacts] = useState({
    name: account.name,
    handle: account.handle,
    administrator: account.administrator,
    mail: account.mail ?? '',
  })
  const [faults, setFaults] = useState<Record<string, string>>({})
  const [ending, setEnding] = useState(false)
  const [heir, setHeir] = useState('')
  const params = { personId: account.id }
  const settled = async () => {
    await client.invalidateQueries({ queryKey: keys.people() })
    await client.invalidateQueries({ queryKey: keys.directory() })
  }
  /** What is done with a press; what is refused is told where it was pressed. */
  const act = useMutation({
    mutationFn: (what: () => Promise<unknown>) => what(),
    onSettled: settled,
    onError: (error) => toast.error(sentence(error)),
  })
  const save = async () => {
    const checked = ChangedAccount.safeParse({ ...facts, mail: facts.mail.trim() || null })
    if (!checked.success) {
      const found: Record<string, string> = {}
      for (const { path, message } of checked.error.issues) found[String(path[0])] ??= told(sentenceOf(message))
      return setFaults(found)
    }
    try {
      await call('changePerson', { params, body: checked.data })
      setFaults({})
      toast(t('people.changed'))
    } catch (error) {
      const fields = error instanceof Refused ? (error.problem.fields ?? {}) : {}
      setFaults(
        Object.keys(fields).length
          ? Object.fromEntries(Object.entries(fields).map(([field, why]) => [field, told(why)]))
          : { administrator: sentence(error) },
      )
    }
    await settled()
  }
  const changed =
    facts.name !== account.name ||
    facts.handle !== account.handle ||
    facts.administrator !== account.administrator ||
    facts.mail.trim() !== (account.mail ?? '')
  const mayMail = session.mail !== null && account.mail !== null
  const self = account.id === person.id
  const section = 'border-t py-5'
  return (
    <section
      className="relative min-h-0 w-full shrink-0 overflow-auto border-l px-4 pb-8 md:w-[400px] md:px-6"
      aria-label={account.name}
    >
      <div className="flex items-start gap-3 py-5">
        <h2 className="min-w-0 flex-1 text-[20px] font-semibold leading-7">{account.name}</h2>
        <IconButton label={t('people.close-this')} onClick={onClose}>
          <X />
        </IconButton>
      </div>
      {account.closedAt ? (
        <div className={section}>
          <p className="mb-3">{t('people.nobody-signs-in-since', { at: moment(account.closedAt) })}</p>
          <Button look="main" onClick={() => act.mutate(() => call('reopenPerson', { params }))}>
            {t('people.open-the-account-again')}
          </Button>
        </div>
      ) : (
        <form
          noValidate
          className={`${section} flex flex-col gap-4`}
          onSubmit={(event) => {
            event.preventDefault()
            void save()
          }}
        >
          <Field
            label={t('people.name')}
            autoComplete="off"
            value={facts.name}
            fault={faults.name}
            onChange={(event) => setFacts({ ...facts, name: event.target.value })}
          />
          <Field
            label={t('people.signs-in-with')}
            autoComplete="off"
            spellCheck={false}
            value={facts.handle}
            fault={faults.handle}
            onChange={(event) => setFacts({ ...facts, handle: event.target.value.toLowerCase() })}
          />
          <Field
            label={t('people.mail')}
            type="email"
            autoComplete="off"
            value={facts.mail}
            fault={faults.mail}
            onChange={(event) => setFacts({ ...facts, mail: event.target.value })}
          />
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-accent"
              checked={facts.administrator}
              onChange={(event) => setFacts({ ...facts, administrator: event.target.checked })}
            />
            {t('people.keeps-accounts-too')}
          </label>
          {faults.administrator && (
            <p role="alert" className="text-[13px] text-rust">
              {faults.administrator}
            </p>
          )}
          <Button type="submit" className="self-start" disabled={!changed}>
            {t('people.save-this')}
          </Button>
        </form>
      )}
      {!account.closedAt && (
        <div className={section}>
          <h3 className="font-semibold">{t('people.signing-in')}</h3>
          <p className="mb-3 mt-1 text-[14px] text-soft">
            {account.hasPassword
              ? t('people.a-code-sets-another-password')
              : t('people.a-code-sets-the-first-password')}
            {account.codeUntil && ` ${t('people.a-code-counts-until', { until: moment(account.codeUntil) })}`}
          </p>
          {account.codeMail && (
            <p className={clsx('mb-3 text-[14px]', isLost(account.codeMail) ? 'text-rust' : 'text-soft')} role="status">
              {t('people.code-mail', { state: stateInWords(account.codeMail) })}
            </p>
          )}
          {mayMail && (
            <label className="mb-3 flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-accent"
                checked={byMail}
                onChange={(event) => setByMail(event.target.checked)}
              />
              {t('people.code-by-mail')}
            </label>
          )}
          <Button
            onClick={() =>
              act.mutate(async () => onCode(await call('giveCode', { params, body: { byMail: mayMail && byMail } })))
            }
          >
            {account.codeUntil ? t('people.give-another-code') : t('people.give-a-code')}
          </Button>
          {account.secondFactor && (
            <Button
              className="ml-2"
              onClick={() =>
                act.mutate(async () => {
                  await call('endSecondFactorOf', { params })
                  toast(t('people.second-factor-is-off'))
                })
              }
            >
              {t('people.take-off-the-second-factor')}
            </Button>
          )}
          <Sessions
            account={account}
            onEnd={() =>
              act.mutate(async () => {
                const { ended } = await call('endSessionsOfPerson', { params })
                toast(t('people.signed-out-of', { ended }))
              })
            }
          />
        </div>
      )}
      <ReachOf account={account} />
      {!account.closedAt && !self && (
        <div className={section}>
          <h3 className="font-semibold">{t('people.when-somebody-leaves')}</h3>
          <p className="mb-3 mt-1 text-[14px] text-soft">{t('people.files-and-versions-stay')}</p>
          <Button look="warning" onClick={() => setEnding(true)}>
            {t('people.close-the-account')}
          </Button>
        </div>
      )}
      {ending && (
        <Question
          title={t('people.close-the-account-of', { name: account.name })}
          onClose={() => setEnding(false)}
          answers={
            <>
              <Button
                look="warning"
                disabled={act.isPending}
                onClick={() =>
                  act.mutate(async () => {
                    await call('closePerson', { params, body: { handTo: heir || null } })
                    setEnding(false)
                  })
                }
              >
                {t('people.close-the-account')}
              </Button>
              <Button onClick={() => setEnding(false)}>{t('people.keep-it-open')}</Button>
            </>
          }
        >
          <p className="mb-4">{t('people.signed-out-at-once', { works: account.works })}</p>
          <Choice
            label={t('people.hand-over-to')}
            value={heir}
            choices={[['', t('people.to-nobody')], ...others.map(({ id, name }) => [id, name] as const)]}
            onChange={setHeir}
          />
        </Question>
      )}
    </section>
  )
}

function Sessions({ account, onEnd }: { account: Account; onEnd: () => void }) {
  const sessions = useQuery({
    queryKey: keys.people(account.id, 'sessions', account.sessions),
    queryFn: () => call('sessionsOfPerson', { params: { personId: account.id } }),
  })
  const list = sessions.data ?? []
  if (sessions.isError) return <p className="mt-3 text-rust">{sentence(sessions.error)}</p>
  if (!list.length) return sessions.isPending ? null : <p className="mt-4 text-soft">{t('people.signed-in-nowhere')}</p>
  return (
    <>
      <ul className="my-3" aria-label={t('people.signed-in-at')}>
        {list.map((one) => (
          <li key={one.id} className="border-b py-1.5 last:border-b-0">
            {one.browser}
            <span className="block text-[13px] text-soft">
              {t('people.session', { address: one.address, usedAt: moment(one.usedAt) })}
            </span>
          </li>
        ))}
      </ul>
      <Button onClick={onEnd}>{t('people.sign-out-everywhere')}</Button>
    </>
  )
}

/** What somebody could open, and why. */
function ReachOf({ account }: { account: Account }) {
  const reach = useQuery({
    queryKey: keys.people(account.id, 'reach'),
    queryFn: () => call('reachOfPerson', { params: { personId: account.id } }),
  })
  const realms = reach.data?.realms ?? []
  return (
    <div className="border-t py-5">
      <h3 className="font-semibold">{t('people.can-reach')}</h3>
      {reach.isError && <p className="text-rust">{sentence(reach.error)}</p>}
      {reach.data && realms.length === 0 && <p className="mt-1 text-soft">{t('people.reaches-nothing')}</p>}
      <ul className="my-2">
        {realms.map(({ realm, share, role, because }) => (
          <li key={realm.id} className="border-b py-2 last:border-b-0">
            <span className="flex gap-3">
              <span className="min-w-0 flex-1 truncate">
                {realm.kind === 'share' ? realm.name : `${share} / ${realm.name}`}
              </span>
              <span className="text-soft">{roleWords(role)}</span>
            </span>
            {because.map(({ at, through, until }) => (
              <span key={`${at} ${through.join(' ')}`} className="block text-[13px] text-soft">
                {t('people.because', {
                  direct: Boolean(through.length === 0),
                  groups: through.join(inside),
                  same: Boolean(at === realm.name),
                  at,
                  ends: Boolean(until !== null),
                  until: until ? moment(until) : '',
                })}
              </span>
            ))}
          </li>
        ))}
      </ul>
      {realms.length > 0 && (
        <Button
          look="quiet"
          className="-ml-3"
          onClick={() =>
            saveList(
              `${t('people.reach-of', { name: account.name })}.csv`,
              listOfReach(reach.data!, {
                head: [
                  t('people.share'),
                  t('people.place'),
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
      )}
    </div>
  )
}
