import { useQuery } from '@tanstack/react-query'
import { FileText, LayoutTemplate, Table2, Upload } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import type { ChangedFile } from '../../core/contract'

import { queries } from '../api/queries'
import { useSession } from '../api/signed-in'
import { Blank } from '../design/controls'
import { KindGlyph, NameParts } from '../design/kind'
import { Menu, MenuItem } from '../design/overlay'
import { DrillLine } from '../drill/drills'
import { folderOf } from '../files/address'
import { PieceRow } from '../rescue/piece-row'
import { T, t, told } from '../words'
import { moment } from '../words/formats'
import { KeepingNotice } from '../work/keeping'
import { usePieces } from '../work/use-pieces'
import { Due } from './due'
import { RightsNewsOnDesk } from './rights-news'
import { UndeliveredOnDesk } from './undelivered'
import { WatchedOnDesk } from './watched'

/** What needs you, and where you left off. */
export function Desk() {
  const navigate = useNavigate()
  const { person } = useSession()
  const pieces = usePieces()
  const recent = useQuery(queries.recent)
  const changed = useQuery(queries.changedByOthers)
  const templates = useQuery(queries.templates)
  const places = useQuery(queries.recentPlaces)
  // What comes late above must not push away what a hand is on its way to.
  const known = useKnown(!places.isPending && !pieces.isPending)
  const interrupted = pieces.data?.pieces.filter((piece) => piece.state === 'interrupted') ?? []
  const begin = [
    { label: t('common.new-document'), icon: <FileText className="text-plum" />, to: '/new/document' },
    { label: t('common.new-spreadsheet'), icon: <Table2 className="text-ochre" />, to: '/new/spreadsheet' },
    { label: t('common.bring-in-files'), icon: <Upload className="text-accent" />, to: '/files?bring=1' },
  ]
  return (
    <main className="relative h-full overflow-auto">
      <div className="mx-auto max-w-[1080px] px-4 py-6 md:px-8 md:py-8">
        <h1 className="text-[26px] font-semibold leading-8">
          {t('desk.good', { partOfDay: partOfDay(), it: person.name.split(' ')[0] })}
        </h1>
        <ul className="mb-9 mt-5 flex flex-wrap gap-3">
          {begin.map(({ label, icon, to }) => (
            <li key={to}>
              <button
                type="button"
                onClick={() => navigate(to)}
                className="flex h-12 items-center gap-3 rounded-md border border-rule-strong bg-paper pl-4 pr-6 font-medium hover:bg-wash"
              >
                {icon}
                {label}
              </button>
            </li>
          ))}
          {!!templates.data?.length && (
            <li>
              <Menu
                align="start"
                trigger={
                  <button
                    type="button"
                    className="flex h-12 items-center gap-3 rounded-md border border-rule-strong bg-paper pl-4 pr-6 font-medium hover:bg-wash"
                  >
                    <LayoutTemplate className="text-accent" />
                    {t('desk.from-a-template')}
                  </button>
                }
              >
                {templates.data.map((template) => (
                  <MenuItem
                    key={template.id}
                    onSelect={() => navigate(`/new/${template.kind}?template=${template.id}`)}
                  >
                    <KindGlyph type={template.type} size={16} /> {template.name}
                    <span className="ml-auto pl-4 text-[13px] text-soft">{template.share}</span>
                  </MenuItem>
                ))}
              </Menu>
            </li>
          )}
        </ul>
        {places.data && places.data.length > 0 && (
          <p className="-mt-5 mb-9 flex flex-wrap gap-x-5 gap-y-1 text-[14px]">
            <span className="text-soft">{t('desk.folders-used-last')}</span>
            {places.data.slice(0, 4).map((place) => (
              <Link
                key={`${place.shareId} ${place.folderId}`}
                to={`/files/${place.shareId}${place.folderId ? `/${place.folderId}` : ''}`}
                className="hover:text-accent hover:underline"
              >
                {[place.share, ...place.folders].join(' / ')}
              </Link>
            ))}
          </p>
        )}
        <KeepingNotice className="mb-7" only="alarm" />
        {interrupted.length > 0 && (
          <section
            className="mb-9 rounded-lg border border-ochre/50 bg-paper px-5 pb-1 pt-4"
            aria-label={t('desk.interrupted-work')}
          >
            <h2 className="text-[17px] font-semibold">
              {interrupted.length === 1
                ? t('desk.one-piece-of-work-was-interrupted')
                : t('desk.pieces-of-work-were-interrupted', { interrupted: interrupted.length })}
            </h2>
            <ul>
              {interrupted.slice(0, 4).map((piece) => (
                <PieceRow key={piece.id} piece={piece} brief />
              ))}
            </ul>
          </section>
        )}
        <div
          className={`grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,1.7fr)_minmax(0,1fr)] ${known ? '' : 'invisible'}`}
        >
          <div className="flex flex-col gap-8">
            <section aria-label={t('desk.used-last')}>
              <div className="mb-1 flex items-baseline justify-between gap-6">
                <h2 className="text-[17px] font-semibold">{t('desk.used-last')}</h2>
                <DrillLine />
              </div>
              {recent.isPending ? (
                <Blank title={t('common.one-moment')} waiting />
              ) : recent.isError ? (
                <p className="py-6 text-soft">{t('desk.the-server-does-not-answer-right-now')}</p>
              ) : recent.data.length === 0 ? (
                <Blank title={t('desk.nothing-used-yet')}>
                  <p>
                    <T
                      k="desk.begin-something-new-or-look-in-files"
                      v={{
                        link: (c) => (
                          <Link className="text-accent underline" to="/files">
                            {c}
                          </Link>
                        ),
                      }}
                    />
                  </p>
                </Blank>
              ) : (
                <ul className="border-t">
                  {recent.data.map(({ file, share, folders, usedAt }) => (
                    <li key={file.id} className="border-b">
                      <div className="grid grid-cols-[20px_minmax(0,1fr)_auto] items-center gap-x-4 px-1 py-2 hover:bg-wash">
                        <KindGlyph type={file.type} />
                        <Link to={`/open/${file.id}`} className="min-w-0 py-0.5">
                          <NameParts name={file.name} className="block truncate font-mono text-[14px]" />
                        </Link>
                        <span className="text-[13.5px] text-soft">{moment(usedAt)}</span>
                        <Link
                          to={folderOf(file)}
                          title={t('common.show-it-in-its-folder')}
                          className="col-start-2 min-h-6 truncate text-[13.5px] leading-6 text-soft hover:text-ink hover:underline"
                        >
                          {[share, ...folders].join(' / ')}
                        </Link>
                      </div>
                    </li>
                  ))}
                </ul>
              )}
            </section>
            {!recent.isPending && <Due />}
          </div>
          <div className="flex flex-col gap-8">
            <RightsNewsOnDesk />
            <UndeliveredOnDesk />
            <WatchedOnDesk />
            <OthersChanged changed={changed.data} />
          </div>
        </div>
        <KeepingNotice className="mt-8" only="quiet" />
      </div>
    </main>
  )
}

/** Whether what is asked about is known, or has taken so long that nobody should wait for it. */
function useKnown(known: boolean, patience = 1500): boolean {
  const [waited, setWaited] = useState(false)
  useEffect(() => {
    if (known) return
    const later = setTimeout(() => setWaited(true), patience)
    return () => clearTimeout(later)
  }, [known, patience])
  return known || waited
}

/** What colleagues saved last: who, when and what it changed. */
function OthersChanged({ changed }: { changed: ChangedFile[] | undefined }) {
  if (!changed?.length) return null
  return (
    <section aria-label={t('desk.changed-by-others')}>
      <h2 className="mb-1 text-[17px] font-semibold">{t('desk.changed-by-others')}</h2>
      <ul className="border-t">
        {changed.map(({ file, share, folders, summary }) => (
          <li key={file.id} className="border-b px-1 py-2 hover:bg-wash">
            <Link
              to={`/open/${file.id}`}
              className="flex min-h-6 min-w-0 items-center gap-2.5"
              title={[share, ...folders].join(' / ')}
            >
              <KindGlyph type={file.type} />
              <NameParts name={file.name} className="block truncate font-mono text-[14px]" />
            </Link>
            <p className="pl-[28px] text-[13.5px] leading-[19px] text-soft">
              {file.head?.author.name}, {file.head && moment(file.head.at)}.{' '}
              {file.head?.number === 1
                ? t('desk.new')
                : summary
                  ? told(summary)
                  : t('desk.version', { number: file.head?.number })}
            </p>
          </li>
        ))}
      </ul>
    </section>
  )
}

function partOfDay(): string {
  const hour = new Date().getHours()
  return hour < 12 ? 'morning' : hour < 18 ? 'afternoon' : 'evening'
}
