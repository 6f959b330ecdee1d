// Links for people outside, on the screen of who can reach a folder or file: made, looked at, ended.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import clsx from 'clsx'
import { useState } from 'react'
import type { Access, Link, MadeLink } from '../../core/contract'
import { call } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { Button } from '../design/controls'
import { Question } from '../design/overlay'
import { SendQuestion, type Wish } from '../send/send'
import { SentList, useSent } from '../send/sent-list'
import { t } from '../words/all'
import { moment } from '../words/formats'
import { LinkUses } from './link-uses'
import { MadeLinkShown } from './made-link'
import { MakeLink } from './make-link'

export function Links({ of, tried }: { of: Access['of']; tried: (what: () => Promise<unknown>) => Promise<boolean> }) {
  const client = useQueryClient()
  const links = useQuery({ queryKey: keys.links(of.id), queryFn: () => call('links', { params: { id: of.id } }) })
  const [making, setMaking] = useState(false)
  const [made, setMade] = useState<MadeLink | null>(null)
  const [ending, setEnding] = useState<Link | null>(null)
  const [looking, setLooking] = useState<Link | null>(null)
  const [past, setPast] = useState(false)
  const [sending, setSending] = useState<Wish | null>(null)
  const { session } = useSession()
  const sent = useSent(of.id)
  const facts = useQuery({
    queryKey: keys.file(of.id),
    queryFn: () => call('file', { params: { fileId: of.id } }),
    enabled: of.kind === 'file',
  })
  const head = facts.data?.file.head
  const renew = () => client.invalidateQueries({ queryKey: keys.links() })
  const all = links.data ?? []
  const over = all.filter((link) => link.over)
  const shown = past ? all : all.filter((link) => !link.over)
  return (
    <section className="mt-6 border-t pt-5" aria-labelledby="links">
      <h2 id="links" className="font-semibold">
        {t('people.links')}
      </h2>
      <p className="mt-1 max-w-2xl text-[14px] text-soft">{t('people.what-links-are')}</p>
      {links.isError && <p className="py-2">{t('common.the-server-does-not-answer-right-now')}</p>}
      <ul className="mt-2" aria-label={t('people.links')}>
        {shown.map((link) => (
          <li key={link.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b py-2.5 last:border-b-0">
            <div className="min-w-0 flex-1 basis-72">
              <p className={clsx('font-medium', link.over && 'text-soft')}>{link.name}</p>
              <p className="text-[14px] text-soft">
                {t('people.link-may', {
                  role: link.role,
                  download: link.download,
                  version: link.version ?? 0,
                  password: link.password,
                })}
                {link.entryId !== of.id && ` · ${t('people.link-from-above')}`}
                {link.over === 'ended' || link.over === 'gone'
                  ? ` · ${t(link.over === 'ended' ? 'people.link-ended' : 'people.link-gone')}`
                  : link.until &&
                    ` · ${link.over ? t('people.ended', { until: moment(link.until) }) : t('people.ends', { until: moment(link.until) })}`}
              </p>
              <p className="text-[14px] text-soft">
                {t('people.link-opened', { opened: link.opened, uses: link.uses ?? 0 })}
                {link.lastOpened && ` · ${t('people.link-last-opened', { at: moment(link.lastOpened) })}`}
                {` · ${t('people.given-by', { known: true, by: link.by, at: moment(link.at) })}`}
              </p>
            </div>
            <Button
              look="quiet"
              aria-label={t('people.link-uses-which', { name: link.name })}
              onClick={() => setLooking(link)}
            >
              {t('people.link-uses')}
            </Button>
            {link.over !== 'ended' && link.entryId === of.id && (
              <Button aria-label={t('people.end-link-of', { name: link.name })} onClick={() => setEnding(link)}>
                {t('people.end-the-link')}
              </Button>
            )}
          </li>
        ))}
      </ul>
      <div className="mt-3 flex flex-wrap gap-3">
        <Button onClick={() => setMaking(true)}>{t('people.make-a-link')}</Button>
        {session.mail && <Button onClick={() => setSending({ as: 'link' })}>{t('people.send-links')}</Button>}
        {over.length > 0 && (
          <Button look="quiet" aria-pressed={past} onClick={() => setPast(!past)}>
            {t(past ? 'people.without-past-links' : 'people.past-links', { links: over.length })}
          </Button>
        )}
      </div>
      {making && (
        <MakeLink
          of={of}
          onClose={() => setMaking(false)}
          onMade={async (one) => {
            setMaking(false)
            setMade(one)
            await renew()
            await client.invalidateQueries({ queryKey: keys.access() })
          }}
        />
      )}
      {made && <MadeLinkShown made={made} onClose={() => setMade(null)} />}
      {sending && of.kind !== 'share' && (
        <SendQuestion
          of={{ id: of.id, kind: of.kind, name: of.name, versions: head ? [head] : [], role: 'manage' }}
          wish={sending}
          onClose={() => setSending(null)}
        />
      )}
      {!!sent.data?.length && (
        <>
          <h3 className="mt-5 font-semibold">{t('sending.what-was-sent')}</h3>
          <SentList sent={sent.data} {...(session.mail && { onAgain: setSending })} />
        </>
      )}
      {looking && <LinkUses link={looking} onClose={() => setLooking(null)} />}
      {ending && (
        <Question
          title={t('people.end-the-link-called', { name: ending.name })}
          onClose={() => setEnding(null)}
          answers={
            <>
              <Button
                look="warning"
                onClick={async () => {
                  setEnding(null)
                  await tried(() => call('endLink', { params: { linkId: ending.id } }))
                  await renew()
                }}
              >
                {t('people.end-the-link')}
              </Button>
              <Button onClick={() => setEnding(null)}>{t('people.keep-it')}</Button>
            </>
          }
        >
          {t('people.it-opens-nothing-then')}
        </Question>
      )}
    </section>
  )
}
