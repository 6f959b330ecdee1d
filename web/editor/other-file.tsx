// A file that Jaula keeps and does not edit: its versions along the lifeline, looked at as far as the type can be
// shown, compared by lines, by eye or by the facts, restored and taken away byte for byte.

import { useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft, Download, EllipsisVertical } from 'lucide-react'
import { lazy, Suspense, useEffect, useMemo, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { uuidv7 } from 'uuidv7'
import { documentOfLines, lineTypes } from '../../core/compare/lines'
import { noWords } from '../../core/content/words'
import type { FileFacts, HistoryVersion } from '../../core/contract'
import { fileType } from '../../core/formats/types'
import { type Moment, momentsOf } from '../../core/history/lifeline'
import { splitExtension } from '../../core/naming/check'
import { addressOf, call, Refused } from '../api/call'
import { keys } from '../api/keys'
import { useSession } from '../api/signed-in'
import { useBytes, useImage } from '../compare/bytes'
import { OtherComparison } from '../compare/other'
import { useOffer } from '../design/commands'
import { Blank, Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { KindGlyph, NameText } from '../design/kind'
import { Menu, MenuItem, MenuRule } from '../design/overlay'
import { act as carryOut } from '../files/acts'
import { folderOf } from '../files/address'
import { AccessBeside } from '../people/beside'
import { useSending } from '../send/use-sending'
import { DocumentPage } from '../views/document/page'
import { InStepNotice } from '../views/in-step'
import { T, t, told } from '../words/all'
import { size, moment as time } from '../words/formats'
import { wholeFacts } from '../work/file-facts'
import { AboutBeside } from './about/about-beside'
import { LabelQuestion } from './lifeline/label-question'
import { Lifeline } from './lifeline/lifeline'
import { FilingSlip, type SlipAct } from './name-line/filing-slip'
import { RestoringQuestion } from './questions'
import { useBeside } from './use-beside'

/** With what draws its pages: fetched when there are some. */
const PdfPages = lazy(async () => ({ default: (await import('../paper/pages')).PdfPages }))
/** Larger PDFs are not drawn; bytes. */
const largestShown = 50_000_000
const imageTypes: ReadonlySet<string> = new Set(['png', 'jpg', 'jpeg', 'gif', 'webp', 'bmp'])

export function OtherFile({ facts: first, reason }: { facts: FileFacts; reason?: string }) {
  const client = useQueryClient()
  const { person } = useSession()
  const fileId = first.file.id
  const asked = useQuery({
    queryKey: keys.file(fileId),
    initialData: first,
    queryFn: () => wholeFacts(fileId, client.getQueryData(keys.file(fileId))),
    refetchInterval: (query) =>
      query.state.data?.versions.slice(0, 50).some(({ summary }) => summary === null) ? 4000 : false,
  })
  const facts = asked.data
  const partly = facts.versions.length < facts.versionsInAll
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for whole when another file is shown in part
  useEffect(() => {
    if (partly) void asked.refetch()
  }, [partly, fileId])
  const { versions } = facts
  const [open, setOpen] = useState(versions.length > 1)
  const [chosen, setChosen] = useState<string | null>(null)
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set())
  const [compared, setCompared] = useState<[HistoryVersion, HistoryVersion] | null>(null)
  const [labelling, setLabelling] = useState<HistoryVersion | null>(null)
  const [restoring, setRestoring] = useState<HistoryVersion | null>(null)
  const moments = useMemo(() => momentsOf(versions, [], Date.now(), unfolded), [versions, unfolded])
  const looked: Moment | null = moments.find(({ id }) => id === chosen) ?? null
  const head = versions[0]
  const shown = looked?.kind === 'version' ? looked.version : head
  const mayEdit = facts.share.role !== 'view'
  const [renaming, setRenaming] = useState(false)
  const { beside, show, toggle } = useBeside(() => {})
  const navigate = useNavigate()
  useOffer([
    ...(mayEdit
      ? [
          {
            id: 'rename',
            label: t('common.rename-or-move'),
            keys: 'Alt+R',
            group: t('common.this-file'),
            run: () => setRenaming(true),
          },
        ]
      : []),
    {
      id: 'reach',
      label: t('people.who-can-reach-it'),
      keys: 'Alt+G',
      group: t('common.this-file'),
      run: () => toggle('reach'),
    },
    {
      id: 'about',
      label: t('common.about-this-file'),
      keys: 'Alt+I',
      group: t('common.this-file'),
      run: () => toggle('about'),
    },
    {
      id: 'versions',
      label: t('common.versions'),
      keys: 'Alt+V',
      group: t('common.this-file'),
      run: () => setOpen((now) => !now),
    },
    {
      id: 'close',
      label: t('editor.close-this-file'),
      keys: 'Alt+W',
      group: t('common.this-file'),
      run: () => void navigate('/'),
    },
  ])
  const sending = useSending({
    fileId,
    facts,
    onChanges: (versionId) => {
      const version = versions.find(({ id }) => id === versionId)
      if (version && head) setCompared([version, head])
    },
  })
  if (!head || !shown) return <Blank screen title={facts.file.name} />
  const refresh = () => client.invalidateQueries({ queryKey: keys.file(fileId) })
  const act = async (job: () => Promise<unknown>, done: string) => {
    try {
      await job()
      await refresh()
      toast(done)
    } catch (error) {
      toast.error(error instanceof Refused ? told(error.problem) : t('editor.that-could-not-be-done-right-now'))
    }
  }
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-[60px] shrink-0 items-center gap-3 border-b bg-paper px-3">
        <Link
          to={`/files/${facts.file.shareId}${facts.file.folderId ? `/${facts.file.folderId}` : ''}`}
          aria-label={t('editor.back')}
          className="grid size-9 shrink-0 place-items-center rounded-md hover:bg-wash"
        >
          <ArrowLeft size={18} />
        </Link>
        <div className="bars h-10 w-[9px] shrink-0" aria-hidden />
        <div className="min-w-0 flex-1">
          <h1 className="flex items-center gap-2 text-[15px]">
            <KindGlyph type={facts.file.type} />
            <NameText name={facts.file.name} />
          </h1>
          <p className="truncate text-[13.5px] text-soft">
            {reason ??
              t('editor.jaula-keeps-files-exactly-as-they-are', {
                label: told(fileType(facts.file.type).label),
                versions: versions.length,
              })}
          </p>
        </div>
        {looked?.kind === 'version' && looked.id !== head.id && mayEdit && (
          <Button onClick={() => setRestoring(looked.version)}>
            {t('editor.restore-version', { number: looked.version.number })}
          </Button>
        )}
        {looked?.kind === 'version' && looked.id !== head.id && (
          <Button onClick={() => setCompared([looked.version, head])}>{t('common.compare-with-now')}</Button>
        )}
        <a
          href={addressOf('bytes', { params: { versionId: shown.id } })}
          download
          className="inline-flex h-8 items-center gap-2 rounded-md bg-accent px-3 font-medium text-on-accent"
        >
          <Download size={16} aria-hidden />
          {t('common.download')}
        </a>
        <Menu
          trigger={
            <IconButton label={t('editor.more-for-this-file')}>
              <EllipsisVertical />
            </IconButton>
          }
        >
          {mayEdit && (
            <MenuItem keys="Alt+R" onSelect={() => setRenaming(true)}>
              {t('common.rename-or-move')}
            </MenuItem>
          )}
          <MenuItem onSelect={() => navigate(folderOf(facts.file))}>{t('common.show-it-in-its-folder')}</MenuItem>
          <MenuItem keys="Alt+V" onSelect={() => setOpen(true)}>
            {t('common.versions')}
          </MenuItem>
          <MenuItem keys="Alt+G" onSelect={() => toggle('reach')}>
            {t('people.who-can-reach-it')}
          </MenuItem>
          <MenuItem keys="Alt+I" onSelect={() => toggle('about')}>
            {t('common.about-this-file')}
          </MenuItem>
          {sending.send && (
            <MenuItem keys="Alt+M" onSelect={() => sending.send!()}>
              {t('sending.send')}
            </MenuItem>
          )}
          {sending.sent && <MenuItem onSelect={sending.sent}>{t('sending.what-was-sent')}</MenuItem>}
          <MenuRule />
          <MenuItem keys="Alt+W" onSelect={() => navigate('/')}>
            {t('common.close')}
          </MenuItem>
        </Menu>
      </header>
      <main className="relative flex min-h-0 flex-1" aria-label={facts.file.name}>
        {beside === 'reach' && <AccessBeside id={fileId} onClose={() => show(null)} />}
        {beside === 'about' && (
          <AboutBeside
            facts={facts}
            onReach={() => toggle('reach')}
            onVersions={() => setOpen(true)}
            onClose={() => show(null)}
          />
        )}
        {renaming && <RenameSlip facts={facts} onClose={() => setRenaming(false)} />}
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          {sending.notices}
          {facts.file.type === 'pdf' && <InStepNotice fileId={fileId} />}
          {compared ? (
            <OtherComparison older={compared[0]} newer={compared[1]} onBack={() => setCompared(null)} />
          ) : (
            <Shown version={shown} />
          )}
          <Lifeline
            facts={facts}
            moments={moments}
            chosen={looked}
            personId={person.id}
            open={open}
            unfolded={unfolded}
            onOpen={setOpen}
            onLook={(moment) => {
              setCompared(null)
              setChosen(moment && moment.kind !== 'now' ? moment.id : null)
            }}
            onNear={() => {}}
            onUnfold={(id) => setUnfolded(new Set([...unfolded, id]))}
            acts={{
              mayEdit,
              onRestore: setRestoring,
              onCompare: (older, newer) => setCompared([older, newer ?? head]),
              onLabel: setLabelling,
              sending: () => sending,
            }}
          />
        </div>
      </main>
      {sending.questions}
      {labelling && (
        <LabelQuestion
          version={labelling}
          onSet={(label) => {
            setLabelling(null)
            void act(
              () => call('labelVersion', { params: { versionId: labelling.id }, body: { label } }),
              label
                ? t('editor.version-is-kept-as', { number: labelling.number, label })
                : t('editor.its-label-is-taken-away'),
            )
          }}
          onClose={() => setLabelling(null)}
        />
      )}
      {restoring && (
        <RestoringQuestion
          version={restoring}
          newest={head.number}
          unsaved={false}
          onClose={() => setRestoring(null)}
          onRestore={() => {
            setRestoring(null)
            setChosen(null)
            void act(
              () => call('restore', { params: { versionId: restoring.id }, body: { key: uuidv7(), baseId: head.id } }),
              t('editor.version-is-back-as-version', { number: restoring.number, it: head.number + 1 }),
            )
          }}
        />
      )}
    </div>
  )
}

/** The slip, for a file that is only kept: its name by its parts, and its place. */
function RenameSlip({ facts: { file }, onClose }: { facts: FileFacts; onClose: () => void }) {
  const client = useQueryClient()
  const [stem, ending] = splitExtension(file.name)
  const rename: SlipAct = {
    title: t('common.rename-or-move'),
    afterwards: (called) => (
      <>
        <T
          k="editor.afterwards-it-is-the-same-file-named"
          v={{ nameText: <NameText name={called} className="text-ink" /> }}
        />
      </>
    ),
    verb: t('common.rename-or-move'),
    onFile: async ({ shareId, folderId, path, name }) => {
      const change = { id: file.id, from: file.name, name, shareId, folderId, ...(path.length && { path: [...path] }) }
      const refusal = await carryOut(client, 'rename', [change])
      if (!refusal) onClose()
      return refusal
    },
  }
  return (
    <FilingSlip
      act={rename}
      beginning={{
        kind: fileType(file.type).kind,
        type: ending.slice(1).toLowerCase(),
        present: stem,
        keep: true,
        clues: noWords,
        place: { shareId: file.shareId, folderId: file.folderId, path: [] },
      }}
      onClose={onClose}
    />
  )
}

/** One version, as far as its type can be shown. */
function Shown({ version }: { version: HistoryVersion }) {
  const image = imageTypes.has(version.type)
  const lines = lineTypes.has(version.type)
  const pages = version.type === 'pdf' && version.size <= largestShown
  const bytes = useBytes(image || lines || pages ? version : undefined)
  const address = useImage(image ? bytes.data : undefined)
  const json = useMemo(
    () => (lines && bytes.data ? (documentOfLines(bytes.data)?.toJSON() ?? null) : null),
    [lines, bytes.data],
  )
  if (image && address)
    return (
      <div className="grid min-h-0 flex-1 place-items-center overflow-auto p-6" data-testid="earlier-version">
        <img
          src={address}
          alt={t('common.version', { number: version.number })}
          className="max-h-full max-w-full shadow-page"
        />
      </div>
    )
  if (pages && bytes.data)
    return (
      <section
        className="relative min-h-0 flex-1 overflow-auto bg-desk p-6"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it is gone through by the keys
        tabIndex={0}
        aria-label={t('common.version', { number: version.number })}
        data-testid="earlier-version"
      >
        <Suspense fallback={null}>
          <PdfPages pdf={bytes.data} width={760} />
        </Suspense>
      </section>
    )
  if (json)
    return (
      <div className="as-lines min-h-0 flex-1 overflow-auto" data-testid="earlier-version">
        <DocumentPage json={json} editable={false} marked={none} />
      </div>
    )
  return (
    <div className="min-h-0 flex-1 overflow-auto" data-testid="earlier-version">
      <Blank title={t('common.version', { number: version.number })}>
        <p>
          {t('editor.saved-by', {
            time: time(version.at),
            authorName: version.author.name,
            version: size(version.size),
          })}
        </p>
        <p className="mt-2 break-all font-mono text-[13px]">{t('editor.sha-256', { sha256: version.sha256 })}</p>
      </Blank>
    </div>
  )
}
const none: readonly never[] = []
