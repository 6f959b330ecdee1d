// Everything that is known of a file, in one place beside it: what it says of itself, and what Jaula knows.
import { useQuery } from '@tanstack/react-query'
import { Copy } from 'lucide-react'
import { Fragment, type ReactNode } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import type { FileFacts, HistoryVersion } from '../../../core/contract'
import { fileType } from '../../../core/formats/types'
import { call } from '../../api/call'
import { keys } from '../../api/keys'
import { IconButton } from '../../design/icon-button'
import { folderOf } from '../../files/address'
import { Beside } from '../../views/beside'
import { T, t, told } from '../../words/all'
import { digits, listed, moment, size } from '../../words/formats'
import type { DraftSession } from '../../work/session'
import { copyInWords } from '../reach/copy-in-words'
import { OwnWords } from './own-words'

interface Editing {
  session: DraftSession
  /** What it is, or will be, written as. */
  type: string
  editable: boolean
}

/** @param editing absent for a file that is kept and not edited */
export function AboutBeside({
  facts,
  editing,
  onReach,
  onVersions,
  onClose,
}: {
  /** Absent for work that has no name yet. */
  facts: FileFacts | undefined
  editing?: Editing
  onReach: () => void
  onVersions: () => void
  onClose: () => void
}) {
  return (
    <Beside title={t('common.about-this-file')} onClose={onClose}>
      {editing && <OwnWords {...editing} />}
      {facts ? (
        <Known facts={facts} onReach={onReach} onVersions={onVersions} />
      ) : (
        <p className="border-t py-3 text-soft">{t('about.not-saved')}</p>
      )}
    </Beside>
  )
}

const plain = 'text-left underline decoration-rule-strong underline-offset-2 hover:text-accent'

function Known({ facts, onReach, onVersions }: { facts: FileFacts; onReach: () => void; onVersions: () => void }) {
  const { file, share, trail, versions, versionsInAll, origin, formerNames, thinnedOut, held, copies } = facts
  const access = useQuery({
    queryKey: keys.access(file.id),
    queryFn: () => call('access', { params: { id: file.id } }),
    retry: false,
  })
  const head = versions[0]
  const first = versions.at(-1)
  const whole = versions.length === versionsInAll
  const from = versions.find((version) => version.from)?.from
  const saved = ({ at, author }: HistoryVersion) => t('about.by', { at: moment(at), author: author.name })
  const rows: [name: string, value: ReactNode][] = [
    [
      t('about.place'),
      <Link key="place" to={folderOf(file)} className={`${plain} break-words`}>
        <bdi>{[share.name, ...trail.map(({ name }) => name)].join(' / ')}</bdi>
      </Link>,
    ],
    [t('about.type'), told(fileType(file.type).label)],
  ]
  if (head) rows.push([t('about.size'), size(head.size)])
  if (first && whole && first.number === 1) rows.push([t('about.begun'), saved(first)])
  if (head) rows.push([t('about.last-saved'), saved(head)])
  rows.push([
    t('common.versions'),
    <span key="versions">
      <button type="button" className={plain} onClick={onVersions}>
        {t('about.versions', { n: versionsInAll })}
      </button>
      {whole && versionsInAll > 1 && (
        <span className="text-soft">
          {' · '}
          {t('about.in-all', { size: size(versions.reduce((sum, version) => sum + version.size, 0)) })}
        </span>
      )}
      {thinnedOut > 0 && (
        <span className="block text-soft">{t('lifeline.retention-removed-versions', { thinnedOut })}</span>
      )}
      {held && (
        <span className="block text-soft">{t('lifeline.on-hold-retention-removes-nothing-here', { held })}</span>
      )}
    </span>,
  ])
  if (whole) rows.push([t('about.people'), people(versions)])
  if (formerNames.length)
    rows.push([
      t('about.former-names'),
      <bdi key="names" className="break-words font-mono text-[13px]">
        {formerNames.join(', ')}
      </bdi>,
    ])
  if (origin)
    rows.push([
      t('about.origin'),
      <T
        key="origin"
        k="lifeline.copied-from-version"
        v={{
          it: origin.name ? (
            <Link to={`/open/${origin.fileId}`} className={`${plain} break-all`}>
              <bdi>{origin.name}</bdi>
            </Link>
          ) : (
            t('lifeline.a-file-that-you-may-not-see')
          ),
          number: origin.number,
        }}
      />,
    ])
  if (from) rows.push([t('about.origin'), t('about.brought-in', { path: from.path, author: from.author })])
  rows.push([
    t('about.copies'),
    copies.length ? (
      <span key="copies" className="flex flex-col gap-1">
        {copies.map((copy) => (
          <span key={copy.place}>{copyInWords(copy)}</span>
        ))}
      </span>
    ) : (
      t('reach.no-copies')
    ),
  ])
  rows.push([
    t('people.who-can-reach-it'),
    <button key="reach" type="button" className={plain} onClick={onReach}>
      {access.data ? t('about.reached-by', { n: access.data.people.length }) : t('about.show-them')}
    </button>,
  ])
  return (
    <dl className="grid grid-cols-[104px_minmax(0,1fr)] gap-x-3 gap-y-2 border-t pt-4 text-[14px]" data-testid="facts">
      {rows.map(([name, value]) => (
        <Fragment key={name}>
          <dt className="text-soft">{name}</dt>
          <dd className="min-w-0">{value}</dd>
        </Fragment>
      ))}
      {head && <Checksum version={head} />}
    </dl>
  )
}

/** Who saved it and how often, the busiest first. */
function people(versions: readonly HistoryVersion[]): string {
  const counts = new Map<string, { name: string; n: number }>()
  for (const { author } of versions) {
    const one = counts.get(author.id) ?? { name: author.name, n: 0 }
    one.n++
    counts.set(author.id, one)
  }
  const all = [...counts.values()].sort((a, b) => b.n - a.n)
  if (all.length === 1) return all[0]!.name
  return listed(all.map(({ name, n }) => `${name} (${digits(n)})`))
}

function Checksum({ version: { sha256, number } }: { version: HistoryVersion }) {
  return (
    <>
      <dt className="text-soft">{t('about.checksum')}</dt>
      <dd className="min-w-0">
        <span className="flex items-start gap-2">
          <code className="min-w-0 break-all font-mono text-[12.5px] leading-[18px]" data-testid="checksum">
            {sha256}
          </code>
          <IconButton
            label={t('about.copy-checksum')}
            onClick={() =>
              void navigator.clipboard.writeText(sha256).then(
                () => toast(t('about.checksum-copied')),
                () => toast.error(t('people.could-not-be-copied')),
              )
            }
          >
            <Copy />
          </IconButton>
        </span>
        <span className="block text-[13px] leading-[18px] text-soft">{t('about.checksum-of', { number })}</span>
      </dd>
    </>
  )
}
