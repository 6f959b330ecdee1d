// The editor's head: the name line, the reach below it, saving, and everything else for this file.
import { ArrowLeft, EllipsisVertical } from 'lucide-react'
import { Link, useNavigate } from 'react-router'
import type { FileFacts, Present } from '../../core/contract'
import { addressOf } from '../api/call'
import { useSession } from '../api/signed-in'
import { runCommand, useCommands } from '../design/commands'
import { Button } from '../design/controls'
import { IconButton } from '../design/icon-button'
import { KindGlyph } from '../design/kind'
import { Menu, MenuItem, MenuRule } from '../design/overlay'
import { folderOf } from '../files/address'
import { t } from '../words/all'
import { withControl } from '../words/formats'
import { OpenList } from '../work/open-list'
import type { DraftSession } from '../work/session'
import type { SessionOutline } from '../work/session-state'
import { NameLine } from './name-line/name-line'
import { Others } from './others'
import { ReachLine } from './reach/reach-line'

/** What the slip is open for. */
export type SlipPurpose = 'first' | 'separate' | 'copy' | 'copy of a moment' | 'rename'

export function WorkspaceHeader({
  session,
  state,
  name,
  facts,
  mayEdit,
  looking,
  onSave,
  onSlip,
  onVersions,
  onTemplate,
  onSend,
  onSent,
  onReach,
  onAbout,
  onPages,
  onClose,
  others,
}: {
  others: readonly Present[]
  session: DraftSession
  state: SessionOutline
  name: string
  facts: FileFacts | undefined
  mayEdit: boolean
  /** An earlier moment is on show. */
  looking: boolean
  onSave: () => void
  onSlip: (purpose: SlipPurpose, partId?: string) => void
  onVersions: () => void
  onTemplate: () => void
  /** Absent where nothing can be sent, and where nothing was. */
  onSend: (() => void) | undefined
  onSent: (() => void) | undefined
  onReach: () => void
  onAbout: (() => void) | undefined
  onPages: (() => void) | undefined
  onClose: () => void
}) {
  const navigate = useNavigate()
  const guest = useSession().person.guestOf !== undefined
  const lists = useCommands().find(({ id }) => id === 'side lists')
  const folder = facts && `/files/${facts.file.shareId}${facts.file.folderId ? `/${facts.file.folderId}` : ''}`
  return (
    <header className="flex h-[60px] shrink-0 items-center gap-3 border-b bg-paper px-3 [contain:strict]">
      <Link
        to={guest ? '/' : (folder ?? '/')}
        aria-label={t('editor.back')}
        className="grid size-9 shrink-0 place-items-center rounded-md hover:bg-wash"
      >
        <ArrowLeft size={18} />
      </Link>
      <div className="bars h-10 w-[9px] shrink-0" aria-hidden />
      <div className="min-w-0 flex-1 overflow-hidden">
        <div className="flex items-center gap-2">
          <KindGlyph type={state.kind === 'document' ? 'docx' : 'xlsx'} />
          <h1 className="flex min-w-0 items-center gap-2">
            {state.file ? (
              <NameLine
                name={name}
                facts={facts}
                onSettle={mayEdit && !guest ? (partId) => onSlip('rename', partId) : undefined}
              />
            ) : (
              <button
                type="button"
                className="min-h-6 max-w-full truncate text-[15px] font-medium italic hover:text-accent"
                onClick={() => onSlip('first')}
                title={t('editor.give-it-a-name-and-a-place')}
              >
                {name}
              </button>
            )}
          </h1>
        </div>
        <ReachLine session={session} facts={facts} />
      </div>
      <Others people={others} />
      <OpenList besides />
      <Button
        look={session.unsaved ? 'main' : 'plain'}
        onClick={onSave}
        disabled={!mayEdit || looking}
        title={withControl('S')}
      >
        {state.file ? t('editor.save') : t('editor.save-2')}
      </Button>
      <Menu
        trigger={
          <IconButton label={t('editor.more-for-this-file')}>
            <EllipsisVertical />
          </IconButton>
        }
      >
        <MenuItem keys={withControl('S')} disabled={!mayEdit || looking} onSelect={onSave}>
          {state.file ? t('editor.save') : t('editor.save-2')}
        </MenuItem>
        {!guest && (
          <MenuItem keys={withControl('Shift+S')} onSelect={() => onSlip(state.file ? 'separate' : 'first')}>
            {t('common.save-as-a-separate-file')}
          </MenuItem>
        )}
        {state.file && !guest && (
          <>
            <MenuItem keys="Alt+C" onSelect={() => onSlip('copy')}>
              {t('common.save-a-copy')}
            </MenuItem>
            {mayEdit && (
              <MenuItem keys="Alt+R" onSelect={() => onSlip('rename')}>
                {t('common.rename-or-move')}
              </MenuItem>
            )}
          </>
        )}
        {!guest && (
          <MenuItem keys="Alt+S" onSelect={() => runCommand('save all')}>
            {t('common.save-everything-open')}
          </MenuItem>
        )}
        {facts && !guest && (
          <MenuItem onSelect={() => navigate(folderOf(facts.file))}>{t('common.show-it-in-its-folder')}</MenuItem>
        )}
        {facts && !guest && (
          <MenuItem keys="Alt+G" onSelect={onReach}>
            {t('people.who-can-reach-it')}
          </MenuItem>
        )}
        {onAbout && (
          <MenuItem keys="Alt+I" onSelect={onAbout}>
            {t('common.about-this-file')}
          </MenuItem>
        )}
        {lists && !guest && <MenuItem onSelect={lists.run}>{lists.label}</MenuItem>}
        {state.head && !guest && <MenuItem onSelect={onTemplate}>{t('editor.make-a-template-of-it')}</MenuItem>}
        {state.file && (
          <MenuItem keys="Alt+V" onSelect={onVersions}>
            {t('common.versions')}
          </MenuItem>
        )}
        {onPages && (
          <MenuItem keys="Alt+P" onSelect={onPages}>
            {t('paper.look-at-its-pages')}
          </MenuItem>
        )}
        {onSend && (
          <MenuItem keys="Alt+M" onSelect={onSend}>
            {t('sending.send')}
          </MenuItem>
        )}
        {onSent && <MenuItem onSelect={onSent}>{t('sending.what-was-sent')}</MenuItem>}
        {state.head && (
          <MenuItem
            onSelect={() => window.location.assign(addressOf('bytes', { params: { versionId: state.head!.id } }))}
          >
            {t('editor.download-version', { number: state.head.number })}
          </MenuItem>
        )}
        <MenuRule />
        <MenuItem keys="Alt+W" onSelect={onClose}>
          {t('common.close')}
        </MenuItem>
        {!guest && (
          <MenuItem keys="Alt+Shift+W" onSelect={() => runCommand('close all')}>
            {t('app.close-everything-open')}
          </MenuItem>
        )}
      </Menu>
    </header>
  )
}
