// What can be done with the file that is open, by name and by keys; and what the other tabs may ask of it.
import { useNavigate } from 'react-router'
import { defaultType } from '../../core/formats/types'
import { type Command, useOffer } from '../app/commands'
import { useOpenWork } from '../app/save-all'
import { t } from '../words'
import type { useMerging } from '../work/merging'
import { type DraftSession, isProblem, type SessionOutline } from '../work/session'
import type { OpenFile } from './use-file'
import type { Filing } from './use-filing'

export function useFileCommands(
  session: DraftSession,
  state: SessionOutline,
  { name }: OpenFile,
  filing: Filing,
  { saveMerging }: ReturnType<typeof useMerging>,
  { editable, onSaveAll }: { editable: boolean; onSaveAll: () => void },
): void {
  const navigate = useNavigate()
  const { openSlip } = filing
  const group = t('common.this-file')
  const ofFile: Command[] = [
    { id: 'save a copy', label: t('common.save-a-copy'), keys: 'Alt+C', group, run: () => openSlip('copy') },
  ]
  const ofEditor: Command[] = [
    { id: 'rename', label: t('common.rename-or-move'), keys: 'Alt+R', group, run: () => openSlip('rename') },
  ]
  useOffer([
    { id: 'save', label: t('editor.save'), keys: 'Mod+S', group, run: filing.save },
    {
      id: 'save separately',
      label: t('common.save-as-a-separate-file'),
      keys: 'Mod+Shift+S',
      group,
      run: () => openSlip(state.file ? 'separate' : 'first'),
    },
    ...(state.file ? ofFile : []),
    ...(state.file && editable ? ofEditor : []),
    { id: 'save all', label: t('common.save-everything-open'), keys: 'Alt+S', group, run: onSaveAll },
    { id: 'close', label: t('editor.close-this-file'), keys: 'Alt+W', group, run: () => void navigate('/') },
  ])
  useOpenWork(
    { draftId: state.draftId, name, type: defaultType[state.kind], unsaved: session.unsaved, named: !!state.file },
    async () => {
      if (!state.file) {
        openSlip('first')
        return { ok: false, result: t('editor.needs-a-name-its-slip-is-open') }
      }
      if (filing.mayLose) return { ok: false, result: t('editor.would-lose-something-save-it-in-its') }
      session.settle()
      const answer = await saveMerging()
      return isProblem(answer)
        ? { ok: false, result: answer.title }
        : { ok: true, result: t('editor.saved-as-version', { number: answer.version.number }) }
    },
  )
}
