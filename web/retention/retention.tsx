// How long versions are kept: rules of a share and of its folders, what each would do before it is set, holds, and
// the log of what went.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { FolderPlus, Hand } from 'lucide-react'
import { useState } from 'react'
import { useParams } from 'react-router'
import { toast } from 'sonner'
import type { Entry, Share } from '../../core/contract'
import { type RetentionRule, usualRule } from '../../core/contract'
import { sayRule } from '../../core/history/retention'
import { call, isAway, Refused } from '../api/call'
import { keys } from '../api/keys'
import { queries } from '../api/queries'
import { Blank, Button, Field } from '../design/controls'
import { Question } from '../design/overlay'
import type { ChosenPlace } from '../places/place'
import { PlaceBrowser } from '../places/place-browser'
import { ShareNav } from '../places/share-nav'
import { t, told } from '../words/all'
import { moment, size } from '../words/formats'
import { RuleEditor } from './rule-editor'

export function RetentionView() {
  const { shareId } = useParams()
  const shares = useQuery(queries.shares)
  const first = shares.data?.find(({ role }) => role === 'manage') ?? shares.data?.[0]
  const share = shareId ? shares.data?.find(({ id }) => id === shareId) : first
  if (shares.isError)
    return (
      <Blank screen title={t('common.the-server-does-not-answer-right-now')}>
        <Button look="main" onClick={() => shares.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (shares.data?.length === 0) return <Blank screen title={t('common.you-are-not-a-member-of-any')} />
  if (!share) return <Blank screen title={t('common.one-moment')} waiting />
  return (
    <div className="flex h-full flex-col md:flex-row">
      <ShareNav
        title={t('retention.retention-in')}
        shares={shares.data!}
        here={share.id}
        to={({ id }) => `/copies/retention/${id}`}
      >
        {share.role !== 'manage' && t('retention.the-managers-of-decide-how-long-its', { shareName: share.name })}
      </ShareNav>
      <ShareRetention key={share.id} share={share} />
    </div>
  )
}

function ShareRetention({ share }: { share: Share }) {
  const client = useQueryClient()
  const retention = useQuery({
    queryKey: keys.retention(share.id),
    queryFn: () => call('retention', { params: { shareId: share.id } }),
  })
  const [editing, setEditing] = useState<{ folderId: string | null; path: readonly string[] } | null>(null)
  const [asking, setAsking] = useState<'folder' | 'hold' | null>(null)
  const mayChange = share.role === 'manage'
  if (retention.isError)
    return (
      <Blank
        screen
        title={
          isAway(retention.error)
            ? t('common.the-server-does-not-answer-right-now')
            : t('common.this-share-does-not-exist-or-you')
        }
      >
        <Button look="main" onClick={() => retention.refetch()}>
          {t('common.try-again')}
        </Button>
      </Blank>
    )
  if (!retention.data) return <Blank screen title={t('common.one-moment')} waiting />
  const { rules, holds, gone, log } = retention.data
  const whole = rules.find(({ folderId }) => folderId === null)
  const set = async (folderId: string | null, rule: RetentionRule | null) => {
    try {
      await call('setRetention', { params: { shareId: share.id }, body: { folderId, rule } })
      await client.invalidateQueries({ queryKey: keys.retention(share.id) })
      client.removeQueries({ queryKey: keys.retentionPreview(share.id) })
      setEditing(null)
      toast(
        rule
          ? t('retention.the-rule-applies-now-what-it-removes')
          : t('retention.the-rule-is-removed-every-version-stays'),
      )
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('retention.the-rule-could-not-be-set'))
    }
  }
  const hold = async (entryId: string, why: string | null) => {
    try {
      await call('hold', { params: { entryId }, body: { why } })
      await client.invalidateQueries({ queryKey: keys.retention(share.id) })
      client.removeQueries({ queryKey: keys.retentionPreview(share.id) })
      setAsking(null)
      toast(why ? t('retention.on-hold-retention-removes-nothing-there') : t('retention.the-hold-is-ended'))
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('retention.the-hold-could-not-be-set'))
    }
  }
  if (editing)
    return (
      <RuleEditor
        share={share}
        folderId={editing.folderId}
        path={editing.path}
        present={rules.find(({ folderId }) => folderId === editing.folderId)?.rule ?? null}
        beginning={whole?.rule ?? usualRule}
        onSet={(rule) => void set(editing.folderId, rule)}
        onBack={() => setEditing(null)}
      />
    )
  return (
    <main className="min-h-0 min-w-0 flex-1 overflow-auto px-4 py-4 md:px-8 md:py-6">
      <div className="max-w-3xl">
        <h1 className="text-[20px] font-semibold">{t('retention.how-long-versions-are-kept')}</h1>
        <p className="pt-1 text-soft">{t('retention.without-a-rule-every-version-stays-for')}</p>
        <ul className="mt-5 border-t">
          {[...(whole ? [] : [null]), ...rules].map((one) => (
            <li key={one?.folderId ?? 'whole'} className="flex items-center gap-4 border-b py-3">
              <div className="min-w-0 flex-1">
                <h2 className="font-medium">{one ? one.path.join(' / ') : share.name}</h2>
                <p className="text-[14px] text-soft">
                  {one ? told(sayRule(one.rule)) : t('retention.all-versions-for-good')}
                  {one && t('retention.set-by', { by: one.by, at: moment(one.at) })}
                </p>
              </div>
              {mayChange && (
                <Button
                  onClick={() => setEditing({ folderId: one?.folderId ?? null, path: one?.path ?? [share.name] })}
                >
                  {one ? t('common.change') : t('retention.set-a-rule')}
                </Button>
              )}
            </li>
          ))}
        </ul>
        {mayChange && (
          <div className="flex flex-wrap gap-2 pt-3">
            <Button look="quiet" onClick={() => setAsking('folder')}>
              <FolderPlus size={16} aria-hidden />
              {t('retention.another-rule-for-a-folder')}
            </Button>
            <Button look="quiet" onClick={() => setAsking('hold')}>
              <Hand size={16} aria-hidden />
              {t('retention.put-a-folder-or-a-file-on')}
            </Button>
          </div>
        )}
        {holds.length > 0 && (
          <section className="pt-7" aria-label={t('retention.on-hold')}>
            <h2 className="text-[17px] font-semibold">{t('retention.on-hold')}</h2>
            <ul className="mt-2 border-t">
              {holds.map((one) => (
                <li key={one.entryId} className="flex items-center gap-4 border-b py-2.5">
                  <div className="min-w-0 flex-1">
                    <p className="truncate font-medium">{one.path.join(' / ')}</p>
                    <p className="text-[14px] text-soft">
                      {one.why} · {one.by}, {moment(one.at)}
                    </p>
                  </div>
                  {mayChange && (
                    <Button onClick={() => void hold(one.entryId, null)}>{t('retention.end-the-hold')}</Button>
                  )}
                </li>
              ))}
            </ul>
          </section>
        )}
        <section className="pt-7" aria-label={t('retention.what-was-removed')}>
          <h2 className="text-[17px] font-semibold">{t('retention.what-was-removed')}</h2>
          <p className="pt-1 text-soft">
            {gone.versions === 0
              ? t('retention.retention-has-removed-no-version')
              : t('retention.versions-so-far-as-files', { versions: gone.versions, bytes: size(gone.bytes) })}
          </p>
          {log.length > 0 && (
            <table className="mt-2 w-full text-[14px]">
              <thead>
                <tr className="border-b text-left text-[13px] text-soft">
                  <th className="py-1.5 font-normal">{t('common.file')}</th>
                  <th className="py-1.5 pl-3 font-normal">{t('retention.version')}</th>
                  <th className="py-1.5 pl-3 font-normal">{t('common.saved')}</th>
                  <th className="py-1.5 pl-3 font-normal">{t('retention.removed')}</th>
                </tr>
              </thead>
              <tbody>
                {log.map((one) => (
                  <tr key={`${one.name} ${one.number}`} className="border-b" title={told(one.why)}>
                    <td className="max-w-72 truncate py-1.5 font-mono text-[13px]">{one.name}</td>
                    <td className="py-1.5 pl-3">{one.number}</td>
                    <td className="py-1.5 pl-3">
                      {moment(one.at)}, {one.author}
                    </td>
                    <td className="py-1.5 pl-3">{moment(one.removedAt)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </section>
      </div>
      {asking === 'folder' && (
        <FolderQuestion
          share={share}
          onChoose={(folderId, path) => {
            setAsking(null)
            setEditing({ folderId, path })
          }}
          onClose={() => setAsking(null)}
        />
      )}
      {asking === 'hold' && (
        <HoldQuestion share={share} onHold={(id, why) => void hold(id, why)} onClose={() => setAsking(null)} />
      )}
    </main>
  )
}

/** The folder that a place is, with the way to it. */
function useFolder(at: ChosenPlace | null) {
  return useQuery({
    queryKey: keys.place(at?.shareId, at?.folderId, '', 0, 200),
    enabled: !!at,
    queryFn: () =>
      call('place', {
        params: { shareId: at!.shareId },
        query: { folderId: at!.folderId ?? undefined, limit: 200 },
      }),
  })
}

function FolderQuestion({
  share,
  onChoose,
  onClose,
}: {
  share: Share
  onChoose: (folderId: string, path: string[]) => void
  onClose: () => void
}) {
  const [at, setAt] = useState<ChosenPlace | null>({ shareId: share.id, folderId: null, path: [] })
  const place = useFolder(at)
  const folder = at?.shareId === share.id ? at.folderId : null
  return (
    <Question
      title={t('retention.which-folder-gets-a-rule-of-its')}
      onClose={onClose}
      answers={
        <>
          <Button
            look="main"
            disabled={!folder || !place.data}
            onClick={() => onChoose(folder!, [share.name, ...place.data!.trail.map(({ name }) => name)])}
          >
            {t('retention.this-folder')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p className="pb-3">{t('retention.its-rule-applies-to-everything-in-it')}</p>
      <PlaceBrowser at={at} onChoose={setAt} className="h-72 overflow-hidden rounded-md border bg-sheet text-ink" />
    </Question>
  )
}

function HoldQuestion({
  share,
  onHold,
  onClose,
}: {
  share: Share
  onHold: (entryId: string, why: string) => void
  onClose: () => void
}) {
  const [at, setAt] = useState<ChosenPlace | null>({ shareId: share.id, folderId: null, path: [] })
  const [file, setFile] = useState<Entry | null>(null)
  const [why, setWhy] = useState('')
  const place = useFolder(at)
  const folder = at?.shareId === share.id ? at.folderId : null
  const name = file?.name ?? (folder ? place.data?.trail.at(-1)?.name : undefined)
  return (
    <Question
      title={t('retention.put-on-hold')}
      onClose={onClose}
      answers={
        <>
          <Button look="main" disabled={!name || !why.trim()} onClick={() => onHold(file?.id ?? folder!, why.trim())}>
            {name ? t('retention.put-on-hold-2', { name }) : t('retention.put-it-on-hold')}
          </Button>
          <Button look="quiet" onClick={onClose}>
            {t('common.cancel')}
          </Button>
        </>
      }
    >
      <p className="pb-3">{t('retention.retention-removes-nothing-of-what-is-on')}</p>
      <PlaceBrowser
        at={at}
        onChoose={(next) => {
          setAt(next)
          setFile(null)
        }}
        onPoint={setFile}
        marked={file?.id}
        className="h-64 overflow-hidden rounded-md border bg-sheet text-ink"
      />
      <Field
        className="pt-3"
        label={t('common.why')}
        placeholder={t('retention.the-dispute-about-lk07')}
        value={why}
        maxLength={300}
        onChange={(event) => setWhy(event.target.value)}
      />
    </Question>
  )
}
