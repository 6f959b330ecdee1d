// What can be done with the file that is shown, by name and by keys.

import { useNavigate } from 'react-router'
import { type Command, useOffer } from '../design/commands'
import { t } from '../words/all'
import type { SessionOutline } from '../work/session-state'
import type { Filing } from './use-filing'

export function useFileCommands(
  state: SessionOutline,
  filing: Filing,
  {
    editable,
    guest,
    onReach,
    onAbout,
    onPages,
    onPrint,
    onClose,
  }: {
    editable: boolean
    guest: boolean
    onReach: () => void
    /** Absent for guests. */
    onAbout: (() => void) | undefined
    /** Absent for what is not set on pages. */
    onPages: (() => void) | undefined
    onPrint: (() => void) | undefined
    onClose: () => void
  },
): void {
  const { openSlip } = filing
  const navigate = useNavigate()
  const group = t('common.this-file')
  const ofFile: Command[] = [
    { id: 'save a copy', label: t('common.save-a-copy'), keys: 'Alt+C', group, run: () => openSlip('copy') },
    {
      id: 'search in its history',
      label: t('past.in-its-versions'),
      group,
      run: () => void navigate(`/history?file=${state.file?.id}`),
    },
    { id: 'reach', label: t('people.who-can-reach-it'), keys: 'Alt+G', group, run: onReach },
  ]
  const ofEditor: Command[] = [
    { id: 'rename', label: t('common.rename-or-move'), keys: 'Alt+R', group, run: () => openSlip('rename') },
  ]
  const ofOffice: Command[] = [
    {
      id: 'save separately',
      label: t('common.save-as-a-separate-file'),
      keys: 'Mod+Shift+S',
      group,
      run: () => openSlip(state.file ? 'separate' : 'first'),
    },
    ...(state.file ? ofFile : []),
    ...(state.file && editable ? ofEditor : []),
  ]
  useOffer([
    { id: 'save', label: t('editor.save'), keys: 'Mod+S', group, run: filing.save },
    // A guest has no place of their own, and none of the office's.
    ...(guest ? [] : ofOffice),
    ...(onAbout ? [{ id: 'about', label: t('common.about-this-file'), keys: 'Alt+I', group, run: onAbout }] : []),
    ...(onPages ? [{ id: 'pages', label: t('paper.look-at-its-pages'), keys: 'Alt+P', group, run: onPages }] : []),
    ...(onPrint ? [{ id: 'print', label: t('paper.print'), keys: 'Mod+P', group, run: onPrint }] : []),
    { id: 'close', label: t('editor.close-this-file'), keys: 'Alt+W', group, run: onClose },
  ])
}
